"""What a set of starts comes to: visits, lateness, cost, and which of two is better."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from drying.dryers.attended import ROUNDING_H, merged
from drying.planning.schedule.problem import Option, Problem, lateness_h


@dataclass(frozen=True)
class Start:
    """A job's start in one of its options, h from now."""

    job: str
    option: Option
    start_h: float

    @property
    def end_h(self) -> float:
        """When its heat ends."""
        return self.start_h + self.option.hours


@dataclass(frozen=True)
class Bound:
    """What no schedule can beat."""

    jobs_late: int
    hours_late: float


@dataclass(frozen=True)
class Answer:
    """A schedule: starts, visits in order of time, hours late of the jobs that are, cost, whether it is proven best,
    and the bound.
    """

    starts: tuple[Start, ...]
    visits_h: tuple[float, ...]
    late: dict[str, float]
    cost: float
    optimal: bool
    bound: Bound

    @property
    def rank(self) -> tuple[float, ...]:
        """What is to be small, in order: late jobs, hours late, visits, cost, last end."""
        last = max((start.end_h for start in self.starts), default=0.0)
        hours = round(sum(self.late.values()), 6)
        return (len(self.late), hours, len(self.visits_h), round(self.cost, 6), round(last, 6))


def better(one: Answer, other: Answer) -> Answer:
    """The better of two, the first where they are alike."""
    return other if other.rank < one.rank else one


def answer_of(problem: Problem, starts: Sequence[Start], *, optimal: bool, bound: Bound) -> Answer:
    """The answer that these starts give, with as few visits as they need."""
    jobs = {job.id: job for job in problem.jobs}
    late = {s.job: hours for s in starts if (hours := lateness_h(jobs[s.job], s.end_h)) > 0.0}
    in_order = tuple(sorted(starts, key=lambda s: (s.start_h, s.job)))
    return Answer(in_order, tuple(_visits(problem, starts)), late, _cost(problem, starts), optimal, bound)


def _cost(problem: Problem, starts: Sequence[Start]) -> float:
    total = 0.0
    for dryer in problem.dryers:
        for begin, end in merged([(s.start_h, s.end_h) for s in starts if s.option.dryer == dryer.id]):
            for price in problem.tariff:
                hours = max(min(end, price.to_h) - max(begin, price.from_h), 0.0)
                total += dryer.power_w / 1000.0 * hours * price.per_kwh
    return total


def _visits(problem: Problem, starts: Sequence[Start]) -> list[float]:
    """Loads and takings-out, and the restarts that timers need between: each as late as it may be, so that it serves
    the most.
    """
    loads = [s.start_h for s in starts if s.job not in problem.running]
    found = _apart([*loads, *(problem.taken_out_h(s.option, s.start_h) for s in starts)])
    longest_turns = {dryer.id: dryer.timer_max_h for dryer in problem.dryers}
    timed = [
        (s, longest)
        for s in starts
        if s.job not in problem.running and (longest := longest_turns[s.option.dryer]) is not None
    ]
    while True:
        due = min((d for s, longest in timed if (d := _due(found, s, longest)) is not None), default=None)
        if due is None:
            return found
        visit = problem.last_home(due)
        if visit is None or any(abs(visit - other) < ROUNDING_H for other in found):
            raise ValueError("A timer runs out while nobody is at home.")  # such a start is never chosen
        found = sorted([*found, visit])


def _due(visits: Sequence[float], start: Start, longest_h: float) -> float | None:
    """When the timer of this heating first runs out before somebody comes; None where it never does."""
    at = start.start_h
    inside = [v for v in visits if start.start_h + ROUNDING_H < v < start.end_h - ROUNDING_H]
    for visit in [*inside, start.end_h]:
        if visit - at > longest_h + ROUNDING_H:
            return at + longest_h
        at = visit
    return None


def _apart(times: Sequence[float]) -> list[float]:
    """The times in order, those at the same moment as one."""
    found: list[float] = []
    for time in sorted(t for t in times if math.isfinite(t)):
        if not found or time - found[-1] > ROUNDING_H:
            found.append(time)
    return found


@dataclass(frozen=True)
class Visit:
    """What is done at a moment, h from now: jobs that are loaded, jobs that are taken out, dryers whose timer is set
    again.
    """

    at_h: float
    loads: tuple[str, ...]
    takes_out: tuple[str, ...]
    timers: tuple[str, ...]


def what_is_done(problem: Problem, answer: Answer) -> list[Visit]:
    """Each visit of an answer with what is done at it."""
    return [_visit(problem, answer.starts, at) for at in answer.visits_h]


def _visit(problem: Problem, starts: Sequence[Start], at_h: float) -> Visit:
    def now(time_h: float) -> bool:
        return abs(time_h - at_h) <= ROUNDING_H

    loads = tuple(s.job for s in starts if s.job not in problem.running and now(s.start_h))
    out = tuple(s.job for s in starts if now(problem.taken_out_h(s.option, s.start_h)))
    timed = dict.fromkeys(
        s.option.dryer
        for s in starts
        if s.job not in problem.running
        and s.start_h + ROUNDING_H < at_h < s.end_h - ROUNDING_H
        and s.option.hours > (problem.by_id[s.option.dryer].timer_max_h or math.inf)
    )
    return Visit(at_h, loads, out, tuple(timed))


def energy_kwh(problem: Problem, starts: Sequence[Start]) -> float:
    """What the dryers draw through the union of their spools' hours, kWh."""
    return sum(
        dryer.power_w / 1000.0 * (end - begin)
        for dryer in problem.dryers
        for begin, end in merged([(s.start_h, s.end_h) for s in starts if s.option.dryer == dryer.id])
    )
