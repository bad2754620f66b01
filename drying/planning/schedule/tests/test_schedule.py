"""Schedules: what is allowed by an independent check, what is best by trying everything, and how it says no."""

import io
import itertools
import json
from contextlib import redirect_stderr, redirect_stdout
from pathlib import Path
from tempfile import TemporaryDirectory
from unittest import TestCase

import numpy as np

from drying.cli.main import main
from drying.cli.schedule import answer_of as answered
from drying.cli.schedule import printed, problem_of
from drying.errors import OutOfRangeError
from drying.planning.schedule import Bound, Start, answer_of, energy_kwh, plain_rule, solve
from drying.planning.schedule.tests.check import drawn, faults

EVENINGS = [[0, 2], [17, 23], [31, 33], [41, 47]]


def problem(jobs, *, at_home=EVENINGS, dryers=None, tariff=(), watch_h=0.0, horizon_h=48.0):
    boxes = dryers or [{"id": "box", "slots": 1, "timer_max_h": None, "power_w": 100.0}]
    return {
        "horizon_h": horizon_h, "at_home": at_home, "tariff": list(tariff), "watch_h": watch_h, "dryers": boxes,
        "jobs": jobs,
    }  # fmt: skip


def job(name, hours, ready=None, temp=60.0, dryer="box"):
    return {"id": name, "ready_by_h": ready, "options": [{"dryer": dryer, "temp_c": temp, "hours": hours}]}


def box(slots=1, timer=None, name="box", power=100.0):
    return {"id": name, "slots": slots, "timer_max_h": timer, "power_w": power}


class Checked(TestCase):
    def test_every_answer_is_allowed_and_never_worse_than_the_plain_rule(self):
        rng = np.random.default_rng(11)
        for n in range(24):
            given = drawn(rng, jobs=int(rng.integers(2, 7)), dryers=int(rng.integers(1, 4)))
            try:
                rule = answer_of(problem_of(given), plain_rule(problem_of(given)), optimal=False, bound=Bound(0, 0.0))
            except OutOfRangeError as refused:
                self.assertRegex(str(refused), "spool")
                continue
            with self.subTest(n):
                found = solve(problem_of(given), 0.4)
                self.assertLessEqual(found.rank, rule.rank)
                self.assertLessEqual(found.bound.jobs_late, len(found.late))
                self.assertLessEqual(found.bound.hours_late, sum(found.late.values()) + 1e-6)
                self.assertEqual(faults(given, answered(given)), [])

    def test_the_check_itself_finds_what_is_wrong(self):
        given = problem([job("a", 4, 5), job("b", 4, temp=70)], dryers=[box(1, 3.0)], watch_h=1.0)
        good = answered(given)
        self.assertEqual(faults(given, good), [])
        shifted = json.loads(json.dumps(good))
        shifted["starts"][0]["start_h"] -= 0.5
        for broken in (
            shifted,
            {**good, "visits_h": good["visits_h"][:1]},
            {**good, "cost": 5.0},
            {**good, "late": {"a": 9}},
        ):
            self.assertNotEqual(faults(given, broken), [])

    def test_for_small_problems_it_is_the_best_of_all(self):
        rng = np.random.default_rng(5)
        for _ in range(4):
            given = drawn(rng, jobs=2, dryers=1, days=2)
            given = {**given, "tariff": [], "at_home": [[6.5, 8], [17.5, 23], [30.5, 32], [41.5, 47], [54.5, 56]]}
            case = problem_of(given)
            found = solve(case, 3.0)
            best = min(self.all_of(case, given))
            self.assertEqual(found.rank[:3], best[:3])
            self.assertTrue(found.optimal)
            self.assertAlmostEqual(found.rank[4], best[4])

    def all_of(self, case, given):
        """The ranks of all allowed answers on a grid of half an hour."""
        moments = [h / 2 for h in range(int(case.horizon_h * 2))]
        each = [[Start(j.id, o, t) for o in j.options for t in moments if case.is_possible(o, t)] for j in case.jobs]
        for starts in itertools.product(*each):
            answer = answer_of(case, starts, optimal=False, bound=Bound(0, 0.0))
            if not faults(given, printed(answer)):
                yield answer.rank


