"""When to weigh: the variance against draws of the same linear model, and the bounds of the times."""

import math
from dataclasses import replace
from unittest import TestCase

import numpy as np

from drying.planning.tests.test_planning import AIRY, setup, wet
from drying.planning.weighing_times import (
    FIRST_SHARE,
    LAST_SHARE,
    LEAST_H,
    USUAL_SCALE_G,
    best_times_h,
    variances_at_end,
)
from drying.transport import RATE_SIGMA, SHAPE_ERROR

TIMES = np.linspace(0.0, 24.0, 193)


def course_of(load, hours=24.0):
    return setup(load, dryer=AIRY).courses(63.0, TIMES * hours / 24.0)[0]


def left_by(load, course, *at):
    """The variance that is left at the end of a run of 10 h that was weighed at these times."""
    return variances_at_end(load, TIMES, course, 10.0, np.array([at], dtype=float))[0]


class Variance(TestCase):
    def test_it_is_what_is_left_when_draws_are_told_their_weighings(self):
        rng, count = np.random.default_rng(5), 300_000
        load = wet("petg")
        course = course_of(load)
        first, rest = course[0], course[-1]

        def at(hours):
            moisture = float(np.interp(hours, TIMES, course))
            slope = float(np.interp(hours, TIMES, np.gradient(course, TIMES)))
            return moisture, (moisture - rest) / (first - rest), hours * slope

        start, rate = rng.normal(0, load.start.uncertainty, count), rng.normal(0, RATE_SIGMA, count)
        _, end_start, end_rate = at(10.0)
        end = end_start * start + end_rate * rate
        scale = 100.0 * math.sqrt(2.0) * USUAL_SCALE_G / load.dry_mass_g
        for weighed in ((2.0,), (2.0, 6.0), (1.0, 8.0)):
            seen = []
            for hours in weighed:
                moisture, of_start, of_rate = at(hours)
                noise = math.hypot(scale, SHAPE_ERROR * (first - moisture))
                seen.append((1.0 - of_start) * start - of_rate * rate + rng.normal(0, noise, count))
            known = np.array(seen).T
            left = end - known @ np.linalg.lstsq(known, end, rcond=None)[0]
            found = left_by(load, course, *weighed)
            self.assertAlmostEqual(found / left.var(), 1.0, delta=0.02, msg=str(weighed))

    def test_a_spool_of_unknown_mass_counts_as_a_full_one(self):
        course = course_of(wet("petg"))
        large = replace(wet("petg"), hub_radius_mm=90.0, width_mm=120.0, diameter_mm=400.0)  # of those for 8 kg
        for load, full_g in ((wet("petg"), 1000.0), (large, 8000.0)):
            found = [left_by(replace(load, net_g=net_g), course, 3.0) for net_g in (None, full_g)]
            self.assertAlmostEqual(found[0] / found[1], 1.0, places=9)

    def test_without_a_weighing_it_is_the_prior_and_each_one_lessens_it(self):
        load = wet("petg")
        course = course_of(load)
        left = [left_by(load, course, *at) for at in ((), (3.0,), (3.0, 7.0))]
        self.assertEqual(left, sorted(left, reverse=True))
        per_rate = 10.0 * float(np.interp(10.0, TIMES, np.gradient(course, TIMES)))
        share = (float(np.interp(10.0, TIMES, course)) - course[-1]) / (course[0] - course[-1])
        self.assertAlmostEqual(left[0], (share * load.start.uncertainty) ** 2 + (per_rate * RATE_SIGMA) ** 2, places=9)


class Times(TestCase):
    def test_they_lie_within_the_run_apart_and_in_order(self):
        for hours in (1.2, 2.0, 4.0, 8.0, 24.0, 72.0):
            times = TIMES * hours / 24.0
            load = wet("petg")
            found = best_times_h(load, times, setup(load, dryer=AIRY).courses(63.0, times)[0], hours)
            self.assertIn(len(found), (1, 2), hours)
            self.assertGreaterEqual(found[0], max(LEAST_H, FIRST_SHARE * hours) - 1e-9)
            self.assertLessEqual(found[-1], LAST_SHARE * hours + 1e-9)
            if len(found) == 2:
                self.assertGreaterEqual(found[1] - found[0], LEAST_H - 1e-9)

    def test_a_run_too_short_for_one_has_none(self):
        load = wet("petg")
        longest = LEAST_H / LAST_SHARE
        for hours, some in ((0.98 * longest, False), (1.02 * longest, True)):
            self.assertEqual(bool(best_times_h(load, TIMES, course_of(load), hours)), some)

    def test_no_other_pair_of_the_candidates_leaves_less(self):
        load = wet("abs")
        course = course_of(load)
        found = best_times_h(load, TIMES, course, 10.0)
        least = left_by(load, course, *found)
        grid = np.linspace(max(LEAST_H, FIRST_SHARE * 10.0), LAST_SHARE * 10.0, 12)
        for one in grid:
            for other in grid[grid - one >= LEAST_H]:
                self.assertGreaterEqual(left_by(load, course, one, other), least - 1e-12)
