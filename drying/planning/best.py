"""The run that would be made of a load now: the best that a person's own dryers can do."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from drying.dryers import Setup, broken_limits, misfits
from drying.errors import OutOfRangeError
from drying.planning.alternatives import can_reach
from drying.planning.choose import Choice, Goal, choose

USUAL = "usual"


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


def best_run(setups: Mapping[int, Setup]) -> BestRun | None:
    """Of the same load in each dryer: the run that brings it to its aim soonest; where none does, the one that ends
    nearest to it. Dryers that it does not go into count only where it goes into none.

    None where no dryer can do anything for it without harm.
    """
    fitting = {key: setup for key, setup in setups.items() if fits_in(setup)}
    found = []
    for key, setup in (fitting or setups).items():
        run = safe_run(setup)
        if run is None:
            continue
        method, choice = run
        ends = setup.courses(choice.temp_c, [choice.duration_h])[:, -1]
        over = max(end / load.aim_pct for end, load in zip(ends, setup.loads, strict=True))
        order = (not choice.reaches, choice.duration_h if choice.reaches else over, choice.temp_c)
        found.append((order, BestRun(key, method, choice, float(ends[0]))))
    return min(found, key=lambda pair: pair[0])[1] if found else None
