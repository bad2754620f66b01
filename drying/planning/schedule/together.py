"""Spools that share a dryer share its air: a schedule whose hours are those of the spools that are together in it."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import replace

from drying.dryers.attended import ROUNDING_H
from drying.planning.schedule.answer import Answer, Start, answer_of
from drying.planning.schedule.problem import Option, Problem
from drying.planning.schedule.solver import PATIENCE_S, solve

ROUNDS = 3

HoursTogether = Callable[[str, tuple[str, ...], float], Sequence[float | None]]
"""Of a dryer, jobs (the one that is asked about first) and a temperature: hours that each takes; None: never."""


def companions(start: Start, starts: Sequence[Start]) -> tuple[str, ...]:
    """The jobs that are heated in the same dryer while this one is."""
    return tuple(
        sorted(
            other.job
            for other in starts
            if other.job != start.job
            and other.option.dryer == start.option.dryer
            and min(other.end_h, start.end_h) - max(other.start_h, start.start_h) > ROUNDING_H
        )
    )


def solve_together(
    problem: Problem, hours_of: HoursTogether, patience_s: float = PATIENCE_S, before: Sequence[Start] = ()
) -> Answer:
    """The best schedule in which each job has the hours that it takes beside those that are heated with it.

    The problem gives the hours that each takes alone. Where spools turn out to share a dryer, their options take the
    hours of that company, and all is solved again; in a dryer where that does not settle, spools go one at a time.
    Hours are never under what is needed; `before`: as `solve`. Raises OutOfRangeError that names a job which fits
    nowhere.
    """
    first = answer = solve(problem, patience_s, before)
    hours, asked = _alone(problem), problem
    for _ in range(ROUNDS):
        short = _too_short(asked, answer, hours_of)
        if not short:
            break
        asked = _lengthened(asked, short)
        answer = solve(asked, patience_s, answer.starts)
    else:
        short = _too_short(asked, answer, hours_of)
        if short:
            answer = solve(_one_at_a_time(asked, {dryer for _, dryer, _ in short}), patience_s)
    settled = _settled(problem, answer, hours, hours_of)
    return replace(settled, bound=first.bound, optimal=first.optimal and asked is problem)


_Key = tuple[str, str, float]


def _key(job: str, option: Option) -> _Key:
    return job, option.dryer, option.temp_c


def _alone(problem: Problem) -> dict[_Key, float]:
    return {_key(job.id, option): option.hours for job in problem.jobs for option in job.options}


def _needed(start: Start, starts: Sequence[Start], hours_of: HoursTogether) -> float | None:
    """Hours that a start takes beside those that are with it."""
    return hours_of(start.option.dryer, (start.job, *companions(start, starts)), start.option.temp_c)[0]


def _too_short(problem: Problem, answer: Answer, hours_of: HoursTogether) -> dict[_Key, float | None]:
    """The options whose hours are not enough for the company that they are in, with what they take."""
    found: dict[_Key, float | None] = {}
    for start in answer.starts:
        if start.job in problem.running or not companions(start, answer.starts):
            continue
        needed = _needed(start, answer.starts, hours_of)
        if needed is None or needed > start.option.hours + ROUNDING_H:
            found[_key(start.job, start.option)] = needed
    return found


def _lengthened(problem: Problem, short: Mapping[_Key, float | None]) -> Problem:
    """The same jobs with the hours that they turned out to take; what never gets there together goes by itself."""
    jobs = []
    for job in problem.jobs:
        options = (
            replace(o, hours=hours) if (hours := short.get(_key(job.id, o), o.hours)) is not None else None
            for o in job.options
        )
        jobs.append(replace(job, options=tuple(o for o in options if o is not None) or job.options))
    alone = {dryer for (job, dryer, _), hours in short.items() if hours is None and _only(problem, job, dryer)}
    return _one_at_a_time(replace(problem, jobs=tuple(jobs)), alone)


def _only(problem: Problem, job: str, dryer: str) -> bool:
    return all(o.dryer == dryer for j in problem.jobs if j.id == job for o in j.options)


def _one_at_a_time(problem: Problem, dryers: set[str]) -> Problem:
    """The same with one spool at a time in these dryers; what is running in them stays."""

    def slots(dryer: str) -> int:
        return max(1, sum(dryer in {o.dryer for o in job.options} for job in problem.jobs if job.running))

    return replace(
        problem,
        dryers=tuple(replace(d, slots=min(d.slots, slots(d.id))) if d.id in dryers else d for d in problem.dryers),
    )


def _settled(problem: Problem, answer: Answer, alone: Mapping[_Key, float], hours_of: HoursTogether) -> Answer:
    """The answer with no more hours than each start takes in the company that it has: it may only end earlier."""
    starts = []
    for start in answer.starts:
        least: float | None = start.option.hours
        if start.job not in problem.running:
            by_itself = not companions(start, answer.starts)
            least = alone[_key(start.job, start.option)] if by_itself else _needed(start, answer.starts, hours_of)
        hours = start.option.hours if least is None else min(least, start.option.hours)
        starts.append(replace(start, option=replace(start.option, hours=hours)))
    return answer_of(problem, starts, optimal=answer.optimal, bound=answer.bound)
