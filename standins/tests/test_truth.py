"""Hidden truths: what the scale and the box air show hangs together, and the end point is honest against them."""

from unittest import TestCase

import numpy as np

from drying.air.psychrometrics import vapour_concentration_g_m3
from drying.runs.tests.test_verdict import BOX, SHED, load
from drying.runs.verdict import RunState
from drying.weighing.scale import Scale
from standins.truth import drawn, read_off
from tools.bench_endpoint import table


class Truths(TestCase):
    def truth(self, seed=3):
        segments = BOX.segments(load().material, SHED, 63, 12)
        return drawn(load(), segments, 214.0, 0.5, np.random.default_rng(seed))

    def test_the_same_seed_is_the_same_truth_and_another_is_not(self):
        self.assertEqual(self.truth(), self.truth())
        self.assertNotEqual(self.truth().start_pct, self.truth(4).start_pct)

    def test_what_leaves_the_strand_is_what_the_air_carries_out(self):
        truth = self.truth()
        hours = np.linspace(0.5, 12, 400)
        vent, room = truth.segments[-1].vent_m3_h, vapour_concentration_g_m3(SHED.temp_c, SHED.rh_pct)
        inside = [vapour_concentration_g_m3(*truth.box_air(float(t))) for t in hours]
        carried = np.trapezoid((np.array(inside) - room) * vent, hours)
        lost = truth.gross_g([0.5])[0] - truth.gross_g([12.0])[0]
        self.assertAlmostEqual(carried, lost, delta=0.03 * lost)

    def test_a_scale_shows_steps_and_scatters_as_it_says(self):
        rng, scale = np.random.default_rng(1), Scale(0.1, 0.2)
        shown = np.array([read_off(854.03, scale, rng) for _ in range(2000)])
        np.testing.assert_allclose(shown * 10, np.round(shown * 10), atol=1e-9)
        self.assertAlmostEqual(shown.mean(), 854.03, delta=0.02)
        self.assertAlmostEqual(shown.std(), scale.uncertainty_g, delta=0.02)

    def test_ninety_percent_intervals_hold_the_hidden_truth_about_nine_times_in_ten(self):
        seen = [s for s in table(0.1, 10) if s.nth >= 3]
        self.assertTrue(0.80 <= np.mean([s.in_moisture for s in seen if s.in_moisture is not None]) <= 0.98)
        timed = [s.in_time for s in seen if s.in_time is not None]
        self.assertTrue(0.80 <= np.mean(timed) <= 0.98)
        self.assertLess(np.mean([s.state is RunState.DRY and not s.is_dry for s in seen]), 0.03)
