"""Will the scale tell? By sums done by hand."""

import math
from dataclasses import replace
from unittest import TestCase

import numpy as np

from drying.planning.forecast import Forecast
from drying.planning.tells import OwnScale, _reaches_h, damp_night, detectable_g, scale_check
from drying.planning.tests.test_planning import load
from drying.weighing import Scale

KITCHEN = OwnScale(1, Scale(1.0, 0.5), 5000.0)
BENCH = OwnScale(2, Scale(0.1, 0.05), 3000.0)
POCKET = OwnScale(3, Scale(0.01, 0.005), 200.0)
HOURS = np.linspace(0.0, 20.0, 201)


def course(start, floor, per_h):
    pct = floor + (start - floor) * np.exp(-per_h * HOURS)
    return Forecast(HOURS, pct, pct, pct, floor, "wound_spool")


class Telling(TestCase):
    def setUp(self):
        self.load = load("petg", start=0.25)  # dry mass from its net mass

    def check(self, *scales, hours=6.0, floor=0.02, per_h=0.3, gross=900.0, **more):
        return scale_check(replace(self.load, **more), course(0.25, floor, per_h), hours, gross, scales)

    def test_two_weighings_and_twice_their_uncertainty_are_the_least_that_shows(self):
        # One weighing: a step of 1 g spread evenly, and half a gram of repeatability.
        one = math.sqrt(1.0 / 12.0 + 0.25)
        self.assertAlmostEqual(detectable_g(KITCHEN.scale), 2.0 * math.sqrt(2.0) * one)

    def test_the_finest_scale_that_takes_the_spool_is_asked(self):
        found = self.check(KITCHEN, BENCH, POCKET)
        self.assertEqual((found.scale, found.tells), (BENCH.key, True))
        end = 0.02 + 0.23 * math.exp(-1.8)
        self.assertAlmostEqual(found.water_out_g, self.load.dry_mass_g * (0.25 - end) / 100.0, places=2)
        self.assertEqual(self.check(KITCHEN, POCKET).scale, KITCHEN.key)

    def test_where_it_cannot_tell_a_coil_on_a_finer_scale_can(self):
        found = self.check(KITCHEN, POCKET)
        self.assertFalse(found.tells)
        # 5 m of 1.75 mm strand of 1.27 g/cm³ are 15.3 g; 0.19 % of them is 0.03 g.
        self.assertEqual((found.coil.scale, found.coil.length_m), (POCKET.key, 5.0))
        self.assertIsNone(self.check(KITCHEN).coil)

    def test_the_coil_is_the_shortest_that_shows_the_loss_of_5_10_15_or_20_m(self):
        # 3.055 g/m; two readings to 0.01 g ± 0.005 g show 2·√2·√(0.01²/12 + 0.005²) = 0.01633 g: metres · % = 0.535.
        wanted = {0.12: 5.0, 0.08: 10.0, 0.056: 10.0, 0.045: 15.0, 0.037: 15.0, 0.029: 20.0}
        for lost_pct, length_m in wanted.items():
            found = self.check(KITCHEN, POCKET, hours=20.0, floor=0.25 - lost_pct, per_h=2.0)
            self.assertEqual(found.coil.length_m, length_m, lost_pct)
        self.assertIsNone(self.check(KITCHEN, POCKET, hours=20.0, floor=0.25 - 0.026, per_h=2.0).coil)

    def test_more_hours_are_said_where_they_would_bring_enough(self):
        slow = self.check(KITCHEN, hours=4.0, per_h=0.05)
        lost = self.load.dry_mass_g * 0.23 * (1.0 - math.exp(-0.05 * 20.0)) / 100.0
        self.assertEqual(slow.longer_h is not None, lost >= slow.detectable_g)
        soaked = scale_check(self.load, course(0.25, 0.0, 0.4), 0.1, 900.0, [OwnScale(1, Scale(0.5, 0.1), 5000.0)])
        out = self.load.dry_mass_g * 0.25 * (1.0 - math.exp(-0.4 * soaked.longer_h)) / 100.0
        self.assertAlmostEqual(out, soaked.detectable_g, delta=0.05)

    def test_without_a_mass_a_scale_for_it_or_for_a_coil_nothing_is_said(self):
        self.assertIsNone(self.check(KITCHEN, gross=None))
        self.assertIsNone(self.check(POCKET))
        self.assertIsNone(self.check())
        self.assertIsNone(self.check(KITCHEN, net_g=None))
        self.assertIsNone(self.check(KITCHEN, form="loose"))


class Nights(TestCase):
    TIMES = np.arange(0.0, 337.0, 6.0)

    def asked(self, *scales, per_day=0.02, begin=0.05, gross=900.0, trouble=0.2):
        """A spool of 700 g of dry filament that takes up as much each day."""
        course = begin + per_day * self.TIMES / 24.0
        return damp_night(self.TIMES, course, 700.0, gross, scales, trouble)

    def test_by_hand(self):
        # 0.01 % a night. Two weighings to 0.1 g show 0.164 g at the least: 0.0234 % of 700 g, after 28 h. 0.15 % to the
        # trouble threshold take 180 h.
        least_pct = 100.0 * 2.0 * math.sqrt(2.0) * math.sqrt(0.01 / 12.0 + 0.0025) / 700.0
        found = self.asked(KITCHEN, BENCH, POCKET)
        self.assertAlmostEqual(found.adds_pct, 0.01)
        self.assertEqual(found.scale, BENCH.key)  # the finest that takes the spool
        self.assertAlmostEqual(found.scale_h, 24.0 * least_pct / 0.02, places=6)
        self.assertAlmostEqual(found.prints_h, 180.0, places=6)

    def test_what_no_scale_and_no_print_shows_within_the_course_is_none(self):
        nobody = self.asked(POCKET, per_day=0.001)
        self.assertEqual((nobody.scale, nobody.scale_h, nobody.prints_h), (None, None, None))
        self.assertIsNone(self.asked(KITCHEN, per_day=0.001).scale_h)

    def test_nothing_is_said_of_a_spool_that_dries_there_or_shows_its_water_already(self):
        self.assertIsNone(self.asked(BENCH, per_day=-0.001))
        self.assertIsNone(self.asked(BENCH, begin=0.21))


class Reached(TestCase):
    def test_it_is_the_first_time_straight_between_two_hours(self):
        hours = np.array([2.0, 4.0, 6.0, 8.0])
        rising = np.array([0.0, 1.0, 3.0, 2.5])
        self.assertEqual(_reaches_h(hours, rising, 2.0), 5.0)
        self.assertEqual(_reaches_h(hours, rising, -1.0), 2.0)
        self.assertIsNone(_reaches_h(hours, rising, 3.1))


class Lengths(TestCase):
    def test_no_coil_is_longer_than_what_is_left_on_the_spool(self):
        spool = load("petg", start=0.25)
        plenty, little = (
            scale_check(replace(spool, net_g=net), course(0.25, 0.02, 0.3), 6.0, 900.0, (KITCHEN, POCKET)).coil
            for net in (640.0, 5.0)
        )
        self.assertIsNotNone(plenty)
        self.assertIsNone(little)
