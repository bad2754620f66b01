"""Weighing: what does the scale tell?

Scales, tares, losses in grams and percent with their uncertainty, coils by length.
Knows nothing of runs.
"""

from drying.weighing.coil import coil_mass_g
from drying.weighing.explained import Explained, explained
from drying.weighing.loss import Loss
from drying.weighing.scale import USUAL_REPEATABILITY_STEPS, Scale, Weighing
from drying.weighing.tare import NOMINAL_SIZES_G, Tare, TareMethod, nominal_tare, tare_spread_g, twin_tare, usual_tare

__all__ = [
    "NOMINAL_SIZES_G",
    "USUAL_REPEATABILITY_STEPS",
    "Explained",
    "Loss",
    "Scale",
    "Tare",
    "TareMethod",
    "Weighing",
    "coil_mass_g",
    "explained",
    "nominal_tare",
    "tare_spread_g",
    "twin_tare",
    "usual_tare",
]
