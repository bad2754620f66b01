"""Bodies that share the air of a box: no water is made or lost in a step, and in the end all is in equilibrium."""

from dataclasses import replace
from itertools import product
from unittest import TestCase

import numpy as np

from drying.air import RoomAir, saturated_kg_m3
from drying.dryers.desiccated import _stored
from drying.dryers.together import Together
from drying.materials import equilibrium_moisture_pct, material
from drying.storage import Charge, DesiccantKind
from drying.transport import (
    Filament,
    Segment,
    State,
    advance,
    after_segment,
    even_state,
    mean_moisture_pct,
    stacked,
    strand_density,
    winding_of_mass,
)
from drying.transport.linear import FreeAir
from drying.transport.state import water_kg_m3

ROOM = RoomAir(20.0, 55.0)
STARTS = {"petg": 0.3, "pla": 0.4, "pa6": 2.0, "pva": 3.0}
TEMPS = (52.0, 70.0)
CHARGE = Charge(DesiccantKind.SIEVE, 250.0, 3.0)
COIL_KG = 0.06
COMPANIES = (("petg", "pla"), ("pa6", "pva"), ("pa6", "petg", "pla"), ("petg", "coil of pa6"), ("coil of pla",))


def body(name):
    if name.startswith("coil of "):
        return Filament(material(name.removeprefix("coil of ")), 1.75, None)
    return Filament(material(name), 1.75, winding_of_mass(700.0, material(name).density.value))


def boxes(vent_m3_h):
    return [Segment(9.0, temp_c, ROOM, vent_m3_h) for temp_c in TEMPS]


def lain(filaments):
    """The state of each in both boxes after it has lain a while in drier air."""
    dry = [Segment(3.0, temp_c, RoomAir(temp_c, 4.0)) for temp_c in TEMPS]
    return [[after_segment(f, air, even_state(f, STARTS[f.material.id], air.temp_c)) for f in filaments] for air in dry]


def own_kg(filaments, strand_kg, row):
    """Water in the bodies of a box from each one's own state."""
    return sum(
        kg / strand_density(f) * water_kg_m3(f, state) if f.winding else kg * mean_moisture_pct(f, state) / 100.0
        for f, kg, state in zip(filaments, strand_kg, row, strict=True)
    )


def together(names, vent_m3_h=0.0, charge=None):
    """Bodies in two boxes, and the dry strand of each, kg."""
    filaments = [body(name) for name in names]
    kg = [COIL_KG if f.winding is None else strand_density(f) * f.winding.volume_m3 for f in filaments]
    stored = charge and _stored(charge, np.ones(len(TEMPS)), TEMPS)
    return Together(filaments, boxes(vent_m3_h), np.array([kg] * len(TEMPS)), stored), kg


def lost_kg(there, kg, before, after):
    return np.array(
        [own_kg(there.filaments, kg, a) - own_kg(there.filaments, kg, b) for a, b in zip(before, after, strict=True)]
    )


