"""What storage will bring, against numbers worked out by hand and against limits that must hold."""

from dataclasses import replace
from unittest import TestCase, mock

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from drying.materials import empty_spool_kind, material
from drying.materials.sorption import equilibrium_moisture_pct
from drying.moisture import outlook
from drying.moisture.events import KnownMoisture, SpoolEvents, SpoolStay
from drying.moisture.histories import MoistureHistory
from drying.moisture.history import MoistureSimulator
from drying.moisture.outlook import (
    NEVER,
    AirOver,
    BesideDesiccant,
    crossing,
    desiccant_load,
    exposure_g_d_m3,
    handed_over_g,
    hours_to_dry_beside_desiccant,
    ingress_spread,
    water_difference_g_m3,
    water_in_g_day,
)
from drying.quantity import Quantity
from drying.storage.card import CardBody
from drying.storage.container import Container
from drying.storage.desiccant import DesiccantKind
from drying.transport.state import Filament
from drying.transport.winding import winding_of_mass

NOW = 497_280
BIN = Container(0.03, 30.0)


def spool(name="petg", pct=0.3, stays=()):
    filament = Filament(material(name), 1.75, winding_of_mass(500.0, material(name).density.value))
    return SpoolEvents(filament, 500.0, (KnownMoisture(NOW, Quantity(pct, 0.0)),), stays=stays)


STILL = AirOver(NOW, np.full(101, 0.5), np.full(101, 0.5))


class Crossings(TestCase):
    RISING = np.array([0.05, 0.07, 0.09, 0.11])

    def test_it_is_the_first_hour_above_counted_from_now(self):
        found = crossing(self.RISING, self.RISING - 0.02, self.RISING + 0.02, 0.04, 0.08)
        self.assertEqual((found.hours, found.early_h, found.late_h), (3.0, 2.0, 4.0))

    def test_a_damp_course_crosses_no_later_than_a_dry_one(self):
        found = crossing(self.RISING, self.RISING * 0.5, self.RISING * 2, 0.04, 0.08)
        self.assertIsNone(found.late_h)
        self.assertLessEqual(found.early_h, found.hours)

    def test_a_threshold_itself_still_counts_as_below(self):
        flat = np.full(3, 0.08)
        self.assertEqual(crossing(flat, flat, flat, 0.08, 0.08), NEVER)

    def test_who_is_above_already_or_has_no_threshold_crosses_nothing(self):
        self.assertEqual(crossing(self.RISING, self.RISING, self.RISING, 0.2, 0.08), NEVER)
        self.assertEqual(crossing(self.RISING, self.RISING, self.RISING, 0.04, None), NEVER)


class DryingBesideDesiccant(TestCase):
    def hours(self, name="petg", pct=0.3, temp_c=20.0, activity=0.6, **more):
        [found] = hours_to_dry_beside_desiccant(
            MoistureSimulator(), [BesideDesiccant(spool(name), pct, BIN)], (NOW, temp_c, activity), **more
        )
        return found

    def test_a_clean_spool_and_one_that_needs_no_drying_are_not_asked(self):
        self.assertIsNone(self.hours(pct=material("petg").clean.value))
        self.assertIsNone(self.hours(name="pp", pct=0.5))

    def test_a_warmer_room_dries_it_sooner(self):
        self.assertLess(self.hours(temp_c=28.0), self.hours(temp_c=16.0))

    def test_a_wetter_spool_takes_longer(self):
        self.assertLess(self.hours(pct=0.12), self.hours(pct=0.4))

    def test_nylon_6_takes_weeks_where_petg_takes_days(self):
        petg, nylon = self.hours(pct=0.3), self.hours(name="pa6", pct=2.5)
        self.assertLess(petg, 7 * 24)
        self.assertGreater(nylon, 14 * 24)

    def test_looking_in_stretches_finds_what_following_all_four_months_finds(self):
        cases = [("petg", 0.3), ("pa6", 2.5), ("pla", 0.25), ("asa", 0.3)]
        leaks = (0.03, 3.0)  # the second lets in more than the desiccant can take up
        spools = [BesideDesiccant(spool(name), pct, Container(leak, 30.0)) for name, pct in cases for leak in leaks]
        for air in ((20.0, 0.6), (14.0, 0.8), (12.0, 0.9)):
            with self.subTest(air):
                stretches = hours_to_dry_beside_desiccant(MoistureSimulator(), spools, (NOW, *air))
                with mock.patch.object(outlook, "STRETCHES", ()):
                    whole = hours_to_dry_beside_desiccant(MoistureSimulator(), spools, (NOW, *air))
                self.assertEqual(stretches, whole)

    def test_many_side_by_side_take_as_long_as_each_alone(self):
        names = [("petg", 0.3), ("pa6", 2.5), ("pla", 0.01), ("asa", 0.3), ("petg", 0.12)]
        spools = [
            BesideDesiccant(spool(name), pct, Container(0.01 * (n + 1), 20.0)) for n, (name, pct) in enumerate(names)
        ]
        room = (NOW, 19.0, 0.65)
        together = hours_to_dry_beside_desiccant(MoistureSimulator(), spools, room)
        alone = [hours_to_dry_beside_desiccant(MoistureSimulator(), [each], room)[0] for each in spools]
        self.assertEqual(together, alone)
        self.assertIsNone(alone[2])
        self.assertEqual(len(set(alone)), len(alone))

    def test_clay_that_holds_water_at_its_best_is_slower_than_a_sieve(self):
        self.assertLessEqual(self.hours(), self.hours(kind=DesiccantKind.CLAY))


