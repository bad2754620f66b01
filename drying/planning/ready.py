"""When a spool comes to its aim: how likely by which hour, followed as far as it takes."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from scipy.special import ndtr

from drying.arrays import Array
from drying.dryers import Pause, end_with_pauses_h, hours_to
from drying.planning.forecast import BAND_SIGMAS, Forecast

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


def by_clock(found: Coming, off: Sequence[Pause]) -> Coming:
    """The same by the hours of the clock: while the heat is off nothing comes nearer."""
    early, late = (None if h is None else end_with_pauses_h(off, h) for h in (found.early_h, found.late_h))
    return replace(found, early_h=early, late_h=late)


def chance_at_aim(aim_pct: float, course: Forecast) -> Array:
    """The chance (0..1) to be at or under the aim at each time of a forecast."""
    sd = np.maximum((course.high_pct - course.moisture_pct) / BAND_SIGMAS, 1e-9)
    return np.asarray(ndtr((aim_pct - course.moisture_pct) / sd))


def far_times(last_h: float) -> Array:
    """Hours past the last one of a forecast at which it is followed further; none where it reaches that far."""
    return np.geomspace(last_h, FAR_H, FAR_POINTS + 1)[1:] if last_h < FAR_H else np.empty(0)


def coming(aim_pct: float, course: Forecast, duration_h: float) -> Coming:
    """When a load comes to its aim, by a forecast that goes on past the planned hours."""
    chances = chance_at_aim(aim_pct, course)
    return Coming(
        early_h=hours_to(aim_pct, course.time_h, course.low_pct),
        late_h=hours_to(aim_pct, course.time_h, course.high_pct),
        chance_at_end=float(np.interp(duration_h, course.time_h, chances)),
        chance_ever=float(chances.max()),
    )
