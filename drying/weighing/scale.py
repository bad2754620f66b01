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
WARM_LIGHT_G, WARM_SD_G = 0.25, 0.09  # a spool straight from the box reads 0.1 to 0.4 g light, never heavy
WARM_WHOLE_G = 400.0  # what is lighter than this is lifted in proportion
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

    def __post_init__(self) -> None:
        require_range("gross_g", self.gross_g, 0.0, 1e6, "g")

    @property
    def _lifted(self) -> float:
        """How much of what rising air takes off a whole spool's reading it takes off this one."""
        return min(self.gross_g / WARM_WHOLE_G, 1.0) if self.warm else 0.0

    @property
    def mass_g(self) -> float:
        """The mass, g: what was read, and what rising air took off a warm one's reading."""
        return self.gross_g + WARM_LIGHT_G * self._lifted

    @property
    def uncertainty_g(self) -> float:
        """Standard uncertainty of this weighing, g: the scale's, and what warmth, surface water and prints add."""
        wet = SURFACE_WET_SD_G * self.surface_wet
        return math.hypot(self.scale.uncertainty_g, WARM_SD_G * self._lifted, wet, self.printed_sd_g)
