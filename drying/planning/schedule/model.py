"""A schedule as a constraint model (CP-SAT): starts on a grid, heats and slots as intervals, visits in order."""

from __future__ import annotations

import math
from collections import defaultdict
from collections.abc import Mapping, Sequence
from itertools import combinations, pairwise, product

from ortools.sat.python import cp_model

from drying.planning.schedule.answer import Start
from drying.planning.schedule.problem import Job, Option, Problem

LEAST_TICK_MIN = 5


def tick_minutes(problem: Problem) -> tuple[int, bool]:
    """The grid's step in minutes, and whether every number of the problem lies on it."""
    values = [problem.horizon_h, problem.watch_h, *(t for window in problem.home for t in window)]
    values += [d.timer_max_h for d in problem.dryers if d.timer_max_h is not None]
    values += [o.hours for job in problem.jobs for o in job.options]
    values += [o.watch_h for job in problem.jobs for o in job.options if o.watch_h is not None]
    values += [job.pinned_h for job in problem.jobs if job.pinned_h is not None]
    minutes = [round(v * 60.0) for v in values]
    exact = all(abs(v * 60.0 - m) < 1e-6 for v, m in zip(values, minutes, strict=True))
    common = math.gcd(*(m for m in minutes if m)) if exact else LEAST_TICK_MIN
    return (common, exact) if common >= LEAST_TICK_MIN else (LEAST_TICK_MIN, False)


class JobVars:
    """A job in the model: its start, end and taking out in ticks, which option it has, and minutes late."""

    def __init__(self, scheme: Scheme, job: Job) -> None:
        model, self.job = scheme.model, job
        self.hours = [math.ceil(o.hours / scheme.tick_h - 1e-6) for o in job.options]
        self.chosen = [model.new_bool_var("") for _ in job.options]
        model.add_exactly_one(self.chosen)
        domains = [scheme.starts_of(job, option) for option in job.options]
        self.start = model.new_int_var_from_domain(_union(domains), "")
        for domain, chosen in zip(domains, self.chosen, strict=True):
            model.add_linear_expression_in_domain(self.start, domain).only_enforce_if(chosen)
        self.end = model.new_int_var(0, scheme.ticks, "")
        model.add(self.end == self.start + cp_model.LinearExpr.weighted_sum(self.chosen, self.hours))
        self.out = scheme.taken_out(self.end)
        self.heats = [
            model.new_optional_interval_var(self.start, hours, self.end, chosen, "")
            for hours, chosen in zip(self.hours, self.chosen, strict=True)
        ]
        self.late = model.new_bool_var("")
        self.late_min = model.new_int_var(0, 60 * 24 * 100, "")
        if job.ready_by_h is not None:
            ready = math.floor(60.0 * job.ready_by_h + 1e-6)
            model.add(self.late_min >= scheme.minutes * self.end - ready)
            model.add(self.late_min == 0).only_enforce_if(~self.late)


