"""Choosing a run and writing its ticket: what to set, for how long, and what comes of it."""

from __future__ import annotations

import math
from collections.abc import Sequence
from contextlib import suppress
from dataclasses import dataclass
from enum import StrEnum
from functools import cache

import numpy as np

from drying.arrays import Array
from drying.cache import Cache
from drying.dryers import (
    Limit,
    LimitKind,
    Load,
    Setup,
    all_hours_to,
    ceiling,
    courses_each,
    hottest_to_plan_c,
    mean_power_w,
)
from drying.errors import OutOfRangeError
from drying.materials import STANDARD_METHODS, Programme
from drying.planning.drying_map import drying_map

PATIENCE_H = 96.0  # what takes longer than this at the hottest is called out of the dryer's reach
GENTLE_PATIENCE_H = 24.0  # "least heat" may take so long, or as long as the material's own gentle method
USUAL, SHEET, OWN = "usual", "sheet", "own"


class Goal(StrEnum):
    """What a run is to be best at."""

    LEAST_HEAT = "least_heat"
    LEAST_TIME = "least_time"
    LEAST_ENERGY = "least_energy"
    READY_BY = "ready_by"


PROGRAMME_METHODS = (*STANDARD_METHODS, SHEET, OWN)
METHODS = (*PROGRAMME_METHODS, *Goal)


@dataclass(frozen=True)
class Choice:
    """Temperature and hours of a run, the limit (if any) that lowered or raised what was wanted, and whether all that
    goes in comes to its aim (`in_time` False: it does, but not by when it was wanted).
    """

    temp_c: float
    duration_h: float
    held_by: Limit | None = None
    reaches: bool = True
    in_time: bool = True


def programmes(load: Load) -> dict[str, Programme]:
    """What the methods, the maker's sheet of this spool and the person's own programme set; only those there are."""
    found = {name: run for name, run in load.material.programmes.items() if name in PROGRAMME_METHODS}
    if load.sheet is not None:
        found[SHEET] = Programme(load.sheet.temp_c, load.sheet.duration_h)
    return found


def rounded_up_h(hours: float) -> float:
    """Hours as a person sets them: up to the next quarter under 4 h, the next half above."""
    step = 0.25 if hours < 4.0 else 0.5
    return max(math.ceil(hours / step - 1e-6) * step, 0.5)


def search_times_h(end_h: float = PATIENCE_H) -> Array:
    """Times from 0 to `end_h`, close together at the start, where courses are steep."""
    return end_h * np.linspace(0.0, 1.0, 121) ** 2


def needed(setup: Setup) -> bool:
    """False where every spool already lies at or under its aim."""
    return any(load.start.value > load.aim_pct for load in setup.loads)


Tried = tuple[Setup, float, float]
"""A run to try: a set-up, the °C of its air, and how many hours one would wait."""


@cache
def kept_hours() -> Cache[tuple[float | None]]:
    """Hours needed, by run tried: one plan asks for the same several times."""
    return Cache(2048)


def hours_needed(setup: Setup, air_c: float, patience_h: float = PATIENCE_H) -> float | None:
    """Hours at `air_c` until the last spool has come to its aim; None where that takes longer than `patience_h`."""
    return hours_needed_each([(setup, air_c, patience_h)])[0]


def hours_needed_each(runs: Sequence[Tried]) -> list[float | None]:
    """The same for several runs, side by side: at a third of what they cost one by one."""
    return [hours for (hours,) in kept_hours().get_each(runs, _hours_of)]


def _hours_of(runs: Sequence[Tried]) -> list[tuple[float | None]]:
    found: list[tuple[float | None]] = [(None,)] * len(runs)
    followed = [n for n, (setup, air_c, _) in enumerate(runs) if not _ends_above(setup, air_c)]
    times = [search_times_h(runs[n][2]) for n in followed]
    for n, at, course in zip(followed, times, courses_each([runs[n][:2] for n in followed], times), strict=True):
        found[n] = (all_hours_to(runs[n][0].loads, at, course),)
    return found


def _ends_above(setup: Setup, air_c: float) -> bool:
    """Whether some load cannot come to its aim: a course comes no lower than its floor."""
    return any(load.start.value > load.aim_pct <= setup.floor_pct(load, air_c) for load in setup.loads)


