"""The ways in which a spool can be dried, out of the same programmes that a plan takes."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from drying.dryers import DryerKind, Setup, hottest_to_plan_c, hours_to
from drying.planning.best import fits_in, planned_run_each
from drying.planning.choose import hours_needed, rounded_up_h, search_times_h

FIRST_WATCH_H = 2.0  # the first run of a material in a dryer is watched for so long, where nobody says otherwise
NEVER_ALONE = (DryerKind.OVEN, DryerKind.LAMP)
SAME_C = 0.05


@dataclass(frozen=True)
class Way:
    """A temperature at the spool, °C, the hours that a plan takes for it, and whether they bring the spool to its aim
    or only nearer to it.
    """

    temp_c: float
    hours: float
    reaches: bool = True


def own_way_each(setups: Sequence[Setup]) -> list[Way | None]:
    """The run that would be planned of each spool in its dryer; None where it does not go in, or nothing is safe."""
    found: list[Way | None] = [None] * len(setups)
    fitting = [n for n, setup in enumerate(setups) if fits_in(setup)]
    for n, planned in zip(fitting, planned_run_each([setups[n] for n in fitting]), strict=True):
        if planned is not None:
            choice = planned.choice
            found[n] = Way(choice.temp_c, choice.duration_h, choice.reaches)
    return found


def way_at(setup: Setup, temp_c: float) -> Way | None:
    """The same spool at a temperature that another one is dried at; None where that is too hot or too cool for it, or
    takes too long.
    """
    least = min(setup.dryer.levels_c, default=setup.dryer.min_c)
    if not least - SAME_C <= temp_c <= hottest_to_plan_c(setup) + SAME_C:
        return None
    hours = hours_needed(setup, temp_c)
    return None if hours is None else Way(temp_c, rounded_up_h(hours))


def ways(setup: Setup, own: Way | None, others_c: Iterable[float]) -> list[Way]:
    """A spool's own way in a dryer first, then those at the cooler temperatures of others that it can be put together
    with: the most delicate caps them all, and nothing is dried hotter than its own plan says.
    """
    if own is None:
        return []
    if not own.reaches:
        return [own]
    temps = sorted({round(t, 3) for t in others_c if t < own.temp_c - SAME_C})
    return [own, *(way for temp in temps if (way := way_at(setup, temp)) is not None)]


def hours_together(setup: Setup, temp_c: float) -> list[float | None]:
    """When each of the spools that are dried together has come to its aim, as hours are set; None: it does not."""
    times = search_times_h()
    found = [
        hours_to(load.aim_pct, times, row) for load, row in zip(setup.loads, setup.courses(temp_c, times), strict=True)
    ]
    return [None if hours is None else rounded_up_h(hours) for hours in found]


def watched_h(kind: DryerKind, hours: float, tried: bool, first_h: float = FIRST_WATCH_H) -> float:
    """How many hours of a run somebody is to be there for: all of it in an oven or under a lamp, the `first_h` of a
    material that was not dried in this dryer before.
    """
    if kind in NEVER_ALONE:
        return hours
    return 0.0 if tried else min(first_h, hours)
