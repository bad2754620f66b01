"""Does it swell? Calipers before and after, and grams: strain, and strain for each percent of water."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy.special import chdtrc, stdtrit

from drying.errors import OutOfRangeError, require_range
from drying.trials.points import Points

LEAST_SD_MM = 0.005  # calipers are no better than half of their last digit, however alike the readings
LEAST_FIT = 0.003


@dataclass(frozen=True)
class SwellingSample:
    """Readings of one length or diameter before and after, mm, and the sample's mass then, g."""

    before_mm: tuple[float, ...]
    after_mm: tuple[float, ...]
    before_g: float
    after_g: float

    def __post_init__(self) -> None:
        for name, values in (("before_mm", self.before_mm), ("after_mm", self.after_mm)):
            if not values:
                raise OutOfRangeError(name, "Give at least one reading before and one after.")
            for value in values:
                require_range(name, value, 0.01, 1e5, "mm")
        require_range("before_g", self.before_g, 0.001, 1e5, "g")
        require_range("after_g", self.after_g, 0.2 * self.before_g, 5.0 * self.before_g, "g")

    @property
    def water_pct(self) -> float:
        """Water taken up, % of the mass before."""
        return 100.0 * (self.after_g / self.before_g - 1.0)

    @property
    def strain_pct(self) -> float:
        """By how much it grew, %."""
        return 100.0 * (float(np.mean(self.after_mm)) / float(np.mean(self.before_mm)) - 1.0)


@dataclass(frozen=True)
class SwellingFit:
    """Strain in %, water in % of the mass before, strain for each percent of water (None where none was taken up), and
    whether the samples agree.
    """

    strain_pct: Points
    water_pct: float
    strain_per_pct: Points | None
    fits: bool


def _reading_sd(samples: Sequence[SwellingSample]) -> tuple[float, int]:
    """Standard deviation of one reading, mm, pooled over all series, and its degrees of freedom."""
    series = [np.asarray(v) for s in samples for v in (s.before_mm, s.after_mm)]
    freedom = sum(v.size - 1 for v in series)
    if freedom == 0:
        return LEAST_SD_MM, 1000
    pooled = math.sqrt(sum(float(((v - v.mean()) ** 2).sum()) for v in series) / freedom)
    return max(pooled, LEAST_SD_MM / math.sqrt(3.0)), freedom


def fit_swelling(samples: Sequence[SwellingSample]) -> SwellingFit:
    """The strain of all samples, weighted by how well each is known; reading errors are pooled, Student's t for few.

    Raises OutOfRangeError where there is no sample.
    """
    if not samples:
        raise OutOfRangeError("samples", "There are no samples: give at least one.")
    sd, freedom = _reading_sd(samples)
    strain = np.array([s.strain_pct for s in samples])
    u = np.array([
        100.0 * sd * math.hypot(
            1.0 / math.sqrt(len(s.after_mm)), (1.0 + e / 100.0) / math.sqrt(len(s.before_mm))
        ) / float(np.mean(s.before_mm))
        for s, e in zip(samples, strain, strict=True)
    ])  # fmt: skip
    water = np.array([s.water_pct for s in samples])
    reach = float(stdtrit(freedom, 0.95))
    weight = 1.0 / u**2
    mean, mean_u = float(weight @ strain / weight.sum()), 1.0 / math.sqrt(float(weight.sum()))
    power = float(weight @ water**2)
    slope = None
    chi = float((weight * (strain - mean) ** 2).sum())
    if power > 0.0:
        value, of = float(weight @ (strain * water)) / power, 1.0 / math.sqrt(power)
        slope = Points(value - reach * of, value, value + reach * of)
        chi = float((weight * (strain - value * water) ** 2).sum())
    fits = len(samples) < 2 or float(chdtrc(len(samples) - 1, chi)) >= LEAST_FIT
    return SwellingFit(Points(mean - reach * mean_u, mean, mean + reach * mean_u), float(water.mean()), slope, fits)
