"""Materials: what does a polymer hold, stand and need?

Built-in rows with sources, a person's own values over them, sorption, thresholds, empty spools.
Stands on air alone.
"""

from drying.materials.empty_spools import EmptySpoolKind, as_cool, empty_spool_kind, empty_spool_kinds, usual_sizes_mm
from drying.materials.own_values import BOUNDS, PROGRAMME_NAMES, new_material, with_own
from drying.materials.properties import REFERENCE_TEMP_K, STANDARD_METHODS, Material, Programme, all_materials, material
from drying.materials.sorption import activity_of_moisture, equilibrium_moisture_pct, floor_pct, held_pct, most_held_pct
from drying.materials.thresholds import MoistureLevel, moisture_level, new_spool_moisture

__all__ = [
    "BOUNDS",
    "PROGRAMME_NAMES",
    "REFERENCE_TEMP_K",
    "STANDARD_METHODS",
    "EmptySpoolKind",
    "Material",
    "MoistureLevel",
    "Programme",
    "activity_of_moisture",
    "all_materials",
    "as_cool",
    "empty_spool_kind",
    "empty_spool_kinds",
    "equilibrium_moisture_pct",
    "floor_pct",
    "held_pct",
    "material",
    "moisture_level",
    "most_held_pct",
    "new_material",
    "new_spool_moisture",
    "usual_sizes_mm",
    "with_own",
]
