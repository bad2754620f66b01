"""Dryers side by side, and what another would save, by numbers that can be worked out by hand."""

from dataclasses import replace
from unittest import TestCase

from drying.air import RoomAir
from drying.dryers import ALWAYS, Attended, Dryer, Load, Setup
from drying.materials import empty_spool_kind, material
from drying.planning.best import InDryer, in_dryer_each, saved
from drying.planning.choose import Choice
from drying.quantity import Quantity

BOX = Dryer(35, 70, vent_m3_h=0.3, heater_w=250, timer_max_h=4.0)
NEVER_THERE = Attended(())


def setup(name="petg", pct=0.35, dryer=BOX, **more):
    return Setup(
        (Load(material(name), empty_spool_kind("abs"), 1.75, Quantity(pct, 0.02), 900.0, **more),),
        dryer,
        RoomAir(20, 50),
    )


def done(hours, kwh, fits=True, reaches=True):
    return InDryer(fits, ("usual", Choice(60.0, hours)), reaches, Quantity(kwh, 0.1))


def in_dryer(of, attended):
    [found] = in_dryer_each([of], attended)
    return found


class OneDryer(TestCase):
    def test_energy_is_power_times_hours_and_the_timer_is_set_again_as_often_as_it_runs_out(self):
        found = in_dryer(setup(), ALWAYS)
        _, choice = found.run
        self.assertTrue(found.is_use)
        # 250 W at 70 °C, against 20 °C: 5 W for each degree over the room.
        self.assertAlmostEqual(found.energy_kwh.value, 5.0 * (choice.temp_c - 20.0) * choice.duration_h / 1000.0)
        self.assertEqual(found.restarts, -(-choice.duration_h // 4.0) - 1)
        self.assertEqual(found.at_night, 0)
        self.assertEqual(in_dryer(setup(), NEVER_THERE).at_night, found.restarts)

    def test_a_spool_that_is_too_wide_or_that_no_heat_suits_is_no_use(self):
        wide = in_dryer(setup(dryer=replace(BOX, max_width_mm=40.0), width_mm=70.0), ALWAYS)
        self.assertEqual((wide.fits, wide.reaches, wide.is_use), (False, True, False))
        hot = in_dryer(setup("pla", dryer=Dryer(120, 180)), ALWAYS)
        self.assertEqual((hot.run, hot.is_use), (None, False))

    def test_a_damp_room_that_no_heat_here_beats_does_not_reach(self):
        found = in_dryer(replace(setup("pa6", 2.5, replace(BOX, max_c=45)), room=RoomAir(25, 85)), ALWAYS)
        self.assertFalse(found.reaches)
        self.assertEqual(found.duration_h, float("inf"))


class Another(TestCase):
    def test_hours_and_energy_are_saved_where_it_is_sooner_and_counted_as_often_as_each_is_dried(self):
        own = [[done(10.0, 2.0), done(8.0, 3.0)], [done(6.0, 1.0)]]
        found = saved(own, [done(5.0, 1.5), done(7.0, 0.5)], [4.0, 9.0])
        self.assertEqual(found.hours, 4.0 * (8.0 - 5.0))  # against the soonest; the second spool stays where it is
        self.assertEqual(found.energy_kwh, 4.0 * (3.0 - 1.5))
        self.assertEqual((found.gained, found.runs), ((), 4.0))

    def test_what_only_it_brings_to_its_aim_is_gained_and_saves_no_hours(self):
        own = [[done(10.0, 2.0, reaches=False), done(3.0, 1.0, fits=False)], []]
        found = saved(own, [done(12.0, 2.0), done(5.0, 1.0)], [3.0, 1.0])
        self.assertEqual((found.gained, found.hours, found.energy_kwh, found.runs), ((0, 1), 0.0, 0.0, 4.0))

    def test_one_that_is_no_better_saves_nothing(self):
        found = saved([[done(5.0, 1.0)]], [done(5.0, 0.1)], [10.0])
        self.assertEqual((found.gained, found.hours, found.energy_kwh, found.runs), ((), 0.0, 0.0, 0.0))
        self.assertEqual(saved([[done(5.0, 1.0)]], [InDryer(fits=True)], [10.0]).runs, 0.0)
