"""Schedules as JSON for the command line: what goes into which dryer when."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from typing import Any

from drying.cli.json_input import number, optional_number, part, require_known, rows
from drying.errors import OutOfRangeError
from drying.planning.schedule import Answer, DryerSlots, Job, Option, Price, Problem, solve

_ALL = ("horizon_h", "at_home", "tariff", "watch_h", "dryers", "jobs")


def _spans(of: Mapping[str, Any], name: str, width: int) -> list[Sequence[float]]:
    found = part(of, name)
    if not isinstance(found, list) or not all(isinstance(x, list) and len(x) == width for x in found):
        raise OutOfRangeError(name, f"“{name}” must be a list of lists of {width} numbers.")
    for value in (v for span in found for v in span):
        if isinstance(value, bool) or not isinstance(value, int | float) or not math.isfinite(value):
            raise OutOfRangeError(name, f"“{name}” holds {value!r}: give numbers.")
    return found


def _dryer(of: Mapping[str, Any]) -> DryerSlots:
    require_known(of, ("id", "slots", "timer_max_h", "power_w"), "a dryer")
    slots = number(of, "slots")
    if slots != int(slots):
        raise OutOfRangeError("slots", f"“slots” is {slots:g}: give a whole number.")
    return DryerSlots(part(of, "id"), int(slots), optional_number(of, "timer_max_h"), number(of, "power_w"))


def _option(of: Mapping[str, Any]) -> Option:
    require_known(of, ("dryer", "temp_c", "hours"), "an option")
    return Option(part(of, "dryer"), number(of, "temp_c"), number(of, "hours"))


def _job(of: Mapping[str, Any]) -> Job:
    require_known(of, ("id", "ready_by_h", "options"), "a job")
    options = tuple(_option(option) for option in rows(of, "options"))
    return Job(part(of, "id"), options, optional_number(of, "ready_by_h"))


def problem_of(mapping: Mapping[str, Any]) -> Problem:
    """A problem out of its JSON. Raises DryingError that names what is missing or wrong."""
    require_known(mapping, _ALL, "the schedule")
    return Problem(
        horizon_h=number(mapping, "horizon_h"),
        at_home=tuple((float(begin), float(end)) for begin, end in _spans(mapping, "at_home", 2)),
        dryers=tuple(_dryer(dryer) for dryer in rows(mapping, "dryers")),
        jobs=tuple(_job(job) for job in rows(mapping, "jobs")),
        tariff=tuple(Price(float(a), float(b), float(p)) for a, b, p in _spans(mapping, "tariff", 3)),
        watch_h=number(mapping, "watch_h"),
    )


def answer_of(mapping: Mapping[str, Any]) -> dict[str, Any]:
    """Starts, visits, lateness, cost, whether it is proven best, and the bound."""
    return printed(solve(problem_of(mapping)))


def printed(found: Answer) -> dict[str, Any]:
    """An answer as the command line prints it."""
    return {
        "starts": [
            {
                "job": start.job,
                "dryer": start.option.dryer,
                "temp_c": start.option.temp_c,
                "start_h": round(start.start_h, 9),
                "end_h": round(start.end_h, 9),
            }
            for start in found.starts
        ],
        "visits_h": [round(visit, 9) for visit in found.visits_h],
        "late": {job: round(hours, 9) for job, hours in found.late.items()},
        "cost": round(found.cost, 6),
        "optimal": found.optimal,
        "bound": {"jobs_late": found.bound.jobs_late, "hours_late": found.bound.hours_late},
    }
