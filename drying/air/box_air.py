"""What the box air tells: water per cubic metre inside against the room, and how much it has carried out.

Relative humidity falls by heat alone; what counts is the water in the air. In a vented box the air that leaves carries
Q·(C_in − C_room) grams an hour (a mass balance over the box; what it stores itself is small).
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

import numpy as np
import numpy.typing as npt

from drying.air.psychrometrics import rh_after_heating_pct, vapour_concentration_g_m3
from drying.arrays import Array
from drying.errors import OutOfRangeError
from drying.quantity import Quantity

RH_SD_PCT, TEMP_SD_C = 2.0, 0.4  # engineering estimates: a common sensor, one sd
VENT_SHARE_SD = 0.3  # engineering estimate: how well an exchange flow is known
GAP_FACTOR, LEAST_GAP_H = 5.0, 0.25  # a silence so many times the usual step, and at least so long, is a gap
SATURATED_PCT = 85.0
RECENT_H = 0.5


class AirState(StrEnum):
    """What the box air says now."""

    LEAVING = "leaving"
    LEVEL = "level"
    NO_WAY_OUT = "no_way_out"
    DRIER = "drier"


@dataclass(frozen=True)
class BoxAir:
    """Water in the air over time, g/m³: `inside`, `room` at `time_h` (h after the start), `gaps` as (from, to).

    `carried_g`: water that the air carried out up to each time, not counted over gaps; `carried` the whole with its
    uncertainty, None where the exchange flow is not known. `heat_alone_pct`: relative humidity that the first air would
    show at each temperature had not one gram left or come; `rh_unchanged_pct`: at the last.
    """

    time_h: Array
    temp_c: Array
    rh_pct: Array
    heat_alone_pct: Array
    inside_g_m3: Array
    room_g_m3: Array
    carried_g: Array | None
    carried: Quantity | None
    gaps: tuple[tuple[float, float], ...]
    state: AirState
    rh_first_pct: float
    rh_now_pct: float
    rh_unchanged_pct: float


def water_g_m3(temp_c: Sequence[float] | Array, rh_pct: Sequence[float] | Array) -> Array:
    """Water in the air at each moment, g/m³."""
    pairs = zip(temp_c, rh_pct, strict=True)
    return np.array([vapour_concentration_g_m3(float(t), min(max(float(rh), 0.0), 100.0)) for t, rh in pairs])


def _gaps(time_h: Array) -> tuple[tuple[float, float], ...]:
    steps = np.diff(time_h)
    longest = max(GAP_FACTOR * float(np.median(steps)), LEAST_GAP_H)
    return tuple((float(time_h[k]), float(time_h[k + 1])) for k in np.flatnonzero(steps > longest))


def _area(time_h: Array, excess_g_m3: Array, gaps: Sequence[tuple[float, float]]) -> Array:
    """The excess over the room summed up over time, g·h/m³, by trapezoids; nothing over gaps."""
    seen = np.ones(time_h.size - 1)
    for begin, _ in gaps:
        seen[int(np.searchsorted(time_h, begin))] = 0.0
    steps = seen * np.diff(time_h) * (excess_g_m3[1:] + excess_g_m3[:-1]) / 2.0
    return np.concatenate([[0.0], np.cumsum(steps)])


def _state(excess: float, doubt: float, rh_now: float) -> AirState:
    if rh_now >= SATURATED_PCT:
        return AirState.NO_WAY_OUT
    if abs(excess) <= doubt:
        return AirState.LEVEL
    return AirState.LEAVING if excess > 0.0 else AirState.DRIER


def _heat_alone(temps: Array, first_pct: float) -> Array:
    """Relative humidity, %, at each temperature of air that showed `first_pct` at the first and kept its water."""
    within = min(max(first_pct, 0.0), 100.0)
    return np.array([rh_after_heating_pct(float(temps[0]), within, float(temp)) for temp in temps])


def box_air(
    time_h: npt.ArrayLike,
    temp_c: npt.ArrayLike,
    rh_pct: npt.ArrayLike,
    room_g_m3: npt.ArrayLike,
    vent_m3_h: float | None,
) -> BoxAir:
    """What a sensor in the box tells, against the room's water at the same moments; `vent_m3_h` the exchange flow, None
    where it is not known.

    Integration is by trapezoids; over a gap nothing is counted, since nothing was seen. Raises OutOfRangeError for
    fewer than two readings or times that do not rise.
    """
    times, temps, humid, room = (np.asarray(x, dtype=np.float64) for x in (time_h, temp_c, rh_pct, room_g_m3))
    if times.size < 2 or not np.all(np.diff(times) > 0.0):
        raise OutOfRangeError("time_h", "The box air needs at least two readings in order of time.")
    inside, gaps = water_g_m3(temps, humid), _gaps(times)
    excess, area = inside - room, _area(times, inside - room, gaps)
    recent = times >= times[-1] - RECENT_H
    now = float(inside[recent].mean())
    # One sensor's humidity and temperature: the same error all along, so it does not average out.
    doubt_share = math.hypot(RH_SD_PCT / max(float(humid[recent].mean()), 1.0), 0.05 * TEMP_SD_C)
    doubt = now * doubt_share
    carried = None
    if vent_m3_h is not None:
        value = vent_m3_h * float(area[-1])
        of_sensor = vent_m3_h * doubt * float(times[-1] - times[0])
        carried = Quantity(value, math.hypot(VENT_SHARE_SD * value, of_sensor))
    alone = _heat_alone(temps, float(humid[0]))
    return BoxAir(
        time_h=times,
        temp_c=temps,
        rh_pct=humid,
        heat_alone_pct=alone,
        inside_g_m3=inside,
        room_g_m3=room,
        carried_g=None if vent_m3_h is None else vent_m3_h * area,
        carried=carried,
        gaps=gaps,
        state=_state(float(excess[recent].mean()), 2.0 * doubt, float(humid[recent].mean())),
        rh_first_pct=float(humid[0]),
        rh_now_pct=float(humid[-1]),
        rh_unchanged_pct=float(alone[-1]),
    )


def vent_from_loss(found: BoxAir, lost_g: Quantity) -> Quantity | None:
    """The exchange flow in m³/h that fits what the scale saw leave while the box air was watched; None where too little
    left to tell.
    """
    if found.carried_g is not None:
        raise OutOfRangeError("vent_m3_h", "The exchange flow is known already.")
    area = float(_area(found.time_h, found.inside_g_m3 - found.room_g_m3, found.gaps)[-1])
    if area <= 0.0 or lost_g.value <= 2.0 * lost_g.uncertainty:
        return None
    flow = lost_g.value / area
    return Quantity(flow, flow * math.hypot(lost_g.uncertainty / lost_g.value, 0.15))