class Water(TestCase):
    def test_where_the_water_is_can_be_read_back_from_where_all_begins(self):
        for names in COMPANIES:
            there, _ = together(names)
            states = lain(there.filaments)
            for row, was in zip(there.states(there.begun(states)), states, strict=True):
                for found, state in zip(row, was, strict=True):
                    np.testing.assert_allclose(found.gas, state.gas, rtol=1e-9, atol=1e-12)
                    np.testing.assert_allclose(found.strand, state.strand, rtol=1e-9, atol=1e-12)

    def test_what_a_step_takes_from_bodies_is_what_the_flow_carries_off(self):
        for names, hours in product(COMPANIES, (0.02, 0.5, 6.0)):
            with self.subTest(names, hours=hours):
                there, kg = together(names, 0.05)
                states = lain(there.filaments)
                course = there.followed(there.begun(states), [hours])
                lost = lost_kg(there, kg, states, there.states(course))
                flow = 0.05 * np.array([saturated_kg_m3(temp_c) for temp_c in TEMPS])
                incoming = np.array([ROOM.activity_at(temp_c) for temp_c in TEMPS])
                carried = flow * hours * (course.activity[-1] - incoming)
                # What coils with a cubic isotherm hold is sought by a tangent: it balances to Newton's last move.
                tolerance = 1e-6 if "coil of pa6" in names else 1e-12
                np.testing.assert_allclose(lost, carried, atol=tolerance * own_kg(there.filaments, kg, states[0]))
                self.assertGreater(np.abs(lost).min(), 0.0)

    def test_what_bodies_lose_is_what_the_desiccant_and_the_flow_gain(self):
        for names, vent, hours in product(COMPANIES, (0.0, 0.05), (0.1, 2.0, 30.0)):
            with self.subTest(names, vent=vent, hours=hours):
                there, kg = together(names, vent, CHARGE)
                states = lain(there.filaments)
                course = there.followed(there.begun(states, np.full(2, 0.01)), [hours, hours])
                lost = lost_kg(there, kg, states, there.states(course))
                flow = vent * np.array([saturated_kg_m3(temp_c) for temp_c in TEMPS])
                incoming = np.array([ROOM.activity_at(temp_c) for temp_c in TEMPS])
                came = hours * (flow * (incoming - course.activity[1:])).sum(axis=0)
                np.testing.assert_allclose(course.held_kg[-1] - 0.01, lost + came, rtol=1e-9, atol=1e-14)

    def test_in_a_shut_box_they_only_hand_on_to_one_another(self):
        there, kg = together(("pa6", "petg"))
        states = [[even_state(f, pct, t) for f, pct in zip(there.filaments, (3.0, 0.02), strict=True)] for t in TEMPS]
        found = there.states(there.followed(there.begun(states), [5.0]))
        for before, after in zip(states, found, strict=True):
            whole = own_kg(there.filaments, kg, before)
            self.assertAlmostEqual(own_kg(there.filaments, kg, after), whole, delta=1e-12 * whole)
            self.assertGreater(after[1].strand.mean(), before[1].strand.mean())
            self.assertLess(after[0].gas[-1], before[0].gas[-1])


class InAir(TestCase):
    """So much air goes through that it stays as it comes in."""

    def test_windings_of_henrys_law_and_coils_come_to_what_each_comes_to_by_itself(self):
        for activity in (0.0, 0.07, 0.4):
            filaments = [body(name) for name in ("petg", "coil of pla", "coil of pa6", "pla")]
            states = lain(filaments)
            through = [Segment(9.0, t, RoomAir(t, 100.0 * activity), 1e4) for t in TEMPS]
            there = Together(filaments, through, np.array([[1e-9, 1e-9, 1e-9, 1e-9]] * 2))
            found = there.states(there.followed(there.begun(states), [4.0]))
            for b, n in product(range(len(TEMPS)), range(len(filaments))):
                air = replace(through[b], duration_h=4.0, vent_m3_h=None)
                _, end = advance(filaments[n], air, states[b][n], np.empty(0))
                np.testing.assert_allclose(found[b][n].gas, end.gas, atol=1e-7)
                np.testing.assert_allclose(found[b][n].strand, end.strand, atol=1e-7)


