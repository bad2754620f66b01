"""From what a dryer is set to, to the air at the spool: displays lie, some have levels, a bed heats the air in part.

A person puts a probe beside the spool and notes pairs of setting and air. A straight line is fitted to them by least
squares (air = intercept + slope·setting), and its uncertainty is carried to the air of a new run (JCGM 100:2008, H.3).
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Protocol

import numpy as np

from drying.errors import OutOfRangeError, require_range
from drying.quantity import Quantity

PROBE_SD_C = 0.7  # engineering estimate: a common probe, and where exactly it hangs beside the spool
LONE_PAIR_SD_C = 2.0  # engineering estimate: one pair tells the offset there, not how it changes with the setting
TYPED_OFFSET_SD_C = 1.5  # engineering estimate: an offset that the person gives without pairs
BED_FACTOR = Quantity(0.45, 0.08)  # engineering estimate: share of the bed's warmth over the room that the air gets
STEP_C = 1.0  # what a display lets one set
LEAST_SLOPE, MOST_SLOPE = 0.3, 2.0


@dataclass(frozen=True)
class ProbePair:
    """A setting and the air measured beside the spool, both °C; `room_c` the room's air then, where it was noted."""

    set_c: float
    air_c: float
    room_c: float | None = None

    def __post_init__(self) -> None:
        require_range("set_c", self.set_c, 0.0, 300.0, "°C")
        require_range("air_c", self.air_c, 0.0, 200.0, "°C")
        if self.room_c is not None:
            require_range("room_c", self.room_c, -40.0, 60.0, "°C")


@dataclass(frozen=True)
class Setting:
    """What to set: a temperature in °C, or a level by its name; and the air in °C that comes of it, with its standard
    uncertainty.
    """

    set_c: float | None
    level: str
    air: Quantity


class Calibration(Protocol):
    """What one sets on a dryer."""

    def setting(self, air_c: float, room_c: float) -> Setting:
        """What to set so that the air at the spool is at `air_c`, in a room at `room_c`."""

    def air_when_set(self, set_c: float, room_c: float) -> float:
        """The air at the spool, °C, that a setting gives in a room at `room_c`."""


@dataclass(frozen=True)
class LineCalibration:
    """air = intercept + slope·setting, with the covariance of the two and the scatter of single pairs, °C."""

    intercept_c: float
    slope: float
    covariance: tuple[float, float, float]  # variance of the intercept, covariance, variance of the slope
    scatter_c: float
    pairs: int

    def air_of(self, set_c: float) -> Quantity:
        """The air in °C that a setting gives."""
        var_a, cov, var_b = self.covariance
        variance = var_a + 2.0 * set_c * cov + set_c**2 * var_b
        return Quantity(self.intercept_c + self.slope * set_c, math.sqrt(max(variance, 0.0) + PROBE_SD_C**2))

    def setting(self, air_c: float, room_c: float) -> Setting:
        """To the step that the display allows; the air is that of the exact setting."""
        exact = (air_c - self.intercept_c) / self.slope
        return Setting(round(exact / STEP_C) * STEP_C, "", Quantity(air_c, self.air_of(exact).uncertainty))

    def air_when_set(self, set_c: float, room_c: float) -> float:
        """By the line, whatever the room."""
        return self.air_of(set_c).value


@dataclass(frozen=True)
class LevelCalibration:
    """Levels in place of degrees: name and air in °C that it gives, coolest first."""

    levels: tuple[tuple[str, float], ...]
    sd_c: float

    def setting(self, air_c: float, room_c: float) -> Setting:
        """The level that comes nearest."""
        name, air = min(self.levels, key=lambda level: abs(level[1] - air_c))
        return Setting(None, name, Quantity(air, self.sd_c))

    def air_when_set(self, set_c: float, room_c: float) -> float:
        """Of the level that comes nearest to these degrees: a person who notes degrees means the air's."""
        return self.setting(set_c, room_c).air.value


@dataclass(frozen=True)
class BedCalibration:
    """A printer's bed under a cover: air = room + factor·(bed - room)."""

    factor: Quantity
    pairs: int

    def setting(self, air_c: float, room_c: float) -> Setting:
        """The bed's temperature."""
        over = (air_c - room_c) / self.factor.value
        bed = round((room_c + over) / STEP_C) * STEP_C
        return Setting(bed, "", Quantity(air_c, math.hypot(over * self.factor.uncertainty, PROBE_SD_C)))

    def air_when_set(self, set_c: float, room_c: float) -> float:
        """Under the cover of a bed at these degrees."""
        return room_c + self.factor.value * (set_c - room_c)


