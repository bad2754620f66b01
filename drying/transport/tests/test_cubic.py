"""Steps of windings whose isotherm is cubic: what a step takes from them is what the air carries off."""

from dataclasses import replace
from itertools import pairwise
from unittest import TestCase, mock

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from scipy.integrate import simpson

from drying.air.psychrometrics import RoomAir
from drying.materials.properties import material
from drying.transport import cubic, linear
from drying.transport.cubic import Conditions, four_knots, knots_h, stacked
from drying.transport.euler import beside_air, stride_of
from drying.transport.solve import course, end_states, follow
from drying.transport.state import STRAND_WEIGHTS, Filament, Segment, even_state, resumed, saved
from drying.transport.winding import winding_of_mass
from drying.transport.wound import one_of

ROOM = RoomAir(21.0, 60.0)


def winding(name, grams):
    return Filament(material(name), 1.75, winding_of_mass(grams, 1200.0))


def water_in(conditions, slot, strand):
    """All water in each winding, kg per m³ of it."""
    return np.sum(conditions.stays.mass * (slot + conditions.slots.density * (strand @ STRAND_WEIGHTS)), axis=1)


class Balance(TestCase):
    def test_what_it_loses_is_what_the_exchange_flow_carries_off(self):
        """By Simpson's rule from the gas at the face, after the first steep minutes."""
        cases = [
            (winding("pa6", 700.0), Segment(9.0, 80.0, ROOM, 0.1), 6.0),
            (winding("pva", 400.0), Segment(9.0, 55.0, ROOM, 0.03), 3.0),
            (winding("pa6", 250.0), Segment(9.0, 45.0, RoomAir(45.0, 9.0), 0.3), 0.38),
        ]
        conditions = Conditions([(filament, segment) for filament, segment, _ in cases])
        begin = stacked([even_state(filament, pct, segment.temp_c) for filament, segment, pct in cases])
        seconds = np.full((500, len(cases)), 90.0)
        slot, gas, strand = conditions.followed(*begin, seconds)
        water = np.array([water_in(conditions, *of) for of in zip(slot, strand, strict=True)])
        face, air = conditions.stays.numbers[:, 5:].T
        carried = simpson(face * (gas[20:, :, -1] - air), dx=90.0, axis=0)
        np.testing.assert_allclose(water[20] - water[-1], carried, rtol=1e-5)
        self.assertGreater(carried.min() / water.max(), 0.0001)

    def test_a_sealed_one_keeps_all_its_water_however_it_moves_within(self):
        """Through steps of minutes to days, from a wet hub, and gas that is nowhere in equilibrium with its strand."""
        wound = winding("pa6", 700.0)
        conditions = Conditions([(wound, Segment(9.0, 70.0, ROOM, 0.0))])
        gas, strand = stacked([even_state(wound, 3.0, 70.0)])
        gas, strand = gas * np.linspace(0.2, 1.3, gas.shape[1]), strand * np.linspace(1.5, 0.5, gas.shape[1])[:, None]
        slot, _, modes = conditions.followed(gas, strand, np.array([[60.0], [3600.0], [1e5], [1e6]]))
        water = [water_in(conditions, *of)[0] for of in zip(slot, modes, strict=True)]
        np.testing.assert_allclose(water, water[0], rtol=1e-12)
        self.assertGreater(np.abs(modes[-1] - modes[0]).max(), 0.1)

    def test_a_move_beside_air_is_what_a_whole_system_with_the_air_in_it_gives(self):
        """Solved at once by NumPy: nodes, and the face at the air, whose balance is the last row."""
        wound, seconds = winding("pva", 500.0), 900.0
        conditions = Conditions([(wound, Segment(1.0, 50.0, RoomAir(50.0, 10.0)))])
        gas, strand = stacked([even_state(wound, 4.0, 50.0)])
        gas = gas * np.linspace(1.05, 0.7, gas.shape[1])
        slot = conditions.slots.water(gas)
        stays, rate = conditions.stays, conditions.stays.rate[0]
        (dry, unit), given = np.empty((2, gas.shape[1] - 1)), np.empty(2)
        one = one_of(stays, 0)
        self.assertTrue(beside_air(one, stride_of(one, seconds), slot[0], strand[0], gas[0], dry, unit, given))
        gaps, density, rest, k1, k3 = stays.numbers[0, :5]
        share = STRAND_WEIGHTS * (1.0 - np.exp(-rate * seconds))
        held = density * share.sum() + rest
        bend = stays.mass[0] * held * k3 * gas[0] ** 2
        system = seconds * stays.transport[0] + np.diag(stays.mass[0] * (gaps + held * k1) + 3.0 * bend)
        right = stays.mass[0] * (slot[0] + density * strand[0] @ share) + 2.0 * bend * gas[0]
        air = 0.3  # the face at this, and what flows out there is what the last row lacks
        within = np.linalg.solve(system[:-1, :-1], right[:-1] - system[:-1, -1] * air)
        np.testing.assert_allclose(dry + unit * air, within, rtol=1e-12)
        flows = right[-1] - system[-1] @ np.append(within, air)
        self.assertAlmostEqual(given[0] - given[1] * (air - gas[0, -1]), flows, delta=1e-9 * abs(flows))

    def test_what_cannot_be_solved_is_an_error_not_a_number(self):
        wound = winding("pa6", 700.0)
        conditions = Conditions([(wound, Segment(9.0, 70.0, ROOM, 0.1))])
        gas, strand = stacked([even_state(wound, 3.0, 70.0)])
        with self.assertRaises(FloatingPointError):
            conditions.followed(gas * np.nan, strand, np.array([[60.0]]))


