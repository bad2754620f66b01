"""Forecasts and the map's axes: bands around their middle, what each rests on, and how far a map reaches."""

import math
from dataclasses import replace
from unittest import TestCase, mock

import numpy as np

from drying.dryers.calibration import LevelCalibration
from drying.dryers.limits import LimitKind
from drying.materials.properties import material
from drying.planning.alternatives import AlternativeKind, alternatives
from drying.planning.choose import Goal, choose
from drying.planning.drying_map import horizon_h
from drying.planning.forecast import forecasts, moved
from drying.planning.tests.test_planning import AIRY, BOX, load, setup

TIMES = np.linspace(0.0, 12.0, 13)


class Bands(TestCase):
    def test_a_band_lies_evenly_about_its_middle_alone_and_beside_others(self):
        for loads in ([load()], [load(), load("asa", 0.4)], [replace(load(), form="loose")]):
            for told in forecasts(setup(*loads), 60.0, TIMES):
                free = told.low_pct > 0.0
                self.assertGreater(free.sum(), 6)
                np.testing.assert_allclose((told.low_pct + told.high_pct)[free], 2.0 * told.moisture_pct[free])
                self.assertTrue((told.high_pct > told.moisture_pct).all())
                self.assertTrue((told.low_pct < told.moisture_pct).all())

    def test_how_slowly_a_winding_warms_through_is_part_of_its_band_and_of_no_coils(self):
        for form, has_part in (("wound", True), ("loose", False)):
            plan = setup(replace(load(), form=form), dryer=AIRY)
            with mock.patch("drying.planning.forecast.WARMING_SPREAD", 1.0):
                [known] = forecasts(plan, 60.0, TIMES)
            [told] = forecasts(plan, 60.0, TIMES)
            slow, fast = (replace(plan, slower_warming=1.4**sign).courses(60.0, TIMES)[0] for sign in (1.0, -1.0))
            variances = [((band.high_pct - band.moisture_pct) / 1.645) ** 2 for band in (told, known)]
            of_warming = ((slow - fast) / 2.0) ** 2
            self.assertEqual(of_warming.max() > 1e-6, has_part)
            np.testing.assert_allclose(variances[0] - variances[1], of_warming, atol=1e-7)

    def test_each_says_what_it_rests_on(self):
        def basis(*loads):
            return [told.basis for told in forecasts(setup(*loads), 60.0, TIMES)]

        coil = replace(load(), form="loose")
        self.assertEqual(basis(load()), ["wound_spool"])
        self.assertEqual(basis(coil), ["loose_coil"])
        self.assertEqual(basis(load(), load()), ["shared_box"] * 2)
        self.assertEqual(basis(load(), coil), ["wound_spool", "loose_coil"])

    def test_a_value_is_moved_by_its_spread_as_a_factor_or_a_sum(self):
        petg = material("petg")  # Ea 45 ± 4 kJ/mol; D within a factor of 1.6; k1 within 1.25
        self.assertAlmostEqual(moved(petg, "ea", 1.0).ea.value, 49.0)
        self.assertAlmostEqual(moved(petg, "ea", -2.0).ea.value, 37.0)
        self.assertAlmostEqual(moved(petg, "d23", 1.0).d23.value / petg.d23.value, 1.6)
        nylon = material("pa6")
        both = moved(nylon, "isotherm", 1.0)
        self.assertAlmostEqual(both.k1.value / nylon.k1.value, nylon.k1.spread)
        self.assertAlmostEqual(both.k3.value / nylon.k3.value, nylon.k3.spread)


class Reach(TestCase):
    def test_a_map_reaches_a_third_beyond_what_is_wanted_in_whole_spans(self):
        # PETG's own programmes take 8 h and 5 h: 8 · 1.3 = 10.4 h fit on 12 h.
        for wanted, hours in ((1, 12), (9.2, 12), (9.3, 24), (18.4, 24), (18.5, 48), (36.9, 48), (37, 72), (55, 72),
                              (56, 96), (73.8, 96), (74, 120), (100, 144), (200, 264)):  # fmt: skip
            self.assertEqual(horizon_h(setup(), [wanted]), hours, wanted)
        self.assertEqual(horizon_h(setup(), []), 12)

    def test_the_drier_night_that_is_asked_for_brings_the_floor_a_fifth_under_the_aim(self):
        # Nylon at its clean threshold of 0.2 % asks for 4.7 % at the spool; a fifth less at the hottest that is safe.
        wet = load("asa", 0.4, empty_spool="pc")
        muggy = replace(setup(wet, dryer=replace(BOX, min_c=30, max_c=40)))
        told = next(a for a in alternatives(muggy, {}) if a.kind is AlternativeKind.DRIER_NIGHT)
        asa = wet.material
        activity = 0.8 * asa.clean.value / asa.k1.value

        def magnus_pa(temp_c):  # an approximation of the saturation pressure that the core does not use
            return 611.2 * math.exp(17.62 * temp_c / (243.12 + temp_c))

        self.assertAlmostEqual(magnus_pa(told.dew_point_c) / (activity * magnus_pa(told.air_c)), 1.0, delta=0.02)


class Held(TestCase):
    def test_a_goal_out_of_reach_says_so(self):
        still = replace(AIRY, vent_m3_h=1e-5)
        for goal in (Goal.LEAST_HEAT, Goal.LEAST_TIME, Goal.LEAST_ENERGY):
            self.assertFalse(choose(goal.value, setup(dryer=still)).reaches)
            self.assertTrue(choose(goal.value, setup(dryer=AIRY)).reaches)

    def test_what_holds_a_wanted_temperature_down_is_named_for_degrees_and_for_levels(self):
        # PETG softens at 76 °C; with 4 degrees of hot side and 5 of margin nothing over 67 °C is safe.
        hot = replace(AIRY, max_c=90)
        told = choose("brisk", setup(load(empty_spool="pc"), dryer=hot))
        self.assertEqual((told.temp_c, told.held_by.kind), (67.0, LimitKind.FILAMENT_SOFT))
        levels = replace(hot, calibration=LevelCalibration((("low", 45.0), ("high", 60.0)), 3.0))
        by_level = choose("brisk", setup(load(empty_spool="pc"), dryer=levels))
        self.assertEqual(by_level.temp_c, 60.0)
        self.assertEqual(by_level.held_by.kind, LimitKind.FILAMENT_SOFT)
        free = replace(levels, calibration=LevelCalibration((("low", 45.0), ("high", 66.0)), 3.0))
        usual = choose("usual", setup(load(empty_spool="pc"), dryer=free))
        self.assertEqual((usual.temp_c, usual.held_by), (66.0, None))
