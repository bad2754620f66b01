"""Hours at home and prices by a zone's clock, runs that are pinned or go already, and why something is late."""

import math
from dataclasses import replace
from datetime import UTC, datetime
from itertools import pairwise
from unittest import TestCase
from zoneinfo import ZoneInfo

from drying.dryers import HomeChange, Tariff, Week, home_windows
from drying.errors import OutOfRangeError
from drying.planning.schedule import (
    DryerSlots,
    Job,
    Option,
    Problem,
    Why,
    energy_kwh,
    home_needed,
    prices,
    reasons,
    solve,
    what_is_done,
    with_another,
    with_home,
    with_later,
)
from drying.planning.schedule.rule import still_had
from drying.planning.schedule.ways import watched_h

LONDON = ZoneInfo("Europe/London")
EVENINGS = ((0.0, 2.0), (17.0, 23.0), (31.0, 33.0), (41.0, 47.0))
ALWAYS = ((0.0, 96.0),)


def one(name, hours, ready=None, dryer="box", temp=60.0, **more):
    return Job(name, (Option(dryer, temp, hours),), ready, **more)


BOX = DryerSlots("box", 1)


def asked(*jobs, home=EVENINGS, dryers=(BOX,), horizon_h=48.0, **more):
    return Problem(horizon_h, tuple(home), tuple(dryers), tuple(jobs), **more)


def started(answer, job):
    return next(start for start in answer.starts if start.job == job)


class ByTheClock(TestCase):
    def test_clocks_that_go_back_make_the_night_an_hour_longer(self):
        # 25 October 2026, 02:00 summer time becomes 01:00: from Saturday 20:00 to Sunday 08:00 are 13 hours.
        start = datetime(2026, 10, 24, 20, tzinfo=LONDON)
        found = home_windows(start, 40.0, [Week([(480, 600)], [(480, 600)])])
        self.assertEqual(found[0], (13.0, 15.0))
        self.assertEqual(found[1], (37.0, 39.0))

    def test_clocks_that_go_forward_make_it_an_hour_shorter(self):
        start = datetime(2026, 3, 28, 20, tzinfo=LONDON)
        self.assertEqual(home_windows(start, 24.0, [Week([], [(480, 600)])])[0], (11.0, 13.0))

    def test_the_hours_of_several_people_are_one(self):
        start = datetime(2026, 11, 23, tzinfo=UTC)  # a Monday
        mine, other = Week([(420, 540), (1020, 1380)], []), Week([(540, 660), (1320, 60)], [])
        found = home_windows(start, 24.0, [mine, other])
        self.assertEqual(found[:2], ((7.0, 11.0), (17.0, 25.0)))

    def test_without_hours_of_their_own_somebody_is_always_there_whoever_helps(self):
        start = datetime(2026, 11, 23, tzinfo=UTC)
        self.assertEqual(home_windows(start, 24.0, [Week([], []), Week([(540, 660)], [])]), ((0.0, 24.0),))

    def test_a_change_stands_over_the_hours(self):
        start = datetime(2026, 11, 23, tzinfo=UTC)
        changes = [
            HomeChange(start.replace(hour=8), start.replace(hour=18), at_home=False),
            HomeChange(start.replace(hour=12), start.replace(hour=13), at_home=True),
        ]
        found = home_windows(start, 24.0, [Week([(420, 540), (1020, 1380)], [])], changes)
        self.assertEqual(found, ((7.0, 8.0), (12.0, 13.0), (18.0, 23.0)))

    def test_every_hour_of_the_horizon_has_one_price(self):
        start = datetime(2026, 10, 24, 20, tzinfo=LONDON)
        found = prices(start, 48.0, Tariff(0.28, 0.12, 23 * 60, 6 * 60))
        self.assertAlmostEqual(sum(row.to_h - row.from_h for row in found), 48.0)
        late = prices(start.replace(hour=5, minute=30), 24.0, Tariff(0.28, 0.12, 23 * 60, 6 * 60))
        self.assertEqual(
            (late[0].from_h, late[0].to_h, late[0].per_kwh), (0.0, 0.5, 0.12)
        )  # half an hour is left of it
        for before, after in pairwise(found):
            self.assertAlmostEqual(before.to_h, after.from_h)
        # From 23:00 to 6:00 of the night in which the clocks go back are 8 hours.
        self.assertEqual(next((r.from_h, r.to_h) for r in found if r.per_kwh == 0.12), (3.0, 11.0))

    def test_without_a_tariff_nothing_has_a_price_and_without_cheap_hours_all_have_one(self):
        start = datetime(2026, 11, 23, tzinfo=UTC)
        self.assertEqual(prices(start, 24.0, None), ())
        self.assertEqual([(r.from_h, r.to_h, r.per_kwh) for r in prices(start, 24.0, Tariff(0.3))], [(0.0, 24.0, 0.3)])


