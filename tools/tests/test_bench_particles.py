"""The filter that our intervals are measured against: its chances are those of the normal law."""

from unittest import TestCase

import numpy as np
from scipy.stats import multivariate_normal

from drying.runs import TimedWeighing
from drying.weighing import Scale, Weighing
from tools.bench_particles import Particles, compared, middle_and_ends
from tools.bench_past_particles import SCALE, log_chances

HOURS = np.array([0.0, 1.0, 2.0, 4.0, 8.0])


def two_kinds():
    """A slow particle and a fast one, in air that leaves 0.1 %, from three starts that are as likely."""
    left = np.exp(-np.outer([0.2, 0.6], HOURS))
    return Particles(HOURS, 0.1 * (1.0 - left), left, np.array([0.4, 0.5, 0.6]), np.full(3, 1 / 3), 800.0)


class Filter(TestCase):
    def test_losses_are_weighed_as_the_normal_law_of_errors_that_share_the_first_weighing(self):
        known, at, losses, sd = two_kinds(), [1.0, 4.0], [0.9, 2.4], 0.4
        law = multivariate_normal(np.zeros(2), sd**2 * (np.eye(2) + 1.0))
        dense = np.empty((2, 3))
        for n, pace in enumerate((0.2, 0.6)):
            for m, start in enumerate((0.4, 0.5, 0.6)):
                lost = [8.0 * (start - 0.1) * (1.0 - np.exp(-pace * t)) for t in at]
                dense[n, m] = law.pdf(np.subtract(lost, losses))
        np.testing.assert_allclose(known.weights(at, losses, sd), dense / dense.sum(), rtol=1e-9)

    def test_what_earlier_runs_say_of_a_particle_is_added_to_what_this_one_says(self):
        known = two_kinds()
        seen = [TimedWeighing(t, Weighing(1000.0 - lost, SCALE)) for t, lost in ((0.0, 0.0), (1.0, 0.9), (4.0, 2.4))]
        chances = np.exp(log_chances(known, seen))
        by_weights = known.weights([1.0, 4.0], [0.9, 2.4], SCALE.uncertainty_g)
        np.testing.assert_allclose(chances / chances.sum(), by_weights, rtol=1e-9)

    def test_the_hours_to_an_aim_are_those_of_each_course_and_of_none_that_ends_above(self):
        hours = two_kinds().hours_to(0.2)
        self.assertTrue(np.all(hours[1] < hours[0]))
        self.assertTrue(np.all(np.diff(hours, axis=1) > 0.0))
        self.assertTrue(np.all(np.isinf(two_kinds().hours_to(0.09))))

    def test_an_interval_leaves_a_twentieth_on_either_side(self):
        values, weights = np.arange(1000.0), np.full(1000, 1e-3)
        low, middle, high = middle_and_ends(values[::-1], weights)
        self.assertAlmostEqual(middle, 500.0, delta=1.0)
        self.assertAlmostEqual(low, 50.0, delta=1.0)
        self.assertAlmostEqual(high, 950.0, delta=1.0)

    def test_a_run_is_judged_by_both(self):
        found = compared(np.random.default_rng(3), Scale(0.1, 0.05, 0.02), 40)
        self.assertTrue(found)
        self.assertTrue(all(0.1 < one.ratio < 20.0 for one in found))
