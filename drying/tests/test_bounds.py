"""Bounds of what the core takes: the edge itself is fine, a hair beyond it is refused by the field's name."""

import math
from dataclasses import replace
from unittest import TestCase

from drying.air import RoomAir
from drying.air.box_air import box_air
from drying.dryers import Dryer, MakersSheet, Tariff
from drying.errors import OutOfRangeError
from drying.materials.own_values import BOUNDS
from drying.transport import Segment, Winding
from drying.transport.heat import warmed_up
from drying.weighing import Scale

ROOM = RoomAir(20.0, 50.0)
STEADY = Segment(6.0, 60.0, ROOM, 0.1)


def sheet(temp_c=60.0, hours=8.0):
    return MakersSheet(temp_c, hours)


def winding(**values):
    return replace(Winding(), **values)


def night(to_min=0, from_min=0, rate=0.1, day=0.3):
    return Tariff(day, rate, from_min, to_min)


# what is made of the number, its name, the least and the most that it may be
EDGES = (
    (Scale, "resolution_g", 1e-6, 100.0),
    (lambda x: Scale(0.1, x), "repeatability_g", 0.0, 100.0),
    (lambda x: Scale(0.1, 0.0, x), "drift_g", 0.0, 100.0),
    (sheet, "sheet_temp_c", 20.0, 200.0),
    (lambda x: sheet(hours=x), "sheet_hours", 0.25, 400.0),
    (lambda x: winding(tortuosity=x), "tortuosity", 1.0, 20.0),
    (lambda x: winding(gap_share=x), "gap_share", 0.01, 0.9),
    (lambda x: winding(width_mm=x), "width_mm", 1.0, 1000.0),
    (lambda x: night(day=x), "day_rate", 0.0, 1e5),
    (lambda x: night(rate=x), "night_rate", 0.0, 1e5),
    (lambda x: night(from_min=x), "night_from_min", 0, 1440),
    (lambda x: night(to_min=x), "night_to_min", 0, 1440),
    (lambda x: warmed_up(STEADY, 20.0, x), "warm_up_h", 0.0, 6.0),
    (lambda x: Segment(x, 60.0, ROOM), "duration_h", 0.0, 1e6),
    (lambda x: Segment(1.0, x, ROOM), "temp_c", -40.0, 200.0),
    (lambda x: Segment(1.0, 60.0, ROOM, x), "vent_m3_h", 0.0, 1e4),
    (lambda x: RoomAir(x, 50.0), "temp_c", -40.0, 200.0),
    (lambda x: RoomAir(20.0, x), "rh_pct", 0.0, 100.0),
    (lambda x: Dryer(x, 200.0), "min_c", 0.0, 200.0),
    (lambda x: Dryer(35, 65, slots=x), "slots", 1, 500),
    (lambda x: Dryer(35, 65, max_width_mm=x), "max_width_mm", 10.0, 2000.0),
    (lambda x: Dryer(35, 65, timer_max_h=x), "timer", 0.05, 1000.0),
)


class Edges(TestCase):
    def test_the_edge_is_taken_and_a_hair_beyond_is_refused_by_its_name(self):
        for make, name, least, most in EDGES:
            for edge, beyond in ((least, -math.inf), (most, math.inf)):
                with self.subTest(name, edge=edge):
                    make(edge)
                    with self.assertRaises(OutOfRangeError) as refused:
                        make(math.nextafter(edge, beyond) if edge else math.copysign(1e-9, beyond))
                    self.assertEqual(refused.exception.name, name)

    def test_what_may_be_typed_of_a_material_is_wide_and_has_these_edges(self):
        # Tg from silicone-like rubbers (-125 °C) to polyimides (390 °C); nothing prints outside.
        self.assertEqual(BOUNDS["tg"], (-150.0, 400.0))
        self.assertEqual((BOUNDS["d23"], BOUNDS["ea"]), ((1e-16, 1e-9), (5.0, 150.0)))

    def test_two_readings_of_the_box_air_are_enough_and_one_is_not(self):
        found = box_air([0.0, 1.0], [50.0, 50.0], [20.0, 20.0], [5.0, 5.0], 0.1)
        # 20 % at 50 °C is 16.6 g/m³ by the tables of saturated steam; over 5 g/m³, for an hour, through 0.1 m³/h.
        self.assertAlmostEqual(found.carried.value, 0.1 * (16.6 - 5.0), delta=0.01)
        with self.assertRaises(OutOfRangeError):
            box_air([0.0], [50.0], [20.0], [5.0], 0.1)

    def test_a_dryer_without_probe_pairs_gives_what_it_shows_within_a_typed_offset_and_a_probe(self):
        setting = Dryer(35, 65).calibration.setting(60.0, 20.0)
        self.assertEqual((setting.set_c, setting.air.value), (60.0, 60.0))
        self.assertAlmostEqual(setting.air.uncertainty, math.hypot(1.5, 0.7))
