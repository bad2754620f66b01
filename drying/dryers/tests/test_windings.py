"""Windings in boxes: no water is made or lost in a step, and amplitudes say what gas and strand say."""

from dataclasses import replace
from unittest import TestCase

import numpy as np

from drying.air import Flow, RoomAir
from drying.dryers.windings import Windings, stepped
from drying.materials import material
from drying.transport import Filament, Segment, State, advance, even_state, stacked, winding_of_mass
from drying.transport.linear import FreeAir
from drying.transport.state import water_kg_m3

ROOM = RoomAir(20.0, 55.0)
STARTS = {"petg": 0.3, "pla": 0.4, "pa6": 2.0, "pva": 3.0}
COMPANIES = (("petg", "pla"), ("pa6", "pva"), ("pa6", "petg", "pla"))
WARM = (Segment(9.0, 52.0, ROOM, 0.1), Segment(9.0, 70.0, ROOM, 0.1))


def spool(name, grams=700.0):
    polymer = material(name)
    return Filament(polymer, 1.75, winding_of_mass(grams, polymer.density.value))


def begun(names):
    """Windings in two boxes of unlike warmth, and what is in them once they have lain a while in drier air."""
    filaments = [spool(name) for name in names]
    states = []
    for segment in WARM:
        dry = replace(segment, duration_h=3.0, vent_m3_h=None, room=RoomAir(segment.temp_c, 4.0))
        states += [
            advance(f, dry, even_state(f, STARTS[f.material.id], segment.temp_c), np.empty(0))[1] for f in filaments
        ]
    windings = Windings(filaments, WARM)
    return filaments, states, windings, windings.inside(*stacked(states))


def own_kg(filaments, states):
    """Water in the windings of each box from each one's own state."""
    each = [water_kg_m3(f, s) * f.winding.volume_m3 for f, s in zip(filaments * len(WARM), states, strict=True)]
    return np.sum(np.reshape(each, (len(WARM), -1)), axis=1)


class Water(TestCase):
    def test_what_is_in_them_is_what_their_states_hold(self):
        for names in COMPANIES:
            filaments, states, windings, inside = begun(names)
            np.testing.assert_allclose(windings.water_kg(inside), own_kg(filaments, states), rtol=1e-11)

    def test_amplitudes_are_the_states_written_otherwise(self):
        for names in COMPANIES:
            _, states, windings, inside = begun(names)
            for found, was in zip(windings.arrays([inside]), stacked(states), strict=True):
                np.testing.assert_allclose(found[0], was, rtol=1e-9, atol=1e-12)

    def test_what_a_step_takes_from_them_is_what_the_flow_carries_off(self):
        flow = Flow(np.array([2e-3, 9e-3]), np.array([0.01, 0.02]))
        for names in COMPANIES:
            for hours in (0.02, 0.5, 6.0):
                with self.subTest(names, hours=hours):
                    _, _, windings, inside = begun(names)
                    ahead, activity = stepped(windings, flow, inside, hours, inside.gas, np.array([0.3, 0.9]))
                    lost = windings.water_kg(inside) - windings.water_kg(ahead)
                    carried = flow.kg_h * hours * (activity - flow.incoming)
                    np.testing.assert_allclose(lost, carried, atol=1e-12 * windings.water_kg(inside).max())
                    self.assertGreater(lost.min(), 0.0)

    def test_in_a_shut_box_they_only_hand_on_to_one_another(self):
        shut = Flow(np.zeros(2), np.zeros(2))
        filaments = [spool("pa6"), spool("petg")]
        states = [even_state(f, pct, s.temp_c) for s in WARM for f, pct in zip(filaments, (3.0, 0.02), strict=True)]
        windings = Windings(filaments, WARM)
        inside = windings.inside(*stacked(states))
        ahead, _ = stepped(windings, shut, inside, 5.0, inside.gas, np.array([0.5, 0.5]))
        np.testing.assert_allclose(windings.water_kg(ahead), windings.water_kg(inside), rtol=1e-12)
        gas, strand = windings.arrays([inside, ahead])
        self.assertTrue(np.all(strand[1, 1::2].mean(axis=(1, 2)) > strand[0, 1::2].mean(axis=(1, 2))))
        self.assertTrue(np.all(gas[1, ::2, -1] < gas[0, ::2, -1]))


class InAir(TestCase):
    def test_by_henrys_law_they_come_to_what_each_comes_to_by_itself(self):
        """In air that stays, as so much of it goes through."""
        filaments, states, windings, inside = begun(("petg", "pla"))
        for activity in (0.0, 0.07, 0.4):
            flow = Flow(np.full(2, 1e12), np.full(2, activity))
            ahead, _ = stepped(windings, flow, inside, 4.0, inside.gas, np.full(2, 0.2))
            [gas], [strand] = windings.arrays([ahead])
            for n, (filament, state) in enumerate(zip(filaments * 2, states, strict=True)):
                air = RoomAir(state.temp_c, 100.0 * activity)
                _, end = advance(filament, Segment(4.0, state.temp_c, air), state, np.empty(0))
                np.testing.assert_allclose(gas[n], end.gas, atol=1e-11)
                np.testing.assert_allclose(strand[n], end.strand, atol=1e-11)


class Free(TestCase):
    def test_at_rest_a_winding_holds_what_its_isotherm_says(self):
        filament = spool("petg")
        air = FreeAir([(filament, 60.0)])
        gas, strand = air.states(np.stack([0.3 * air.at_rest]))
        np.testing.assert_allclose(gas, 0.3, atol=1e-9)
        np.testing.assert_allclose(strand, 0.3 * filament.material.k1.value, atol=1e-9)
        whole = State(np.full(gas.shape[-1], 0.3), strand[0, 0], 60.0)
        np.testing.assert_allclose(air.water_kg_m3(0.3 * air.at_rest), water_kg_m3(filament, whole), rtol=1e-9)
