"""Spools that share a dryer: their hours are those of the company that they are in, as a plan of the same says."""

from dataclasses import replace
from unittest import TestCase

import numpy as np

from drying.air import RoomAir
from drying.cli.schedule import problem_of
from drying.dryers import Dryer, Load, Setup
from drying.dryers.attended import ALWAYS
from drying.errors import OutOfRangeError
from drying.materials import empty_spool_kind, material
from drying.planning import Choice, write_ticket
from drying.planning.schedule import DryerSlots, Job, Option, Problem, companions, solve_together
from drying.planning.schedule.answer import Start
from drying.planning.schedule.tests.check import drawn
from drying.planning.schedule.ways import Way, hours_together, own_way_each, way_at, ways
from drying.quantity import Quantity

BOX = Dryer(35.0, 70.0, vent_m3_h=0.05, slots=3)
ROOM = RoomAir(19.0, 60.0)


def load(name, start_pct, **more):
    return Load(material(name), empty_spool_kind("polystyrene"), 1.75, Quantity(start_pct, 0.02), 900.0, **more)


def setup(*loads, dryer=BOX):
    return Setup(tuple(loads), dryer, ROOM)


class AsPlanned(TestCase):
    def test_spools_together_take_the_hours_that_their_ticket_says(self):
        both = setup(load("petg", 0.30), load("tpu", 0.50))
        for hours, member in zip(
            hours_together(both, 60.0), write_ticket(both, Choice(60.0, 40.0), ALWAYS).members, strict=True
        ):
            self.assertIsNotNone(member.ready_h)
            self.assertGreaterEqual(hours + 1e-6, member.ready_h)
            self.assertLess(hours - member.ready_h, 0.5 + 1e-6)

    def test_a_way_at_anothers_temperature_is_within_what_the_spool_stands(self):
        pla = setup(load("pla", 0.40))
        self.assertIsNone(way_at(pla, 68.0))
        self.assertIsNone(way_at(pla, 20.0))
        cool = way_at(setup(load("petg", 0.30)), 45.0)
        [own] = own_way_each([setup(load("petg", 0.30))])
        self.assertGreater(cool.hours, own.hours)

    def test_the_own_way_comes_first_and_one_that_reaches_nothing_stands_alone(self):
        found = ways(setup(load("petg", 0.30)), Way(65.0, 4.0), [50.0, 65.0, 55.0, 68.0])
        self.assertEqual([way.temp_c for way in found], [65.0, 50.0, 55.0])
        self.assertEqual(
            ways(setup(load("petg", 0.30)), Way(65.0, 4.0, reaches=False), [50.0]), [Way(65.0, 4.0, False)]
        )
        self.assertEqual(ways(setup(load("petg", 0.30)), None, [50.0]), [])


class Shared(TestCase):
    HOME = ((0.0, 200.0),)

    def asked(self, slots=2, hours=(6.0, 8.0)):
        jobs = tuple(Job(name, (Option("box", 60.0, h),)) for name, h in zip("ab", hours, strict=True))
        return Problem(96.0, self.HOME, (DryerSlots("box", slots),), jobs)

    def test_who_is_heated_meanwhile_is_company_and_who_comes_after_is_not(self):
        option = Option("box", 60.0, 6.0)
        starts = [
            Start("a", option, 0.0),
            Start("b", option, 3.0),
            Start("c", option, 6.0),
            Start("d", replace(option, dryer="x"), 0.0),
        ]
        self.assertEqual(companions(starts[0], starts), ("b",))
        self.assertEqual(companions(starts[1], starts), ("a", "c"))

    def test_hours_grow_with_the_company(self):
        found = solve_together(self.asked(), lambda dryer, jobs, temp: [9.0] * len(jobs), 0.3)
        by_job = {start.job: start for start in found.starts}
        if companions(by_job["a"], found.starts):
            self.assertEqual([s.option.hours for s in found.starts], [9.0, 9.0])
        else:
            self.assertEqual((by_job["a"].option.hours, by_job["b"].option.hours), (6.0, 8.0))

    def test_what_never_dries_in_company_goes_alone(self):
        found = solve_together(self.asked(), lambda dryer, jobs, temp: [None] * len(jobs), 0.3)
        for start in found.starts:
            self.assertEqual(companions(start, found.starts), ())
        self.assertEqual(sorted(s.option.hours for s in found.starts), [6.0, 8.0])

    def test_hours_are_never_under_what_the_company_takes_and_never_over_it_alone(self):
        rng = np.random.default_rng(3)
        for n in range(8):
            problem = problem_of(drawn(rng, jobs=5, dryers=2, days=5))
            alone = {(j.id, o.dryer, o.temp_c): o.hours for j in problem.jobs for o in j.options}

            def hours_of(dryer, jobs, temp, alone=alone):
                return [alone[job, dryer, temp] * (1.0 + 0.2 * (len(jobs) - 1)) for job in jobs]

            with self.subTest(n):
                try:
                    found = solve_together(problem, hours_of, 0.3)
                except OutOfRangeError as refused:
                    self.assertRegex(str(refused), "spool")
                    continue
                for start in found.starts:
                    beside = companions(start, found.starts)
                    needed = hours_of(start.option.dryer, (start.job, *beside), start.option.temp_c)[0]
                    self.assertGreaterEqual(start.option.hours, needed - 1e-6)
                    if not beside:
                        self.assertAlmostEqual(start.option.hours, needed)

    def test_a_settled_answer_keeps_its_slots_and_its_one_temperature(self):
        rng = np.random.default_rng(9)
        for _ in range(6):
            problem = problem_of(drawn(rng, jobs=5, dryers=2, days=5))
            try:
                found = solve_together(problem, lambda dryer, jobs, temp: [20.0] * len(jobs), 0.2)
            except OutOfRangeError:
                continue
            for start in found.starts:
                inside = [
                    s for s in found.starts
                    if s.option.dryer == start.option.dryer
                    and s.start_h <= start.start_h < problem.taken_out_h(s.option, s.start_h) - 1e-6
                ]  # fmt: skip
                self.assertLessEqual(len(inside), problem.by_id[start.option.dryer].slots)
                heated = [s for s in inside if s.end_h > start.start_h + 1e-6]
                self.assertEqual(len({s.option.temp_c for s in heated}), 1)
