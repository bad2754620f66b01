"""Trials: what coils, soaks, sponges, calipers and ladders of prints tell of a filament and of a dryer.

Estimates with 90 % intervals out of weighings; what does not agree is said. Stands on materials, transport, weighing.
"""

from drying.trials.air import AirReading, mean_air
from drying.trials.design import Design, Plan, design, expected
from drying.trials.ladder import LadderDesign, Mark, Prior, Rung, design_ladder, fit_ladder, least_ladder
from drying.trials.lots import DryingLot, LotFit, Reading, Sample, Twin, UptakeLot, fit_drying, fit_uptake
from drying.trials.percent import Slip, WaterSum, slip_behind, water_sum
from drying.trials.points import Points
from drying.trials.sponge import Sponge, SpongeFinding, duel
from drying.trials.swelling import SwellingFit, SwellingSample, fit_swelling, least_seen, part_grows_mm
from drying.trials.told import OwnNumber, curve, d23_of, drawn_to, half_time_h, holds_pct, isotherm_scale
from drying.trials.twin import twin_start

__all__ = [
    "AirReading",
    "Design",
    "DryingLot",
    "LadderDesign",
    "LotFit",
    "Mark",
    "OwnNumber",
    "Plan",
    "Points",
    "Prior",
    "Reading",
    "Rung",
    "Sample",
    "Slip",
    "Sponge",
    "SpongeFinding",
    "SwellingFit",
    "SwellingSample",
    "Twin",
    "UptakeLot",
    "WaterSum",
    "curve",
    "d23_of",
    "design",
    "design_ladder",
    "drawn_to",
    "duel",
    "expected",
    "fit_drying",
    "fit_ladder",
    "fit_swelling",
    "fit_uptake",
    "half_time_h",
    "holds_pct",
    "isotherm_scale",
    "least_ladder",
    "least_seen",
    "mean_air",
    "part_grows_mm",
    "slip_behind",
    "twin_start",
    "water_sum",
]
