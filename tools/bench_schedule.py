"""Schedules: how long they take, what they gain on the plain rule, how far from the bound, and whether any is wrong."""

from __future__ import annotations

import time

import numpy as np

from drying.cli.schedule import printed, problem_of
from drying.errors import OutOfRangeError
from drying.planning.schedule import Answer, Bound, answer_of, plain_rule, solve
from drying.planning.schedule.tests.check import drawn, faults

SIZES = ((200, 6, 2, 3, 0.4, "2 s"), (10, 12, 3, 4, 1.6, "2 s"), (4, 30, 6, 7, 8.0, "10 s"))


def figures(answers: list[Answer]) -> str:
    late = sum(len(a.late) for a in answers)
    hours = sum(sum(a.late.values()) for a in answers)
    visits, cost = sum(len(a.visits_h) for a in answers), sum(a.cost for a in answers)
    return f"{late} jobs {hours:.1f} h late, {visits} visits, {cost:.2f} of cost"


def main() -> None:
    print("\nSchedules against the plain rule, each answer checked independently (goal: no fault, never worse)")
    rng = np.random.default_rng(7)
    for count, jobs, dryers, days, patience_s, goal in SIZES:
        rules, found, seconds, wrong, worse = [], [], [], 0, 0
        for _ in range(count):
            given = drawn(rng, jobs, dryers, days)
            problem = problem_of(given)
            try:
                rule = answer_of(problem, plain_rule(problem), optimal=False, bound=Bound(0, 0.0))
            except OutOfRangeError:
                continue
            start = time.perf_counter()
            answer = solve(problem, patience_s)
            seconds.append(time.perf_counter() - start)
            wrong += bool(faults(given, printed(answer)))
            worse += answer.rank > rule.rank
            rules.append(rule)
            found.append(answer)
        bound = f"{sum(a.bound.jobs_late for a in found)} jobs {sum(a.bound.hours_late for a in found):.1f} h"
        print(
            f"  {len(found)} of {jobs} spools, {dryers} dryers, {days} days: {max(seconds):.2f} s at most (goal {goal})"
        )
        print(f"    rule {figures(rules)}\n    best {figures(found)}; bound {bound} late; {wrong} wrong, {worse} worse")


if __name__ == "__main__":
    main()
