"""Runs whose heat was off for a while."""

import itertools
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from drying.air.psychrometrics import RoomAir
from drying.dryers.dryer import Dryer
from drying.dryers.pauses import end_with_pauses_h, heated_h, tidy
from drying.errors import DryingError
from drying.materials.properties import material
from drying.runs.interruptions import segments_of_run

ROOM = RoomAir(18.0, 65.0)
hours = st.floats(0, 60)
spans = st.lists(st.tuples(hours, hours).map(lambda pair: (min(pair), max(pair))), max_size=5)


class Pauses(TestCase):
    @given(spans)
    def test_they_are_put_in_order_joined_and_lose_no_minute(self, raw):
        found = tidy(raw)
        self.assertTrue(all(a < b for a, b in found))
        self.assertTrue(all(one[1] < other[0] for one, other in itertools.pairwise(found)))
        for at in (0.1, 7.3, 22.9, 59.9):
            self.assertEqual(any(a < at < b for a, b in raw), any(a < at < b for a, b in found), at)

    @given(spans, st.floats(0.1, 80))
    def test_heat_and_pauses_make_up_the_time_and_the_end_is_put_off_by_what_was_lost(self, raw, until):
        off = sum(min(b, until) - min(a, until) for a, b in tidy(raw))
        self.assertAlmostEqual(heated_h(raw, until) + off, until)
        end = end_with_pauses_h(raw, until)
        self.assertGreaterEqual(end, until)
        self.assertAlmostEqual(heated_h(raw, end), until, places=6)

    @given(spans, st.floats(0.5, 70))
    def test_the_segments_last_as_long_as_the_run_and_are_warm_only_while_the_heat_is_on(self, raw, until):
        dryer = Dryer(35.0, 65.0, vent_m3_h=0.1, warm_up_h=0.4, swing_c=0.0, hot_side_excess_c=0.0)
        found = segments_of_run(dryer, material("petg"), ROOM, [(0.0, 60.0)], until, raw)
        self.assertAlmostEqual(sum(s.duration_h for s in found), until, places=6)
        cold = sum(s.duration_h for s in found if s.temp_c == ROOM.temp_c)
        self.assertAlmostEqual(cold, until - heated_h(raw, until), places=6)

    def test_one_that_ends_before_it_begins_is_refused(self):
        with self.assertRaises(DryingError):
            tidy([(3.0, 2.0)])


class AtAnotherHeat(TestCase):
    def test_the_box_warms_up_once_and_a_change_of_temperature_takes_no_time(self):
        dryer = Dryer(35, 75, warm_up_h=0.5, swing_c=0.0, vent_m3_h=0.3)
        found = segments_of_run(dryer, material("petg"), RoomAir(20.0, 50.0), [(0.0, 50.0), (3.0, 60.0)], 8.0)
        self.assertEqual([s.temp_c for s in found[-2:]], [50.0, 60.0])
        self.assertEqual([round(s.duration_h, 6) for s in found[-2:]], [2.5, 5.0])
        self.assertTrue(all(20.0 < s.temp_c < 50.0 for s in found[:-2]))
        self.assertAlmostEqual(sum(s.duration_h for s in found), 8.0)
