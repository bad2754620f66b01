"""A box that somebody builds: heat in is heat out, and what faces the heater is hotter."""

import math
from dataclasses import replace
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from drying.dryers import HomeBuilt, walls, warmth_of
from drying.errors import OutOfRangeError

TUB = HomeBuilt(60.0, (400.0, 300.0, 300.0), "plastic", "lamp", away_cm=15.0)
boxes = st.builds(
    HomeBuilt, st.floats(5, 300), st.tuples(*[st.floats(200, 800)] * 3), st.sampled_from(list(walls())),
    st.sampled_from(["lamp", "open", "plate"]), st.booleans(), st.floats(3, 60), st.floats(0, 3),
)  # fmt: skip


class Warmth(TestCase):
    def test_a_tub_under_a_lamp_by_hand(self):
        # 0.66 m² of 3 mm plastic of 0.2 W/(m·K) between films of 9 and 8: U = 1/(0.1111 + 0.015 + 0.125) = 3.982;
        # 2.628 W/K, and 0.1 m³/h of air 0.0333 W/K: 60 W / 2.661 = 22.5 degrees over the room.
        found = warmth_of(TUB, 20.0)
        self.assertAlmostEqual(found.loss_w_k, 2.661, delta=0.002)
        self.assertAlmostEqual(found.air_c.value, 42.55, delta=0.03)
        self.assertAlmostEqual(found.air_c.uncertainty, 22.55 * math.log(1.25), delta=0.02)
        # 0.8 of 60 W over a sphere of 15 cm, 169.8 W/m², of which 0.9 stays; given off by 9 + 4·σ·T³ = 9 + 7.13.
        self.assertAlmostEqual(found.hot_side_excess_c, 152.8 / 16.13, delta=0.03)

    @given(boxes, st.floats(5, 30))
    def test_what_goes_in_goes_out_and_a_warmer_room_makes_a_box_as_much_warmer(self, box, room_c):
        found = warmth_of(box, room_c)
        self.assertAlmostEqual(found.loss_w_k * (found.air_c.value - room_c), box.heater_w, places=6)
        self.assertAlmostEqual(warmth_of(box, room_c - 3.0).air_c.value, found.air_c.value - 3.0, places=6)

    @given(boxes)
    def test_more_power_less_vent_and_more_room_to_the_heater_do_what_one_expects(self, box):
        found = warmth_of(box, 20.0)
        self.assertGreater(warmth_of(replace(box, heater_w=2.0 * box.heater_w), 20.0).air_c.value, found.air_c.value)
        self.assertLess(warmth_of(replace(box, vent_m3_h=box.vent_m3_h + 5.0), 20.0).air_c.value, found.air_c.value)
        farther = warmth_of(replace(box, away_cm=2.0 * box.away_cm), 20.0)
        self.assertAlmostEqual(found.hot_side_excess_c / farther.hot_side_excess_c, 4.0)

    def test_a_box_that_may_get_hotter_than_its_wall_stands_is_named(self):
        foam = replace(TUB, wall="foam", heater="plate")
        self.assertTrue(warmth_of(foam, 20.0).harms_wall)
        self.assertFalse(warmth_of(TUB, 20.0).harms_wall)
        self.assertFalse(warmth_of(replace(TUB, heater_w=2000.0, wall="metal"), 20.0).harms_wall)

    def test_what_nobody_builds_is_refused_by_name(self):
        for name, value in (
            ("heater_w", 0.5),
            ("away_cm", 0.5),
            ("vent_m3_h", 100.5),
            ("vent_m3_h", -0.1),
            ("sizes_mm", (50.0, 300.0, 300.0)),
        ):
            with self.assertRaises(OutOfRangeError) as refused:
                replace(TUB, **{name: value})
            self.assertEqual(refused.exception.name, name)
        self.assertEqual(replace(TUB, vent_m3_h=100.0).vent_m3_h, 100.0)
