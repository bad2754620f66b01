"""What the core refuses: whole sentences, and the same in parts that a screen can show in other units."""

import math
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from drying.errors import Amount, DryingError, OutOfRangeError, require_range


class Sentences(TestCase):
    def test_a_sentence_is_its_parts_in_a_row(self):
        refused = DryingError(
            "temp_c", "The air is at ", Amount(63.5, "°C"), ", the filament softens at ", Amount(60, "°C"), "."
        )
        self.assertEqual(str(refused), "The air is at 63.5 °C, the filament softens at 60 °C.")
        self.assertEqual((refused.name, len(refused.parts)), ("temp_c", 5))

    def test_an_amount_without_a_unit_is_its_number(self):
        self.assertEqual(str(Amount(0.25, "")), "0.25")
        self.assertFalse(Amount(5, "°C").difference)


class Ranges(TestCase):
    @given(st.floats(-50, 50), st.floats(0, 20), st.floats(0, 20))
    def test_a_value_within_its_range_passes_unchanged_bounds_and_all(self, value, below, above):
        self.assertEqual(require_range("x", value, value - below, value + above, "g"), value)

    def test_outside_it_is_refused_with_value_and_bounds(self):
        for value in (-0.001, 10.001, math.inf, -math.inf, math.nan):
            with self.assertRaises(OutOfRangeError) as refused:
                require_range("mass_g", value, 0.0, 10.0, "g")
            amounts = [part for part in refused.exception.parts if isinstance(part, Amount)]
            self.assertEqual(
                [(a.value, a.unit, a.difference) for a in amounts[1:]], [(0.0, "g", False), (10.0, "g", False)]
            )
            self.assertEqual(refused.exception.name, "mass_g")

    def test_a_step_between_temperatures_says_that_it_is_one(self):
        with self.assertRaises(OutOfRangeError) as refused:
            require_range("swing_c", 41.0, 0.0, 40.0, "°C", difference=True)
        steps = [part.difference for part in refused.exception.parts if isinstance(part, Amount)]
        self.assertEqual(steps, [True, True, True])
