"""Several spools in one box: they share its exchange flow, so the wet one slows the others.

The air of the box is one unknown more: what all spools give off in a step must be what the exchange flow carries away.
In each step the box's activity stands still and is found from that balance; steps grow by a fixed ratio.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import numpy as np
import numpy.typing as npt
from scipy.optimize import brentq

from drying.errors import OutOfRangeError
from drying.humid_air import RoomAir, vapour_concentration_g_m3
from drying.strand import Array
from drying.transport import after_segment, course
from drying.water_state import Body, Segment, State, mean_moisture_pct, water_kg_m3

FIRST_STEP_H, GROWTH, LONGEST_STEP_H = 0.01, 1.25, 1.0


def _in_air(segment: Segment, hours: float, activity: float) -> Segment:
    """Free air of the given activity at the box's temperature."""
    return replace(segment, duration_h=hours, room=RoomAir(segment.temp_c, 100.0 * min(activity, 1.0)), vent_m3_h=None)


def _step(bodies: Sequence[Body], states: Sequence[State], segment: Segment, hours: float) -> list[State]:
    carried = (segment.vent_m3_h or 0.0) * hours * vapour_concentration_g_m3(segment.temp_c, 100.0) / 1000.0

    def after(activity: float) -> list[State]:
        here = _in_air(segment, hours, activity)
        return [after_segment(b, here, replace(s, since=None)) for b, s in zip(bodies, states, strict=True)]

    def surplus(activity: float) -> float:
        """Water given off in the step beyond what the flow carries away, kg. Falls as the box gets wetter."""
        given = sum(
            (water_kg_m3(b, s) - water_kg_m3(b, n)) * b.pack.volume_m3
            for b, s, n in zip(bodies, states, after(activity), strict=True)
            if b.pack is not None
        )
        return given - carried * (activity - segment.activity)

    return after(float(brentq(surplus, 0.0, 1.0, xtol=1e-9, rtol=1e-8)))


def shared_course(
    bodies: Sequence[Body], starts: Sequence[State], segment: Segment, time_h: npt.ArrayLike
) -> tuple[Array, list[State]]:
    """Moisture of each spool, % of dry mass, shape (spools, times), and the states at the end of the segment.

    Equal spools share the flow evenly, which is exact; unlike ones are stepped (error under 0.5 % of the start).
    Coils weigh grams and are taken not to wet the box. Raises OutOfRangeError where there is no spool.
    """
    if not bodies or len(bodies) != len(starts):
        raise OutOfRangeError("bodies", "Give at least one spool, and a state for each.")
    times = np.asarray(time_h, dtype=np.float64)
    if segment.vent_m3_h is None or len(bodies) == 1:
        rows = [course(b, s, [segment], times) for b, s in zip(bodies, starts, strict=True)]
        return np.stack(rows), [after_segment(b, segment, s) for b, s in zip(bodies, starts, strict=True)]
    states, now, width = list(starts), 0.0, FIRST_STEP_H
    knots, found = [0.0], [[mean_moisture_pct(b, s) for b, s in zip(bodies, states, strict=True)]]
    while now < segment.duration_h * (1.0 - 1e-12):
        hours = min(width, segment.duration_h - now)
        states, now = _step(bodies, states, segment, hours), now + hours
        knots.append(now)
        found.append([mean_moisture_pct(b, s) for b, s in zip(bodies, states, strict=True)])
        width = min(width * GROWTH, LONGEST_STEP_H)
    rows = [np.interp(np.sqrt(times), np.sqrt(knots), column) for column in np.array(found).T]
    return np.stack(rows), states
