"""Does it swell? Calipers before and after, and grams: strain, and strain for each percent of water."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy.special import chdtrc, stdtrit

from drying.arrays import Array
from drying.errors import OutOfRangeError, require_range
from drying.materials import Material, equilibrium_moisture_pct
from drying.trials.points import SIGMAS, Points, normal_points

LEAST_SD_MM = 0.005  # calipers are no better than half of their last digit, however alike the readings
LEAST_FIT = 0.003
SLOPE_ROUNDS = 4  # the slope weighs the water's error, which weighs the slope


@dataclass(frozen=True)
class SwellingSample:
    """Readings of one length or diameter before and after, mm, and the sample's mass then, g. `piece`: which piece it
    is, where one is measured more than once and what it was before counts for all; empty where each is its own.
    """

    before_mm: tuple[float, ...]
    after_mm: tuple[float, ...]
    before_g: float
    after_g: float
    piece: str = ""

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


def _covariance(samples: Sequence[SwellingSample], after: Array, before: Array) -> Array:
    """Covariance of ratios after / before in %², from the relative standard deviations of both: what a piece was before
    is the same error in all that is measured of it.
    """
    pieces = [s.piece or str(n) for n, s in enumerate(samples)]
    same = np.array([[one == other for other in pieces] for one in pieces])
    return np.asarray(1e4 * (np.diag(after**2) + same * np.multiply.outer(before, before)))


def _gls(values: Array, of: Array, covariance: Array) -> tuple[float, float, float]:
    """Generalised least squares of `values` = x · `of`: x, its standard deviation, and chi-square."""
    inverse = np.linalg.inv(covariance)
    power = float(of @ inverse @ of)
    found = float(of @ inverse @ values) / power
    missed = values - found * of
    return found, 1.0 / math.sqrt(power), float(missed @ inverse @ missed)


def fit_swelling(samples: Sequence[SwellingSample], mass_sd_g: float = 0.0) -> SwellingFit:
    """The strain of all samples, weighted by how well each is known; reading errors are pooled, Student's t for few.

    `mass_sd_g`: standard deviation of one mass, g, which makes the water unsure. Raises OutOfRangeError where there is
    no sample.
    """
    if not samples:
        raise OutOfRangeError("samples", "There are no samples: give at least one.")
    sd, freedom = _reading_sd(samples)
    strain, water = (np.array([getattr(s, name) for s in samples]) for name in ("strain_pct", "water_pct"))
    long, heavy = 1.0 + strain / 100.0, 1.0 + water / 100.0
    first = np.array([float(np.mean(s.before_mm)) for s in samples])
    counts = np.array([(len(s.after_mm), len(s.before_mm)) for s in samples])
    of_length = _covariance(samples, sd / first / np.sqrt(counts[:, 0]), sd / first / np.sqrt(counts[:, 1]) * long)
    of_mass = mass_sd_g / np.array([s.before_g for s in samples])
    of_water = _covariance(samples, of_mass, of_mass * heavy)
    reach = float(stdtrit(freedom, 0.95))
    mean, mean_u, chi = _gls(strain, np.ones(len(samples)), of_length)
    slope = None
    if np.any(water != 0.0):
        value = 0.0
        for _ in range(SLOPE_ROUNDS):
            value, u, chi = _gls(strain, water, of_length + value**2 * of_water)
        slope = Points(value - reach * u, value, value + reach * u)
    fits = len(samples) < 2 or float(chdtrc(len(samples) - 1, chi)) >= LEAST_FIT
    return SwellingFit(Points(mean - reach * mean_u, mean, mean + reach * mean_u), float(water.mean()), slope, fits)


def least_seen(pieces: int, readings: int, length_mm: float, water_pct: float, reading_sd_mm: float) -> float:
    """The strain for each percent of water, %, that so many pieces of a length show (nine times in ten) once they
    have taken up `water_pct`, each read so many times before and after.

    Raises OutOfRangeError where there is nothing to measure.
    """
    require_range("pieces", pieces, 1, 100, "")
    require_range("readings", readings, 1, 100, "")
    require_range("length_mm", length_mm, 0.1, 1e5, "mm")
    require_range("water_pct", water_pct, 1e-6, 500.0, "%")
    sd = max(reading_sd_mm, LEAST_SD_MM / math.sqrt(3.0)) / length_mm * math.sqrt(2.0 / (readings * pieces))
    return SIGMAS * 100.0 * sd / water_pct


def part_grows_mm(found: SwellingFit, polymer: Material, activity: float, length_mm: float) -> Points | None:
    """By how much a part of `length_mm` that was printed dry grows, mm, until it is at rest in air of this water
    activity; None where no water was taken up. Takes the strain to go with the water, as it was measured.
    """
    if found.strain_per_pct is None:
        return None
    slope, holds = found.strain_per_pct, equilibrium_moisture_pct(polymer, activity)
    grows = slope.p50 * holds * length_mm / 100.0
    of_slope = slope.sd * holds * length_mm / 100.0
    return normal_points(grows, math.hypot(of_slope, grows * math.log(polymer.k1.spread)))
