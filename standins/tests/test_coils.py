"""The fine scale of the demo: coils take water up as a cylinder does, and the one that the app asks for lies on it."""

from datetime import UTC, datetime, timedelta
from unittest import TestCase
from unittest.mock import patch

import numpy as np

from standins import coils
from standins.coils import Lot, OnTheScale
from standins.sending import StandIn
from standins.tests.test_sending import WORLD

BEGAN = datetime(2026, 11, 24, 1, 0, tzinfo=UTC)
LOT = Lot(4, BEGAN.isoformat(), 1.75, 0.3, 1.7, 1.0e-12, 0.1, {"G1": 14.0, "G2": 13.5})


class Coils(TestCase):
    def test_a_coil_goes_from_its_start_to_its_end_and_half_of_the_way_when_a_cylinder_does(self):
        self.assertAlmostEqual(LOT.mass_g("G1", 0.0), 14.0 * 1.004)
        self.assertAlmostEqual(LOT.mass_g("G1", 1e5), 14.0 * 1.018, places=6)
        half_h = 0.0631 * (0.875e-3) ** 2 / 1.0e-12 / 3600.0  # Crank: half is exchanged at D·t/R² = 0.0631
        self.assertAlmostEqual(LOT.mass_g("G1", half_h), 14.0 * 1.011, delta=1e-3)
        self.assertEqual(LOT.mass_g("none", 1.0), 0.0)

    def test_the_next_coil_lies_on_it_and_the_app_is_asked_now_and_then(self):
        pan, rng = OnTheScale(LOT), np.random.default_rng(1)
        with patch.object(coils, "next_coil", side_effect=["G1", "G2", None]) as asked:
            shown = [pan.shows_g("", BEGAN + timedelta(seconds=second), rng) for second in range(13)]
        self.assertEqual(asked.call_count, 3)
        for grams, really in zip(shown, [14.056] * 5 + [13.554] * 5 + [0.0] * 3, strict=True):
            self.assertAlmostEqual(grams, really, delta=0.03)

    def test_where_the_app_does_not_answer_the_pan_is_empty(self):
        self.assertIsNone(coils.next_coil("http://127.0.0.1:9", 4))

    def test_it_sends_what_it_shows(self):
        device, sent = StandIn("coils", "token", 1.0, 1, on_it=OnTheScale(LOT)), []
        with (
            patch.object(coils, "next_coil", return_value="G1"),
            patch("standins.sending.deliver", side_effect=lambda _a, _t, rows: sent.extend(rows) or 200),
        ):
            device.step(WORLD, "http://127.0.0.1:1", BEGAN + timedelta(hours=3))
        self.assertEqual(list(sent[0]), ["at", "mass_g"])
        self.assertAlmostEqual(sent[0]["mass_g"], LOT.mass_g("G1", 3.0), delta=0.03)
