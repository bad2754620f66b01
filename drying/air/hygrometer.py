"""By how much a humidity sensor is off: over a salt, whose wet paste keeps the air above it at a known humidity, or
beside a sensor that is trusted.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from drying.air.box_air import RH_SD_PCT
from drying.arrays import Array
from drying.errors import OutOfRangeError
from drying.quantity import Quantity

SETTLED_H = 2.0  # so much at the end is looked at: before it the jar's air comes to rest
MOST_DRIFT_PCT_H = 0.5  # a reading that still moves faster has not come to rest
LEAST_READINGS = 3
SALT_SD_PCT = 0.5  # of the tables themselves, with the usual purity of a kitchen's salt
UNEVEN_SD_C = 0.2  # engineering estimate: paste and sensor in one small jar; a degree is 6 % of the humidity
SHARE_PER_C = 0.06
TELLS = 2.0  # standard uncertainties: a smaller offset may be none


class Salt(StrEnum):
    """A salt whose saturated solution keeps the air over it at one humidity."""

    MAGNESIUM_CHLORIDE = "magnesium_chloride"
    POTASSIUM_CARBONATE = "potassium_carbonate"
    SODIUM_CHLORIDE = "sodium_chloride"


# Relative humidity, %, over the saturated solution as a polynomial in °C. Source: L. Greenspan, "Humidity fixed points
# of binary saturated aqueous solutions", J. Res. Nat. Bur. Stand. 81A (1977) 89, table 3.
_OVER: dict[Salt, tuple[float, ...]] = {
    Salt.MAGNESIUM_CHLORIDE: (33.6686, -0.797397e-2, -0.108988e-2),
    Salt.POTASSIUM_CARBONATE: (43.1315, 0.147523e-2),
    Salt.SODIUM_CHLORIDE: (75.5164, 0.398321e-1, -0.265459e-2, 0.2848e-4),
}
FROM_C, TO_C = 0.0, 30.0  # where all three are tabled


def over_salt_pct(salt: Salt, temp_c: float) -> float:
    """Relative humidity, %, of the air over a salt's saturated solution. Raises OutOfRangeError outside 0 to 30 °C."""
    if not FROM_C <= temp_c <= TO_C:
        raise OutOfRangeError(
            "temp_c", f"Over a salt the humidity is known from {FROM_C:g} to {TO_C:g} °C: this was {temp_c:.1f} °C."
        )
    return float(np.polynomial.polynomial.polyval(temp_c, _OVER[salt]))


@dataclass(frozen=True)
class SensorCheck:
    """How a humidity sensor stood: what it showed and what was true, both % relative humidity, and by how much it shows
    too much. `settled`: neither moved any more.
    """

    shown_pct: float
    true_pct: float
    offset_pct: Quantity
    settled: bool

    @property
    def tells(self) -> bool:
        """Whether the offset is more than could be by chance."""
        return self.settled and abs(self.offset_pct.value) > TELLS * self.offset_pct.uncertainty


def _at_the_end(time_h: Array) -> Array:
    found = time_h >= time_h[-1] - SETTLED_H
    if int(found.sum()) < LEAST_READINGS:
        raise OutOfRangeError(
            "time_h", f"Too few readings in the last {SETTLED_H:g} h: a check takes {LEAST_READINGS} or more."
        )
    return np.asarray(found)


def _check(time_h: Array, shown: Array, true: Array, true_sd_pct: float) -> SensorCheck:
    """By readings that have come to rest. Readings minutes apart share the sensor's whims: a half hour counts once."""
    apart = shown - true
    halves = max(math.ceil(2.0 * float(time_h[-1] - time_h[0])), 1)
    scatter = float(apart.std(ddof=1)) / math.sqrt(min(halves, apart.size))
    drift = float(np.polyfit(time_h - time_h[0], shown, 1)[0]) if time_h[-1] > time_h[0] else math.inf
    offset = Quantity(float(apart.mean()), math.hypot(scatter, true_sd_pct))
    return SensorCheck(float(shown.mean()), float(true.mean()), offset, abs(drift) <= MOST_DRIFT_PCT_H)


def check_over_salt(
    time_h: Sequence[float], temp_c: Sequence[float], rh_pct: Sequence[float], salt: Salt
) -> SensorCheck:
    """What a sensor in a closed jar with a wet salt tells of itself, by its last two hours.

    Raises OutOfRangeError for too few readings, and outside the temperatures at which salts are tabled.
    """
    times, temps, shown = (np.asarray(x, dtype=np.float64) for x in (time_h, temp_c, rh_pct))
    end = _at_the_end(times)
    true = np.array([over_salt_pct(salt, float(temp)) for temp in temps[end]])
    of_jar = SHARE_PER_C * UNEVEN_SD_C * float(true.mean())
    return _check(times[end], shown[end], true, math.hypot(SALT_SD_PCT, of_jar))


def check_beside(
    time_h: Sequence[float], rh_pct: Sequence[float], other_time_h: Sequence[float], other_rh_pct: Sequence[float]
) -> SensorCheck:
    """What a sensor tells of itself that lay beside one that is trusted, by the last two hours of both; `other_*`: of
    that one, which is no surer than a common sensor.

    Raises OutOfRangeError where they have too few readings in common.
    """
    times, shown, other_times, other = (
        np.asarray(x, dtype=np.float64) for x in (time_h, rh_pct, other_time_h, other_rh_pct)
    )
    common = (times >= other_times[0]) & (times <= other_times[-1])
    if int(common.sum()) < LEAST_READINGS:
        raise OutOfRangeError("time_h", "The two have too few hours in common: let them lie side by side for longer.")
    times, shown = times[common], shown[common]
    end = _at_the_end(times)
    true = np.interp(times[end], other_times, other)
    return _check(times[end], shown[end], true, RH_SD_PCT)
