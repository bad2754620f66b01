"""What a run draws and costs, by sums done by hand."""

from dataclasses import replace
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from drying.dryers.dryer import Dryer, DryerKind, Metered, kinds_of_dryer
from drying.dryers.energy import ASSUMED_SHARE, METERED_SHARE, RATED_SHARE, Tariff, mean_power_w
from drying.errors import OutOfRangeError

BOX = Dryer(35, 70, heater_w=100.0)


class Power(TestCase):
    def test_a_meters_run_is_scaled_by_the_warmth_over_the_room(self):
        # 0.6 kWh in 10 h is 60 W for 50 - 20 = 30 degrees over the room: 2 W a degree.
        metered = replace(BOX, metered=Metered(0.6, 10.0, 50.0))
        for room, air, watts in ((20, 50, 60), (20, 65, 90), (10, 50, 80), (30, 50, 40), (50, 50, 0), (55, 50, 0)):
            power = mean_power_w(metered, room, air)
            self.assertAlmostEqual(power.value, watts)
            self.assertAlmostEqual(power.uncertainty, METERED_SHARE * watts)

    def test_a_rating_counts_at_the_dryers_hottest_and_less_below(self):
        # 100 W at 70 °C, 50 degrees over 20: 2 W a degree.
        self.assertAlmostEqual(mean_power_w(BOX, 20, 70).value, 100.0)
        self.assertAlmostEqual(mean_power_w(BOX, 20, 45).value, 50.0)
        self.assertAlmostEqual(mean_power_w(BOX, 20, 45).uncertainty, RATED_SHARE * 50.0)

    def test_an_unknown_heater_is_that_of_its_kind_and_half_as_sure(self):
        usual = kinds_of_dryer()[DryerKind.HEATED_BOX].heater_w
        power = mean_power_w(replace(BOX, heater_w=None), 20, 70)
        self.assertAlmostEqual(power.value, usual)
        self.assertAlmostEqual(power.uncertainty, ASSUMED_SHARE * usual)

    def test_a_dryer_hardly_over_the_room_is_not_divided_by_nothing(self):
        self.assertAlmostEqual(mean_power_w(Dryer(20, 22, heater_w=30.0), 20, 25).value, 15.0)


class Tariffs(TestCase):
    NIGHT = Tariff(0.30, 0.10, 23 * 60, 6 * 60)  # 23:00 to 6:00, over midnight

    def test_minutes_over_midnight_are_counted_once(self):
        for start, hours, minutes in (
            (12 * 60, 4.0, 0),
            (22 * 60, 2.0, 60),
            (23 * 60, 7.0, 420),
            (0, 6.0, 360),
            (5 * 60, 2.0, 60),
            (22 * 60, 24.0, 420),
            (22 * 60, 48.0, 840),
            (23 * 60 + 30, 24.5, 450),
        ):
            self.assertAlmostEqual(self.NIGHT.cheap_minutes(start, hours), minutes, msg=f"{start} {hours}")

    def test_hours_that_do_not_go_over_midnight_too(self):
        noon = Tariff(0.30, 0.10, 11 * 60, 14 * 60)
        self.assertAlmostEqual(noon.cheap_minutes(10 * 60, 3.0), 120)
        self.assertAlmostEqual(noon.cheap_minutes(13 * 60, 24.0), 180)
        self.assertEqual(Tariff(0.30, 0.10, 60, 60).cheap_minutes(0, 24.0), 0)

    def test_energy_is_drawn_evenly_over_the_run(self):
        # Two of four hours at night: 1 kWh at 0.30 and 1 kWh at 0.10.
        self.assertAlmostEqual(self.NIGHT.price(2.0, 21 * 60, 4.0), 0.40)
        self.assertAlmostEqual(self.NIGHT.price(2.0, 23 * 60, 4.0), 0.20)
        self.assertAlmostEqual(Tariff(0.30).price(2.0, 23 * 60, 4.0), 0.60)
        self.assertEqual(self.NIGHT.price(2.0, 0, 0.0), 0.0)

    @given(st.floats(0, 1439), st.floats(0.5, 20))
    def test_no_wait_within_a_day_is_cheaper_than_the_one_that_is_told(self, start, hours):
        wait = self.NIGHT.cheapest_wait_h(start, hours)
        told = self.NIGHT.price(1.0, start + 60 * wait, hours)
        for halves in range(48):
            self.assertGreaterEqual(self.NIGHT.price(1.0, start + 30 * halves, hours), told - 1e-8)
        self.assertEqual(wait * 2, round(wait * 2))

    def test_a_tariff_that_makes_no_sense_is_refused_by_name(self):
        for values, named in (
            ((-0.1,), "day_rate"),
            ((0.3, -0.1), "night_rate"),
            ((0.3, 0.1, -1), "night_from_min"),
            ((0.3, 0.1, 0, 1441), "night_to_min"),
        ):
            with self.assertRaisesRegex(OutOfRangeError, named):
                Tariff(*values)

    def test_a_run_may_wait_for_the_cheap_hours_of_the_next_day_but_no_longer(self):
        # Cheap from 11:30 to 12:00; at 12:00 the next such half hour comes 23.5 h later.
        noon = Tariff(0.30, 0.10, 690, 720)
        self.assertEqual(noon.cheapest_wait_h(720, 0.5), 23.5)
        self.assertEqual(noon.cheapest_wait_h(690, 0.5), 0.0)
        self.assertEqual(Tariff(0.30).cheapest_wait_h(720, 0.5), 0.0)