class Load(TestCase):
    def test_it_is_what_the_isotherm_gives_at_that_humidity(self):
        # Silica gel takes up about 12 % of its mass at 20 % relative humidity, 22 % at 40 %.
        found = desiccant_load(DesiccantKind.SILICA_GEL, 0.2, 0.4)
        self.assertAlmostEqual(found.load_pct, 12.0, delta=0.5)
        self.assertAlmostEqual(found.useful_pct, 22.0, delta=0.5)
        self.assertFalse(found.spent)

    @given(st.sampled_from(list(DesiccantKind)), st.floats(0.01, 0.9), st.floats(0.01, 0.9))
    def test_it_is_spent_from_four_fifths_of_what_is_useful_on(self, kind, activity, most):
        found = desiccant_load(kind, activity, most)
        self.assertEqual(found.spent, found.load_pct >= 0.8 * found.useful_pct)

    def test_air_as_damp_as_its_spools_may_stand_means_spent(self):
        for kind in DesiccantKind:
            self.assertTrue(desiccant_load(kind, 0.3, 0.3).spent, kind)


class LeakingIn(TestCase):
    def test_water_in_the_air_is_that_of_the_tables(self):
        # Saturated air holds 17.3 g/m³ at 20 °C: half of it apart is 8.65 g/m³.
        [found] = water_difference_g_m3(np.array([20.0]), np.array([0.7]), np.array([0.2]))
        self.assertAlmostEqual(found, 8.65, delta=0.05)

    def test_a_day_brings_ingress_times_the_difference(self):
        self.assertAlmostEqual(water_in_g_day(np.array([8.0, 10.0, np.nan]), 0.03), 0.27)
        self.assertIsNone(water_in_g_day(np.array([np.nan]), 0.03))

    def test_exposure_is_the_difference_summed_over_days(self):
        self.assertAlmostEqual(exposure_g_d_m3(np.full(48, 5.0)), 10.0)
        self.assertAlmostEqual(exposure_g_d_m3(np.array([24.0, np.nan])), 1.0)

    def test_what_a_spool_handed_over_is_its_loss_while_it_was_inside(self):
        history = MoistureHistory(NOW, np.linspace(0.4, 0.2, 101), np.zeros(101), np.zeros(101))
        inside = spool(stays=(SpoolStay(NOW + 10, NOW + 60, 0),))
        # From 0.38 to 0.28 % of 500 g.
        self.assertAlmostEqual(handed_over_g([(inside, history)], 0, NOW, NOW + 100, STILL), 0.5)
        self.assertAlmostEqual(handed_over_g([(inside, history)], 0, NOW + 35, NOW + 100, STILL), 0.25)
        self.assertEqual(handed_over_g([(inside, history)], 1, NOW, NOW + 100, STILL), 0.0)

    def test_a_card_body_hands_over_what_its_isotherm_says_between_the_airs_that_it_was_in(self):
        history = MoistureHistory(NOW, np.full(101, 0.2), np.zeros(101), np.zeros(101))
        card = CardBody(empty_spool_kind("card"), 180.0, 0.0)
        dry = AirOver(NOW, np.full(101, 0.1), np.full(101, 0.5))
        for since, grams in ((NOW + 10, 180.0 * (0.07 - 0.03)), (NOW - 10, 0.0)):  # 7 % at 50 %, 3 % at 10 %
            inside = replace(spool(stays=(SpoolStay(since, None, 0),)), body=card)
            self.assertAlmostEqual(handed_over_g([(inside, history)], 0, NOW, NOW + 100, dry), grams)
        unknown = AirOver(NOW, np.full(101, np.nan), np.full(101, 0.5))
        self.assertEqual(handed_over_g([(inside, history)], 0, NOW, NOW + 100, unknown), 0.0)

    def test_an_unknown_moisture_hands_over_nothing(self):
        history = MoistureHistory(NOW, np.full(101, np.nan), np.zeros(101), np.zeros(101))
        inside = spool(stays=(SpoolStay(NOW, None, 0),))
        self.assertEqual(handed_over_g([(inside, history)], 0, NOW, NOW + 100, STILL), 0.0)

    def test_a_measured_ingress_is_known_better_than_a_usual_one(self):
        self.assertEqual(ingress_spread(2.5, measured=False), 2.5)
        self.assertEqual(ingress_spread(2.5, measured=True), 1.15)
        self.assertEqual(ingress_spread(1.1, measured=True), 1.1)


class TheAirDecides(TestCase):
    def test_no_spool_dries_below_what_its_air_allows(self):
        """In a month beside a kilogram of sieve a loose-wound PETG spool stays above its balance with that air."""
        wet = replace(spool(pct=0.3), stays=(SpoolStay(NOW, None, 0),))
        self.assertGreater(0.3, equilibrium_moisture_pct(wet.filament.material, 0.05))
        beside = [BesideDesiccant(wet, 0.3, BIN)]
        self.assertNotIn(None, hours_to_dry_beside_desiccant(MoistureSimulator(), beside, (NOW, 20.0, 0.6)))
