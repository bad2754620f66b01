"""The air that samples lie in, as somebody reads it off a meter now and then."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from drying.air import RoomAir
from drying.errors import OutOfRangeError


@dataclass(frozen=True)
class AirReading:
    """What a meter beside the samples showed, h after they went in: °C and % relative humidity."""

    time_h: float
    temp_c: float
    rh_pct: float


def mean_air(readings: Sequence[AirReading]) -> RoomAir:
    """The mean over the time between the first reading and the last, along straight lines from one to the next.

    Readings that crowd together count no more than the time they cover. Raises OutOfRangeError without a reading.
    """
    if not readings:
        raise OutOfRangeError("readings", "There is no reading of the air: give at least one.")
    ordered = sorted(readings, key=lambda reading: reading.time_h)
    hours = np.array([reading.time_h for reading in ordered])
    steps = np.diff(hours)
    weights = np.concatenate([steps, [0.0]]) + np.concatenate([[0.0], steps])
    if not weights.any():  # all of one moment
        weights = np.ones(hours.size)
    temp, rh = ([getattr(reading, name) for reading in ordered] for name in ("temp_c", "rh_pct"))
    return RoomAir(float(np.average(temp, weights=weights)), float(np.average(rh, weights=weights)))
