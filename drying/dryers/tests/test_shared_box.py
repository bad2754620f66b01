"""Several spools in one box: by symmetry, by limits, and a coil that lies beside them."""

from dataclasses import replace
from itertools import product
from unittest import TestCase, mock

import numpy as np

from drying.air import RoomAir
from drying.dryers import Dryer, DryerKind, Load, Setup, courses_each, courses_of, shared_box
from drying.dryers.shared_box import SharedState, kept_runs, shared_course, shared_courses
from drying.errors import OutOfRangeError
from drying.materials import empty_spool_kind, material
from drying.quantity import Quantity
from drying.storage import Charge, DesiccantKind
from drying.transport import Filament, Segment, course, even_state, winding_of_mass

ROOM = RoomAir(20.0, 55.0)
TIMES = np.linspace(0.5, 16.0, 12)


def spool(name="petg", grams=640.0):
    polymer = material(name)
    return Filament(polymer, 1.75, winding_of_mass(grams, polymer.density.value))


def coil(name="petg"):
    return Filament(material(name), 1.75, None)


def box(vent, hours=16.0):
    return Segment(hours, 62.0, ROOM, vent)


def together(filaments, starts, segment, times=TIMES):
    state = SharedState(tuple(even_state(f, s) for f, s in zip(filaments, starts, strict=True)))
    return shared_course(filaments, state, segment, times)


class Symmetry(TestCase):
    def test_spools_that_are_alike_share_the_flow_evenly(self):
        for count, name, start, flow in product((2, 3), ("petg", "pa6"), (0.35, 0.1), (0.06, 0.6)):
            rows, _ = together([spool(name)] * count, [start] * count, box(flow))
            alone = course(spool(name), even_state(spool(name), start), [box(flow / count)], TIMES)
            for row in rows:
                np.testing.assert_allclose(row, alone, atol=0.0015 * start)

    def test_the_order_in_which_they_stand_does_not_matter(self):
        one, _ = together([spool("petg"), spool("pa6")], [0.3, 2.0], box(0.2))
        other, _ = together([spool("pa6"), spool("petg")], [2.0, 0.3], box(0.2))
        np.testing.assert_allclose(one, other[::-1], atol=1e-9)

    def test_with_plenty_of_air_each_dries_as_if_alone_in_it(self):
        rows, _ = together([spool("petg"), spool("abs")], [0.3, 0.4], box(500.0))
        for row, name, start in zip(rows, ("petg", "abs"), (0.3, 0.4), strict=True):
            alone = course(spool(name), even_state(spool(name), start), [box(None)], TIMES)
            np.testing.assert_allclose(row, alone, atol=0.01 * start)

    def test_a_wet_one_holds_a_drier_one_back(self):
        beside_wet, _ = together([spool("petg"), spool("pa6", 900.0)], [0.3, 3.0], box(0.1))
        beside_dry, _ = together([spool("petg"), spool("pa6", 900.0)], [0.3, 0.3], box(0.1))
        self.assertGreater(beside_wet[0, -1], beside_dry[0, -1])


class Steps(TestCase):
    def test_finer_steps_say_the_same(self):
        companies = {("pa6", "petg"): [2.0, 0.3], ("petg", "pla"): [0.3, 0.4], ("pva", "petg", "tpu"): [3.0, 0.3, 0.5]}
        for (names, starts), flow in product(companies.items(), (0.03, 0.3)):
            filaments = [spool(name) for name in names]
            rows, _ = together(filaments, starts, box(flow))
            kept_runs.cache_clear()
            with mock.patch.multiple(shared_box, FIRST_STEP_H=0.003, LONGEST_SHARE=0.08):
                fine, _ = together(filaments, starts, box(flow))
            kept_runs.cache_clear()
            self.assertLess(np.max(np.abs(rows - fine) / np.array(starts)[:, None]), 0.0025 if flow < 0.1 else 0.001)

    def test_what_was_followed_for_a_shorter_time_before_does_not_show(self):
        load, starts = [spool("pa6"), spool("petg")], [2.0, 0.3]
        kept_runs.cache_clear()
        whole, end = together(load, starts, box(0.1))
        kept_runs.cache_clear()
        for hours in (2.0, 40.0):
            together(load, starts, box(0.1, hours), [1.0])
        again, end_again = together(load, starts, box(0.1))
        np.testing.assert_array_equal(again, whole)
        for one, other in zip(end.spools, end_again.spools, strict=True):
            np.testing.assert_array_equal(one.strand, other.strand)
        warmer, _ = together(load, starts, replace(box(0.1), temp_c=66.0))
        self.assertTrue(np.all(warmer < whole))


