"""What a dryer does, by a logger that hangs beside the spool: how long it takes to warm up, how far and how often its
thermostat swings, and the air that it holds.

The warm-up is the straight ramp that costs the run as much warmth as the curve seen: twice the area between the curve
and the air held, over the rise. The swing is that of a sine of the same variance, as in which it counts for diffusion
(`transport/heat.py`), without the logger's own step and slow drift; a logger is slower than air, so it is at least
that.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from drying.arrays import Array
from drying.dryers.calibration import PROBE_SD_C
from drying.errors import OutOfRangeError
from drying.quantity import Quantity

LEAST_HELD_H, LEAST_HELD = 0.5, 20  # hours and readings at the air held: with fewer nothing is said
LEAST_RISE_K = 8.0  # below the air it holds: a box that begins nearer to it shows no warm-up
WARM_SHARE = 0.03  # of the rise: so near to the air held it has warmed up
DROPPED_K = 10.0  # under the air held: a lid, a pause, no thermostat
OFTEN = 5.0  # readings in a period, and in a warm-up: fewer do not show it
QUICK_H = 0.05  # between readings: by slower ones a quick swing looks like a slow one
LEAST_TURNS = 3
SHOWN_SWING = 1.5  # times the logger's step: a smaller swing may be that step alone
COARSE_C = 0.5  # a logger of such steps does not show that there is no swing


@dataclass(frozen=True)
class Habits:
    """The air held beside the spool, °C; the warm-up in h, the thermostat's swing to either side in °C and its period
    in h, each None where the readings do not tell it.
    """

    air_c: Quantity
    warm_up_h: float | None
    swing_c: float | None
    period_h: float | None


def habits_of(time_h: Sequence[float], temp_c: Sequence[float]) -> Habits | None:
    """Habits by readings of one stretch at one setting, `time_h` after the heat came on; None where it was not held
    long enough.

    Raises OutOfRangeError where times do not rise.
    """
    times, temps = np.asarray(time_h, dtype=np.float64), np.asarray(temp_c, dtype=np.float64)
    if times.size < LEAST_HELD:
        return None
    if np.any(np.diff(times) <= 0.0):
        raise OutOfRangeError("time_h", "Times must rise from reading to reading.")
    held = float(np.median(temps[times >= (times[0] + times[-1]) / 2.0]))
    rise = held - float(temps[0])
    warm = int(np.argmax(temps >= held - WARM_SHARE * max(rise, 0.0)))
    steady = (times >= times[warm]) & (temps >= held - DROPPED_K)
    if steady.sum() < LEAST_HELD or times[steady][-1] - times[steady][0] < LEAST_HELD_H:
        return None
    mean = float(np.mean(temps[steady]))
    every_h = float(np.median(np.diff(times)))
    swing, period = _swing(times[steady], temps[steady], every_h)
    return Habits(
        Quantity(mean, PROBE_SD_C), _warm_up(times[: warm + 1], temps[: warm + 1], mean, every_h), swing, period
    )


def _warm_up(times: Array, temps: Array, held: float, every_h: float) -> float | None:
    rise = held - float(temps[0])
    if rise < LEAST_RISE_K or times[0] > every_h * OFTEN:
        return None
    below = np.maximum(held - temps, 0.0)
    found = 2.0 * (float(np.trapezoid(below, times)) + below[0] * times[0]) / rise
    return found if found > OFTEN * every_h else None


def _step(temps: Array) -> float:
    """The least that the logger shows, °C, by its readings."""
    apart = np.diff(np.unique(np.round(temps, 3)))
    return float(apart.min()) if apart.size else COARSE_C


def _swing(times: Array, temps: Array, every_h: float) -> tuple[float | None, float | None]:
    """Amplitude of a sine of the same variance, °C, and its period, h, by how often it comes up through its middle."""
    step = _step(temps)
    left = temps - np.polyval(np.polyfit(times, temps, 1), times)
    swing = math.sqrt(2.0 * max(float(np.mean(left**2)) - step**2 / 12.0, 0.0))
    if swing < SHOWN_SWING * step:
        return (swing if step < COARSE_C else None), None
    ups, was_low = [], False
    for time, value in zip(times, left, strict=True):
        was_low = was_low or value < -swing / 2.0
        if was_low and value > swing / 2.0:
            ups.append(float(time))
            was_low = False
    if len(ups) <= LEAST_TURNS:
        return swing, None
    period = float(np.median(np.diff(ups)))
    return swing, period if every_h <= QUICK_H and period >= OFTEN * every_h else None


def hot_side_excess_c(beside_c: Habits, hotter_c: Habits) -> float:
    """How much hotter than the air beside the spool the hot side gets, °C, by a second logger there."""
    return max(hotter_c.air_c.value - beside_c.air_c.value, 0.0)
