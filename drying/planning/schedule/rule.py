"""The plain rule: the one that is wanted first goes first, where and when it is ready soonest. It always answers."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence

from drying.dryers.attended import ROUNDING_H
from drying.errors import OutOfRangeError
from drying.planning.schedule.answer import Start
from drying.planning.schedule.problem import Job, Option, Problem, lateness_h

STEP_H = 0.25  # between the starts that are tried, beside those at which something changes


def plain_rule(problem: Problem) -> list[Start]:
    """Starts by the rule. Raises OutOfRangeError that names a job which fits nowhere within the horizon."""
    wanted = sorted(problem.jobs, key=_order)
    found: list[Start] = []
    for job in wanted:
        found.append(_soonest(problem, job, found))
    return found


def _order(job: Job) -> tuple[bool, bool, float]:
    """What is in a dryer already comes first, then what is pinned, then what is wanted first."""
    return not job.running, job.pinned_h is None, math.inf if job.ready_by_h is None else job.ready_by_h


def _soonest(problem: Problem, job: Job, others: Sequence[Start]) -> Start:
    best: Start | None = None
    for option in job.options:
        for start_h in _times(problem, option, others) if job.only_at_h is None else [job.only_at_h]:
            if best is not None and start_h + option.hours >= best.end_h - ROUNDING_H:
                break
            new = Start(job.id, option, start_h)
            if problem.may_start(job, option, start_h) and fits(problem, new, others):
                best = new
                break
    if best is None:
        raise OutOfRangeError(
            "jobs", f"{job.id} fits into no dryer within {problem.horizon_h:g} h: {why_not(problem, job)}"
        )
    return best


def _times(problem: Problem, option: Option, others: Sequence[Start]) -> Iterator[float]:
    """The starts to try, in order of time."""
    ends = [problem.taken_out_h(o.option, o.start_h) for o in others if o.option.dryer == option.dryer]
    last = problem.horizon_h - option.hours
    steps = [n * STEP_H for n in range(int(last / STEP_H) + 1)] if last >= 0.0 else []
    begins = [begin for begin, _ in problem.home]
    moments = [*steps, *begins, *ends, *(o.end_h for o in others), *(o.start_h for o in others), max(last, 0.0)]
    yield from sorted({t for t in moments if 0.0 <= t <= last + ROUNDING_H})


def soonest_end_h(problem: Problem, job: Job) -> float | None:
    """When a job could be ready had it the dryers to itself; None where it fits nowhere."""
    try:
        return _soonest(problem, job, ()).end_h
    except OutOfRangeError:
        return None


def still_had(problem: Problem, starts: Sequence[Start]) -> list[Start] | None:
    """Starts of an earlier answer, each with the hours that its option has now; None where they are not one of every
    job any more, or cannot be had as they are.
    """
    jobs, found = {job.id: job for job in problem.jobs}, list[Start]()
    if sorted(start.job for start in starts) != sorted(jobs):
        return None
    for start in sorted(starts, key=lambda s: (s.job not in problem.running, s.start_h)):
        option = next((o for o in jobs[start.job].options if _is_alike(o, start.option)), None)
        if option is None or not problem.may_start(jobs[start.job], option, start.start_h):
            return None
        new = Start(start.job, option, start.start_h)
        if not fits(problem, new, found):
            return None
        found.append(new)
    return found


def _is_alike(one: Option, other: Option) -> bool:
    return one.dryer == other.dryer and abs(one.temp_c - other.temp_c) < ROUNDING_H


def fits(problem: Problem, new: Start, others: Sequence[Start]) -> bool:
    """Whether a start can be had beside others: one temperature while heats overlap, never too many in the slots."""
    out = problem.taken_out_h(new.option, new.start_h)
    held = [(new.start_h, out)]
    for other in others:
        if other.option.dryer != new.option.dryer:
            continue
        overlap = min(new.end_h, other.end_h) - max(new.start_h, other.start_h)
        if overlap > ROUNDING_H and abs(other.option.temp_c - new.option.temp_c) > ROUNDING_H:
            return False
        until = problem.taken_out_h(other.option, other.start_h)
        if min(out, until) - max(new.start_h, other.start_h) > ROUNDING_H:
            held.append((other.start_h, until))
    slots = problem.by_id[new.option.dryer].slots
    moments = [begin for begin, _ in held if new.start_h - ROUNDING_H <= begin < out] + [new.start_h]
    return all(sum(b <= m + ROUNDING_H and m < e - ROUNDING_H for b, e in held) <= slots for m in moments)


def why_not(problem: Problem, job: Job) -> str:
    """Why a job has no start even with the dryers to itself."""
    shortest = min(option.hours for option in job.options)
    if job.running:
        return "nobody is at home to take it out."
    if not problem.home:
        return "nobody is at home to load it."
    if shortest > problem.horizon_h:
        return f"it takes {shortest:g} h."
    if job.pinned_h is not None:
        return "it cannot start when it is pinned to: nobody is there for it, or the dryer is taken."
    if not any(problem.is_possible(o, t) for o in job.options for t in _times(problem, o, [])):
        return "at no moment is somebody there to load it, watch it, set the timer again and take it out."
    return "the dryers are full. Look further ahead, or add a dryer."


def least_late(problem: Problem, job: Job) -> float:
    """Hours late at the very least, with the dryers to itself and timers left out: what no schedule can beat."""
    if job.only_at_h is not None:
        return lateness_h(job, job.only_at_h + min(o.hours for o in job.options))
    watch_h = min(problem.watch_h if o.watch_h is None else o.watch_h for o in job.options)
    begins = [max(b, 0.0) for b, e in problem.home if e >= 0.0 and e - max(b, 0.0) >= watch_h - ROUNDING_H]
    return lateness_h(job, min(begins) + min(o.hours for o in job.options)) if begins else math.inf
