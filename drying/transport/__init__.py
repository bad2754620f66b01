"""Transport: where does the water go, and how fast?

Diffusion in the strand, vapour through the winding, any sequence of conditions; exact for Henry's law.
Knows nothing of dryers, scales or runs.
"""

from drying.transport.cubic import four_knots
from drying.transport.heat import (
    WARMING_SPREAD,
    as_it_warms,
    effective_temperature_c,
    warmed_through,
    warmed_up,
    warming_h,
)
from drying.transport.outer import outer_moisture_pct
from drying.transport.pace import strand_share
from drying.transport.reduced_modes import GROUPS, SIZE, Secant, even, hour_matrices, secant, shape_of
from drying.transport.solve import advance, after_segment, course, follow, is_stepped
from drying.transport.state import (
    REST_WEIGHT,
    STRAND_WEIGHTS,
    Filament,
    Segment,
    State,
    at_temperature,
    even_state,
    face_conductance,
    gas_capacity,
    gas_of_slot,
    mean_moisture_pct,
    slot_water,
    strand_density,
    water_kg_m3,
)
from drying.transport.uncertainty import (
    DRYER_SD,
    MATERIAL_SD,
    RATE_SIGMA,
    RUN_SD,
    SHAPE_ERROR,
    SPOOL_SD,
    TORTUOSITY_SPREAD,
    UNKNOWN_RATE,
    Rate,
    rate_sigma,
)
from drying.transport.winding import (
    DEFAULT_WINDING,
    Grid,
    Winding,
    grid,
    most_wound_g,
    radius_m,
    vapour_diffusivity_m2_s,
    winding_of_mass,
)

__all__ = [
    "DEFAULT_WINDING",
    "DRYER_SD",
    "GROUPS",
    "MATERIAL_SD",
    "RATE_SIGMA",
    "REST_WEIGHT",
    "RUN_SD",
    "SHAPE_ERROR",
    "SIZE",
    "SPOOL_SD",
    "STRAND_WEIGHTS",
    "TORTUOSITY_SPREAD",
    "UNKNOWN_RATE",
    "WARMING_SPREAD",
    "Filament",
    "Grid",
    "Rate",
    "Secant",
    "Segment",
    "State",
    "Winding",
    "advance",
    "after_segment",
    "as_it_warms",
    "at_temperature",
    "course",
    "effective_temperature_c",
    "even",
    "even_state",
    "face_conductance",
    "follow",
    "four_knots",
    "gas_capacity",
    "gas_of_slot",
    "grid",
    "hour_matrices",
    "is_stepped",
    "mean_moisture_pct",
    "most_wound_g",
    "outer_moisture_pct",
    "radius_m",
    "rate_sigma",
    "secant",
    "shape_of",
    "slot_water",
    "strand_density",
    "strand_share",
    "vapour_diffusivity_m2_s",
    "warmed_through",
    "warmed_up",
    "warming_h",
    "water_kg_m3",
    "winding_of_mass",
]
