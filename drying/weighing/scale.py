"""What a scale tells: net mass, loss, percent on dry and wet basis, each with its standard uncertainty.

Uncertainties follow the Guide to the Expression of Uncertainty in Measurement (JCGM 100:2008): a reading rounded to
d carries d/sqrt(12) (clause F.2.2.1); independent terms add in quadrature (equation 10).
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from drying.errors import require_range

USUAL_REPEATABILITY_STEPS = 0.5  # engineering estimate, in steps of the scale: where no one has tried it out


@dataclass(frozen=True)
class Scale:
    """A scale: smallest step shown, repeatability and drift between two weighings as standard deviations, all in g."""

    resolution_g: float
    repeatability_g: float = 0.0
    drift_g: float = 0.0

    def __post_init__(self) -> None:
        require_range("resolution_g", self.resolution_g, 1e-6, 100.0, "g")
        require_range("repeatability_g", self.repeatability_g, 0.0, 100.0, "g")
        require_range("drift_g", self.drift_g, 0.0, 100.0, "g")

    @property
    def uncertainty_g(self) -> float:
        """Standard uncertainty of one weighing, g: resolution/sqrt(12), repeatability and drift in quadrature."""
        return math.sqrt(self.resolution_g**2 / 12.0 + self.repeatability_g**2 + self.drift_g**2)


# Engineering estimates, one sd: air rising off a hot spool lifts it and the pan; drops left on a soaked one weigh.
WARM_SD_G = 0.15
SURFACE_WET_SD_G = 1.0


@dataclass(frozen=True)
class Weighing:
    """One weighing: gross mass in g, the scale it was made on, and whether the spool was still `warm` from the dryer
    or `surface_wet` (water on it, not in it), either of which makes the reading less sure. `printed_sd_g`: how sure the
    grams are that were printed in between and added to it again.
    """

    gross_g: float
    scale: Scale
    warm: bool = False
    surface_wet: bool = False
    printed_sd_g: float = 0.0

    @property
    def uncertainty_g(self) -> float:
        """Standard uncertainty of this weighing, g: the scale's, and what warmth, surface water and prints add."""
        wet = SURFACE_WET_SD_G * self.surface_wet
        return math.hypot(self.scale.uncertainty_g, WARM_SD_G * self.warm, wet, self.printed_sd_g)
