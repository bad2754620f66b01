"""Stand-ins as devices: what the app did not take is sent again, once it is back, and a lost token stops them."""

from datetime import UTC, datetime, timedelta
from unittest import TestCase
from unittest.mock import patch

from standins import sending
from standins.sending import StandIn, World, readings

BEGAN = datetime(2026, 11, 24, 1, 0, tzinfo=UTC)
WORLD = World(
    BEGAN.isoformat(),
    "abs",
    780.0,
    40.0,
    60.0,
    0.3,
    0.85,
    245.2,
    46.0,
    [[0.4, 45, 18, 64, 0.08], [8, 63, 18, 64, 0.08]],
)


class Sending(TestCase):
    def test_what_was_not_taken_is_kept_and_sent_with_the_next(self):
        device, sent = StandIn("meter", "token", 30.0, 1), []
        for minute, status in ((1, 0), (2, 503), (3, 200), (4, 200)):
            with patch.object(
                sending, "deliver", side_effect=lambda _a, _t, rows, s=status: sent.append(len(rows)) or s
            ):
                device.step(WORLD, "http://127.0.0.1:1", BEGAN + timedelta(minutes=minute))
        self.assertEqual(sent, [1, 2, 3, 1])

    def test_a_device_looks_no_more_often_than_it_does(self):
        device = StandIn("logger", "token", 10.0, 2)
        with patch.object(sending, "deliver", return_value=200) as deliver:
            for second in range(1, 61):
                device.step(WORLD, "http://127.0.0.1:1", BEGAN + timedelta(seconds=second))
        self.assertLessEqual(deliver.call_count, 6)
        self.assertGreaterEqual(deliver.call_count, 4)

    def test_devices_follow_the_one_truth(self):
        hours = [0.5, 2.0, 4.0, 7.0]
        mass = [r["mass_g"] for r in readings(WORLD, "scale", hours, 3)]
        energy = [r["energy_kwh"] for r in readings(WORLD, "meter", hours, 3)]
        self.assertEqual(mass, sorted(mass, reverse=True))
        self.assertAlmostEqual(energy[-1] - energy[0], 46.0 * 6.5 / 1000, places=3)
        self.assertAlmostEqual(mass[0], WORLD.truth.gross_g([0.5])[0], delta=0.25)
        air = readings(WORLD, "logger", hours, 3)
        self.assertTrue(all(58 < r["temp_c"] < 68 and 5 < r["rh_pct"] < 30 for r in air))