class Meaning(TestCase):
    def solved(self, given):
        found = answered(given)
        self.assertEqual(faults(given, found), [])
        return found

    def test_a_slot_is_held_until_somebody_is_there_to_empty_it(self):
        # The first ends at 6 h, nobody is home before 17 h: the second cannot begin in between.
        found = self.solved(problem([job("a", 6, 10), job("b", 6)]))
        starts = {s["job"]: s["start_h"] for s in found["starts"]}
        self.assertLessEqual(starts["a"], 2)
        self.assertGreaterEqual(starts["b"], 17)

    def test_two_temperatures_never_share_a_dryer_and_one_may(self):
        for temp, together in ((60.0, True), (70.0, False)):
            found = self.solved(problem([job("a", 4, 6), job("b", 4, 6, temp)], dryers=[box(2)]))
            self.assertEqual(len({s["start_h"] for s in found["starts"]}) == 1, together)
            self.assertEqual(len(found["late"]), 0 if together else 1)

    def test_a_timer_is_set_again_while_somebody_is_there(self):
        found = self.solved(problem([job("a", 10)], dryers=[box(1, 5.0)], at_home=[[0, 16]]))
        start = found["starts"][0]["start_h"]
        self.assertEqual(len(found["visits_h"]), 3)
        self.assertTrue(any(start + 5 <= v <= start + 5 for v in found["visits_h"]))
        with self.assertRaisesRegex(OutOfRangeError, "a fits into no dryer.*set the timer again"):
            answered(problem([job("a", 10)], dryers=[box(1, 3.0)]))

    def test_the_first_hours_are_watched(self):
        found = self.solved(problem([job("a", 4)], watch_h=3.0))
        self.assertGreaterEqual(found["starts"][0]["start_h"], 17)

    def test_power_is_paid_once_however_many_share_it_and_only_by_the_tariff(self):
        # 100 W over 4 h, of which 1 h at 0.5 and 3 h at 0.1: 0.1 kW x 0.8.
        given = problem([job("a", 4, 4), job("b", 4, 4)], dryers=[box(2)], tariff=[[0, 1, 0.5], [1, 24, 0.1]])
        self.assertAlmostEqual(self.solved(given)["cost"], 0.08)

    def test_what_is_late_is_said_with_its_hours_and_the_bound_agrees(self):
        found = self.solved(problem([job("a", 6, 4), job("b", 1)]))
        self.assertEqual(found["late"], {"a": 2.0})
        self.assertEqual(found["bound"], {"jobs_late": 1, "hours_late": 2.0})
        self.assertTrue(found["optimal"])

    def test_nothing_to_do_is_an_answer(self):
        found = self.solved(problem([]))
        self.assertEqual((found["starts"], found["visits_h"], found["optimal"]), ([], [], True))


class Refused(TestCase):
    def test_each_mistake_has_its_sentence(self):
        good = [job("a", 4)]
        for given, named in (
            (problem([job("a", 4), job("a", 3)]), "Two of the jobs"),
            (problem(good, dryers=[box(), box()]), "Two of the dryers"),
            (problem([job("a", 4, dryer="oven")]), "a asks for dryer oven"),
            (problem([{"id": "a", "ready_by_h": None, "options": []}]), "no way to dry a"),
            (problem(good, at_home=[[5, 3]]), "from 5 to 3"),
            (problem(good, at_home=[]), "a fits into no dryer.*nobody is at home"),
            (problem([job("a", 60)]), "a fits into no dryer.*it takes 60 h"),
            (problem([job("a", 4, -3)]), "ready_by_h"),
            (problem(good, dryers=[box(0)]), "slots"),
            (problem(good, watch_h=-1), "watch_h"),
            ({**problem(good), "colour": 1}, "colour"),
            (problem([{**job("a", 4), "note": 1}]), "note"),
            (problem([job("a", float("nan"))]), "hours"),
            (problem(good, at_home={}), "at_home.*lists of 2"),
            ({**problem(good), "tariff": [[0, 3]]}, "tariff.*lists of 3"),
        ):
            with self.subTest(named), self.assertRaisesRegex(OutOfRangeError, named):
                answered(given)

    def test_the_command_answers_a_list_and_names_the_bad_one(self):
        with TemporaryDirectory() as folder:
            path = Path(folder) / "file.json"
            path.write_text(json.dumps([problem([job("a", 4)]), problem([job("b", 400)])]))
            out = io.StringIO()
            with redirect_stdout(out), redirect_stderr(io.StringIO()):
                status = main(["schedule", str(path)])
        self.assertEqual(status, 1)
        first, second = json.loads(out.getvalue())
        self.assertEqual((first["starts"][0]["job"], second), ("a", None))


class Ends(TestCase):
    def test_nothing_ends_after_the_horizon(self):
        # Power costs until 11 h and nothing after: what may end later would wait.
        given = problem([job("a", 5), job("b", 5)], at_home=[[0, 40]], horizon_h=11.0, tariff=[[0, 11, 1.0]])
        self.assertLessEqual(max(s["end_h"] for s in answered(given)["starts"]), 11.0)
        with self.assertRaisesRegex(OutOfRangeError, "fits into no dryer within 9 h"):
            answered(problem([job("a", 5), job("b", 5)], at_home=[[0, 40]], horizon_h=9.0))

    def test_energy_is_power_by_the_hours_that_a_dryer_heats(self):
        given = problem_of(problem([job("a", 4), job("b", 6)], dryers=[box(2, power=500.0)], at_home=[[0, 48]]))
        starts = [Start(one.id, one.options[0], at) for one, at in zip(given.jobs, (10.0, 12.0), strict=True)]
        self.assertAlmostEqual(energy_kwh(given, starts), 0.5 * 8.0)  # from 10 to 18 h
