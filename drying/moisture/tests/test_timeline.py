"""Where two histories first differ: from there on, and not before, they are simulated anew."""

from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from drying.moisture.events import ContainerEvents, KnownMoisture, SpoolEvents, SpoolStay
from drying.moisture.tests.test_history import DRY_G, FIRST, filament, shed, told
from drying.moisture.timeline import first_unlike
from drying.quantity import Quantity
from drying.storage.container import Container

rows = st.lists(st.tuples(st.integers(0, 50), st.sampled_from("abc")), max_size=8).map(lambda x: sorted(x))


class FirstUnlike(TestCase):
    def test_it_is_the_earlier_hour_of_the_first_rows_that_differ(self):
        base = [(3, "a"), (9, "b"), (20, "c")]
        for new, hour in (
            (base, 99),
            ([(3, "a"), (9, "x"), (20, "c")], 9),
            ([(3, "a"), (7, "x"), (9, "b"), (20, "c")], 7),
            ([(3, "a"), (20, "c")], 9),
            ([(5, "a"), (9, "b"), (20, "c")], 3),
            (base[:2], 20),
            ([*base, (30, "d")], 30),
            ([], 3),
        ):
            self.assertEqual(first_unlike(base, new, 99), hour, new)
            self.assertEqual(first_unlike(new, base, 99), hour, new)

    @given(rows, rows)
    def test_before_that_hour_both_are_the_same(self, old, new):
        hour = first_unlike(old, new, 99)
        self.assertEqual([row for row in old if row[0] < hour], [row for row in new if row[0] < hour])
        if old != new:
            self.assertLess(hour, 99)


class Beginnings(TestCase):
    def test_a_containers_air_begins_as_the_rooms_in_its_very_first_hour_and_is_not_known_before(self):
        room = shed(24 * 12)
        for since in (30, 100, 24 * 9):
            stay = SpoolStay(FIRST + since, None, 0)
            spool = SpoolEvents(filament("petg"), DRY_G, (KnownMoisture(FIRST, Quantity(0.3, 0.05)),), stays=(stay,))
            found = told(spool, boxes=[ContainerEvents(Container(0.03, 20.0), FIRST + since)], room=room)
            air = found.activity[0]
            self.assertTrue(np.all(np.isnan(air[:since])), since)
            self.assertTrue(np.all(np.isfinite(air[since:])), since)
            self.assertAlmostEqual(air[since], room.activity[since], places=9)
