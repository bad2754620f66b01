"""Materials: what does a polymer hold, stand and need?

Built-in rows with sources, a person's own values over them, sorption, thresholds, empty spools.
Stands on air alone.
"""

from drying.materials.empty_spools import (
    EmptySpoolKind,
    as_cool,
    empty_spool_kind,
    empty_spool_kinds,
    full_g,
    usual_sizes_mm,
)
from drying.materials.mixed_in import JOIN, MixedIn, all_mixed_in, parts_of, with_mixed_in
from drying.materials.own_values import BOUNDS, PROGRAMME_NAMES, new_material, with_own
from drying.materials.properties import (
    REFERENCE_TEMP_K,
    STANDARD_METHODS,
    Material,
    Programme,
    Property,
    all_materials,
    material,
)
from drying.materials.sorption import (
    activity_of_moisture,
    after_soaking,
    equilibrium_moisture_pct,
    floor_pct,
    held_pct,
    most_from_air_pct,
    most_held_pct,
    soaked_pct,
)
from drying.materials.thresholds import MoistureLevel, moisture_level, new_spool_moisture, snaps

__all__ = [
    "BOUNDS",
    "JOIN",
    "PROGRAMME_NAMES",
    "REFERENCE_TEMP_K",
    "STANDARD_METHODS",
    "EmptySpoolKind",
    "Material",
    "MixedIn",
    "MoistureLevel",
    "Programme",
    "Property",
    "activity_of_moisture",
    "after_soaking",
    "all_materials",
    "all_mixed_in",
    "as_cool",
    "empty_spool_kind",
    "empty_spool_kinds",
    "equilibrium_moisture_pct",
    "floor_pct",
    "full_g",
    "held_pct",
    "material",
    "moisture_level",
    "most_from_air_pct",
    "most_held_pct",
    "new_material",
    "new_spool_moisture",
    "parts_of",
    "snaps",
    "soaked_pct",
    "usual_sizes_mm",
    "with_mixed_in",
    "with_own",
]
