"""Dryers: calibration, timers, fits and what is assumed of them."""

from dataclasses import replace
from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from drying.dryers.calibration import ProbePair, bed_factor, display_calibration, line_through
from drying.dryers.dryer import Dryer, DryerKind, Metered, Misfit, misfits
from drying.dryers.energy import Tariff, mean_power_w
from drying.errors import OutOfRangeError
from drying.planning.tests.test_planning import BOX


class Dryers(TestCase):
    def test_a_line_through_probe_pairs_gives_back_the_line_and_says_how_sure_it_is(self):
        rng = np.random.default_rng(4)
        covered = 0
        for _ in range(300):
            sets = rng.uniform(40, 75, 5)
            pairs = [ProbePair(s, a) for s, a in zip(sets, 0.9 * sets + 1 + rng.normal(0, 1, 5), strict=True)]
            air = line_through(pairs).air_of(60.0)
            covered += abs(air.value - 55.0) <= air.plus_minus
        self.assertGreater(covered, 270)  # two standard uncertainties, with five pairs: at least nine in ten

    def test_setting_and_air_are_each_others_inverse_to_the_step_of_the_display(self):
        calibration = line_through([ProbePair(45, 41), ProbePair(55, 49.5), ProbePair(65, 58)])
        for air in (42.0, 50.0, 57.0):
            self.assertAlmostEqual(calibration.air_of(calibration.setting(air, 19.0).set_c).value, air, delta=0.5)
        self.assertEqual(display_calibration(5.0, 4.0).setting(63.0, 19.0).set_c, 68)
        self.assertGreater(line_through([ProbePair(45, 41)]).air_of(60).uncertainty, calibration.air_of(60).uncertainty)

    def test_a_bed_warms_the_air_by_its_factor(self):
        calibration = bed_factor([ProbePair(90, 52, 18), ProbePair(70, 42.5, 18)])
        self.assertAlmostEqual(calibration.factor.value, 34 / 72, delta=0.005)
        self.assertEqual(calibration.setting(52, 18).set_c, 90)
        self.assertEqual(bed_factor([]).pairs, 0)

    def test_pairs_that_no_dryer_has_are_refused(self):
        for pairs in ([], [ProbePair(40, 60), ProbePair(60, 40)]):
            with self.assertRaises(OutOfRangeError):
                line_through(pairs)
        with self.assertRaisesRegex(OutOfRangeError, "between the room and the bed"):
            bed_factor([ProbePair(60, 70, 20)])

    def test_what_is_not_known_is_taken_from_the_kind_and_listed(self):
        vague = Dryer(35, 65, DryerKind.OVEN, vent_m3_h=0.4)
        self.assertEqual(set(vague.assumed), {"swing_c", "hot_side_excess_c", "warm_up_h", "heater_w"})
        self.assertEqual((vague.used("swing_c"), vague.used("vent_m3_h")), (8, 0.4))

    def test_the_measure_that_does_not_fit_is_named(self):
        small = replace(BOX, max_diameter_mm=205, max_width_mm=60)
        self.assertEqual(misfits(small, 200, 66), (Misfit("max_width_mm", 66, 60),))
        self.assertEqual(misfits(small, 300, 90)[0].measure, "max_diameter_mm")
        self.assertEqual(misfits(BOX, 300, 90), ())

    def test_a_meter_is_believed_more_than_a_rating(self):
        metered = replace(BOX, metered=Metered(0.44, 8, 55))
        power = mean_power_w(metered, 20, 55)
        self.assertAlmostEqual(power.value, 55.0)
        self.assertLess(power.uncertainty, mean_power_w(BOX, 20, 55).uncertainty)

    @given(st.floats(0, 1440), st.floats(0.1, 100), st.integers(0, 1439), st.integers(0, 1439))
    def test_the_price_lies_between_all_day_and_all_night_and_counts_each_minute_once(self, start, hours, begin, end):
        tariff = Tariff(0.28, 0.12, begin, end)
        minutes = start + (np.arange(20000) + 0.5) / 20000 * hours * 60
        inside = (minutes - begin) % 1440 < (end - begin) % 1440
        self.assertAlmostEqual(tariff.cheap_minutes(start, hours) / hours / 60, inside.mean(), delta=2e-3)
        self.assertTrue(0.12 - 1e-9 <= tariff.price(1.0, start, hours) <= 0.28 + 1e-9)

    def test_waiting_for_the_cheap_hours_is_counted(self):
        tariff = Tariff(0.28, 0.12, 30, 330)
        self.assertEqual(tariff.cheapest_wait_h(22 * 60, 5.0), 2.5)
        self.assertAlmostEqual(tariff.price(1.0, 22 * 60 + 150, 5.0), 0.12)
        self.assertEqual(Tariff(0.28).cheapest_wait_h(0, 5.0), 0.0)
