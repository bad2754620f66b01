"""The run ticket: what to set, when to turn and weigh, and what to expect."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from drying.dryers import (
    ALWAYS,
    Attended,
    DryerKind,
    Load,
    Pause,
    Setting,
    Setup,
    TimerPlan,
    Turn,
    end_with_pauses_h,
    hours_to,
    mean_power_w,
    plan_timer,
    turn_over_h,
)
from drying.errors import require_range
from drying.planning.cautions import Caution, cautions
from drying.planning.choose import Choice, hours_needed, rounded_up_h
from drying.planning.desiccant_use import DesiccantUse, desiccant_use
from drying.planning.forecast import Forecast, forecasts
from drying.planning.ready import Coming, by_clock, coming, far_times
from drying.planning.weighing_times import LEAST_H, best_times_h
from drying.quantity import Quantity
from drying.transport import State, Turns, mean_moisture_pct, tells_apart, turns_of

CURVE_POINTS = 97
MOVED_SHARE = 0.25  # of a run: so far an act may be moved to an hour at which somebody is there

FREE_FLOW_M3_H = 100.0  # so much that the air about a spool stays as it came in
CURVE_BEYOND = 1.4  # the curve goes on past the planned hours, to show what more would bring


@dataclass(frozen=True)
class Member:
    """What a run brings one of its spools: the moisture at the end with its 90 % band, when it comes to its aim (None
    where it does not while the forecast lasts) with the band of that (as `Coming`), and the water that leaves, g.
    `turns`: what the grams printed next and those at the hub hold at the end, where they are not about the same.
    """

    aim_pct: float
    end_pct: float
    end_low_pct: float
    end_high_pct: float
    floor_pct: float
    ready_h: float | None
    ready_early_h: float | None
    ready_late_h: float | None
    chance_at_end: float
    chance_ever: float
    water_out_g: float | None
    turns: Turns | None


@dataclass(frozen=True)
class Ticket:
    """What to do at the bench: what to set for `air_c` at the spool, the timer's turns, when to turn the spool over and
    to weigh, what comes of it for each spool, which is the last to be ready, what it draws.

    `duration_h`: hours of heat; all other times are by the clock, h from the start. `off`: stretches without heat
    because nobody is there to set the timer again; `turn_over_attended`: whether somebody is there to turn it over.
    `followed`: the forecasts over hours of heat, on past the planned ones.
    """

    air_c: float
    setting: Setting
    duration_h: float
    end_h: float
    turns: tuple[Turn, ...]
    off: tuple[Pause, ...]
    turn_over_h: float
    turn_over_attended: bool
    weigh_at_h: tuple[float, ...]
    members: tuple[Member, ...]
    last: int | None
    power_w: Quantity
    energy_kwh: Quantity
    forecasts: tuple[Forecast, ...]
    followed: tuple[Forecast, ...]
    cautions: tuple[Caution, ...]
    desiccant: DesiccantUse | None = None


def _turns_at_end(load: Load, state: State, end_pct: float) -> Turns | None:
    """What the outer turns and those at the hub hold at the end of a run that brings all of the spool to `end_pct`."""
    if load.filament.winding is None or end_pct <= 0.0:
        return None
    found = turns_of(load.filament, state, load.assumed_net_g)
    scale = end_pct / mean_moisture_pct(load.filament, state)
    turns = Turns(found.mass_g, found.next_pct * scale, found.hub_pct * scale)
    return turns if tells_apart(end_pct, turns.next_pct) or tells_apart(end_pct, turns.hub_pct) else None


def _most_h(setup: Setup, air_c: float) -> float | None:
    """Hours that a run takes at the most which is computed as if every turn lay free: those of a common winding in the
    same air, through which nothing goes but vapour by itself. None where that does not get there, and for other runs.
    """
    if not setup.dryer.opens_winding:
        return None
    box = replace(setup.dryer, kind=DryerKind.HEATED_BOX, vent_m3_h=FREE_FLOW_M3_H, desiccant=None)
    most_h = hours_needed(replace(setup, dryer=box, room=setup.dryer.takes_in(setup.room)), air_c)
    return None if most_h is None else rounded_up_h(most_h)


def _member(end: int, load: Load, state: State, course: Forecast, soon: Coming) -> Member:
    """`state`: where the water is at the end, which is point `end` of the course."""
    dry, aim = load.dry_mass_g, load.aim_pct
    moisture = float(course.moisture_pct[end])
    return Member(
        aim_pct=aim,
        end_pct=moisture,
        end_low_pct=float(course.low_pct[end]),
        end_high_pct=float(course.high_pct[end]),
        floor_pct=course.floor_pct,
        ready_h=hours_to(aim, course.time_h, course.moisture_pct),
        ready_early_h=soon.early_h,
        ready_late_h=soon.late_h,
        chance_at_end=soon.chance_at_end,
        chance_ever=soon.chance_ever,
        water_out_g=None if dry is None else dry * (load.start.value - moisture) / 100.0,
        turns=_turns_at_end(load, state, moisture),
    )


def _members(
    setup: Setup, choice: Choice, end: int, courses: Sequence[Forecast], soon: Sequence[Coming]
) -> tuple[Member, ...]:
    """`end`: which point of the courses is the end of the run."""
    states = setup.end_states(choice.temp_c, choice.duration_h)
    return tuple(_member(end, *each) for each in zip(setup.loads, states, courses, soon, strict=True))


def _last(members: Sequence[Member]) -> int | None:
    """Which spool comes last to its aim: one that never does before all others. None where there is but one."""
    if len(members) < 2:
        return None
    return max(range(len(members)), key=lambda n: math.inf if (h := members[n].ready_h) is None else h)


def _cut(course: Forecast, points: int) -> Forecast:
    """The first points of a forecast."""
    return replace(
        course,
        time_h=course.time_h[:points],
        moisture_pct=course.moisture_pct[:points],
        low_pct=course.low_pct[:points],
        high_pct=course.high_pct[:points],
        from_start_pct=None if course.from_start_pct is None else course.from_start_pct[:points],
    )


def _by_clock(course: Forecast, off: Sequence[Pause]) -> Forecast:
    """A course over hours of heat as one over the hours of the clock: while the heat is off it stands still."""
    if not off:
        return course
    return replace(course, time_h=np.array([end_with_pauses_h(off, float(t)) for t in course.time_h]))


def _weigh_at_h(weigh: Sequence[float], timer: TimerPlan, attended: Attended) -> tuple[float, ...]:
    """When to weigh, by the clock and when somebody is there; a time that cannot be moved so far is left out."""
    found: list[float] = []
    for hour in weigh:
        at = end_with_pauses_h(timer.off, round(hour * 4.0) / 4.0)
        near = attended.nearest(at, min(LEAST_H, at), max(timer.end_h - LEAST_H, at))
        if near is None or abs(near - at) > MOVED_SHARE * timer.end_h:
            continue
        if not found or near - found[-1] >= LEAST_H:
            found.append(near)
    return tuple(found)


def _turn_over(duration_h: float, timer: TimerPlan, attended: Attended) -> tuple[float, bool]:
    """When to turn the spool over, by the clock, and whether somebody is there then."""
    at = end_with_pauses_h(timer.off, turn_over_h(duration_h))
    most = MOVED_SHARE * timer.end_h
    near = attended.nearest(at, at - most, at + most)
    return (at, False) if near is None else (near, True)


def _desiccant(setup: Setup, choice: Choice, off: Sequence[Pause]) -> DesiccantUse | None:
    """What the run asks of the desiccant in its dryer, when it is spent by the clock."""
    use = desiccant_use(setup, choice.temp_c, choice.duration_h)
    if use is None or use.spent_h is None:
        return use
    return replace(use, spent_h=end_with_pauses_h(off, use.spent_h))


def write_ticket(setup: Setup, choice: Choice, attended: Attended = ALWAYS) -> Ticket:
    """The run ticket for this choice of temperature and hours, with the forecast that it rests on.

    `attended`: when somebody is there to set the timer, to turn the spool over and to weigh.

    Raises OutOfRangeError for hours outside 0.1 to 400 or a temperature outside 0 to 200 °C.
    """
    require_range("duration_h", choice.duration_h, 0.1, 400.0, "h")
    curve = choice.duration_h * CURVE_BEYOND * np.linspace(0.0, 1.0, CURVE_POINTS) ** 2
    times = np.unique(np.append(curve, choice.duration_h))
    timer = plan_timer(setup.dryer, choice.duration_h, attended)
    followed = forecasts(setup, choice.temp_c, np.append(times, far_times(float(times[-1]))))
    courses = tuple(_by_clock(_cut(course, times.size), timer.off) for course in followed)
    soon = [
        by_clock(coming(load.aim_pct, course, choice.duration_h), timer.off)
        for load, course in zip(setup.loads, followed, strict=True)
    ]
    members = _members(setup, choice, int(np.searchsorted(times, choice.duration_h)), courses, soon)
    power = mean_power_w(setup.dryer, setup.room.temp_c, choice.temp_c)
    last = _last(members)
    weigh = best_times_h(setup.loads[last or 0], times, courses[last or 0].moisture_pct, choice.duration_h)
    turn_over = _turn_over(choice.duration_h, timer, attended)
    return Ticket(
        air_c=choice.temp_c,
        setting=setup.dryer.calibration.setting(choice.temp_c, setup.room.temp_c),
        duration_h=choice.duration_h,
        end_h=timer.end_h,
        turns=timer.turns,
        off=timer.off,
        turn_over_h=turn_over[0],
        turn_over_attended=turn_over[1],
        weigh_at_h=_weigh_at_h(weigh, timer, attended),
        members=members,
        last=last,
        power_w=power,
        energy_kwh=Quantity(*(x * choice.duration_h / 1000.0 for x in (power.value, power.uncertainty))),
        forecasts=courses,
        followed=followed,
        cautions=tuple(
            cautions(setup, choice.temp_c, choice.held_by, [m.end_pct for m in members], _most_h(setup, choice.temp_c))
        ),
        desiccant=_desiccant(setup, choice, timer.off),
    )
