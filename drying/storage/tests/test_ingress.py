"""Ingress from two weighings and from a misfit: by sums done by hand, and against numpy's own parabola."""

from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from drying.errors import OutOfRangeError
from drying.storage.desiccant import DesiccantKind, Indicator, Pouch, desiccant, grams_to_last, regeneration
from drying.storage.ingress import fitted_ingress, least_misfit


class FromWeighings(TestCase):
    def test_what_the_spools_handed_over_did_not_come_from_outside(self):
        # 8 g gained, 2 g of it from the spools, over 10 days at 6 g/m³: 0.1 m³ a day.
        found = fitted_ingress(8.0, 0.3, 2.0, 60.0)
        self.assertAlmostEqual(found.value, 0.1)
        self.assertAlmostEqual(found.uncertainty, 0.005)

    def test_less_than_nothing_does_not_leak_in(self):
        self.assertEqual(fitted_ingress(1.0, 0.3, 2.0, 60.0).value, 0.0)

    def test_air_outside_that_was_no_wetter_tells_nothing(self):
        for exposure in (0.0, -3.0):
            self.assertIsNone(fitted_ingress(1.0, 0.3, 0.0, exposure))


class FromAMisfit(TestCase):
    @given(st.floats(-3.0, 3.0), st.floats(0.05, 20.0), st.floats(0.0, 50.0))
    def test_the_least_of_a_parabola_and_how_sharp_it_is(self, at, bend, least):
        axis = np.linspace(-4.0, 4.0, 33)
        found = least_misfit(axis, [least + bend * (x - at) ** 2 for x in axis])
        self.assertAlmostEqual(found.value, at, places=5)
        self.assertAlmostEqual(found.uncertainty, bend**-0.5, places=4)  # where the misfit is one over its least

    def test_a_least_at_the_end_lies_outside_and_is_not_told(self):
        axis = np.arange(5.0)
        self.assertIsNone(least_misfit(axis, [5.0, 4.0, 3.0, 2.0, 1.0]))
        self.assertIsNone(least_misfit(axis, [1.0, 2.0, 3.0, 4.0, 5.0]))
        self.assertIsNone(least_misfit(axis, [1.0, 1.0, 1.0, 1.0, 1.0]))


class Amounts(TestCase):
    def test_the_grams_hold_what_comes_in_and_what_the_spools_give(self):
        for kind in (DesiccantKind.SILICA_GEL, DesiccantKind.SIEVE):
            grams = grams_to_last(kind, 0.2, 45.0, 0.25, 3.0)
            sorbent = desiccant(kind)
            self.assertAlmostEqual(grams * (sorbent.held_pct(0.25) - sorbent.left_pct) / 100.0, 0.2 * 45 + 3.0)

    def test_longer_wetter_and_drier_air_need_more(self):
        base = grams_to_last(DesiccantKind.SILICA_GEL, 0.2, 30.0, 0.3)
        for days, water, most in ((60.0, 0.2, 0.3), (30.0, 0.4, 0.3), (30.0, 0.2, 0.15)):
            self.assertGreater(grams_to_last(DesiccantKind.SILICA_GEL, water, days, most), base)
        self.assertEqual(grams_to_last(DesiccantKind.SILICA_GEL, -0.2, 30.0, 0.3, -1.0), 0.0)

    def test_an_absurd_time_and_air_drier_than_it_can_hold_are_refused(self):
        for days, most, named in ((-1.0, 0.3, "days"), (4000.0, 0.3, "days"), (30.0, 0.0, "most_activity")):
            with self.assertRaises(OutOfRangeError) as refused:
                grams_to_last(DesiccantKind.SILICA_GEL, 0.2, days, most)
            self.assertEqual(refused.exception.name, named)

    def test_the_heat_is_never_more_than_what_dye_pouch_and_desiccant_stand(self):
        for kind in DesiccantKind:
            free = regeneration(kind, Indicator.NONE, Pouch.BARE)
            self.assertEqual((free.held_back_by, free.too_cool), ("", False))
            for indicator in Indicator:
                for pouch in Pouch:
                    found = regeneration(kind, indicator, pouch)
                    self.assertLessEqual(found.temp_c, free.temp_c)
                    self.assertEqual(found.held_back_by == "", found.temp_c == free.temp_c, (kind, indicator, pouch))
                    self.assertGreaterEqual(found.hours, free.hours)
                    self.assertEqual(found.too_cool, found.temp_c < desiccant(kind).regenerate_c[0])
