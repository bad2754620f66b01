"""Moist air against published values."""

import math
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from drying.air import psychrometrics as humid_air
from drying.air.psychrometrics import RoomAir
from drying.errors import OutOfRangeError

SATURATION_PA = {
    0.01: 611.655, 10: 1228.2, 20: 2339.3, 30: 4247.0, 40: 7384.9, 50: 12352.0,
    60: 19946.0, 70: 31201.0, 80: 47414.0, 90: 70182.0, 100: 101418.0,
}  # fmt: skip


class HumidAir(TestCase):
    def test_saturation_pressure_is_within_half_a_percent_of_the_published_table(self):
        for temp_c, published in SATURATION_PA.items():
            with self.subTest(temp_c=temp_c):
                self.assertLess(abs(humid_air.saturation_pressure_pa(temp_c) / published - 1), 0.005)

    def test_room_air_of_21_c_and_60_pct_offers_15_6_pct_at_45_c(self):
        self.assertAlmostEqual(humid_air.rh_after_heating_pct(21, 60, 45), 15.6, delta=0.05)

    @given(st.floats(-5, 60), st.floats(5, 100))
    def test_air_is_saturated_at_its_dew_point(self, temp_c, rh_pct):
        dew = humid_air.dew_point_c(temp_c, rh_pct)
        self.assertLessEqual(dew, temp_c + 1e-3)
        self.assertAlmostEqual(
            humid_air.saturation_pressure_pa(dew) / humid_air.vapour_pressure_pa(temp_c, rh_pct), 1.0, delta=2e-3
        )

    def test_cooling_under_the_dew_point_leaves_saturated_air(self):
        self.assertEqual(humid_air.rh_after_heating_pct(20, 90, 5), 100.0)

    def test_impossible_air_is_refused_with_the_value_and_the_range(self):
        for temp_c, rh_pct, named in ((20, 101, "101"), (20, -1, "-1"), (-41, 50, "-41"), (math.nan, 50, "nan")):
            with self.subTest(named), self.assertRaisesRegex(OutOfRangeError, f"{named}.*between"):
                RoomAir(temp_c, rh_pct)


# Saturation pressure over water, Pa: W. Wagner and A. Pruss, J. Phys. Chem. Ref. Data 31 (2002) 387, table 13.1.