class HeldInPlace(TestCase):
    def test_a_pinned_run_starts_then_and_the_rest_is_solved_around_it(self):
        found = solve(asked(one("pinned", 4.0, pinned_h=18.0), one("free", 10.0, ready=30.0)), 0.5)
        self.assertEqual(started(found, "pinned").start_h, 18.0)
        free = started(found, "free")
        self.assertTrue(free.end_h <= 18.0 or free.start_h >= 22.0)

    def test_what_runs_already_keeps_its_slot_and_nobody_loads_or_watches_it(self):
        goes = one("goes", 6.5, running=True)
        found = solve(asked(goes, one("next", 4.0), home=((17.0, 23.0), (31.0, 33.0)), watch_h=1.0), 0.5)
        self.assertEqual(started(found, "goes").start_h, 0.0)
        self.assertGreaterEqual(started(found, "next").start_h, 17.0)  # nobody takes the first one out before
        self.assertNotIn(0.0, found.visits_h)
        [out] = [visit for visit in what_is_done(asked(goes, one("next", 4.0)), found) if "goes" in visit.takes_out]
        self.assertEqual(out.loads + out.timers, () if out.at_h < started(found, "next").start_h else ("next",))

    def test_no_timer_is_set_where_there_is_none_or_it_lasts(self):
        # Somebody takes the short one out in the middle of the long one's hours.
        for timer_h, wanted in ((None, []), (12.0, []), (4.0, ["other"])):
            dryers = (BOX, DryerSlots("other", 1, timer_h))
            both = asked(one("short", 3.0), one("long", 9.0, dryer="other"), home=ALWAYS, dryers=dryers)
            found = solve(both, 0.5)
            begin, end = started(found, "long").start_h, started(found, "long").end_h
            visits = {*found.visits_h, begin + 3.0}
            inside = [
                v for v in what_is_done(both, replace(found, visits_h=tuple(sorted(visits)))) if begin < v.at_h < end
            ]
            self.assertTrue(inside)
            self.assertEqual(sorted({name for visit in inside for name in visit.timers}), wanted)

    def test_a_pin_that_cannot_be_kept_is_named(self):
        for job in (one("lamp", 4.0, pinned_h=10.0), one("late", 40.0, pinned_h=20.0)):
            with self.assertRaisesRegex(OutOfRangeError, f"{job.id} .*pinned"):
                solve(asked(job), 0.3)

    def test_an_option_that_is_never_left_alone_stays_inside_a_stretch_at_home(self):
        oven = Job("caps", (Option("oven", 70.0, 3.0, watch_h=3.0),))
        found = solve(asked(oven, dryers=(DryerSlots("oven", 1),)), 0.3)
        self.assertTrue(any(b <= found.starts[0].start_h and found.starts[0].end_h <= e for b, e in EVENINGS))
        too_long = Job("caps", (Option("oven", 70.0, 7.0, watch_h=7.0),))
        with self.assertRaisesRegex(OutOfRangeError, "caps"):
            solve(asked(too_long, dryers=(DryerSlots("oven", 1),)), 0.3)

    def test_ovens_and_lamps_are_watched_throughout_and_others_the_first_time(self):
        for kind, tried, expected in (
            ("oven", True, 5.0),
            ("lamp", False, 5.0),
            ("heated_box", False, 2.0),
            ("heated_box", True, 0.0),
        ):
            self.assertEqual(watched_h(kind, 5.0, tried), expected, kind)
        self.assertEqual([watched_h("heated_box", 5.0, False, first_h) for first_h in (0.0, 4.0, 8.0)], [0.0, 4.0, 5.0])
        self.assertEqual(watched_h("oven", 5.0, False, 0.0), 5.0)


