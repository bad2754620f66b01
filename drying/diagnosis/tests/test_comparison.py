"""What a print file says by its commands, and before against after: spreads and strengths."""

from unittest import TestCase

import numpy as np

from drying.diagnosis.comparison import SpreadFinding, change, spread_test
from drying.errors import DryingError


class Spreads(TestCase):
    def test_a_wider_spread_is_found_and_a_shifted_mean_is_not(self):
        rng = np.random.default_rng(2)
        dry = rng.normal(1.75, 0.02, 12).tolist()
        self.assertEqual(spread_test(rng.normal(1.75, 0.08, 12).tolist(), dry).finding, SpreadFinding.WIDER)
        shifted = [d + 0.3 for d in dry]
        self.assertAlmostEqual(spread_test(shifted, dry).ratio, 1.0, places=9)
        self.assertNotEqual(spread_test(shifted, dry).finding, SpreadFinding.WIDER)
        self.assertEqual(spread_test(dry[:4], dry[4:8]).finding, SpreadFinding.NO_FINDING)

    def test_alike_strands_are_called_wider_as_seldom_as_stated_and_the_interval_holds(self):
        rng = np.random.default_rng(3)
        found = [
            spread_test(rng.normal(1.75, 0.03, 10).tolist(), rng.normal(1.75, 0.03, 10).tolist()) for _ in range(600)
        ]
        self.assertLess(np.mean([f.finding is SpreadFinding.WIDER for f in found]), 0.08)
        self.assertAlmostEqual(np.mean([f.low < 1 < f.high for f in found]), 0.90, delta=0.04)
        against_usual = [spread_test(rng.normal(1.75, 0.03, 10).tolist()) for _ in range(600)]
        self.assertAlmostEqual(np.mean([f.p_value < 0.05 for f in against_usual]), 0.05, delta=0.025)

    def test_the_chance_is_that_of_the_statistics_library(self):
        from scipy import stats  # too slow to load for the app itself

        rng = np.random.default_rng(9)
        for n, m in ((4, 4), (10, 7), (12, 30)):
            one, other = rng.normal(1.75, 0.09, n).tolist(), rng.normal(1.75, 0.03, m).tolist()
            found = spread_test(one, other)
            self.assertAlmostEqual(found.p_value, stats.levene(one, other, center="median").pvalue / 2, places=12)
            self.assertAlmostEqual(found.low, found.ratio / stats.f.ppf(0.95, n - 1, m - 1) ** 0.5, places=12)
            alone, scale = spread_test(one), (n - 1) * (np.std(one, ddof=1) / 0.03) ** 2
            self.assertAlmostEqual(alone.p_value, stats.chi2.sf(scale, n - 1), places=12)
            self.assertAlmostEqual(alone.high, alone.ratio / (stats.chi2.ppf(0.05, n - 1) / (n - 1)) ** 0.5, places=12)

    def test_a_narrower_spread_is_on_the_other_side_of_the_same_test(self):
        from scipy import stats

        one, other = [1.74, 1.75, 1.76, 1.75, 1.745], [1.60, 1.90, 1.75, 1.70, 1.82]
        two_sided = stats.levene(one, other, center="median").pvalue
        self.assertAlmostEqual(spread_test(other, one).p_value, two_sided / 2)
        self.assertAlmostEqual(spread_test(one, other).p_value, 1 - two_sided / 2)
        self.assertLess(spread_test(one, other).ratio, 1)

    def test_too_few_or_impossible_readings_are_refused(self):
        for suspect, dry in (([1.7] * 3, ()), ([1.7] * 5, [1.7]), ([1.7, 1.7, 1.7, 77], ())):
            with self.assertRaises(DryingError):
                spread_test(suspect, dry)


class Strengths(TestCase):
    def test_the_interval_of_a_change_holds_the_truth_as_often_as_stated(self):
        rng = np.random.default_rng(4)
        inside = 0
        for _ in range(600):
            found = change(rng.normal(400, 40, 4).tolist(), rng.normal(600, 40, 4).tolist())
            inside += found.low_pct < 50 < found.high_pct
        self.assertAlmostEqual(inside / 600, 0.95, delta=0.03)

    def test_one_bar_a_side_or_no_difference_is_no_finding(self):
        self.assertFalse(change([400], [600]).finding)
        self.assertIsNone(change([400], [600]).low_pct)
        self.assertFalse(change([400, 420, 390], [410, 395, 405]).finding)
        self.assertTrue(change([400, 410, 390], [600, 610, 590]).finding)
        for before, after in (([], [1]), ([0], [1]), ([1], [])):
            with self.assertRaises(DryingError):
                change(before, after)