class Exactness(TestCase):
    def test_a_straight_isotherm_gives_the_courses_of_henrys_law(self):
        """These come from exponentials, see `linear`."""
        times = np.array([0.3, 1.0, 4.0, 12.0, 24.0])
        for vent in (None, 0.0, 0.05, 1.0):
            with self.subTest(vent=vent):
                wound, segment = winding("petg", 600.0), Segment(24.0, 65.0, ROOM, vent)
                state = even_state(wound, 0.4, 40.0)
                case, start = [(wound, segment, state)], float(course(wound, state, [segment], [0.0])[0])
                [(stepped, end)] = cubic.advance(case, [times])
                [(exact, exact_end)] = linear.advance([(wound, [segment], state)], [times])
                np.testing.assert_allclose(stepped, exact, atol=0.001 * start)
                np.testing.assert_allclose(end.strand, exact_end.strand, atol=0.0002 * start)
                np.testing.assert_allclose(end.gas, exact_end.gas, atol=0.0002 * state.gas[0])

    def test_halving_the_steps_leaves_an_eighth_of_what_they_err_by(self):
        """They are of third order, where nothing has changed abruptly."""
        wound = winding("pa6", 700.0)
        conditions = Conditions([(wound, Segment(9.0, 70.0, ROOM, 0.0))])
        gas, strand = stacked([even_state(wound, 2.0, 70.0)])
        wet_hub = np.linspace(1.5, 0.5, gas.shape[1])
        _, gas, strand = conditions.followed(gas * wet_hub, strand * wet_hub[:, None], np.full((400, 1), 500.0))

        def end(steps):
            return conditions.followed(gas[-1], strand[-1], np.full((steps, 1), 80000.0 / steps))[2][-1]

        exact = end(1280)
        errors = [np.abs(end(steps) - exact).max() for steps in (20, 40, 80)]
        for coarse, fine in pairwise(errors):
            self.assertAlmostEqual(coarse / fine, 8.0, delta=1.0)

    def test_an_abrupt_change_is_taken_in_small_steps(self):
        """Some rounds of wet PVA in a strong flow: their face dries within a minute. At the first knots."""
        body = winding("pva", 90.0)
        run = body, even_state(body, 1.9), [Segment(2.0, 53.0, ROOM, 1.0)], knots_h(0.08, 0.3, 0.0, 1.0)[1:]
        usual = course(*run)
        with mock.patch.multiple(cubic, FIRST_STEP_H=0.001, LONGEST_SHARE=0.1):
            fine = course(*run)
        np.testing.assert_allclose(usual, fine, atol=0.0008 * 1.9)


class Steps(TestCase):
    @given(st.lists(st.floats(-3.0, 3.0), min_size=4, max_size=4), st.floats(0.0, 40.0), st.integers(4, 12))
    def test_between_them_a_cubic_in_the_root_of_time_is_met_exactly(self, parts, time_h, count):
        knots = np.array(knots_h(0.08, 0.3, 0.0, 0.0, least=count))
        time_h = min(time_h, float(knots[-1]))
        (rows,), (weights,) = four_knots(knots, np.array([time_h]))
        found = weights @ np.polyval(parts, np.sqrt(knots[rows]))
        self.assertAlmostEqual(found, np.polyval(parts, np.sqrt(time_h)), delta=1e-9)
        self.assertLessEqual(time_h, knots[rows[-1]])

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
        with mock.patch.object(Conditions, "followed", autospec=True, side_effect=Conditions.followed) as followed:
            found = course(self.body, self.start, pieces, self.times)
        return found, sum(len(call.args[3]) for call in followed.call_args_list)

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
