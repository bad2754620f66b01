"""Box air: grams per cubic metre, not relative humidity, tell whether water leaves."""

import math
from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from drying.air.box_air import AirState, box_air, vent_from_loss, water_g_m3
from drying.air.psychrometrics import rh_after_heating_pct, vapour_concentration_g_m3
from drying.errors import OutOfRangeError
from drying.quantity import Quantity

ROOM = vapour_concentration_g_m3(19.2, 63.0)
HOURS = np.linspace(0, 8, 97)


def air(excess_g_m3, temp_c=60.0, vent=0.1, hours=HOURS):
    full = vapour_concentration_g_m3(temp_c, 100.0)
    rh = 100.0 * (ROOM + np.broadcast_to(excess_g_m3, hours.shape)) / full
    return box_air(hours, np.full(hours.size, temp_c), rh, np.full(hours.size, ROOM), vent)


class Balance(TestCase):
    @given(st.floats(0.5, 30), st.floats(0.02, 2))
    def test_a_steady_excess_carries_out_its_flow_times_the_hours(self, excess, vent):
        found = air(excess, vent=vent)
        self.assertAlmostEqual(found.carried.value, vent * excess * 8, delta=1e-6 * vent * excess * 8 + 1e-9)
        self.assertAlmostEqual(found.carried_g[-1], found.carried.value)
        self.assertTrue(np.all(np.diff(found.carried_g) >= 0))

    def test_over_a_gap_nothing_is_counted_and_the_gap_is_told(self):
        hours = np.delete(HOURS, slice(30, 60))
        found = air(5.0, hours=hours)
        self.assertEqual(len(found.gaps), 1)
        begin, end = found.gaps[0]
        self.assertAlmostEqual(found.carried.value, 0.1 * 5 * (8 - (end - begin)), places=6)

    def test_heating_alone_drops_the_humidity_and_carries_nothing(self):
        temps = np.linspace(19.2, 60, HOURS.size)
        rh = np.array([rh_after_heating_pct(19.2, 63.0, float(t)) for t in temps])
        found = box_air(HOURS, temps, rh, np.full(HOURS.size, ROOM), 0.1)
        self.assertLess(found.rh_now_pct, 0.2 * found.rh_first_pct)
        self.assertAlmostEqual(found.rh_unchanged_pct, found.rh_now_pct, places=6)
        # Water per m³ thins a little as air expands: at 60 °C to 0.88 of the room's.
        self.assertLessEqual(abs(found.carried.value), 2 * found.carried.uncertainty)

    def test_states_tell_no_way_out_from_nothing_left(self):
        rows = ((8.0, 60.0, AirState.LEAVING), (0.0, 60.0, AirState.LEVEL), (-8.0, 60.0, AirState.DRIER))
        for excess, temp_c, state in rows:
            self.assertEqual(air(excess, temp_c).state, state)
        full = vapour_concentration_g_m3(45.0, 100.0)
        self.assertEqual(air(0.95 * full - ROOM, 45.0).state, AirState.NO_WAY_OUT)

    def test_without_a_known_flow_nothing_is_claimed_and_the_scale_can_fit_it(self):
        found = air(6.0, vent=None)
        self.assertIsNone(found.carried)
        self.assertAlmostEqual(vent_from_loss(found, Quantity(4.8, 0.1)).value, 0.1, places=6)
        self.assertIsNone(vent_from_loss(found, Quantity(0.1, 0.1)))
        with self.assertRaises(OutOfRangeError):
            vent_from_loss(air(6.0), Quantity(4.8, 0.1))

    def test_readings_out_of_order_or_too_few_are_refused(self):
        for hours in ([0.0], [0.0, 2.0, 1.0]):
            with self.assertRaisesRegex(OutOfRangeError, "in order of time"):
                box_air(hours, [60.0] * len(hours), [10.0] * len(hours), [8.0] * len(hours), 0.1)

    def test_humidities_a_sensor_overshoots_by_count_as_saturated(self):
        np.testing.assert_allclose(water_g_m3([20, 20], [100, 104]), vapour_concentration_g_m3(20, 100))


class FittedFlow(TestCase):
    def test_it_is_as_sure_as_the_loss_and_the_humidity_together(self):
        found = vent_from_loss(air(6.0, vent=None), Quantity(4.8, 0.6))
        # The loss by 12.5 %, what the meter says of the water in the air by 15 %.
        self.assertAlmostEqual(found.uncertainty / found.value, math.hypot(0.125, 0.15))
