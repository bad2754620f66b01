"""The air beside samples: its mean over time, and what it changes in a lot's floor."""

from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from drying.air import RoomAir
from drying.errors import OutOfRangeError
from drying.trials import AirReading, DryingLot, Reading, Sample, fit_drying, mean_air
from drying.weighing import Scale


class MeanAir(TestCase):
    def test_it_is_the_mean_over_time_along_straight_lines(self):
        # By hand: from 60 to 70 °C in 1 h, then 70 °C for 3 h: (65 + 3 · 70) / 4; humidity (20 + 3 · 10) / 4.
        found = mean_air([AirReading(0, 60, 30), AirReading(1, 70, 10), AirReading(4, 70, 10)])
        self.assertAlmostEqual(found.temp_c, 68.75)
        self.assertAlmostEqual(found.rh_pct, (20 + 30) / 4)

    def test_one_reading_stands_for_all_and_order_does_not_matter(self):
        self.assertEqual(mean_air([AirReading(3, 64, 12)]), RoomAir(64, 12))
        readings = [AirReading(4, 70, 10), AirReading(0, 60, 30), AirReading(1, 70, 10)]
        self.assertEqual(mean_air(readings), mean_air(sorted(readings, key=lambda r: r.time_h)))

    def test_two_of_one_moment_are_their_middle(self):
        self.assertEqual(mean_air([AirReading(2, 60, 10), AirReading(2, 62, 14)]), RoomAir(61, 12))

    def test_without_a_reading_it_says_what_to_give(self):
        with self.assertRaisesRegex(OutOfRangeError, "at least one"):
            mean_air([])

    @given(st.floats(20, 90), st.floats(20, 90), st.floats(0, 100), st.floats(0, 100), st.floats(0.0, 1.0))
    def test_a_reading_on_the_line_between_two_changes_nothing(self, temp, later_temp, rh, later_rh, share):
        two = [AirReading(1, temp, rh), AirReading(9, later_temp, later_rh)]
        more = AirReading(1 + 8 * share, temp + share * (later_temp - temp), rh + share * (later_rh - rh))
        before, after = mean_air(two), mean_air([*two, more])
        self.assertAlmostEqual(before.temp_c, after.temp_c, places=6)
        self.assertAlmostEqual(before.rh_pct, after.rh_pct, places=6)


class Floor(TestCase):
    def test_coils_in_drier_air_than_the_rooms_are_expected_to_end_drier(self):
        """Coils weighed early alone: where they end is what the air says, for a lot cannot tell yet."""
        samples = tuple(Sample(20.0, (Reading(hours, 20.0 - 0.06 * hours**0.5),)) for hours in (1, 2, 3, 4))

        def floor(room):
            return fit_drying(DryingLot(1.75, 1130.0, 65.0, Scale(0.01, 0.005), samples, room=room)).end_pct.p50

        measured = mean_air([AirReading(0, 65, 4), AirReading(10, 65, 2)])
        self.assertLess(floor(measured), 0.6 * floor(RoomAir(21, 50)))
