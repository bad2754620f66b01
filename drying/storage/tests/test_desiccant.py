"""Desiccants: what they hold, how much is needed, how they are regenerated."""

from unittest import TestCase

import numpy as np

from drying.air.psychrometrics import vapour_concentration_g_m3
from drying.errors import OutOfRangeError
from drying.moisture.tests.test_history import kept
from drying.storage.balance import Hours, Inside, follow_hours
from drying.storage.container import OPEN, Container, Fill
from drying.storage.desiccant import DesiccantKind, Indicator, Pouch, desiccant, grams_to_last, regeneration
from drying.storage.ingress import fitted_ingress


class Desiccants(TestCase):
    def test_what_a_desiccant_holds_is_read_both_ways_and_rises(self):
        for kind in DesiccantKind:
            sorbent = desiccant(kind)
            self.assertTrue(np.all(np.diff(sorbent.table) > 0), kind)
            for activity in (0.05, 0.3, 0.7):
                self.assertAlmostEqual(sorbent.activity_at(sorbent.held_pct(activity)), activity, places=9)
            self.assertLess(sorbent.activity_at(sorbent.left_pct), 0.05)

    def test_regeneration_is_held_back_by_the_dye_and_the_pouch(self):
        for kind, indicator, pouch, temp, by, cool in (
            (DesiccantKind.SILICA_GEL, Indicator.NONE, Pouch.BARE, 120, "", False),
            (DesiccantKind.SILICA_GEL, Indicator.BLUE, Pouch.CLOTH, 115, "cloth_pouch", False),
            (DesiccantKind.SIEVE, Indicator.NONE, Pouch.BARE, 280, "", False),
            (DesiccantKind.SIEVE, Indicator.ORANGE, Pouch.BARE, 120, "orange", True),
            (DesiccantKind.CLAY, Indicator.CARD, Pouch.PLASTIC, 50, "plastic_pouch", True),
        ):
            found = regeneration(kind, indicator, pouch)
            self.assertEqual((found.temp_c, found.held_back_by, found.too_cool), (temp, by, cool), (kind, pouch))

    def test_the_grams_for_a_month_hold_the_water_of_a_month(self):
        grams = grams_to_last(DesiccantKind.SILICA_GEL, 0.3, 30, 0.2, 4.0)
        self.assertAlmostEqual(grams * (12 - 2) / 100, 0.3 * 30 + 4.0)
        with self.assertRaises(OutOfRangeError):
            grams_to_last(DesiccantKind.CLAY, 0.3, 30, 0.01)

    def test_ingress_is_got_back_from_what_the_desiccant_gained(self):
        true, hours = 0.05, 24 * 14
        gel = Fill(DesiccantKind.SILICA_GEL, 400.0)
        spool, temp, air = kept("pp", 0.005), np.full(hours, 18.0), np.full(hours, 0.65)
        where = np.full((1, hours), OPEN)
        found = follow_hours([spool], where, [Container(true, 20, fill=gel)], [Inside(0.05)], Hours(temp, air))
        table = desiccant(gel.kind).table * gel.dry_g / 100
        held = np.interp(100 * found.activity[0], np.arange(101), table)
        apart = float((vapour_concentration_g_m3(18, 100) * (0.65 - found.activity[0][1:])).sum()) / 24
        got = fitted_ingress(float(held[-1] - held[0]), 0.1, 0.0, apart)
        self.assertAlmostEqual(got.value, true, delta=0.01 * true)
        self.assertIsNone(fitted_ingress(1.0, 0.1, 0.0, 0.0))


class Tables(TestCase):
    def test_at_each_activity_a_table_holds_what_the_isotherm_does(self):
        for kind in DesiccantKind:
            found = desiccant(kind)
            for place in (0, 10, 40, 60, 100):
                self.assertAlmostEqual(float(found.table[place]), found.held_pct(place / 100.0), msg=kind)
