"""Habits by a logger: what was put into the series comes out of it, and what it does not tell is not told."""

import itertools
import math
from unittest import TestCase

import numpy as np

from drying.dryers import habits_of, hot_side_excess_c
from drying.errors import OutOfRangeError


def series(*, warm_h=0.5, swing=2.0, period_h=0.2, every_h=1 / 60, long_h=6.0, step=0.1, noise=0.0, held=60.0):
    """A straight ramp from 20 °C, then a sine about the air held, as a logger of this step shows it."""
    times = np.arange(every_h, long_h, every_h)
    ramp = np.minimum(times / warm_h, 1.0)
    air = 20.0 + (held - 20.0) * ramp + swing * np.sin(2 * math.pi * (times - warm_h) / period_h) * (times > warm_h)
    air += noise * np.random.default_rng(3).standard_normal(times.size)
    return times, np.round(air / step) * step


class Habits(TestCase):
    def test_a_ramp_a_swing_and_its_period_come_back(self):
        for warm, swing, period in itertools.product((0.3, 1.0), (1.0, 4.0), (0.1, 0.5)):
            with self.subTest(warm=warm, swing=swing, period=period):
                found = habits_of(*series(warm_h=warm, swing=swing, period_h=period, noise=0.05))
                self.assertAlmostEqual(found.warm_up_h, warm, delta=0.06 + 0.05 * warm)
                self.assertAlmostEqual(found.swing_c, swing, delta=0.08 * swing)
                self.assertAlmostEqual(found.period_h, period, delta=0.05 * period)
                self.assertAlmostEqual(found.air_c.value, 60.0, delta=0.3)

    def test_a_curve_that_bends_counts_as_the_ramp_that_loses_as_much_warmth(self):
        times = np.arange(0.01, 6.0, 0.01)
        found = habits_of(times, np.round(60.0 - 40.0 * np.exp(-times / 0.25), 1))
        # The area under 40·exp(-t/0.25) is 10 K·h: a ramp of half an hour loses 40·0.5/2.
        self.assertAlmostEqual(found.warm_up_h, 0.5, delta=0.05)

    def test_what_is_not_told_is_none(self):
        self.assertIsNone(habits_of(*series(held=24.0)).warm_up_h)  # it was as good as warm
        late = series()
        self.assertIsNone(habits_of(late[0][60:], late[1][60:]).warm_up_h)  # it began when the box was warm
        self.assertIsNone(habits_of(*series(every_h=0.15, warm_h=0.3)).warm_up_h)  # too few readings
        self.assertIsNone(habits_of(*series(every_h=0.15, period_h=0.2)).period_h)
        self.assertIsNone(habits_of(*series(swing=0.3, step=1.0)).swing_c)  # a coarse logger does not show it
        self.assertLess(habits_of(*series(swing=0.0, step=0.1, noise=0.02)).swing_c, 0.15)  # a fine one shows none
        self.assertIsNone(habits_of(*series(long_h=0.7)))
        self.assertIsNone(habits_of([1.0, 2.0], [60.0, 60.0]))

    def test_a_slow_logger_tells_the_swing_though_not_how_often(self):
        found = habits_of(*series(every_h=0.13, period_h=0.2, long_h=24.0))
        self.assertAlmostEqual(found.swing_c, 2.0, delta=0.2)
        self.assertIsNone(found.period_h)

    def test_a_lid_does_not_count_as_swing(self):
        times, temps = series(noise=0.05)
        temps = np.where((times > 3.0) & (times < 3.2), 40.0, temps)
        self.assertAlmostEqual(habits_of(times, temps).swing_c, 2.0, delta=0.2)

    def test_a_second_logger_tells_the_hot_side(self):
        beside, hotter = (habits_of(*series(held=held)) for held in (60.0, 66.5))
        self.assertAlmostEqual(hot_side_excess_c(beside, hotter), 6.5, delta=0.2)
        self.assertEqual(hot_side_excess_c(hotter, beside), 0.0)

    def test_times_must_rise(self):
        with self.assertRaisesRegex(OutOfRangeError, "rise"):
            habits_of([1.0] * 30, [60.0] * 30)