def display_calibration(offset_c: float | None, display_sd_c: float) -> LineCalibration:
    """A dryer without probe pairs: taken at its word, or with the offset (display less air) that the person gives."""
    if offset_c is None:
        return LineCalibration(0.0, 1.0, (display_sd_c**2, 0.0, 0.0), 0.0, 0)
    require_range("display_offset_c", offset_c, -60.0, 100.0, "°C", difference=True)
    return LineCalibration(-offset_c, 1.0, (TYPED_OFFSET_SD_C**2, 0.0, 0.0), 0.0, 0)


def line_through(pairs: Sequence[ProbePair]) -> LineCalibration:
    """The straight line through probe pairs.

    One pair, or pairs all at one setting, give the offset alone and say so by a wider uncertainty. From three pairs on
    the scatter is that of the pairs, else the probe's own. Raises OutOfRangeError where there is no pair, and where the
    line is none that a dryer has (slope outside 0.3 to 2): then a pair is mistyped.
    """
    if not pairs:
        raise OutOfRangeError("pairs", "Give at least one pair of setting and measured air.")
    x, y = np.array([p.set_c for p in pairs]), np.array([p.air_c for p in pairs])
    if np.ptp(x) < 5.0:
        offset = float(np.mean(y - x))
        return LineCalibration(offset, 1.0, (LONE_PAIR_SD_C**2, 0.0, 0.0), PROBE_SD_C, len(pairs))
    design = np.column_stack([np.ones_like(x), x])
    inverse = np.linalg.inv(design.T @ design)
    intercept, slope = inverse @ design.T @ y
    if not LEAST_SLOPE <= slope <= MOST_SLOPE:
        raise OutOfRangeError(
            "pairs",
            f"Through these pairs the air would change by {slope:.2f} degrees for each degree set; no dryer does that. "
            "Look for a pair that is mistyped.",
        )
    scatter = PROBE_SD_C
    if x.size > 2:
        rest = y - design @ np.array([intercept, slope])
        scatter = max(float(math.sqrt(rest @ rest / (x.size - 2))), PROBE_SD_C)
    spread = inverse * scatter**2
    covariance = (float(spread[0, 0]), float(spread[0, 1]), float(spread[1, 1]))
    return LineCalibration(float(intercept), float(slope), covariance, scatter, len(pairs))


def bed_factor(pairs: Sequence[ProbePair]) -> BedCalibration:
    """The factor by which a bed warms the air over the room, fitted through probe pairs that carry the room's air.

    Without such pairs the common factor counts, with its wide uncertainty. Raises OutOfRangeError where no pair makes
    sense (air over the bed, or a bed hardly over the room).
    """
    known = [(p.set_c - p.room_c, p.air_c - p.room_c) for p in pairs if p.room_c is not None]
    if not known:
        return BedCalibration(BED_FACTOR, 0)
    over, air = np.array(known).T
    if over.min() < 10.0 or not np.all((air > 0.0) & (air < over)):
        raise OutOfRangeError(
            "pairs", "The air under a cover lies between the room and the bed. Look for a pair that is mistyped."
        )
    factor = float(over @ air / (over @ over))
    rest = air - factor * over
    scatter = max(
        float(math.sqrt(rest @ rest / max(over.size - 1, 1))), PROBE_SD_C if over.size > 1 else LONE_PAIR_SD_C
    )
    return BedCalibration(Quantity(factor, scatter / float(math.sqrt(over @ over))), len(known))


def calibration_of(
    *,
    bed: bool,
    levels: Sequence[tuple[str, float]],
    pairs: Sequence[ProbePair],
    offset_c: float | None,
    display_sd_c: float,
) -> Calibration:
    """A dryer's calibration from what is known: levels, a bed's factor, probe pairs, a typed offset, or its display.

    `display_sd_c`: how far the displays of its kind are off, one standard deviation. Raises OutOfRangeError for levels
    or pairs that no dryer has.
    """
    if levels:
        for _, air_c in levels:
            require_range("levels", air_c, 20.0, 200.0, "°C")
        return LevelCalibration(
            tuple(sorted(((str(n), float(c)) for n, c in levels), key=lambda x: x[1])), display_sd_c / 2.0
        )
    if bed:
        return bed_factor(pairs)
    return line_through(pairs) if pairs else display_calibration(offset_c, display_sd_c)
