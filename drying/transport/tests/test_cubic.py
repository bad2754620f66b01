"""Steps of windings whose isotherm is cubic: what a step takes from them is what the air carries off."""

from dataclasses import replace
from itertools import pairwise
from unittest import TestCase, mock

import numpy as np

from drying.air.psychrometrics import RoomAir
from drying.materials.properties import material
from drying.transport import cubic
from drying.transport.cubic import Conditions, knots_h, stacked, water_in
from drying.transport.solve import course, end_states, follow
from drying.transport.state import Filament, Segment, even_state, resumed, saved
from drying.transport.winding import winding_of_mass

ROOM = RoomAir(21.0, 60.0)


def winding(name, grams):
    return Filament(material(name), 1.75, winding_of_mass(grams, 1200.0))


class Balance(TestCase):
    def test_a_step_takes_from_a_winding_what_the_exchange_flow_carries_off(self):
        """Also where one has settled after one of Newton's moves and the one beside it needs more."""
        cases = [
            (winding("pa6", 700.0), Segment(9.0, 80.0, ROOM, 0.1), 6.0),
            (winding("pva", 400.0), Segment(9.0, 55.0, ROOM, 0.03), 3.0),
            (winding("pa6", 250.0), Segment(9.0, 45.0, RoomAir(45.0, 9.0), 0.3), 0.38),
        ]
        conditions = Conditions([(filament, segment) for filament, segment, _ in cases])
        gas, strand = stacked([even_state(filament, pct, segment.temp_c) for filament, segment, pct in cases])
        slot = conditions.slots.water(gas)
        was = water_in(conditions, slot, strand)
        for hours in (0.03, 0.5, 6.0):
            with self.subTest(hours=hours):
                now, face, after = conditions.euler(slot, strand, conditions.stride(hours), gas)
                flow = conditions.face[:, -1] * 3600.0 * hours
                carried = flow * (face[:, -1] - conditions.activity[:, 0])
                np.testing.assert_allclose(was - water_in(conditions, now, after), carried, atol=1e-13 * was.max())
                self.assertGreater(carried[0], 0.0)


class Steps(TestCase):
    def test_they_begin_evenly_in_the_root_of_time_and_are_no_longer_than_a_share_of_it(self):
        knots = np.array(knots_h(0.04, 0.25, 0.0, 100.0))
        np.testing.assert_allclose(np.sqrt(knots[:10]), 0.2 * np.arange(10.0), atol=1e-12)
        np.testing.assert_allclose([end / begin for begin, end in pairwise(knots[9:])], 1.25, atol=1e-12)
        self.assertLess(knots[-2], 100.0)
        self.assertGreaterEqual(knots[-1], 100.0)

    def test_there_are_four_at_least_and_longer_courses_have_the_same(self):
        self.assertEqual(knots_h(0.04, 0.25, 0.0, 0.01), knots_h(0.04, 0.25, 0.0, 100.0)[:4])
        self.assertEqual(knots_h(0.04, 0.25, 0.0, 0.9), knots_h(0.04, 0.25, 0.0, 100.0)[:6])

    def test_by_a_clock_that_runs_they_go_on_as_long_as_they_have_become(self):
        np.testing.assert_allclose(np.diff(knots_h(0.08, 0.3, 20.0, 10.0)), 6.0 * 1.3 ** np.arange(3.0), atol=1e-12)

    def test_no_time_hangs_on_what_is_asked_for_after_it(self):
        """Just before a knot, just after it, and on it."""
        body, start = winding("pa6", 800.0), even_state(winding("pa6", 800.0), 2.0)
        knots = np.array(knots_h(cubic.FIRST_STEP_H, cubic.LONGEST_SHARE, 0.0, 5.0))
        for time_h in (*(knots[3:] - 1e-6), *knots[1:], *(knots[1:] + 1e-6)):
            short, long = (course(body, start, [Segment(h, 70.0, ROOM, 0.1)], [time_h])[0] for h in (time_h, 60.0))
            self.assertAlmostEqual(short, long, delta=1e-12, msg=f"{time_h}")

    def test_finer_ones_say_the_same(self):
        """From the first minutes on, also where the air changes at once."""
        times = np.concatenate([[0.02, 0.05], np.linspace(0.1, 6.0, 30), np.linspace(7.0, 48.0, 30)])
        for name, start, temp_c, vent in (("pa6", 2.0, 70.0, 0.05), ("pva", 3.0, 55.0, 0.3), ("pva", 3.0, 25.0, None)):
            with self.subTest(name=name, vent=vent):
                run = winding(name, 800.0), even_state(winding(name, 800.0), start), [Segment(48.0, temp_c, ROOM, vent)]
                usual = course(*run, times)
                with mock.patch.multiple(cubic, FIRST_STEP_H=0.004, LONGEST_SHARE=0.1):
                    fine = course(*run, times)
                np.testing.assert_allclose(usual, fine, atol=0.002 * start)
                np.testing.assert_allclose(usual[:3], fine[:3], atol=0.002 * start)


class AirThatGoesOn(TestCase):
    """Free air that grows drier piece by piece, as over desiccant."""

    def setUp(self):
        self.body = winding("pa6", 800.0)
        self.start = even_state(self.body, 2.0, 70.0)
        self.pieces = [
            Segment(max(0.5, 2.0**k / 2.0), 70.0, RoomAir(70.0, 2.0 + 6.0 * 0.7**k), goes_on=k > 0) for k in range(8)
        ]
        self.times = np.linspace(0.1, 64.0, 50)

    def followed(self, pieces):
        with mock.patch.object(Conditions, "step", autospec=True, side_effect=Conditions.step) as step:
            return course(self.body, self.start, pieces, self.times), step.call_count

    def test_is_followed_in_a_third_of_the_steps_as_exactly(self):
        on, few = self.followed(self.pieces)
        jumps = [replace(piece, goes_on=False) for piece in self.pieces]
        anew, many = self.followed(jumps)
        with mock.patch.multiple(cubic, FIRST_STEP_H=0.004, LONGEST_SHARE=0.05):
            fine, _ = self.followed(jumps)
        self.assertLess(few, 0.5 * many)
        self.assertGreater(few, 20)
        for found in (on, anew):
            np.testing.assert_allclose(found, fine, atol=0.002 * 2.0)

    def test_a_state_that_was_saved_on_the_way_knows_its_clock(self):
        half = end_states([(self.body, self.start, self.pieces[:5])])[0]
        self.assertEqual(half.clock_h, sum(piece.duration_h for piece in self.pieces[:5]))
        on, again = (follow(self.body, state, self.pieces[5:]) for state in (half, resumed(saved(half))))
        np.testing.assert_array_equal(on.strand, again.strand)
        whole = follow(self.body, self.start, self.pieces)
        np.testing.assert_array_equal(on.strand, whole.strand)

    def test_another_temperature_is_a_jump(self):
        warmer = [*self.pieces[:4], *(replace(piece, temp_c=80.0) for piece in self.pieces[4:])]
        jump = [*warmer[:4], replace(warmer[4], goes_on=False), *warmer[5:]]
        np.testing.assert_array_equal(self.followed(warmer)[0], self.followed(jump)[0])
