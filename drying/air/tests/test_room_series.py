"""A room's air by the hour from readings with gaps."""

from unittest import TestCase

import numpy as np

from drying.air.room_series import hourly_room_air
from drying.errors import OutOfRangeError
from drying.moisture.tests.test_history import FIRST


class RoomAirHours(TestCase):
    def test_gaps_are_bridged_filled_or_held_and_marked_as_such(self):
        at = np.array([0.0, 1.0, 31.0, 131.0]) * 3600 + FIRST * 3600
        temp, rh = np.array([10.0, 12.0, 18.0, 20.0]), np.array([80.0, 70.0, 40.0, 60.0])
        found = hourly_room_air(at, temp, rh, (FIRST, FIRST + 150), FIRST + 133)
        self.assertEqual(list(found.measured[[0, 1, 6, 7, 30, 31, 36, 37, 131, 132, 133]]),
                         [True, True, True, False, False, True, True, False, True, True, False])  # fmt: skip
        self.assertAlmostEqual(found.temp_c[16], 12 + 6 * 15 / 30)  # bridged
        self.assertEqual(found.temp_c[100], 18)  # too long to bridge: as last read
        self.assertEqual(found.temp_c[140], 20)  # ahead, with no week to repeat
        hourly = at[0] + 3600.0 * np.arange(9)
        rising = hourly_room_air(hourly, 10.0 + np.arange(9), np.full(9, 50.0), (FIRST, FIRST + 20), FIRST + 9)
        self.assertEqual(list(rising.temp_c[8:]), [18.0] * 12)  # ahead, as in the last hour
        months = dict.fromkeys(range(1, 13), (5.0, 90.0))
        filled = hourly_room_air(at, temp, rh, (FIRST - 24, FIRST + 150), FIRST + 133, months)
        self.assertEqual((filled.temp_c[0], filled.activity[24 + 100]), (5.0, 0.9))
        self.assertFalse(hourly_room_air(at[:0], temp[:0], rh[:0], (FIRST, FIRST + 9), FIRST + 9).measured.any())

    def test_the_hours_to_come_repeat_the_week_before(self):
        hours = 24 * 20
        at = (FIRST + np.arange(hours)) * 3600.0
        temp = 15 + 5 * np.sin(np.arange(hours) / 9)
        found = hourly_room_air(at, temp, np.full(hours, 60.0), (FIRST, FIRST + hours + 100), FIRST + hours)
        np.testing.assert_array_equal(found.temp_c[hours:], found.temp_c[hours - 168 : hours - 68])

    def test_a_gap_is_bridged_up_to_its_longest_and_no_longer(self):
        for apart, bridged in ((48, True), (49, False)):
            at = np.array([0.0, apart]) * 3600 + FIRST * 3600
            found = hourly_room_air(at, np.array([10.0, 20.0]), np.array([50.0, 50.0]), (FIRST, FIRST + 90), FIRST + 90)
            middle = int(apart // 2)
            want = 10.0 + 10.0 * middle / apart if bridged else 10.0
            self.assertAlmostEqual(found.temp_c[middle], want, msg=str(apart))

    def test_readings_of_different_lengths_are_refused(self):
        with self.assertRaisesRegex(OutOfRangeError, "each time"):
            hourly_room_air(np.zeros(2), np.zeros(2), np.zeros(3), (FIRST, FIRST + 2), FIRST + 2)
