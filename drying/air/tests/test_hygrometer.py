"""A humidity sensor's offset: salts by their published humidities, jars that have not come to rest, sensors beside."""

from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from drying.air.hygrometer import Salt, check_beside, check_over_salt, over_salt_pct
from drying.errors import OutOfRangeError

HOURS = np.arange(0.0, 10.01, 0.25)


def settling(end_pct, begin_pct=45.0, hours=HOURS):
    """A jar's air on its way to the salt's humidity, within an hour or so."""
    return end_pct + (begin_pct - end_pct) * np.exp(-hours / 0.8)


class Salts(TestCase):
    def test_humidities_over_salts_are_those_of_the_table(self):
        # Greenspan 1977, table 2: % at 20 and at 25 °C.
        for salt, at_20, at_25 in (
            (Salt.MAGNESIUM_CHLORIDE, 33.07, 32.78),
            (Salt.POTASSIUM_CARBONATE, 43.16, 43.16),
            (Salt.SODIUM_CHLORIDE, 75.47, 75.29),
        ):
            with self.subTest(salt):
                self.assertAlmostEqual(over_salt_pct(salt, 20.0), at_20, delta=0.02)
                self.assertAlmostEqual(over_salt_pct(salt, 25.0), at_25, delta=0.02)

    def test_out_of_the_table_it_says_which_temperatures_are_in_it(self):
        for temp in (-1.0, 31.0):
            with self.assertRaisesRegex(OutOfRangeError, "0 to 30 °C"):
                over_salt_pct(Salt.SODIUM_CHLORIDE, temp)


class OverASalt(TestCase):
    @given(st.sampled_from(list(Salt)), st.floats(-8.0, 8.0), st.integers(0, 1000))
    def test_the_hidden_offset_is_found_within_what_is_said(self, salt, offset, seed):
        noise = np.random.default_rng(seed).normal(0.0, 0.2, HOURS.size)
        shown = settling(over_salt_pct(salt, 22.0)) + offset + noise
        found = check_over_salt(HOURS.tolist(), [22.0] * HOURS.size, shown.tolist(), salt)
        self.assertTrue(found.settled)
        self.assertLess(abs(found.offset_pct.value - offset), 3.0 * found.offset_pct.uncertainty)
        self.assertAlmostEqual(found.shown_pct - found.true_pct, found.offset_pct.value)
        self.assertLess(found.offset_pct.uncertainty, 1.2)

    def test_a_large_one_tells_and_one_within_the_doubt_does_not(self):
        for offset, tells in ((4.0, True), (-4.0, True), (0.6, False)):
            shown = settling(75.4) + offset
            found = check_over_salt(HOURS.tolist(), [22.0] * HOURS.size, shown.tolist(), Salt.SODIUM_CHLORIDE)
            self.assertEqual(found.tells, tells, offset)

    def test_a_jar_that_is_still_moving_tells_nothing(self):
        early = HOURS[HOURS <= 2.0]
        shown = settling(75.4, hours=early) + 5.0
        found = check_over_salt(early.tolist(), [22.0] * early.size, shown.tolist(), Salt.SODIUM_CHLORIDE)
        self.assertFalse(found.settled)
        self.assertFalse(found.tells)

    def test_the_warmth_of_the_jar_counts(self):
        """Common salt is 0.3 % damper at 15 °C than at 30 °C."""
        cool, warm = (
            check_over_salt([7, 8, 9], [temp] * 3, [76.0] * 3, Salt.SODIUM_CHLORIDE).true_pct for temp in (15.0, 30.0)
        )
        self.assertAlmostEqual(cool - warm, 75.61 - 75.09, delta=0.02)  # Greenspan 1977, table 2

    def test_too_few_readings_are_refused_by_name(self):
        with self.assertRaisesRegex(OutOfRangeError, "Too few readings"):
            check_over_salt([1, 9, 10], [22.0] * 3, [75.0] * 3, Salt.SODIUM_CHLORIDE)


class Beside(TestCase):
    def test_the_mean_difference_of_the_last_hours_counts_whatever_the_room_did_before(self):
        room = 50.0 + 8.0 * np.exp(-HOURS)
        found = check_beside(HOURS.tolist(), (room + 5.0).tolist(), (HOURS + 0.1).tolist(), room.tolist())
        self.assertAlmostEqual(found.offset_pct.value, 5.0, delta=0.05)
        self.assertTrue(found.tells)
        self.assertGreaterEqual(found.offset_pct.uncertainty, 2.0)  # the other is no surer than a common sensor

    def test_moments_at_which_both_were_read_first_and_last_count(self):
        found = check_beside([8, 9, 10], [52, 53, 54], [8, 9, 10], [50, 50, 50])
        self.assertEqual((found.shown_pct, found.offset_pct.value), (53.0, 3.0))

    def test_two_that_never_met_are_refused(self):
        with self.assertRaisesRegex(OutOfRangeError, "hours in common"):
            check_beside([1, 2, 3], [50] * 3, [10, 11, 12], [50] * 3)
