"""A person's own values over the built-in ones."""

import math
from unittest import TestCase

from drying.errors import OutOfRangeError
from drying.materials.own_values import OwnValue, new_material, with_own
from drying.materials.properties import material
from drying.planning.choose import METHODS


class OwnMaterials(TestCase):
    def test_own_values_stand_over_the_built_in_row_which_stays(self):
        own = with_own(material("petg"), (OwnValue("trouble", 0.3, None, "my bridges"), OwnValue("d23", 2e-12, 1.2)))
        self.assertEqual((own.trouble.value, own.d23.spread, material("petg").trouble.value), (0.3, 1.2, 0.22))
        self.assertIn("my bridges", own.trouble.source)
        again = with_own(material("petg"), (OwnValue("trouble", 0.3, None, "my bridges"), OwnValue("d23", 2e-12, 1.2)))
        self.assertIs(own, again)
        self.assertEqual(new_material("mine", "Mine", "Mine", own).trouble.value, 0.3)

    def test_values_no_strand_has_and_marks_out_of_order_are_refused_by_name(self):
        for value, named in (
            (OwnValue("density", 30), "density"),
            (OwnValue("clean", 0.25), "clean"),
            (OwnValue("soft", 150), "soft"),
            (OwnValue("smell", 1), "name"),
            (OwnValue("d23", math.nan), "d23"),
            (OwnValue("k1", 1.0, 0.5), "spread"),
        ):
            with self.subTest(named), self.assertRaises(OutOfRangeError) as refused:
                with_own(material("petg"), (value,))
            self.assertEqual(refused.exception.name, named)

    def test_ways_to_choose_have_no_name_twice(self):
        self.assertEqual(len(METHODS), len(set(METHODS)))


class Bounds(TestCase):
    def test_a_value_or_a_spread_that_no_strand_has_is_refused_at_its_name(self):
        # A spread in degrees may be as wide as what is possible, 35 to 400 °C, and no wider.
        with_own(material("petg"), (OwnValue("soft", 80.0, 364.0),))
        for value, named in ((OwnValue("soft", 80.0, 366.0), "spread"), (OwnValue("k1", 0.5, 10.1), "spread")):
            with self.assertRaises(OutOfRangeError) as refused:
                with_own(material("petg"), (value,))
            self.assertEqual(refused.exception.name, named)

    def test_the_least_and_the_most_that_strand_can_be_are_taken_and_what_lies_beyond_is_not(self):
        alone = (("ea", 5.0, 150.0), ("soaked", 0.001, 100.0))
        for name, least, most in (("k1", 0.001, 50.0), ("density", 300.0, 5000.0), ("d23", 1e-16, 1e-9), *alone):
            for value in (least, most):
                self.assertEqual(getattr(with_own(material("petg"), (OwnValue(name, value, 2.0),)), name).value, value)
            for value in (0.99 * least, 1.01 * most):
                with self.subTest(name, value=value), self.assertRaises(OutOfRangeError):
                    with_own(material("petg"), (OwnValue(name, value, 2.0),))

    def test_clean_goes_down_to_a_thousandth_of_a_percent_and_up_to_half_of_the_strand(self):
        high = OwnValue("trouble", 60.0, 1.5)
        for value in (0.001, 50.0):
            self.assertEqual(with_own(material("petg"), (OwnValue("clean", value, 1.5), high)).clean.value, value)
        for value in (0.0009, 50.4):
            with self.assertRaises(OutOfRangeError) as refused:
                with_own(material("petg"), (OwnValue("clean", value, 1.5), high))
            self.assertEqual(refused.exception.name, "clean")
