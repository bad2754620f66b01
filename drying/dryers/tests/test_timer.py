"""A dryer's timer: turns add up to the run, it is set again when somebody is there, and heat stops when it runs out."""

import math
from dataclasses import replace
from datetime import UTC, datetime
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from drying.dryers.attended import ALWAYS, Attended, Week, attended_from, home_windows
from drying.dryers.dryer import Dryer
from drying.dryers.pauses import heated_h, tidy
from drying.dryers.timer import TimerSet, plan_timer, timer_pauses
from drying.errors import OutOfRangeError

PLAIN = Dryer(35, 70)
FOUR = replace(PLAIN, timer_max_h=4.0)
STEPPED = replace(PLAIN, timer_choices_h=(2.0, 4.0, 8.0))
SPANS = st.lists(st.tuples(st.floats(0.0, 60.0), st.floats(0.5, 20.0)), min_size=1, max_size=4).map(
    lambda found: Attended(tuple(sorted((a, a + length) for a, length in [*found, (80.0, 1000.0)])))
)
TIMERS = st.sampled_from([PLAIN, FOUR, STEPPED, replace(PLAIN, timer_max_h=12.0)])


def turns(dryer, hours, **more):
    return [(t.set_h, t.runs_h) for t in plan_timer(dryer, hours, **more).turns]


class Planned(TestCase):
    @given(
        st.floats(0.1, 200.0),
        st.none() | st.floats(0.5, 24.0),
        st.lists(st.floats(0.5, 24.0), max_size=5, unique=True).map(tuple),
    )
    def test_turns_add_up_to_the_run_and_none_is_longer_than_the_timer_allows(self, hours, longest, choices):
        dryer = replace(PLAIN, timer_max_h=longest, timer_choices_h=choices)
        plan = plan_timer(dryer, hours)
        self.assertAlmostEqual(sum(turn.runs_h for turn in plan.turns), hours, places=4)
        self.assertEqual(plan.off, ())
        most = max(choices) if choices else longest
        for turn in plan.turns:
            self.assertLessEqual(turn.runs_h, turn.set_h + 1e-6)
            if most is not None:
                self.assertLessEqual(turn.set_h, most + 1e-9)
            if choices:
                self.assertTrue(any(abs(turn.set_h - choice) < 1e-6 for choice in choices))

    def test_the_long_turns_come_first_and_the_rest_is_stopped_by_hand(self):
        dryer = replace(PLAIN, timer_choices_h=(3.0, 6.0, 12.0))
        self.assertEqual(turns(dryer, 19.0), [(12, 12), (12, 7)])
        self.assertEqual(turns(dryer, 14.5), [(12, 12), (3, 2.5)])
        self.assertEqual(turns(dryer, 24.0), [(12, 12), (12, 12)])
        self.assertEqual(turns(PLAIN, 72.0), [(72, 72)])
        self.assertEqual(turns(STEPPED, 11.0), [(8, 8), (4, 3)])

    def test_it_is_set_again_before_bed_and_in_the_morning_with_the_heat_off_between(self):
        # Up until 3 h after the start, then asleep until 10 h: the 4 h timer is set at 3 h, runs out at 7 h.
        plan = plan_timer(FOUR, 12.0, Attended(((0.0, 3.0), (10.0, 30.0))))
        self.assertEqual([t.at_h for t in plan.turns], [0.0, 3.0, 10.0, 14.0])
        self.assertEqual(plan.off, ((7.0, 10.0),))
        self.assertEqual(plan.end_h, 15.0)

    def test_a_turn_that_lasts_to_the_end_needs_nobody(self):
        plan = plan_timer(FOUR, 4.0, Attended(((0.0, 1.0),)))
        self.assertEqual((len(plan.turns), plan.off, plan.end_h), (1, (), 4.0))

    def test_a_timer_that_is_on_goes_on_until_it_runs_out(self):
        plan = plan_timer(FOUR, 6.0, at_h=1.0, runs_out_h=2.5)
        self.assertEqual([(t.at_h, t.set_h) for t in plan.turns], [(2.5, 4.0), (6.5, 0.5)])
        self.assertEqual(plan.end_h, 7.0)
        self.assertEqual(plan_timer(FOUR, 1.5, at_h=1.0, runs_out_h=2.5).turns, ())

    @given(TIMERS, st.floats(0.5, 60.0), SPANS)
    def test_the_heat_that_was_asked_for_is_given_whoever_is_there(self, dryer, hours, attended):
        plan = plan_timer(dryer, hours, attended)
        self.assertAlmostEqual(heated_h(plan.off, plan.end_h), hours, places=4)
        self.assertGreaterEqual(plan.end_h, plan_timer(dryer, hours).end_h - 1e-6)
        for turn in plan.turns[1:]:
            self.assertTrue(attended.at(turn.at_h))

    @given(TIMERS, st.floats(0.5, 60.0), SPANS)
    def test_a_plan_that_is_kept_is_what_then_happened(self, dryer, hours, attended):
        plan = plan_timer(dryer, hours, attended)
        off, _ = timer_pauses(dryer, [TimerSet(t.at_h, hours) for t in plan.turns], [], plan.end_h)
        self.assertEqual(len(tidy(off)), len(tidy(plan.off)))
        for found, meant in zip(tidy(off), tidy(plan.off), strict=True):
            self.assertAlmostEqual(found[0], meant[0], places=4)
            self.assertAlmostEqual(found[1], meant[1], places=4)


