"""Trials: what coils, soaks, sponges and calipers tell of a filament and of a dryer.

Estimates with 90 % intervals out of weighings; what does not agree is said. Stands on materials, transport, weighing.
"""

from drying.trials.lots import DryingLot, LotFit, Reading, Sample, Twin, UptakeLot, fit_drying, fit_uptake
from drying.trials.points import Points
from drying.trials.sponge import Sponge, SpongeFinding, duel
from drying.trials.swelling import SwellingFit, SwellingSample, fit_swelling
from drying.trials.twin import twin_start

__all__ = [
    "DryingLot",
    "LotFit",
    "Points",
    "Reading",
    "Sample",
    "Sponge",
    "SpongeFinding",
    "SwellingFit",
    "SwellingSample",
    "Twin",
    "UptakeLot",
    "duel",
    "fit_drying",
    "fit_swelling",
    "fit_uptake",
    "twin_start",
]
