"""Dryers in which every turn dries as if it lay free: a blower through the winding, heat under a pump."""

import math
from dataclasses import replace
from unittest import TestCase

import numpy as np
from scipy.special import jn_zeros

from drying.air import RoomAir
from drying.dryers import Dryer, DryerKind, Load, Setup
from drying.materials import empty_spool_kind, material
from drying.quantity import Quantity
from drying.transport import Rate

ROOM = RoomAir(20.0, 60.0)
BOX = Dryer(30.0, 90.0, warm_up_h=0.0, swing_c=0.0)
BLOWER = replace(BOX, kind=DryerKind.FORCED_AIR)
PUMP = replace(BOX, kind=DryerKind.HEATED_VACUUM)
PETG = material("petg")
LOAD = Load(PETG, empty_spool_kind("polystyrene"), 1.75, Quantity(0.3, 0.03), 800.0, rate=Rate(1.0, 0.4))


def crank_left(temp_c: float, hours: float, rate: float) -> float:
    """Share that is left of what will leave a long cylinder of 1.75 mm: J. Crank, The Mathematics of Diffusion, 5.3."""
    alphas = np.asarray(jn_zeros(0, 400))
    diffusivity = PETG.d23.value * math.exp(-PETG.ea.value * 1e3 / 8.314462618 * (1 / (temp_c + 273.15) - 1 / 296.15))
    exponents = alphas**2 * diffusivity * hours * 3600.0 * rate / 0.875e-3**2
    return float(np.sum(4.0 / alphas**2 * np.exp(-exponents)))


class EveryTurnLiesFree(TestCase):
    def test_the_course_is_the_cylinder_s_series_towards_the_dryer_s_own_floor(self):
        carried = 6.112 * math.exp(17.62 * 20.0 / 263.12) / (6.112 * math.exp(17.62 * 65.0 / 308.12))  # Magnus
        for dryer, floor in ((BLOWER, PETG.k1.value * 0.6 * carried), (PUMP, 0.0)):
            setup = Setup((LOAD,), dryer, ROOM)
            for hours in (0.5, 2.0, 6.0):
                expected = floor + (0.3 - floor) * crank_left(65.0, hours, setup.lead.rate.median)
                [[found]] = setup.courses(65.0, [hours])
                self.assertAlmostEqual(found, expected, delta=0.003 * 0.3, msg=f"{dryer.kind} after {hours} h")

    def test_how_heavy_the_spool_is_and_what_else_is_in_changes_nothing(self):
        two = (LOAD, replace(LOAD, start=Quantity(0.6, 0.05)))
        for dryer in (BLOWER, PUMP):
            alone = Setup((LOAD,), dryer, ROOM).courses(60.0, [1.0, 5.0])[0]
            np.testing.assert_allclose(Setup(two, dryer, ROOM).courses(60.0, [1.0, 5.0])[0], alone)
            light = Setup((replace(LOAD, net_g=90.0),), dryer, ROOM).courses(60.0, [1.0, 5.0])[0]
            np.testing.assert_allclose(light, alone)

    def test_it_is_sooner_than_through_a_common_winding_and_a_pump_ends_lower_than_a_blower(self):
        box, blower, pump = (Setup((LOAD,), d, ROOM).courses(65.0, [4.0, 200.0])[0] for d in (BOX, BLOWER, PUMP))
        self.assertLess(blower[0], box[0] - 0.03)
        self.assertLess(pump[1], 1e-4)
        self.assertGreater(blower[1], 0.01)

    def test_a_pump_needs_no_vent_and_a_closed_blower_dries_nothing_for_good(self):
        self.assertEqual(Setup((LOAD,), replace(PUMP, vent_m3_h=0.0), ROOM).floor_pct(LOAD, 65.0), 0.0)
        self.assertEqual(Setup((LOAD,), replace(BLOWER, vent_m3_h=0.0), ROOM).floor_pct(LOAD, 65.0), 0.3)
        self.assertNotIn("vent_m3_h", PUMP.assumed)
        self.assertIn("vent_m3_h", BLOWER.assumed)


class ItsDoubt(TestCase):
    def test_it_is_less_certain_than_a_common_winding_half_as_fast_is_well_inside(self):
        rate = Setup((LOAD,), PUMP, ROOM).lead.rate
        self.assertEqual(rate.median, LOAD.rate.median)
        self.assertGreater(rate.sigma, LOAD.rate.sigma)
        self.assertLess(math.exp(-1.645 * rate.sigma), 0.5)

    def test_the_same_load_in_another_dryer_is_as_it_was(self):
        there_and_back = replace(Setup((LOAD,), PUMP, ROOM), dryer=BOX).lead
        self.assertEqual(there_and_back.filament, LOAD.filament)
        self.assertAlmostEqual(there_and_back.rate.median, LOAD.rate.median)
        self.assertAlmostEqual(there_and_back.rate.sigma, LOAD.rate.sigma)

    def test_a_coil_lies_free_in_any_dryer(self):
        coil = replace(LOAD, form="loose")
        self.assertEqual(Setup((coil,), PUMP, ROOM).lead, coil)
