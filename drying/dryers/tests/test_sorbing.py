"""Air over desiccant and beside coils: what it takes up, and where all comes to rest."""

from itertools import product
from unittest import TestCase

import numpy as np

from drying.air import Flow, RoomAir
from drying.dryers.sorbing import AirOver, Coils, Store
from drying.dryers.windings import Windings, ahead_of, both_ways, mean_in
from drying.materials import equilibrium_moisture_pct, material
from drying.storage import Charge, DesiccantKind
from drying.transport import Filament, Segment, after_segment, even_state, stacked, winding_of_mass

ROOM = RoomAir(20.0, 60.0)
TEMPS = (55.0, 70.0)
STRAND = tuple(Segment(9.0, temp_c, ROOM, 0.02) for temp_c in TEMPS)
CHARGE = Charge(DesiccantKind.SIEVE, 250.0, 3.0)


def spool(name):
    return Filament(material(name), 1.75, winding_of_mass(700.0, material(name).density.value))


def coils(*names):
    return Coils([Filament(material(name), 1.75, None) for name in names], np.full((2, len(names)), 0.06), TEMPS)


def over(names, held_kg, vent_kg_h=0.0):
    """The air of two boxes with these coils, all begun at 2 %."""
    free = np.full((2, len(names)), 0.5), np.full((2, len(names), 14), 2.0)
    store = Store(CHARGE, np.ones(2), np.array(TEMPS))
    flow = Flow(np.full(2, vent_kg_h), np.array([0.3, 0.2]))
    return AirOver(flow, store, coils(*names), np.full(2, held_kg), free)


def begun(names):
    filaments = [spool(name) for name in names]
    states = [even_state(filament, 1.5, temp_c) for temp_c in TEMPS for filament in filaments]
    windings = Windings(filaments, STRAND)
    return windings, windings.inside(*stacked(states)) if names else windings.nothing


class Balance(TestCase):
    def test_what_windings_coils_and_flow_lose_is_what_the_desiccant_gains(self):
        for wound, free, vent in product((("pa6", "petg"), ("pla",), ()), (("pa6", "petg"), ()), (0.0, 4e-3)):
            if not (wound or free):
                continue
            windings, inside = begun(wound)
            air = over(free, 0.01, vent)
            for hours in (0.1, 2.0, 30.0):
                with self.subTest(wound=wound, free=free, vent=vent, hours=hours):
                    once, half, each = both_ways(windings, air, inside, hours, inside.gas, np.full(2, 0.05))
                    ahead, met = ahead_of(once, half), mean_in(each)
                    lost = windings.water_kg(inside) - windings.water_kg(ahead)
                    after = air.after(lambda lost=lost: lost, hours, met)
                    lost = lost + air.coils.water_kg(air.free) - air.coils.water_kg(after.free)
                    came = vent * hours * (air.flow.incoming - met)
                    np.testing.assert_allclose(after.held_kg, air.held_kg + lost + came, rtol=1e-12)

    def test_at_a_steps_end_the_desiccant_is_in_equilibrium_with_the_air(self):
        windings, inside = begun(("pa6", "petg"))
        air = over(("petg",), 0.01)
        once, _, (activity, _, _) = both_ways(windings, air, inside, 3.0, inside.gas, np.full(2, 0.05))
        after = air.after(lambda: windings.water_kg(inside) - windings.water_kg(once), 3.0, activity)
        for held_kg, temp_c, a in zip(after.held_kg, TEMPS, activity, strict=True):
            load_pct = 100.0 * held_kg / (CHARGE.dry_g / 1000.0)
            self.assertAlmostEqual(CHARGE.sorbent.activity_at(float(load_pct), temp_c), a, delta=0.01 * a)


class Rest(TestCase):
    def test_in_the_end_coils_hold_what_their_isotherms_say_of_the_air(self):
        windings, inside = begun(())
        names, activity = ("pa6", "petg"), np.full(2, 0.05)
        air = over(names, 0.004)
        for _ in range(6):
            _, _, (activity, _, _) = both_ways(windings, air, inside, 5e4, inside.gas, activity)
            air = air.after(lambda: np.zeros(2), 5e4, activity)
        for k, name in enumerate(names):
            for b, a in enumerate(activity):
                held = equilibrium_moisture_pct(material(name), float(a))
                np.testing.assert_allclose(air.free[1][b, k], held, rtol=1e-6)


class Parts(TestCase):
    def test_a_store_keeps_the_air_that_its_isotherm_says(self):
        for kind, load_pct in product(DesiccantKind, (1.5, 4.0, 9.0)):
            charge = Charge(kind, 250.0, load_pct)
            store = Store(charge, np.array([1.0, 0.8]), np.array(TEMPS))
            found = store.where(np.full(2, load_pct * 2.5e-3), np.zeros(2))
            want = [charge.sorbent.activity_at(load_pct, t) for t in TEMPS]
            np.testing.assert_allclose(found, np.minimum([want[0], want[1] / 0.8], 1.0), rtol=0.02, atol=1e-5)

    def test_coils_go_through_a_step_as_by_the_transport_of_one(self):
        for name in ("pa6", "petg"):
            filament = Filament(material(name), 1.75, None)
            air = over((name,), 0.01)
            gas, strand = air.coils.after(air.free, 1.5, np.array([0.1, 0.3]))
            for b, (temp_c, activity) in enumerate(zip(TEMPS, (0.1, 0.3), strict=True)):
                met = Segment(1.5, temp_c, RoomAir(temp_c, 100.0 * activity))
                end = after_segment(filament, met, even_state(filament, 2.0, temp_c))
                np.testing.assert_allclose(strand[b, 0], end.strand[0], rtol=1e-10)
                self.assertAlmostEqual(gas[b, 0], end.gas[0], places=12)
