"""The run ticket: what to set, when to turn and weigh, and what to expect."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from drying.dryers import Load, Setting, Setup, Turn, hours_to, mean_power_w, turn_over_h
from drying.errors import require_range
from drying.planning.cautions import Caution, cautions
from drying.planning.choose import Choice
from drying.planning.forecast import Forecast, forecasts
from drying.planning.weighing_times import best_times_h
from drying.quantity import Quantity

CURVE_POINTS = 97


CURVE_BEYOND = 1.4  # the curve goes on past the planned hours, to show what more would bring


@dataclass(frozen=True)
class Member:
    """What a run brings one of its spools: the moisture at the end with its 90 % band, when it comes to its aim (and
    the band of that; None where it does not while the forecast lasts), and the water that leaves, g.
    """

    aim_pct: float
    end_pct: float
    end_low_pct: float
    end_high_pct: float
    floor_pct: float
    ready_h: float | None
    ready_early_h: float | None
    ready_late_h: float | None
    water_out_g: float | None


@dataclass(frozen=True)
class Ticket:
    """What to do at the bench: what to set for `air_c` at the spool, the timer's turns, when to turn the spool over and
    to weigh (h from the start), what comes of it for each spool, which is the last to be ready, what it draws.
    """

    air_c: float
    setting: Setting
    duration_h: float
    turns: tuple[Turn, ...]
    turn_over_h: float
    weigh_at_h: tuple[float, ...]
    members: tuple[Member, ...]
    last: int | None
    power_w: Quantity
    energy_kwh: Quantity
    forecasts: tuple[Forecast, ...]
    cautions: tuple[Caution, ...]


def _member(load: Load, course: Forecast, end: int) -> Member:
    dry, aim = load.dry_mass_g, load.aim_pct
    moisture = float(course.moisture_pct[end])
    return Member(
        aim_pct=aim,
        end_pct=moisture,
        end_low_pct=float(course.low_pct[end]),
        end_high_pct=float(course.high_pct[end]),
        floor_pct=course.floor_pct,
        ready_h=hours_to(aim, course.time_h, course.moisture_pct),
        ready_early_h=hours_to(aim, course.time_h, course.low_pct),
        ready_late_h=hours_to(aim, course.time_h, course.high_pct),
        water_out_g=None if dry is None else dry * (load.start.value - moisture) / 100.0,
    )


def _last(members: Sequence[Member]) -> int | None:
    """Which spool comes last to its aim: one that never does before all others. None where there is but one."""
    if len(members) < 2:
        return None
    return max(range(len(members)), key=lambda n: math.inf if (h := members[n].ready_h) is None else h)


def write_ticket(setup: Setup, choice: Choice) -> Ticket:
    """The run ticket for this choice of temperature and hours, with the forecast that it rests on.

    Raises OutOfRangeError for hours outside 0.1 to 400 or a temperature outside 0 to 200 °C.
    """
    require_range("duration_h", choice.duration_h, 0.1, 400.0, "h")
    times = np.append(choice.duration_h * CURVE_BEYOND * np.linspace(0.0, 1.0, CURVE_POINTS) ** 2, choice.duration_h)
    times = np.unique(times)
    courses = forecasts(setup, choice.temp_c, times)
    end = int(np.searchsorted(times, choice.duration_h))
    members = tuple(_member(load, c, end) for load, c in zip(setup.loads, courses, strict=True))
    power = mean_power_w(setup.dryer, setup.room.temp_c, choice.temp_c)
    last = _last(members)
    slowest = last or 0
    weigh = best_times_h(setup.loads[slowest], times, courses[slowest].moisture_pct, choice.duration_h)
    return Ticket(
        air_c=choice.temp_c,
        setting=setup.dryer.calibration.setting(choice.temp_c, setup.room.temp_c),
        duration_h=choice.duration_h,
        turns=setup.dryer.timer_turns(choice.duration_h),
        turn_over_h=turn_over_h(choice.duration_h),
        weigh_at_h=tuple(round(t * 4.0) / 4.0 for t in weigh),
        members=members,
        last=last,
        power_w=power,
        energy_kwh=Quantity(*(x * choice.duration_h / 1000.0 for x in (power.value, power.uncertainty))),
        forecasts=courses,
        cautions=tuple(cautions(setup, choice.temp_c, choice.held_by, [m.end_pct for m in members])),
    )
