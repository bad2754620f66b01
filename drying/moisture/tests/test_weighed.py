"""A weighing between two others: what it tells of the water, against draws."""

import math
from unittest import TestCase

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from drying.moisture.events import corrected
from drying.quantity import Quantity


class ByDraws(TestCase):
    @settings(max_examples=15)
    @given(
        st.floats(0.02, 0.2), st.floats(0.1, 0.95), st.floats(0.01, 0.2), st.floats(0.005, 0.1), st.floats(-0.1, 0.1)
    )
    def test_the_update_is_that_of_a_straight_line_through_draws(self, sd, memory, of_air, scale, miss):
        rng, count = np.random.default_rng(3), 200_000
        anchor = Quantity(0.5, sd)
        forecast = Quantity(0.4, math.hypot(memory * sd, of_air))
        true, air = rng.normal(0, sd, count), rng.normal(0, of_air, count)
        now, seen = memory * true + air, (memory - 1) * true + air + rng.normal(0, scale, count)
        gain = float(np.cov(now, seen)[0, 1] / seen.var())
        change = Quantity(forecast.value - anchor.value + miss, scale)
        found = corrected(forecast, memory, anchor, change)
        self.assertAlmostEqual(found.value, max(0.4 + gain * miss, 0.0), delta=0.01)
        self.assertAlmostEqual(found.uncertainty, float((now - gain * seen).std()), delta=0.005)

    def test_a_perfect_scale_over_no_time_changes_nothing_it_did_not_see(self):
        anchor = Quantity(0.5, 0.1)
        found = corrected(anchor, 1.0, anchor, Quantity(0.0, 1e-9))
        self.assertAlmostEqual(found.value, 0.5)
        self.assertEqual(corrected(anchor, 1.0, anchor, Quantity(0.0, 0.0)), anchor)

    def test_no_moisture_is_ever_less_than_none(self):
        found = corrected(Quantity(0.1, 0.2), 0.5, Quantity(0.2, 0.1), Quantity(-3.0, 0.01))
        self.assertEqual(found.value, 0.0)