class Happened(TestCase):
    START = TimerSet(0.0, 12.0)

    def test_the_heat_stops_when_the_timer_has_run_out_and_nobody_set_it_again(self):
        self.assertEqual(timer_pauses(FOUR, [self.START], [], 10.0), ([(4.0, 10.0)], 4.0))
        self.assertEqual(timer_pauses(FOUR, [self.START], [], 3.0), ([], 4.0))
        self.assertEqual(timer_pauses(PLAIN, [self.START], [], 100.0), ([], None))

    def test_ran_out_at_three_and_set_again_at_seven_is_one_entry(self):
        again = TimerSet(7.0, 12.0)
        self.assertEqual(timer_pauses(FOUR, [self.START, again], [], 9.0), ([(4.0, 7.0)], 11.0))
        seen = replace(again, out_h=3.0)
        self.assertEqual(timer_pauses(FOUR, [self.START, seen], [], 9.0), ([(3.0, 7.0)], 11.0))

    def test_set_again_in_time_it_never_stops(self):
        self.assertEqual(timer_pauses(FOUR, [self.START, TimerSet(3.5, 12.0)], [], 7.0), ([], 7.5))

    def test_what_it_was_set_for_counts_over_what_was_planned(self):
        self.assertEqual(timer_pauses(FOUR, [replace(self.START, set_h=2.0)], [], 6.0), ([(2.0, 6.0)], 2.0))

    def test_the_shortest_setting_that_is_enough_is_taken_for_the_rest(self):
        # 12 h planned on a timer of 2, 4 or 8 h: after 8 h of heat and a pause of 1 h, 4 h are left.
        sets = [self.START, TimerSet(9.0, 12.0)]
        self.assertEqual(timer_pauses(STEPPED, sets, [], 14.0), ([(8.0, 9.0), (13.0, 14.0)], 13.0))


class SomebodyThere(TestCase):
    def test_a_persons_week_seen_from_a_start(self):
        # Friday 20:00; up on weekdays from 7 to 8 and 17 to 23, at weekends from 9 to 23.
        hours = Week([(420, 480), (1020, 1380)], [(540, 1380)])
        week = attended_from(datetime(2026, 11, 27, 20, tzinfo=UTC), [hours])
        self.assertEqual(week.spans[:3], ((-3.0, 3.0), (13.0, 27.0), (37.0, 51.0)))
        self.assertEqual(week.spans[3], (59.0, 60.0))  # Monday at 7
        self.assertEqual((week.at(2.9), week.at(3.1)), (True, False))
        self.assertEqual((week.last_before(10.0), week.next_from(10.0)), (3.0, 13.0))
        self.assertEqual((week.nearest(9.0, 0.0, 20.0), week.nearest(9.0, 4.0, 12.0)), (13.0, None))

    def test_a_stretch_past_midnight_goes_on_into_the_next_day(self):
        week = attended_from(datetime(2026, 11, 23, tzinfo=UTC), [Week([(1320, 60)], [(1320, 60)])])
        self.assertEqual(week.spans[:2], ((-2.0, 1.0), (22.0, 25.0)))

    def test_without_hours_somebody_is_always_there(self):
        self.assertEqual(attended_from(datetime(2026, 11, 23, tzinfo=UTC), [Week([], [])]), ALWAYS)
        self.assertEqual(ALWAYS.nearest(5.0, 0.0, 9.0), 5.0)
        self.assertEqual(ALWAYS.spans, ((-math.inf, math.inf),))

    def test_minutes_that_no_day_has_are_refused(self):
        with self.assertRaises(OutOfRangeError):
            Week([(0, 1441)], [])


class AtHome(TestCase):
    def test_a_window_that_is_over_before_the_start_is_none(self):
        start = datetime(2026, 3, 2, 12, 30, tzinfo=UTC)
        weeks = [Week(weekdays=((6 * 60, 12 * 60), (18 * 60, 22 * 60)), weekends=())]
        windows = home_windows(start, 24.0, weeks)
        self.assertEqual(windows, ((5.5, 9.5), (17.5, 23.5)))
        self.assertEqual(home_windows(start.replace(hour=11), 4.0, weeks), ((-5.5, 0.5),))
