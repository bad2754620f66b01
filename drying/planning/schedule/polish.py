"""A schedule made better by moving one job at a time, as long as that helps."""

from __future__ import annotations

import time
from collections.abc import Iterator

from drying.planning.schedule.answer import Answer, Start, answer_of, better
from drying.planning.schedule.problem import Option, Problem
from drying.planning.schedule.rule import fits


def polished(problem: Problem, found: Answer, until: float) -> Answer:
    """The answer after moves that each make it better, until none does or the clock says `until`."""
    moved = True
    while moved and time.monotonic() < until:
        moved = False
        for job in (j for j in problem.jobs if j.only_at_h is None):
            others = [s for s in found.starts if s.job != job.id]
            for start in _moves(problem, job.id, job.options, found):
                if time.monotonic() >= until:
                    return found
                if not problem.is_possible(start.option, start.start_h) or not fits(problem, start, others):
                    continue
                new = better(found, answer_of(problem, [*others, start], optimal=False, bound=found.bound))
                if new is not found:
                    found, moved = new, True
    return found


def _moves(problem: Problem, job: str, options: tuple[Option, ...], found: Answer) -> Iterator[Start]:
    """Starts at which something may be had: with another visit, where prices change, as soon as somebody is there."""
    changes = sorted({t for price in problem.tariff for t in (price.from_h, price.to_h)})
    begins = [begin for begin, _ in problem.home]
    for option in options:
        moments = {*found.visits_h, *begins, *changes}
        moments |= {v - option.hours for v in (*found.visits_h, *changes)} | {end for _, end in problem.home}
        for moment in sorted(moments):
            if moment >= 0.0:
                yield Start(job, option, moment)