class WhyLate(TestCase):
    def why(self, problem):
        found = solve(problem, 0.4)
        return {reason.job: reason for reason in reasons(problem, found)}

    def test_what_takes_longer_than_there_is_time(self):
        [reason] = self.why(asked(one("nylon", 30.0, ready=20.0), home=ALWAYS)).values()
        self.assertEqual((reason.why, reason.hours, reason.soonest_h), (Why.TOO_LONG, 30.0, 30.0))

    def test_what_nobody_is_there_to_load(self):
        [reason] = self.why(asked(one("nylon", 10.0, ready=26.0), home=((17.0, 23.0), (31.0, 33.0)))).values()
        self.assertEqual((reason.why, reason.soonest_h), (Why.NOBODY_HOME, 27.0))

    def test_what_waits_for_a_dryer_that_others_are_in(self):
        found = self.why(asked(one("first", 10.0, ready=10.0), one("second", 10.0, ready=12.0), home=ALWAYS))
        self.assertEqual([(r.why, r.dryer, r.others) for r in found.values()], [(Why.TAKEN, "box", ("first",))])

    def test_what_would_help_helps(self):
        jobs = one("first", 10.0, ready=10.0), one("second", 10.0, ready=12.0)
        taken = asked(*jobs, home=ALWAYS)
        self.assertEqual(len(solve(taken, 0.4).late), 1)
        self.assertEqual(solve(with_another(taken, "box"), 0.4).late, {})
        self.assertEqual(solve(with_later(taken, ["second"], 24.0), 0.4).late, {})
        nobody = asked(one("nylon", 10.0, ready=26.0), home=((17.0, 23.0), (31.0, 33.0)))
        self.assertEqual(solve(with_home(nobody, [(8.0, 20.0)]), 0.4).late, {})

    def test_only_those_that_are_named_and_are_wanted_by_a_time_are_wanted_later(self):
        three = asked(one("first", 10.0, ready=10.0), one("second", 10.0, ready=12.0), one("third", 10.0), home=ALWAYS)
        later = with_later(three, ["second", "third"], 24.0)
        self.assertEqual([job.ready_by_h for job in later.jobs], [10.0, 36.0, None])

    def test_the_hours_at_home_that_an_answer_takes_beyond_the_usual_ones_are_enough_and_none_where_those_are(self):
        usual = asked(one("nylon", 10.0, ready=26.0), home=((0.5, 2.0), (20.0, 23.0), (31.0, 33.0)))
        watched = asked(Job("nylon", (Option("box", 60.0, 10.0, watch_h=3.0),), 26.0), home=usual.at_home)
        for problem in (usual, watched):
            answer = solve(with_home(problem, [(8.0, 20.0)]), 0.4)
            needed = home_needed(problem, answer)
            [start] = answer.starts
            self.assertFalse(problem.is_possible(start.option, start.start_h) and not needed)
            self.assertTrue(with_home(problem, needed).is_possible(start.option, start.start_h))
            self.assertEqual(home_needed(with_home(problem, needed), answer), ())
            self.assertLessEqual(sum(end - begin for begin, end in needed), 3.0 + 1e-9)

    def test_energy_is_drawn_once_however_many_share_a_dryer(self):
        problem = asked(one("a", 4.0), one("b", 4.0), home=ALWAYS, dryers=(DryerSlots("box", 2, None, 250.0),))
        found = solve(problem, 0.4)
        apart = abs(started(found, "a").start_h - started(found, "b").start_h)
        self.assertAlmostEqual(energy_kwh(problem, found.starts), 0.25 * (4.0 + min(apart, 4.0)))
        self.assertTrue(math.isfinite(found.cost))


class Before(TestCase):
    def test_an_answer_that_is_as_good_stays_and_a_better_one_takes_its_place(self):
        problem = asked(one("a", 4.0), one("b", 4.0), home=ALWAYS, dryers=(DryerSlots("box", 1),))
        first = solve(problem, 0.4)
        swapped = [replace(s, start_h=4.0 - s.start_h) for s in first.starts]
        again = solve(problem, 0.4, swapped)
        self.assertEqual({s.job: s.start_h for s in again.starts}, {s.job: s.start_h for s in swapped})
        late = [replace(s, start_h=s.start_h + 40.0) for s in first.starts]
        self.assertEqual(solve(problem, 0.4, late).rank, first.rank)

    def test_starts_that_cannot_be_had_any_more_are_left(self):
        problem = asked(one("a", 4.0))
        [start] = solve(problem, 0.3).starts
        for broken in ([], [replace(start, start_h=5.0)], [start, replace(start, job="gone")]):
            self.assertIsNone(still_had(problem, broken))
        self.assertEqual(still_had(problem, [start]), [start])
