"""Hours until a spool is dry, where its course comes near the floor: a little moisture is many hours there."""

from unittest import TestCase, mock

import numpy as np

from drying.air.psychrometrics import RoomAir
from drying.dryers import Dryer, Load, Setup, hours_to, shared_box
from drying.dryers.shared_box import kept_runs
from drying.materials import empty_spool_kind, floor_pct, material
from drying.planning.choose import hours_needed, kept_hours
from drying.quantity import Quantity
from drying.transport import Filament, Segment, course, even_state, grid, winding_of_mass
from tools.peers import bdf

ROOM = RoomAir(21.0, 60.0)


class Hours(TestCase):
    def test_alone_they_are_those_of_a_stiff_integrator_to_two_percent(self):
        """On the same nodes; aims that lie a tenth to a third above the floor."""
        times = np.linspace(0.0, 96.0, 400)
        for name, start, temp_c, vent, above in (("pa6", 3.2, 72.0, 0.3, 0.3), ("pva", 3.0, 60.0, 0.3, 0.1)):
            with self.subTest(name):
                filament = Filament(material(name), 1.75, winding_of_mass(800.0, 1200.0))
                assert filament.winding is not None
                segment = Segment(96.0, temp_c, ROOM, vent)
                aim = floor_pct(filament.material, ROOM, temp_c) * (1.0 + above)
                found = hours_to(aim, times, course(filament, even_state(filament, start, temp_c), [segment], times))
                judge = bdf(filament, start, segment, times, grid(filament.winding), rtol=1e-6)
                self.assertAlmostEqual(found / hours_to(aim, times, judge), 1.0, delta=0.02)

    def test_in_company_they_are_those_of_steps_a_quarter_as_long_to_two_percent(self):
        for loads, temp_c in (([("pa6", 2.0), ("petg", 0.3)], 72.0), ([("pva", 3.0), ("tpu", 0.5)], 60.0)):
            with self.subTest(loads):
                spools = (
                    Load(material(name), empty_spool_kind("abs"), 1.75, Quantity(pct, 0.1), 800.0)
                    for name, pct in loads
                )
                setup = Setup(tuple(spools), Dryer(35.0, 80.0, vent_m3_h=0.5, slots=2), ROOM)
                usual = hours_needed(setup, temp_c)
                for kept in (kept_runs, kept_hours):
                    kept.cache_clear()
                with mock.patch.multiple(shared_box, FIRST_STEP_H=0.01, LONGEST_SHARE=0.06):
                    fine = hours_needed(setup, temp_c)
                for kept in (kept_runs, kept_hours):
                    kept.cache_clear()
                self.assertAlmostEqual(usual / fine, 1.0, delta=0.02)
