"""A room's air by the hour out of readings with gaps: measured, filled, or assumed, and which is which."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import UTC, datetime

import numpy as np

from drying.air.psychrometrics import RoomAir
from drying.arrays import Array
from drying.errors import OutOfRangeError

HELD_H = 6  # a reading counts for so many hours after it
BRIDGED_H = 48  # a gap up to this is bridged by a straight line; in a longer one the month's usual air counts
WEEK_H = 168
ASSUMED_AIR = RoomAir(20.0, 60.0)  # where nothing was ever measured; the screen says that it is assumed


@dataclass(frozen=True)
class HourlyRoomAir:
    """Air in each hour from hour `first` (since 1970, UTC) on: °C, activity (0..1), and whether it was measured."""

    first: int
    temp_c: Array
    activity: Array
    measured: np.ndarray


def hourly_room_air(
    read_s: Array,
    temp_c: Array,
    rh_pct: Array,
    span: tuple[int, int],
    now_hour: int,
    months: Mapping[int, tuple[float, float]] | None = None,
) -> HourlyRoomAir:
    """The room's air in the hours of `span` (from, to), out of readings at rising times `read_s` (s since 1970).

    In an hour counts the reading in force when it begins. Gaps are bridged or filled by the month's usual air (°C, %);
    where there is none, by the reading next to it, and where nothing was ever measured, by `ASSUMED_AIR`. Hours
    from `now_hour` on repeat the week before it. Raises OutOfRangeError for arrays of different lengths.
    """
    if not read_s.shape == temp_c.shape == rh_pct.shape:
        raise OutOfRangeError("readings", "Give a temperature and a humidity for each time.")
    first, end = span
    hours = np.arange(first, end)
    temp, rh = _usual(hours, months)
    measured = np.zeros(hours.size, dtype=bool)
    if read_s.size:
        begins = hours * 3600.0
        before = np.searchsorted(read_s, begins, side="right") - 1
        after = np.minimum(before + 1, read_s.size - 1)
        row = np.maximum(before, 0)
        measured = (before >= 0) & (begins - read_s[row] < HELD_H * 3600.0) & (hours < now_hour)
        gap = read_s[after] - read_s[row]
        bridged = (before >= 0) & (after > row) & (gap <= BRIDGED_H * 3600.0)
        share = np.clip((begins - read_s[row]) / np.maximum(gap, 1.0), 0.0, 1.0)
        nearest = np.where(before < 0, 0, row)
        if months is None:
            temp, rh = temp_c[nearest], rh_pct[nearest]
        temp = np.where(bridged, temp_c[row] + share * (temp_c[after] - temp_c[row]), temp)
        rh = np.where(bridged, rh_pct[row] + share * (rh_pct[after] - rh_pct[row]), rh)
        temp, rh = np.where(measured, temp_c[row], temp), np.where(measured, rh_pct[row], rh)
    ahead = max(now_hour - first, 0)
    for n in range(ahead, hours.size):
        back = n - WEEK_H
        if back >= 0:
            temp[n], rh[n] = temp[back], rh[back]
        elif ahead > 0:
            temp[n], rh[n] = temp[ahead - 1], rh[ahead - 1]
    return HourlyRoomAir(first, temp, np.clip(rh / 100.0, 0.0, 1.0), measured)


def _usual(hours: np.ndarray, months: Mapping[int, tuple[float, float]] | None) -> tuple[Array, Array]:
    """Air that is taken where nothing was measured."""
    assumed = ASSUMED_AIR.temp_c, ASSUMED_AIR.rh_pct
    if not months:
        return np.full(hours.size, assumed[0]), np.full(hours.size, assumed[1])
    days = hours // 24
    of_day = {int(d): datetime.fromtimestamp(int(d) * 86400, UTC).month for d in np.unique(days)}
    pairs = np.array([months.get(of_day[int(d)], assumed) for d in days])
    return pairs[:, 0].copy(), pairs[:, 1].copy()
