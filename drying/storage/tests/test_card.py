"""Card bodies in containers: a second store of water, against a stiff integrator and by what cannot be made or lost."""

import math
from dataclasses import replace
from unittest import TestCase

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.integrate import solve_ivp
from scipy.optimize import brentq

from drying.air.psychrometrics import vapour_concentration_g_m3
from drying.materials import empty_spool_kind, held_pct, material
from drying.moisture.tests.test_history import DRY_G, kept
from drying.storage.balance import Hours, Inside, follow_hours
from drying.storage.card import CardBody, in_air_of
from drying.storage.container import AWAY, OPEN, Container, Fill
from drying.storage.desiccant import DesiccantKind, desiccant

CARD = empty_spool_kind("card")
TEMP_C = 23.0  # the isotherm's own
FULL = vapour_concentration_g_m3(TEMP_C, 100.0)
# As paperboard's isotherm has it: 3 % at 10 % RH, 7 % at 50 %, 11 % at 75 %, straight between.
ISOTHERM = ((0.0, 10.0, 50.0, 75.0, 100.0), (0.0, 3.0, 7.0, 11.0, 15.0))


def card(held_pct, mass_g=180.0):
    return CardBody(CARD, mass_g, held_pct)


def holds(activity):
    return np.interp(100.0 * np.asarray(activity), *ISOTHERM)


def followed(spool, box, activity, hours, room=0.6, place=0):
    return follow_hours(
        [spool], np.full((1, hours), place), [box], [Inside(activity)],
        Hours(np.full(hours, TEMP_C), np.full(hours, room)),
    )  # fmt: skip


class Balance(TestCase):
    @settings(max_examples=20, deadline=None)
    @given(st.floats(0.05, 0.6), st.floats(1.0, 12.0), st.floats(40.0, 400.0), st.booleans())
    def test_between_card_strand_desiccant_and_air_no_water_is_made_or_lost(self, pct, held, mass_g, with_gel):
        spool = replace(kept("pla", pct), body=card(held, mass_g))
        fill = Fill(DesiccantKind.SILICA_GEL, 80.0) if with_gel else None
        found = followed(spool, Container(0.0, 15.0, fill=fill), 0.3, 400)

        def gel(activity):
            return 0.8 * float(np.interp(activity, np.linspace(0, 1, 101), desiccant(fill.kind).table)) if fill else 0.0

        began = DRY_G * pct / 100 + mass_g * held / 100 + gel(0.3) + 0.015 * FULL * 0.3
        last = float(found.activity[0, -1])
        ends = DRY_G * found.moisture_pct[0, -1] / 100 + found.bodies[0].water_g + gel(last) + 0.015 * FULL * last
        self.assertLess(abs(ends - began), 1e-6 * began)

    def test_at_a_bend_of_what_card_holds_the_air_comes_to_rest_where_all_are_in_equilibrium(self):
        """A linearised hour takes it over the bend at 10 % and back in the next."""
        spool = replace(kept("pla", 0.125), body=card(2.0, 186.0))
        found = followed(spool, Container(0.0, 15.0), 0.3, 400)
        began = DRY_G * 0.125 / 100 + 186.0 * 0.02 + 0.015 * FULL * 0.3

        def over(activity):
            strand = float(held_pct(material("pla"), np.array(activity)))
            return DRY_G * strand / 100 + 1.86 * holds(activity) + 0.015 * FULL * activity - began

        self.assertAlmostEqual(float(found.activity[0, -1]), brentq(over, 0.0, 1.0), delta=2e-5)
        self.assertLess(np.abs(np.diff(found.activity[0])).max(), 0.003)

    def test_beside_strand_that_hardly_takes_part_card_and_leak_agree_with_a_stiff_integrator(self):
        # Polypropylene holds 0.02 % per unit: what moves is the card's water, two hours behind the air, and the leak.
        spool = replace(kept("pp", 0.01), body=card(float(holds(0.6))))
        box, hours = Container(0.05, 12.0), 24 * 20
        found = followed(spool, box, 0.6, hours, room=0.2)

        def rates(_, state):
            air, held = state
            to_card = 180.0 / 100.0 * (float(holds(air)) - held) / 2.0
            leak = 0.05 / 24.0 * FULL * (0.2 - air)
            return [(leak - to_card) / (0.012 * FULL), (float(holds(air)) - held) / 2.0]

        begin = [0.6, float(holds(0.6))]
        want = solve_ivp(rates, (0, hours), begin, method="LSODA", rtol=1e-8, t_eval=[24, 120, hours]).y[0]
        for at, air in zip((24, 120, hours), want, strict=True):
            self.assertAlmostEqual(float(found.activity[0, at - 1]), air, delta=0.01)

    def test_a_damp_body_keeps_a_bag_damp_and_a_dry_one_keeps_it_dry(self):
        plain, box = kept("petg", 0.05), Container(0.03, 3.0)
        airs = [
            float(followed(replace(plain, body=body), box, 0.4, 48).activity[0, -1])
            for body in (card(2.0), None, card(9.0))
        ]
        self.assertLess(airs[0], airs[1] - 0.05)
        self.assertGreater(airs[2], airs[1] + 0.05)


class Body(TestCase):
    def test_in_the_open_it_goes_two_thirds_of_its_way_in_two_hours_and_away_it_stays(self):
        spool = replace(kept("petg", 0.05), body=card(3.0))
        after = followed(spool, Container(0.03), 0.4, 2, room=0.5, place=OPEN).bodies[0].held_pct
        self.assertAlmostEqual(after, 7.0 - 4.0 * math.exp(-1.0), places=9)
        self.assertAlmostEqual(followed(spool, Container(0.03), 0.4, 9, place=AWAY).bodies[0].held_pct, 3.0)

    def test_warm_air_counts_as_drier(self):
        spool = replace(kept("petg", 0.05), body=card(7.0))
        cool, warm = (
            followed(spool, Container(0.05, 12.0, warm_c=extra), 0.3, 100, room=0.3).bodies[0].held_pct
            for extra in (0.0, 30.0)
        )
        self.assertLess(warm, cool - 1.0)

    def test_plastic_holds_nothing_and_card_comes_to_rest_in_its_air(self):
        self.assertIsNone(in_air_of(None, 0.5))
        self.assertAlmostEqual(in_air_of(card(0.0), 0.5).water_g, 180.0 * 0.07)
        self.assertIsNone(followed(kept("petg", 0.05), Container(0.03), 0.4, 5).bodies[0])
