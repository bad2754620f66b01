"""Card bodies hold water of their own: along paperboard's isotherm, towards the air that they are in."""

from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from drying.materials.empty_spools import empty_spool_kind, empty_spool_kinds

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
