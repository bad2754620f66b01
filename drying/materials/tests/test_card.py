"""Card bodies hold water of their own: along paperboard's isotherm, towards the air that they are in."""

from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from drying.materials.empty_spools import as_cool, empty_spool_kind, empty_spool_kinds, full_g, usual_sizes_mm

CARD = empty_spool_kind("card")
BODY_G = 180.0


class Card(TestCase):
    def test_it_holds_what_paperboard_holds(self):
        # About 3 % of its mass at 10 % relative humidity, 7 % at 50, 11 % at 75.
        for rh, held in ((10, 3.0), (50, 7.0), (75, 11.0)):
            self.assertAlmostEqual(CARD.held_pct(rh / 100), held)

    def test_what_it_gives_off_is_its_mass_times_the_way_between_two_airs(self):
        # 180 g from 50 % to 10 %: 180·(7 - 3)/100 = 7.2 g in the end, 1 - 1/e of it after one time constant of 2 h.
        self.assertAlmostEqual(CARD.water_given_off_g(BODY_G, 0.5, [(48.0, 0.1)]).value, 7.2, places=3)
        self.assertAlmostEqual(CARD.water_given_off_g(BODY_G, 0.5, [(2.0, 0.1)]).value, 7.2 * 0.63212, places=3)

    def test_it_follows_the_air_along_its_isotherm(self):
        # From 11 % in air of 75 % towards 7 % in air of 50 %: at once it is where it was, after 2 h it has 1 - 1/e of
        # the way behind it and holds 8.4715 %, which is on the straight piece between the two.
        self.assertAlmostEqual(CARD.activity_after(0.75, 0.5, 0.0), 0.75)
        self.assertAlmostEqual(CARD.held_pct(CARD.activity_after(0.75, 0.5, 2.0)), 11.0 - 4.0 * 0.63212, places=4)
        self.assertAlmostEqual(CARD.activity_after(0.75, 0.5, 48.0), 0.5)

    def test_warm_card_holds_less_in_air_of_the_same_humidity_as_wood_does(self):
        # By Simpson's fit to the Wood Handbook, 50 % relative humidity: 9.2 % at 21 °C, 8.2 at 49, 7.4 at 65; 5 %: 1.3
        # and 0.9 %
        for temp_c, share in ((49.0, 8.2 / 9.2), (65.0, 7.4 / 9.2)):
            self.assertAlmostEqual(CARD.held_pct(as_cool(0.5, temp_c)) / CARD.held_pct(0.5), share, delta=0.05)
        self.assertAlmostEqual(CARD.held_pct(as_cool(0.05, 65.0)) / CARD.held_pct(0.05), 0.9 / 1.3, delta=0.06)
        self.assertEqual(as_cool(0.4, 23.0), 0.4)
        self.assertEqual(as_cool(1.0, 5.0), 1.0)

    def test_its_errors_have_two_causes_the_pace_of_which_is_gone_once_it_has_come_to_rest(self):
        early, late = (CARD.water_given_off_g(BODY_G, 0.5, [(hours, 0.1)]) for hours in (1.0, 96.0))
        self.assertAlmostEqual(late.errors[0], 7.2 * 0.2231, places=2)  # log 1.25
        self.assertAlmostEqual(late.errors[1], 0.0, places=6)
        # A third faster than one time constant of 2 h, and a third slower: 7.2 g of e^(-1/1.33), e^(-1/3)
        self.assertAlmostEqual(early.errors[1], 7.2 * (0.71653 - 0.47237) / 2.0, places=3)
        self.assertAlmostEqual(early.quantity.uncertainty, (early.errors[0] ** 2 + early.errors[1] ** 2) ** 0.5)

    def test_a_second_run_the_same_day_finds_next_to_nothing(self):
        after_run = CARD.activity_after(0.1, 0.5, 0.25)  # a quarter of an hour in the room since
        self.assertLess(CARD.water_given_off_g(BODY_G, after_run, [(12.0, 0.1)]).value, 1.0)
        self.assertAlmostEqual(CARD.activity_after(0.1, 0.5, 48.0), 0.5)

    def test_damp_air_gives_it_water_back(self):
        self.assertLess(CARD.water_given_off_g(BODY_G, 0.1, [(12.0, 0.75)]).value, -10.0)

    @given(st.floats(0, 1), st.lists(st.tuples(st.floats(0, 50), st.floats(0, 1)), max_size=4))
    def test_it_never_gives_more_than_it_holds_nor_takes_more_than_it_can(self, start, air):
        given_g = CARD.water_given_off_g(BODY_G, start, air).value
        self.assertLessEqual(given_g, BODY_G * CARD.held_pct(start) / 100 + 1e-9)
        self.assertGreaterEqual(given_g, BODY_G * (CARD.held_pct(start) - CARD.held_pct(1.0)) / 100 - 1e-9)

    def test_plastic_holds_none(self):
        for kind in empty_spool_kinds().values():
            if kind is not CARD:
                self.assertEqual(kind.water_given_off_g(BODY_G, 0.9, [(12.0, 0.1)]).value, 0.0)


class Sizes(TestCase):
    def test_an_empty_spool_for_eight_times_the_filament_is_twice_as_large(self):
        for nominal_g, sizes in ((1000.0, (200, 90, 60)), (8000.0, (400, 180, 120)), (125.0, (100, 45, 30))):
            for found, wanted in zip(usual_sizes_mm(nominal_g), sizes, strict=True):
                self.assertAlmostEqual(found, wanted)

    def test_one_of_such_sizes_is_full_with_what_it_is_sold_with(self):
        for grams, sizes in (
            (1000.0, (200, 90, 60)),
            (8000.0, (400, 180, 120)),
            (125.0, (100, 45, 30)),
            (500.0, (200, 90, 30)),
        ):
            self.assertAlmostEqual(full_g(*sizes), grams)