class Scheme:
    """The whole model: what is allowed, and how late it is. `visits` adds the visits that it takes."""

    def __init__(self, problem: Problem, minutes: int) -> None:
        self.problem, self.minutes, self.tick_h = problem, minutes, minutes / 60.0
        self.model = cp_model.CpModel()
        self.ticks = math.floor(problem.horizon_h / self.tick_h + 1e-6)
        self.home = [
            (max(math.ceil(begin / self.tick_h - 1e-6), 0), math.floor(end / self.tick_h + 1e-6))
            for begin, end in problem.home
            if end >= 0.0
        ]
        self.last_home = max((until for _, until in self.home), default=0)
        self._starts: dict[tuple[float, float | None, float | None], cp_model.Domain] = {}
        self.jobs = [JobVars(self, job) for job in problem.jobs]
        for dryer in problem.dryers:
            self._dryer(dryer.id, dryer.slots)
        self.visit_used: list[cp_model.IntVar] = []

    def starts_of(self, job: Job, option: Option) -> cp_model.Domain:
        """The ticks at which this option may start by itself."""
        if job.only_at_h is not None:
            there = self.problem.may_start(job, option, job.only_at_h)
            return cp_model.Domain.from_values([round(job.only_at_h / self.tick_h)] if there else [])
        key = (option.hours, self.problem.by_id[option.dryer].timer_max_h, option.watch_h)
        if key not in self._starts:
            ticks = [
                tick
                for begin, end in self.home
                for tick in range(begin, min(end, self.ticks) + 1)
                if self.problem.is_possible(option, tick * self.tick_h)
            ]
            self._starts[key] = cp_model.Domain.from_values(ticks)
        return self._starts[key]

    def taken_out(self, end: cp_model.IntVar) -> cp_model.IntVar:
        """The first tick at home at or after an end."""
        model = self.model
        zones = [model.new_bool_var("") for _ in self.home]
        model.add_exactly_one(zones)
        before = -1
        for (_, until), zone in zip(self.home, zones, strict=True):
            model.add(end > before).only_enforce_if(zone)
            model.add(end <= until).only_enforce_if(zone)
            before = until
        out = model.new_int_var(0, self.last_home, "")
        comes_home = cp_model.LinearExpr.weighted_sum(zones, [begin for begin, _ in self.home])
        model.add_max_equality(out, [end, comes_home])
        return out

    def _dryer(self, dryer: str, slots: int) -> None:
        held = []
        by_temp: dict[float, list[tuple[int, cp_model.IntervalVar]]] = defaultdict(list)
        for n, job in enumerate(self.jobs):
            mine = [k for k, option in enumerate(job.job.options) if option.dryer == dryer]
            if not mine:
                continue
            here = self.model.new_bool_var("")
            self.model.add(cp_model.LinearExpr.sum([job.chosen[k] for k in mine]) == here)
            size = self.model.new_int_var(0, self.last_home, "")
            held.append(self.model.new_optional_interval_var(job.start, size, job.out, here, ""))
            for k in mine:
                by_temp[job.job.options[k].temp_c].append((n, job.heats[k]))
        if slots == 1:
            self.model.add_no_overlap(held)  # one at a time: its temperature is its own
        else:
            self.model.add_cumulative(held, [1] * len(held), slots)
            self._one_temperature(by_temp)

    def _one_temperature(self, by_temp: Mapping[float, Sequence[tuple[int, cp_model.IntervalVar]]]) -> None:
        for one, other in combinations(by_temp, 2):
            for (n, heat), (m, against) in product(by_temp[one], by_temp[other]):
                if n != m:
                    self.model.add_no_overlap([heat, against])

    def jobs_late(self) -> cp_model.LinearExprT:
        """How many jobs are late."""
        return cp_model.LinearExpr.sum([job.late for job in self.jobs])

    def minutes_late(self) -> cp_model.LinearExprT:
        """Minutes late in all."""
        return cp_model.LinearExpr.sum([job.late_min for job in self.jobs])

    def last_end(self) -> cp_model.IntVar:
        """The tick at which the last heat ends."""
        last = self.model.new_int_var(0, self.ticks, "")
        self.model.add_max_equality(last, [job.end for job in self.jobs])
        return last

    def visits(self, most: int) -> cp_model.LinearExprT:
        """How many visits it takes, `most` at most: in order of time, each load and taking-out at one of them, and near
        enough to one another for every timer.
        """
        model = self.model
        times = cp_model.Domain.from_intervals([list(window) for window in self.home])
        at = [model.new_int_var_from_domain(times, "") for _ in range(most)]
        self.visit_used = used = [model.new_bool_var("") for _ in range(most)]
        for k in range(1, most):
            model.add_implication(used[k], used[k - 1])
            model.add(at[k] > at[k - 1]).only_enforce_if(used[k])
            model.add(at[k] >= at[k - 1])
        for job in self.jobs:
            self._visited(job.out, at, used)
            if not job.job.running:
                self._timer(job, self._visited(job.start, at, used), at, used)
        return cp_model.LinearExpr.sum(used)

    def _visited(
        self, moment: cp_model.IntVar, at: Sequence[cp_model.IntVar], used: Sequence[cp_model.IntVar]
    ) -> list[cp_model.IntVar]:
        """Somebody comes at this moment; which of the visits it is."""
        which = [self.model.new_bool_var("") for _ in at]
        self.model.add_exactly_one(which)
        for here, visit, is_used in zip(which, at, used, strict=True):
            self.model.add(moment == visit).only_enforce_if(here)
            self.model.add_implication(here, is_used)
        return which

    def _timer(
        self,
        job: JobVars,
        loads: Sequence[cp_model.IntVar],
        at: Sequence[cp_model.IntVar],
        used: Sequence[cp_model.IntVar],
    ) -> None:
        turns = [self._turn(option, hours) for option, hours in zip(job.job.options, job.hours, strict=True)]
        if all(turn >= self.ticks for turn in turns):
            return
        turn = cp_model.LinearExpr.weighted_sum(job.chosen, turns)
        for k, (here, after) in enumerate(pairwise(at)):
            started, over = self.model.new_bool_var(""), self.model.new_bool_var("")
            self.model.add(cp_model.LinearExpr.sum(list(loads[: k + 1])) == started)
            self.model.add(here + turn >= job.end).only_enforce_if(started, ~over)
            self.model.add(after <= here + turn).only_enforce_if(started, over)
            self.model.add_implication(over, used[k + 1])
        self.model.add(at[-1] + turn >= job.end)

    def _turn(self, option: Option, hours: int) -> int:
        longest = self.problem.by_id[option.dryer].timer_max_h
        turn = self.ticks if longest is None else math.floor(longest / self.tick_h + 1e-6)
        return self.ticks if turn >= hours else turn

    def solved(self, objective: cp_model.LinearExprT, seconds: float) -> cp_model.CpSolver | None:
        """The solver after it made one thing as small as it could in so many seconds; None where it found nothing."""
        solver = cp_model.CpSolver()
        solver.parameters.max_time_in_seconds = seconds
        solver.parameters.num_workers = 2
        solver.parameters.random_seed = 1
        self.model.minimize(objective)
        status = solver.solve(self.model)
        return solver if status in (cp_model.OPTIMAL, cp_model.FEASIBLE) else None

    def hint(self, starts: Sequence[Start]) -> None:
        """Set out from these starts."""
        by_job = {start.job: start for start in starts}
        self.model.clear_hints()  # type: ignore[no-untyped-call]  # the solver leaves it untyped
        for job in self.jobs:
            start = by_job[job.job.id]
            self.model.add_hint(job.start, round(start.start_h / self.tick_h))
            for option, chosen in zip(job.job.options, job.chosen, strict=True):
                self.model.add_hint(chosen, option == start.option)

    def starts(self, solver: cp_model.CpSolver) -> list[Start]:
        """What the solver chose."""
        return [
            Start(
                job.job.id,
                option,
                solver.value(job.start) * self.tick_h if job.job.only_at_h is None else job.job.only_at_h,
            )
            for job in self.jobs
            for option, chosen in zip(job.job.options, job.chosen, strict=True)
            if solver.boolean_value(chosen)
        ]


def _union(domains: Sequence[cp_model.Domain]) -> cp_model.Domain:
    found = domains[0]
    for domain in domains[1:]:
        found = found.union_with(domain)
    return found
