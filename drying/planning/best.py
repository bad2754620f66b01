"""The run that would be made of a load now: the best that a person's own dryers can do. Dryers side by side, and what
another would save in a year.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cache

from drying.cache import Cache
from drying.dryers import Attended, Setup, broken_limits, courses_each, mean_power_w, misfits, plan_timer
from drying.errors import OutOfRangeError
from drying.planning.alternatives import can_reach, missed
from drying.planning.choose import USUAL, Choice, Goal, choose, hours_needed_each, usual_runs
from drying.planning.forecast import find_air
from drying.quantity import Quantity

WATT_HOURS = 1000.0  # in a kilowatt-hour
TOGETHER = 40  # set-ups worked out side by side: the modes of their warm-ups are all kept until the ends are asked for


@dataclass(frozen=True)
class BestRun:
    """A run in one of the dryers, by its key and the method; `end_pct`: where it brings the first load, % of dry
    mass.
    """

    dryer: int
    method: str
    choice: Choice
    end_pct: float


def unasked(setup: Setup) -> tuple[str, Choice]:
    """The run where nobody said how it is to be chosen, and its method: the usual programme; where that does not get
    there but more heat that is still safe does, the least that does. Raises OutOfRangeError as `choose` does.
    """
    usual = choose(USUAL, setup)
    if usual.reaches or not can_reach(setup):
        return USUAL, usual
    return Goal.LEAST_HEAT.value, choose(Goal.LEAST_HEAT, setup)


def to_plan(setup: Setup) -> tuple[str, Choice]:
    """`unasked`, where the ticket is written next: the air over desiccant that hours and ticket need is found at one
    go.
    """
    for _, air_c, _ in usual_runs([setup]):
        find_air(setup, air_c)
    return unasked(setup)


def fits_in(setup: Setup) -> bool:
    """Whether all of the load goes in."""
    wound = [load for load in setup.loads if load.form == "wound"]
    return len(setup.loads) <= setup.dryer.slots and not any(
        misfits(setup.dryer, load.diameter_mm, load.width_mm) for load in wound
    )


def safe_run(setup: Setup) -> tuple[str, Choice] | None:
    """The run where nobody said how, and its method; None where this dryer can do nothing for the load without harm:
    past a limit only where a person asks for it.
    """
    try:
        method, choice = unasked(setup)
    except OutOfRangeError:  # no temperature of this dryer suits the load, or it does not heat
        return None
    return None if broken_limits(setup, choice.temp_c) else (method, choice)


@dataclass(frozen=True)
class PlannedRun:
    """The run that would be made of a load, its method, and the moisture at which each spool ends, % of dry mass."""

    method: str
    choice: Choice
    end_pct: tuple[float, ...]


@cache
def kept_runs() -> Cache[tuple[PlannedRun | None]]:
    """The run for each set-up, None where none is safe: it depends on nothing else."""
    return Cache(1024)


def planned_run_each(setups: Sequence[Setup]) -> list[PlannedRun | None]:
    """The run that would be made in each of these set-ups, None where none is safe; worked out side by side."""
    parts = (setups[n : n + TOGETHER] for n in range(0, len(setups), TOGETHER))
    return [planned for part in parts for (planned,) in kept_runs().get_each(part, _work_out)]


def _work_out(setups: Sequence[Setup]) -> list[tuple[PlannedRun | None]]:
    hours_needed_each(usual_runs(setups))  # kept, so that `safe_run` finds them there
    found: list[tuple[PlannedRun | None]] = [(None,)] * len(setups)
    safe = [(n, *run) for n, setup in enumerate(setups) if (run := safe_run(setup)) is not None]
    ends = courses_each([(setups[n], it.temp_c) for n, _, it in safe], [[it.duration_h] for *_, it in safe])
    for (n, method, choice), end in zip(safe, ends, strict=True):
        found[n] = (PlannedRun(method, choice, tuple(end[:, -1].tolist())),)
    return found


def best_run_each(of_loads: Sequence[Mapping[int, Setup]]) -> list[BestRun | None]:
    """For each of several loads, given its set-up in each dryer by the dryer's key: the run that brings it to its aim
    soonest; where none does, the one that ends nearest to it. Dryers that it does not go into count only where it goes
    into none.

    None where no dryer can do anything for it without harm. All are worked out side by side.
    """
    tried = [{key: setup for key, setup in setups.items() if fits_in(setup)} or dict(setups) for setups in of_loads]
    found = iter(planned_run_each([setup for setups in tried for setup in setups.values()]))
    return [_best([(key, setup, next(found)) for key, setup in setups.items()]) for setups in tried]


def _best(tried: Sequence[tuple[int, Setup, PlannedRun | None]]) -> BestRun | None:
    found = []
    for key, setup, planned in tried:
        if planned is None:
            continue
        choice = planned.choice
        over = max(end / load.aim_pct for end, load in zip(planned.end_pct, setup.loads, strict=True))
        order = (not choice.reaches, choice.duration_h if choice.reaches else over, choice.temp_c)
        found.append((order, BestRun(key, planned.method, choice, planned.end_pct[0])))
    return min(found, key=lambda pair: pair[0])[1] if found else None


@dataclass(frozen=True)
class InDryer:
    """What a dryer would do for a load. `run`: how it would be dried there, None where no temperature is safe for it;
    `reaches`: whether that brings it to its aim; `restarts`: how often its timer is set again, `at_night` of them when
    nobody is there, were the heat not to stop. `is_bound`: its hours are the least that it takes.
    """

    fits: bool
    run: tuple[str, Choice] | None = None
    reaches: bool = False
    energy_kwh: Quantity | None = None
    restarts: int = 0
    at_night: int = 0
    is_bound: bool = False

    @property
    def is_use(self) -> bool:
        """Whether the load goes in and comes out at its aim."""
        return self.fits and self.reaches

    @property
    def duration_h(self) -> float:
        """Hours of heat; infinite where it does not come to its aim."""
        return self.run[1].duration_h if self.is_use and self.run else float("inf")


def in_dryer_each(setups: Sequence[Setup], attended: Attended) -> list[InDryer]:
    """What the dryer of each set-up would do for its load; `attended`: when somebody is there after a start now."""
    return [_in_dryer(*each, attended) for each in zip(setups, planned_run_each(setups), strict=True)]


def _in_dryer(setup: Setup, planned: PlannedRun | None, attended: Attended) -> InDryer:
    fits = fits_in(setup)
    if planned is None:
        return InDryer(fits)
    choice = planned.choice
    power = mean_power_w(setup.dryer, setup.room.temp_c, choice.temp_c)
    hours = choice.duration_h / WATT_HOURS
    again = plan_timer(setup.dryer, choice.duration_h).turns[1:]
    return InDryer(
        fits,
        (planned.method, choice),
        not missed(setup, planned.end_pct),
        Quantity(power.value * hours, power.uncertainty * hours),
        len(again),
        sum(not attended.at(turn.at_h) for turn in again),
        setup.dryer.opens_winding,
    )


@dataclass(frozen=True)
class Saved:
    """What another dryer would do in a year: the loads, by their place, that only it brings to their aim, hours of
    drying and kWh that it saves with the others, and at how many runs it would be the one that is used.
    """

    gained: tuple[int, ...]
    hours: float
    energy_kwh: float
    runs: float


def saved(own: Sequence[Sequence[InDryer]], another: Sequence[InDryer], runs_a_year: Sequence[float]) -> Saved:
    """What another dryer saves in a year, in which each load is dried so many times, each in the dryer that is through
    soonest. `own`: for each load what each of the dryers there are would do.
    """
    gained, hours, energy, runs = [], 0.0, 0.0, 0.0
    for place, (mine, other, times) in enumerate(zip(own, another, runs_a_year, strict=True)):
        best = min(mine, key=lambda each: each.duration_h, default=InDryer(fits=False))
        if not other.is_use or best.duration_h <= other.duration_h:
            continue
        runs += times
        if not best.is_use:
            gained.append(place)
            continue
        hours += times * (best.duration_h - other.duration_h)
        if best.energy_kwh and other.energy_kwh:
            energy += times * (best.energy_kwh.value - other.energy_kwh.value)
    return Saved(tuple(gained), hours, energy, runs)
