"""The best schedule that is found in time, stage by stage: late jobs, hours late, visits, cost, the last end.

The plain rule is where it sets out from and what it falls back on. Lateness, visits and the last end are solved on a
grid of time that is taken from the numbers themselves, so what is proven on it is proven. Cost is made smaller by
moving jobs one at a time, so where power has a price an answer is never said to be proven.
"""

from __future__ import annotations

import math
import time
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING

from drying.planning.schedule.answer import Answer, Bound, Start, answer_of, better
from drying.planning.schedule.polish import polished
from drying.planning.schedule.problem import Problem
from drying.planning.schedule.rule import least_late, plain_rule, still_had

if TYPE_CHECKING:
    from ortools.sat.python import cp_model

PATIENCE_S = 1.6
LEAST_S = 0.02


def solve(problem: Problem, patience_s: float = PATIENCE_S, before: Sequence[Start] = ()) -> Answer:
    """The best answer that is found in so many seconds, with the bound that tells how far from best it may be: never
    worse than the plain rule's, nor than `before` where those starts can still be had. Of answers that are as good the
    one before stays.

    Raises OutOfRangeError that names a job which fits nowhere.
    """
    until = time.monotonic() + patience_s
    least = [late for job in problem.jobs if 0.0 < (late := least_late(problem, job)) < math.inf]
    bound = Bound(len(least), round(sum(least), 6))
    if not problem.jobs:
        return answer_of(problem, [], optimal=True, bound=bound)
    found = answer_of(problem, plain_rule(problem), optimal=False, bound=bound)
    kept = still_had(problem, before)
    if kept is not None:
        found = better(answer_of(problem, kept, optimal=False, bound=bound), found)
    return _Stages(problem, found, until).run()


@dataclass(frozen=True)
class _Stage:
    """What a stage came to: the value, what it cannot be under, and whether the two meet."""

    value: int
    least: int

    @property
    def proven(self) -> bool:
        """Whether nothing smaller is to be had."""
        return self.value <= self.least


class _Stages:
    def __init__(self, problem: Problem, found: Answer, until: float) -> None:
        # The solver takes a second to load: only where something is solved.
        from drying.planning.schedule.model import Scheme, tick_minutes

        self.problem, self.found, self.until = problem, found, until
        minutes, self.exact = tick_minutes(problem)
        self.scheme = Scheme(problem, minutes)

    def run(self) -> Answer:
        """All stages."""
        self.found = polished(self.problem, self.found, time.monotonic() + 0.15 * (self.until - time.monotonic()))
        self.scheme.hint(self.found.starts)
        proven = self._lateness()
        most = len(self.found.visits_h)
        visits = self._stage(self.scheme.visits(most), 0.6)
        self.found = polished(self.problem, self.found, time.monotonic() + 0.4 * (self.until - time.monotonic()))
        proven = proven and visits is not None and visits.proven and len(self.found.visits_h) == visits.value
        priced = any(price.per_kwh for price in self.problem.tariff)
        if not priced:
            last = self._stage(self.scheme.last_end(), 1.0)
            proven = proven and last is not None and last.proven
        self.found = polished(self.problem, self.found, self.until)
        return replace(self.found, optimal=proven and not priced and self.exact)

    def _lateness(self) -> bool:
        """Fewest jobs late, then fewest minutes; whether both are proven."""
        if not self.found.late:
            self._keep(Bound(0, 0.0))
            self.scheme.model.add(self.scheme.jobs_late() == 0)
            return True
        jobs = self._stage(self.scheme.jobs_late(), 0.4)
        minutes = self._stage(self.scheme.minutes_late(), 0.4)
        if jobs is None or not self.exact:
            return False
        least = self.found.bound
        self._keep(replace(least, jobs_late=max(least.jobs_late, jobs.least)))
        if jobs.proven and minutes is not None:
            hours = max(least.hours_late, math.floor(minutes.least / 60.0 * 1e6) / 1e6)
            own = round(sum(self.found.late.values()), 6)
            self._keep(Bound(self.found.bound.jobs_late, own if minutes.proven else min(hours, own)))
            return minutes.proven
        return False

    def _keep(self, bound: Bound) -> None:
        self.found = replace(self.found, bound=bound)

    def _stage(self, objective: cp_model.LinearExprT, share: float) -> _Stage | None:
        """Make one thing as small as it goes in a share of the time left; None where nothing was found."""
        left = self.until - time.monotonic()
        if left < LEAST_S:
            return None
        solver = self.scheme.solved(objective, left * share)
        if solver is None:
            return None
        starts, value = self.scheme.starts(solver), round(solver.objective_value)
        self.found = better(self.found, answer_of(self.problem, starts, optimal=False, bound=self.found.bound))
        self.scheme.model.add(objective <= value)
        self.scheme.hint(self.found.starts)
        return _Stage(value, math.ceil(solver.best_objective_bound - 1e-6))
