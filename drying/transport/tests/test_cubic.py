"""Steps of windings whose isotherm is cubic: what a step takes from them is what the air carries off."""

from unittest import TestCase

import numpy as np

from drying.air.psychrometrics import RoomAir
from drying.materials.properties import material
from drying.transport.cubic import Conditions, stacked, water_in
from drying.transport.state import Filament, Segment, even_state
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
                now, face, after = conditions.euler(slot, strand, hours, gas)
                flow = conditions.face[:, -1] * 3600.0 * hours
                carried = flow * (face[:, -1] - conditions.activity[:, 0])
                np.testing.assert_allclose(was - water_in(conditions, now, after), carried, atol=1e-13 * was.max())
                self.assertGreater(carried[0], 0.0)
