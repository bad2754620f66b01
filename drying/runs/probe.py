"""A probe in the winding: how slowly this very spool warms through, against what is computed."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np
from scipy.optimize import minimize_scalar

from drying.arrays import Array
from drying.errors import OutOfRangeError
from drying.quantity import Quantity
from drying.transport import Filament, Segment, warming_h

LEAST_READINGS = 8
LEAST_RISE_K = 8.0  # a smaller rise gives no time constant
LEAST_SHARE = 0.5  # of the way to the air that the probe must have been seen to go
PLACE_SD = 0.12  # engineering estimate: a probe sits in one turn, and what counts is the winding's mean; of the log
NOISE_K = 0.3  # of a probe, one sd
_MOST = math.log(8.0)  # no winding is so many times slower or faster than computed


def warming_by_probe(
    filament: Filament, fan: bool | None, air: Sequence[Segment], time_h: Sequence[float], winding_c: Sequence[float]
) -> Quantity | None:
    """The log of how many times as long a winding takes to warm through as is computed, by the readings of a probe in
    it while the box goes through `air`; with its standard uncertainty. None where too little was seen to tell.

    A lag of first order from the first reading on, by least squares; what is left over widens the answer. Raises
    OutOfRangeError where times do not rise.
    """
    times, seen = np.asarray(time_h, dtype=np.float64), np.asarray(winding_c, dtype=np.float64)
    if np.any(np.diff(times) <= 0.0):
        raise OutOfRangeError("time_h", "Times must rise from reading to reading.")
    usual_h = warming_h(filament, fan)
    if times.size < LEAST_READINGS or usual_h == 0.0:
        return None
    about = _air_at(air, times)
    rise = float(about[-1] - seen[0])
    if abs(rise) < LEAST_RISE_K or (seen[-1] - seen[0]) / rise < LEAST_SHARE:
        return None

    def misfit(log: float) -> float:
        return float(((_lagging(times, about, float(seen[0]), usual_h * math.exp(log)) - seen) ** 2).sum())

    best = minimize_scalar(misfit, bounds=(-_MOST, _MOST), method="bounded").x
    step = 0.02
    bend = (misfit(best + step) + misfit(best - step) - 2.0 * misfit(best)) / (2.0 * step**2)
    variance = max(misfit(best) / max(times.size - 1, 1), NOISE_K**2)
    return Quantity(float(best), math.hypot(math.sqrt(variance / max(bend, 1e-9)), PLACE_SD))


def _air_at(air: Sequence[Segment], times: Array) -> Array:
    """The box's air at times, °C; the last goes on."""
    ends = np.cumsum([segment.duration_h for segment in air])
    temps = np.array([segment.temp_c for segment in air])
    return np.asarray(temps[np.minimum(np.searchsorted(ends, times, side="right"), temps.size - 1)])


def _lagging(times: Array, about: Array, begin_c: float, constant_h: float) -> Array:
    """A temperature that follows the air about it, taken as steady from reading to reading."""
    found, at_c = np.empty(times.size), begin_c
    found[0] = at_c
    kept = np.exp(-np.diff(times) / constant_h)
    for n, keeps in enumerate(kept.tolist(), start=1):
        at_c = float(about[n - 1]) + (at_c - float(about[n - 1])) * keeps
        found[n] = at_c
    return found
