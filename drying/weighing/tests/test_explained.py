"""What water can explain, by sums done by hand."""

import math
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from drying.materials import empty_spool_kind, material
from drying.quantity import Quantity
from drying.weighing import Scale, Weighing, explained

BENCH = Scale(0.1, 0.05)
U = math.hypot(0.1 / math.sqrt(12.0), 0.05)
NOTHING = Quantity(0.0, 0.0)
KILO = Weighing(1000.0, BENCH)


def after(last=KILO, name="petg", body="abs", tare=200.0, used=NOTHING):
    return explained(material(name), empty_spool_kind(body) if body else None, tare, last, used, U)


class ByWater(TestCase):
    def test_a_strand_gives_or_takes_no_more_than_it_holds(self):
        found = after()
        # PETG: 0.6 % after lying in water, 1.3² times that at the outside, of 800 g; four times both scales' doubt.
        most = 800.0 * 0.6 * 1.3**2 / 100.0 + 4.0 * math.hypot(U, U)
        self.assertAlmostEqual(found.high_g, 1000.0 + most)
        self.assertAlmostEqual(found.low_g, 1000.0 - most)
        self.assertTrue(found.covers(1000.0 + most) and not found.covers(1000.01 + most))
        self.assertTrue(0.0 < found.near_g < 0.5 * most)
        self.assertTrue(found.covers(1000.0 - most) and not found.covers(999.99 - most))

    def test_a_card_spool_holds_water_of_its_own_and_a_coil_has_no_body(self):
        card = empty_spool_kind("card").held_pct(0.8)
        self.assertAlmostEqual(after(body="card").high_g - after().high_g, 200.0 * card / 100.0)
        coil = after(Weighing(20.0, BENCH), body=None, tare=0.0)
        self.assertAlmostEqual(coil.high_g - coil.expected_g, 20.0 * 1.014 / 100.0 + 4.0 * math.hypot(U, U))

    def test_what_was_printed_moves_what_is_expected_and_widens_it(self):
        found = after(used=Quantity(50.0, 1.5))
        self.assertAlmostEqual(found.expected_g, 950.0)
        wider = 4.0 * (math.hypot(U, U, 1.5) - math.hypot(U, U))
        self.assertAlmostEqual(found.high_g - found.expected_g, after().high_g - 1000.0 + wider)

    @given(st.floats(210.0, 6000.0), st.floats(0.0, 200.0), st.sampled_from(["pla", "pa6", "tpu", "pc", "pva"]))
    def test_any_water_that_the_strand_can_hold_is_explained(self, gross_g, tare_g, name):
        found = after(Weighing(gross_g, BENCH), name, tare=tare_g)
        k = material(name)
        held = (gross_g - tare_g) * (k.k1.value + k.k3.value) / 100.0  # saturated, without the data's spread
        self.assertTrue(found.covers(gross_g + held) and found.covers(gross_g - held))
