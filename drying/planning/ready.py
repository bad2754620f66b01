"""When a spool comes to its aim: how likely by which hour, followed as far as it takes."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from drying.arrays import Array
from drying.dryers import Setup, hours_to
from drying.planning.forecast import BAND_SIGMAS, Forecast, forecasts

SURE = 0.95  # the upper end of the hours; "perhaps never" only where even for ever gives less
FAR_H, FAR_POINTS = 400.0, 24  # the longest run that can be planned


@dataclass(frozen=True)
class Coming:
    """When a spool comes to its aim. `early_h`, `late_h`: by when the chance is 5 and 95 %, h of heat (None where it
    never is); `chance_at_end` of the planned hours, and `chance_ever` however long it runs, both 0..1.
    """

    early_h: float | None
    late_h: float | None
    chance_at_end: float
    chance_ever: float


def chance_at_aim(aim_pct: float, course: Forecast) -> Array:
    """The chance (0..1) to be at or under the aim at each time of a forecast."""
    sd = np.maximum((course.high_pct - course.moisture_pct) / BAND_SIGMAS, 1e-9)
    return np.array([0.5 * math.erfc(-z / math.sqrt(2.0)) for z in (aim_pct - course.moisture_pct) / sd])


def _joined(near: Forecast, far: Forecast) -> Forecast:
    parts = (
        np.concatenate([getattr(near, name), getattr(far, name)])
        for name in ("time_h", "moisture_pct", "low_pct", "high_pct")
    )
    return Forecast(*parts, near.floor_pct, near.basis)


def when_ready(setup: Setup, air_c: float, near: Sequence[Forecast], duration_h: float) -> list[Coming]:
    """When each load of a run comes to its aim, from its forecast `near` over the planned hours, which is followed
    further where it does not tell the upper end.
    """
    aims = [load.aim_pct for load in setup.loads]
    courses, last = list(near), float(near[0].time_h[-1])
    if last < FAR_H and any(float(c.high_pct[-1]) > aim for c, aim in zip(courses, aims, strict=True)):
        far = forecasts(setup, air_c, np.geomspace(last, FAR_H, FAR_POINTS + 1)[1:])
        courses = [_joined(*pair) for pair in zip(courses, far, strict=True)]
    found = []
    for aim, course in zip(aims, courses, strict=True):
        chances = chance_at_aim(aim, course)
        found.append(
            Coming(
                early_h=hours_to(aim, course.time_h, course.low_pct),
                late_h=hours_to(aim, course.time_h, course.high_pct),
                chance_at_end=float(np.interp(duration_h, course.time_h, chances)),
                chance_ever=float(chances.max()),
            )
        )
    return found