def _held(setup: Setup, wanted_c: float) -> tuple[float, Limit | None]:
    """What a wanted temperature comes down or up to, and the limit that did it."""
    top = hottest_to_plan_c(setup)
    if wanted_c > top:
        over = ceiling(setup)
        if over.temp_c < wanted_c or not setup.dryer.levels_c:
            return top, over
    least = min(setup.dryer.levels_c, default=setup.dryer.min_c)
    if wanted_c < least:
        return least, Limit(LimitKind.DRYER_MIN, least)
    near = setup.dryer.nearest_c(wanted_c)
    return min(near, top), None


def usual_runs(setups: Sequence[Setup]) -> list[Tried]:
    """The runs whose hours the usual programme asks for, of those set-ups that need drying and can have it."""
    found = []
    for setup in setups:
        with suppress(OutOfRangeError):
            if (run := programmes(setup.lead).get(USUAL)) is not None and needed(setup):
                found.append((setup, _held(setup, run.temp_c)[0], PATIENCE_H))
    return found


def _by_programme(setup: Setup, method: str) -> Choice:
    run = programmes(setup.lead).get(method)
    if run is None:
        raise OutOfRangeError(
            "method", f"{setup.lead.material.name} has no programme of that kind yet. Choose another."
        )
    temp, limit = _held(setup, run.temp_c)
    hours = hours_needed(setup, temp)
    if method in (SHEET, OWN) or not needed(setup):
        return Choice(temp, run.duration_h, limit, reaches=hours is not None and hours <= run.duration_h)
    if hours is None:
        return Choice(temp, run.duration_h, limit, reaches=False)
    return Choice(temp, rounded_up_h(hours), limit)


def _candidates_c(setup: Setup) -> Array:
    """Every whole degree, or level, that the dryer can hold and the load stands."""
    top = hottest_to_plan_c(setup)
    if setup.dryer.levels_c:
        return np.array([level for level in setup.dryer.levels_c if level <= top])
    return np.unique(np.append(np.arange(math.ceil(setup.dryer.min_c), top), top))


def _best(setup: Setup, goal: Goal, temps: Array, hours: Array, ready_in_h: float) -> int:
    """Which candidate serves the goal best; `hours` is infinite where the aim is not reached."""
    if goal is Goal.LEAST_ENERGY:
        power = np.array([mean_power_w(setup.dryer, setup.room.temp_c, float(t)).value for t in temps])
        return int(np.argmin(power * hours))
    patience = {
        Goal.LEAST_HEAT: max(GENTLE_PATIENCE_H, setup.lead.material.programmes["gentle"].duration_h),
        Goal.READY_BY: ready_in_h,
    }.get(goal, 0.0)
    soon_enough = np.flatnonzero(hours <= patience)
    return int(soon_enough[0]) if soon_enough.size else int(np.argmin(hours))


def _by_goal(setup: Setup, goal: Goal, ready_in_h: float) -> Choice:
    if not needed(setup):
        return _by_programme(setup, "gentle")
    temps = _candidates_c(setup)
    found = drying_map(setup, temps, search_times_h())
    hours = np.array([np.inf if h is None else rounded_up_h(h) for h in found.all_hours_to_aim(setup)])
    temp = float(temps[_best(setup, goal, temps, hours, ready_in_h)] if np.isfinite(hours).any() else temps[-1])
    exact = hours_needed(setup, temp)
    held_by = ceiling(setup) if temp == temps[-1] else None
    if exact is None:
        return Choice(temp, setup.lead.material.programmes["usual"].duration_h, held_by, reaches=False)
    duration = rounded_up_h(exact)
    return Choice(temp, duration, held_by, in_time=goal is not Goal.READY_BY or duration <= ready_in_h)


def choose(method: str, setup: Setup, ready_in_h: float = GENTLE_PATIENCE_H) -> Choice:
    """The temperature and hours for this load by one of `METHODS`, inside the dryer's range and under every limit.

    A method gives the temperature and the physics the hours; maker's sheet and own programme are taken as they stand.
    `ready_in_h` counts for "ready_by" alone. Raises OutOfRangeError for an unknown way, for a material that needs no
    drying, and where no temperature of this dryer is safe for the load.
    """
    if method not in METHODS:
        raise OutOfRangeError("method", f"There is no way '{method}' to choose by. Known: {', '.join(METHODS)}.")
    if not setup.lead.material.programmes:
        raise OutOfRangeError("spool", f"{setup.lead.material.name} takes up too little water to need drying.")
    return _by_goal(setup, Goal(method), ready_in_h) if method in list(Goal) else _by_programme(setup, method)