class Coils(TestCase):
    def test_a_coil_beside_spools_does_not_wet_the_box(self):
        without, _ = together([spool(), spool("abs")], [0.3, 0.4], box(0.2))
        with_coil, _ = together([spool(), spool("abs"), coil()], [0.3, 0.4, 0.5], box(0.2))
        np.testing.assert_allclose(with_coil[:2], without, atol=1e-6)

    def test_it_dries_as_in_free_air_where_there_is_plenty_of_it(self):
        rows, _ = together([spool(), spool(), coil()], [0.3, 0.3, 0.5], box(500.0))
        free = course(coil(), even_state(coil(), 0.5), [box(None)], TIMES)
        np.testing.assert_allclose(rows[2], free, atol=0.01 * 0.5)
        shut, _ = together([spool(), spool(), coil()], [0.3, 0.3, 0.5], box(0.05))
        self.assertGreater(shut[2, -1], rows[2, -1])


class Parts(TestCase):
    def test_a_run_asked_for_in_parts_is_the_run_in_one(self):
        filaments, starts = [spool("petg"), spool("pa6"), coil("petg")], [0.3, 2.0, 0.4]
        whole, _ = together(filaments, starts, box(0.2))
        first, noon = together(filaments, starts, box(0.2, 7.0), TIMES[TIMES <= 7.0])
        second, _ = shared_course(filaments, noon, box(0.2, 9.0), TIMES[TIMES > 7.0] - 7.0)
        np.testing.assert_allclose(np.hstack([first, second]), whole, atol=2e-3)

    def test_nothing_in_the_box_or_a_state_too_few_is_refused(self):
        for filaments, states in (([], ()), ([spool(), spool()], (even_state(spool(), 0.3),))):
            with self.assertRaisesRegex(OutOfRangeError, "at least one spool"):
                shared_course(filaments, SharedState(states), box(0.2), TIMES)


class SideBySide(TestCase):
    def load(self, name, start_pct):
        return Load(material(name), empty_spool_kind("abs"), 1.75, Quantity(start_pct, 0.0), 800.0)

    def test_set_ups_followed_together_come_to_what_each_comes_to_alone(self):
        # They warm up in unlike numbers of parts; in the last room there is nothing to warm up.
        small, slow = Dryer(35, 75, vent_m3_h=0.05), Dryer(35, 75, vent_m3_h=0.3, warm_up_h=9.0)
        still = Dryer(35, 75, vent_m3_h=0.05, warm_up_h=0.0, swing_c=0.0)
        oven = Dryer(35, 75, kind=DryerKind.OVEN, warm_up_h=0.0)
        damp, hot = RoomAir(20.0, 70.0), RoomAir(40.0, 15.0)
        dryers = [(small, damp, 70.0), (slow, damp, 64.0), (oven, damp, 60.0), (still, hot, 40.0)]
        hours = np.linspace(0.0, 40.0, 30)
        for loads in ([("pa6", 2.0), ("petg", 0.3)], [("petg", 0.3), ("pla", 0.4)], [("pa6", 2.0)], [("petg", 0.3)]):
            with self.subTest(loads):
                load = tuple(self.load(*each) for each in loads)
                runs = [(Setup(load, dryer, room), air_c) for dryer, room, air_c in dryers]
                self.assertGreater(len({len(setup.segments(load[0], air_c, 40.0)) for setup, air_c in runs}), 1)
                at_once = courses_of(runs, hours)
                for n, (setup, air_c) in enumerate(runs):
                    np.testing.assert_allclose(at_once[:, n], setup.courses(air_c, hours), atol=1e-10)

    def test_runs_of_unlike_loads_each_at_its_own_times_come_to_what_each_comes_to_alone(self):
        room, vented = RoomAir(20.0, 60.0), Dryer(35, 75, vent_m3_h=0.05, slots=2)
        shut = replace(vented, vent_m3_h=0.0, desiccant=Charge(DesiccantKind.SILICA_GEL, 150.0, 2.0))
        petg, pla, pa6 = self.load("petg", 0.3), self.load("pla", 0.4), self.load("pa6", 2.0)
        runs = [
            (Setup((petg,), vented, room), 65.0),
            (Setup((petg, pa6), vented, room), 65.0),
            (Setup((pa6,), shut, room), 70.0),
            (Setup((petg,), shut, room), 65.0),
            (Setup((pa6, petg), vented, room), 60.0),
            (Setup((pla,), vented, room), 45.0),
        ]
        times = [np.linspace(0.0, 3.0 + 7.0 * n, 4 + n) for n in range(len(runs))]
        for (alone, air_c), hours, found in zip(runs, times, courses_each(runs, times), strict=True):
            np.testing.assert_allclose(found, alone.courses(air_c, hours), atol=1e-10)
            np.testing.assert_allclose(found[:, 0], [load.start.value for load in alone.loads], rtol=1e-14)

    def test_a_box_that_stands_open_beside_closed_ones_changes_nothing_for_them(self):
        filaments, starts = [spool("petg"), spool("pa6")], [0.3, 2.0]
        state = SharedState(tuple(even_state(f, s) for f, s in zip(filaments, starts, strict=True)))
        boxes = [box(0.2), box(None), box(0.05)]
        at_once = shared_courses(filaments, [state] * 3, boxes, [TIMES] * 3)
        for (rows, _), segment in zip(at_once, boxes, strict=True):
            np.testing.assert_allclose(rows, together(filaments, starts, segment)[0], atol=1e-10)
