"""Why a job is late, and what would help."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

from drying.dryers.attended import ROUNDING_H, Window, merged
from drying.planning.schedule.answer import Answer
from drying.planning.schedule.problem import Job, Problem
from drying.planning.schedule.rule import soonest_end_h


class Why(StrEnum):
    """What holds a late job up."""

    TOO_LONG = "too_long"  # even started now it takes longer than that
    NOBODY_HOME = "nobody_home"  # somebody would have to be there at another hour
    TAKEN = "taken"  # the dryer has others in it


@dataclass(frozen=True)
class Reason:
    """Why a job is late: `hours`, the least that it takes; `dryer`, the one that it waits for, and `others`, which are
    in it before; `soonest_h`, when it could be ready had it the dryers to itself.
    """

    job: str
    why: Why
    hours: float
    dryer: str
    soonest_h: float | None
    others: tuple[str, ...] = ()


def reasons(problem: Problem, answer: Answer) -> list[Reason]:
    """Of each late job, in order of lateness."""
    late = sorted(answer.late, key=lambda job: (-answer.late[job], job))
    jobs = {job.id: job for job in problem.jobs}
    return [_reason(problem, answer, jobs[job]) for job in late]


def _reason(problem: Problem, answer: Answer, job: Job) -> Reason:
    start = next(s for s in answer.starts if s.job == job.id)
    hours = min(o.hours for o in job.options)
    free = replace(job, pinned_h=None)
    soonest = soonest_end_h(problem, free)
    always = replace(problem, at_home=((0.0, problem.horizon_h + hours),))
    ready = job.ready_by_h if job.ready_by_h is not None else math.inf
    dryer = start.option.dryer
    if not _in_time(soonest_end_h(always, free), ready):
        return Reason(job.id, Why.TOO_LONG, hours, dryer, soonest)
    if not _in_time(soonest, ready):
        return Reason(job.id, Why.NOBODY_HOME, hours, dryer, soonest)
    return Reason(job.id, Why.TAKEN, hours, dryer, soonest, _before(answer, job.id, dryer, start.start_h))


def _in_time(end_h: float | None, ready_by_h: float) -> bool:
    return end_h is not None and end_h <= ready_by_h + ROUNDING_H


def _before(answer: Answer, job: str, dryer: str, start_h: float) -> tuple[str, ...]:
    """The jobs that are in a dryer before this one, the last first."""
    others = [s for s in answer.starts if s.job != job and s.option.dryer == dryer and s.start_h <= start_h]
    return tuple(s.job for s in sorted(others, key=lambda s: -s.end_h))


def with_another(problem: Problem, dryer: str) -> Problem:
    """What if there were a second dryer like this one?"""
    second = f"{dryer}+"
    jobs = [
        replace(job, options=(*job.options, *(replace(o, dryer=second) for o in job.options if o.dryer == dryer)))
        if job.only_at_h is None
        else job
        for job in problem.jobs
    ]
    dryers = (*problem.dryers, replace(problem.by_id[dryer], id=second))
    return replace(problem, dryers=dryers, jobs=tuple(jobs))


def with_home(problem: Problem, spans: Sequence[tuple[float, float]]) -> Problem:
    """What if somebody were at home then, too?"""
    return replace(problem, at_home=(*problem.at_home, *spans))


def home_needed(problem: Problem, answer: Answer) -> tuple[Window, ...]:
    """When somebody would have to be there, beyond the hours at home, for an answer that takes more of them: from its
    first moment to its last, for each visit and each heating that is watched. Empty where the usual hours do.
    """
    moments = [(at, at) for at in answer.visits_h]
    for start in answer.starts:
        watch_h = problem.watch_h if start.option.watch_h is None else start.option.watch_h
        if start.job not in problem.running:
            moments.append((start.start_h, start.start_h + watch_h))
    missing = [(begin, end) for begin, end in moments if not _is_home(problem, begin, end)]
    return tuple(merged(missing))


def _is_home(problem: Problem, begin_h: float, end_h: float) -> bool:
    here = problem.stretch_at(begin_h)
    return here is not None and end_h <= here[1] + ROUNDING_H


def with_later(problem: Problem, jobs: Sequence[str], hours: float) -> Problem:
    """What if these were wanted so many hours later?"""
    return replace(
        problem,
        jobs=tuple(
            replace(job, ready_by_h=job.ready_by_h + hours) if job.id in jobs and job.ready_by_h is not None else job
            for job in problem.jobs
        ),
    )
