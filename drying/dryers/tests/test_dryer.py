"""A dryer's timer, reach and fits."""

from dataclasses import replace
from unittest import TestCase

from drying.air import RoomAir
from drying.dryers import calibration_of
from drying.dryers.dryer import HABITS, Dryer, DryerKind, Metered, Misfit, kinds_of_dryer, misfits, turn_over_h
from drying.errors import OutOfRangeError
from drying.materials import material

PLAIN = Dryer(35, 70)
LEVELLED = Dryer(
    40, 62, calibration=calibration_of(
        bed=False, levels=[("mild", 44.0), ("full", 61.0)], pairs=[], offset_c=None, display_sd_c=4.0
    ),
)  # fmt: skip


class TurningOver(TestCase):
    def test_a_spool_is_turned_at_half_time(self):
        self.assertEqual((turn_over_h(9.0), turn_over_h(48.0)), (4.5, 24.0))


class Reach(TestCase):
    def test_the_hottest_it_can_hold_is_a_whole_degree_under_the_ceiling(self):
        for ceiling, hottest in ((66.7, 66), (66.0, 66), (120.0, 70), (35.0, 35), (35.4, 35)):
            self.assertEqual(PLAIN.hottest_c(ceiling), hottest, ceiling)
        self.assertEqual(replace(PLAIN, max_c=64.5).hottest_c(200.0), 64.0)

    def test_with_levels_it_is_the_hottest_level_under_the_ceiling(self):
        for ceiling, hottest in ((200.0, 61.0), (61.0, 61.0), (60.9, 44.0), (44.0, 44.0)):
            self.assertEqual(LEVELLED.hottest_c(ceiling), hottest, ceiling)
        self.assertEqual([LEVELLED.nearest_c(air) for air in (20.0, 52.4, 52.6, 90.0)], [44.0, 44.0, 61.0, 61.0])
        self.assertEqual(PLAIN.nearest_c(52.4), 52.4)

    def test_a_load_that_stands_less_than_the_coolest_is_refused_with_both_numbers(self):
        for dryer, ceiling, least in ((PLAIN, 34.9, "35 °C"), (LEVELLED, 43.0, "44 °C")):
            with self.assertRaisesRegex(OutOfRangeError, least) as refused:
                dryer.hottest_c(ceiling)
            self.assertIn(f"{ceiling:g} °C", str(refused.exception))
            self.assertEqual([p.value for p in refused.exception.parts if not isinstance(p, str)][1], ceiling)

    def test_a_vacuum_pot_heats_nothing(self):
        with self.assertRaisesRegex(OutOfRangeError, "does not heat"):
            Dryer(20, 20, DryerKind.VACUUM).hottest_c(60)

    def test_a_run_warms_up_first_and_then_holds_its_temperature(self):
        room = RoomAir(18.0, 55.0)
        segments = replace(PLAIN, warm_up_h=0.8, swing_c=0.0, vent_m3_h=0.2).segments(material("petg"), room, 60.0, 6.0)
        self.assertAlmostEqual(sum(s.duration_h for s in segments), 6.0)
        self.assertAlmostEqual(sum(s.duration_h for s in segments[:-1]), 0.8)
        temps = [s.temp_c for s in segments]
        self.assertEqual(temps, sorted(temps))
        self.assertTrue(all(18.0 < t < 60.0 for t in temps[:-1]))
        self.assertEqual((temps[-1], {s.vent_m3_h for s in segments}), (60.0, {0.2}))

    def test_a_swinging_thermostat_dries_as_if_a_little_hotter(self):
        room = RoomAir(18.0, 55.0)
        steady = [
            replace(PLAIN, warm_up_h=0.0, swing_c=swing).segments(material("petg"), room, 60.0, 6.0)[-1].temp_c
            for swing in (0.0, 2.0, 6.0)
        ]
        self.assertEqual(steady, sorted(steady))
        self.assertTrue(60.0 == steady[0] < steady[1] < steady[2] < 63.0)


class Facts(TestCase):
    def test_numbers_that_no_dryer_has_are_refused_by_name(self):
        for values, named in (
            ({"max_c": 34}, "max_c"),
            ({"min_c": -1}, "min_c"),
            ({"vent_m3_h": -0.1}, "vent_m3_h"),
            ({"swing_c": -0.1}, "swing_c"),
            ({"timer_max_h": 0.01}, "timer"),
            ({"timer_choices_h": (2.0, 2000.0)}, "timer"),
            ({"slots": 0}, "slots"),
            ({"slots": 501}, "slots"),
            ({"max_width_mm": 5}, "max_width_mm"),
            ({"max_diameter_mm": 2001}, "max_diameter_mm"),
        ):
            with self.subTest(values), self.assertRaisesRegex(OutOfRangeError, named):
                replace(PLAIN, **values)
        for metered, named in (((-1, 5, 50), "kwh"), ((1, 0.01, 50), "metered_h"), ((1, 5, 21), "air_c")):
            with self.subTest(metered), self.assertRaisesRegex(OutOfRangeError, named):
                Metered(*metered)

    def test_what_stands_on_the_heaters_plate_is_taken_to_meet_it_far_hotter_than_the_air(self):
        on_rollers, on_plate = replace(PLAIN, on_plate=False), replace(PLAIN, on_plate=True)
        excess = [it.used("hot_side_excess_c") for it in (PLAIN, on_rollers, on_plate)]
        self.assertEqual(excess, [5.0, 5.0, 18.0])
        self.assertEqual(on_plate.assumed["hot_side_excess_c"], 18.0)
        self.assertEqual(replace(on_plate, kind=DryerKind.LAMP).used("hot_side_excess_c"), 25.0)
        self.assertEqual(replace(on_plate, hot_side_excess_c=7.0).used("hot_side_excess_c"), 7.0)
        self.assertEqual(on_plate.used("swing_c"), PLAIN.used("swing_c"))

    def test_what_is_assumed_is_all_that_is_not_known(self):
        self.assertEqual(set(PLAIN.assumed), set(HABITS))
        own = {name: kinds_of_dryer()[DryerKind.HEATED_BOX].__getattribute__(name) + 0.01 for name in HABITS}
        known = replace(PLAIN, **own)
        self.assertEqual(known.assumed, {})
        for name in HABITS:
            self.assertEqual(known.used(name), own[name])
            self.assertEqual(replace(known, **{name: None}).assumed, {name: PLAIN.used(name)})
        self.assertNotIn("heater_w", replace(PLAIN, metered=Metered(0.5, 8, 55)).assumed)

    def test_a_spool_goes_in_where_it_is_just_as_large_as_a_place(self):
        dryer = replace(PLAIN, max_diameter_mm=205, max_width_mm=70)
        self.assertEqual(misfits(dryer, 205, 70), ())
        both = misfits(dryer, 206, 71)
        self.assertEqual(both, (Misfit("max_diameter_mm", 206, 205), Misfit("max_width_mm", 71, 70)))
        self.assertEqual(misfits(PLAIN, 500, 500), ())