class Steps(TestCase):
    def test_half_as_long_they_err_by_two_fifths_at_most(self):
        """A half were first order in time, a quarter second; diffusion from a face lies between. After a first stretch
        in fine steps, so that none meets the abrupt beginning.
        """
        for names, charge in ((("pa6", "petg", "coil of pa6"), CHARGE), (("pa6", "petg"), None)):
            there, _ = together(names, 0.05, charge)
            begun = there.begun(lain(there.filaments), np.full(2, 0.01) if charge else None)
            begun = there.followed(begun, [0.01 * 1.1**k for k in range(50)])
            ends = {}
            for count in (3, 6, 12, 96):
                found = there.states(there.followed(begun, [12.0 / count] * count))
                ends[count] = [
                    [mean_moisture_pct(f, s) for f, s in zip(there.filaments, row, strict=True)] for row in found
                ]
            off = [np.abs(np.subtract(ends[count], ends[96])).max(axis=0) for count in (3, 6, 12)]
            self.assertTrue(np.all(off[1] < 0.4 * off[0]) and np.all(off[2] < 0.4 * off[1]), off)
            self.assertLess(off[0].max(), 1e-3)

    def test_in_how_many_parts_they_are_asked_for_does_not_matter(self):
        there, _ = together(("pa6", "petg"), 0.02)
        begun = there.begun(lain(there.filaments))
        whole = there.followed(begun, [0.1, 0.3, 0.9, 2.0])
        parts = there.followed(there.followed(begun, [0.1]), [0.3, 0.9, 2.0])
        for one, other in zip(whole, parts, strict=True):
            np.testing.assert_array_equal(one, other)

    def test_every_box_is_as_if_it_were_alone(self):
        names, charge = ("pa6", "petg", "coil of pa6"), Charge(DesiccantKind.SILICA_GEL, 100.0, 9.0)
        filaments = [body(name) for name in names]
        kg, states = np.array([[0.7, 0.6, 0.05], [0.3, 0.9, 0.02]]), lain(filaments)
        held, (nodes, stored) = np.array([0.009, 0.004]), _stored(charge, np.ones(2), TEMPS)
        both = Together(filaments, boxes(0.01), kg, (nodes, stored))
        both = both.followed(both.begun(states, held), [0.5, 3.0])
        for b in range(2):
            of = slice(b, b + 1)
            alone = Together(filaments, boxes(0.01)[of], kg[of], (nodes[of], stored[of]))
            alone = alone.followed(alone.begun(states[of], held[of]), [0.5, 3.0])
            np.testing.assert_array_equal(alone.held_kg[:, 0], both.held_kg[:, b])
            np.testing.assert_array_equal(alone.activity[:, 0], both.activity[:, b])
            np.testing.assert_array_equal(alone.strand, both.strand[:, of])

    def test_what_has_no_solution_is_an_error_not_a_number(self):
        for name in ("pa6", "petg", "coil of pa6"):
            there, _ = together((name,), 0.02)
            states = [[State(s.gas * np.nan, s.strand, s.temp_c) for s in row] for row in lain(there.filaments)]
            with self.assertRaises(FloatingPointError):
                there.followed(there.begun(states), [1.0])


class Rest(TestCase):
    def test_in_the_end_all_are_in_equilibrium_with_one_air(self):
        for kind in (DesiccantKind.SIEVE, DesiccantKind.SILICA_GEL):
            charge = Charge(kind, 250.0, 3.0)
            there, _ = together(("pa6", "petg", "coil of pla"), 0.0, charge)
            course = there.begun(lain(there.filaments), np.full(2, charge.load_pct * 2.5e-3))
            course = there.followed(course, [20.0 * 1.5**k for k in range(16)])
            for b, row in enumerate(there.states(course)):
                activity = float(course.activity[-1, b])
                for filament, state in zip(there.filaments, row, strict=True):
                    held = equilibrium_moisture_pct(filament.material, activity)
                    self.assertAlmostEqual(mean_moisture_pct(filament, state), held, delta=0.002 * held)
                load = float(course.held_kg[-1, b]) / 2.5e-3
                said = charge.sorbent.activity_at(load, TEMPS[b])
                self.assertAlmostEqual(activity, said, delta=0.02 * said)

    def test_a_store_keeps_the_air_that_its_isotherm_says(self):
        """Where full air at the strand is more than at the desiccant, it reaches so much less there."""
        for kind, load_pct in product(DesiccantKind, (1.5, 4.0, 9.0)):
            charge, filaments = Charge(kind, 250.0, load_pct), [body("pla")]
            stored = _stored(charge, np.array([1.0, 0.8]), TEMPS)
            there = Together(filaments, boxes(0.0), np.ones((2, 1)), stored)
            [found] = there.begun(lain(filaments), np.full(2, load_pct * 2.5e-3)).activity
            want = [charge.sorbent.activity_at(load_pct, t) for t in TEMPS]
            np.testing.assert_allclose(found, np.minimum([want[0], want[1] / 0.8], 1.0), rtol=0.02, atol=1e-5)

    def test_by_henrys_law_a_winding_at_rest_holds_what_its_isotherm_says(self):
        filament = body("petg")
        air = FreeAir([(filament, 60.0)])
        gas, strand = air.states(np.stack([0.3 * air.at_rest]))
        np.testing.assert_allclose(gas, 0.3, atol=1e-9)
        np.testing.assert_allclose(strand, 0.3 * filament.material.k1.value, atol=1e-9)
        whole = State(np.full(gas.shape[-1], 0.3), strand[0, 0], 60.0)
        water = np.sum(0.3 * air.at_rest * air.water)
        self.assertAlmostEqual(water, water_kg_m3(filament, whole), delta=1e-9 * water)
        self.assertEqual(stacked([whole])[0].shape, gas[0].shape)
