"""Which value of a message is what, and in which unit; whatever else may arrive."""

import json
import math
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from bridge.fields import DEEPEST, LARGEST_BYTES, MOST_VALUES, FieldMap, MappingError, values_in

AIR = b'{"air": {"temperature": 68, "humidity": "45,5"}, "battery": 87, "ok": true}'


class Values(TestCase):
    def test_every_number_has_its_path_and_a_bare_one_has_none(self):
        for message, found in (
            (AIR, {"air.temperature": 68.0, "air.humidity": 45.5, "battery": 87.0}),
            (b"21.5", {"": 21.5}),
            (b" 21,5 ", {"": 21.5}),
            (b'"21.5"', {"": 21.5}),
            (b"on", {}),
            (b"", {}),
            (b"NaN", {}),
            (b'{"t": Infinity}', {}),
            (b'{"t": 1e999}', {}),
            (b'{"t": ' + b"9" * 400 + b"}", {}),
            (b"\xff\xfe", {}),
            (b"[1, 2]", {}),
        ):
            with self.subTest(message=message[:40]):
                self.assertEqual(values_in(message), found)

    def test_what_is_too_long_too_deep_or_too_many_is_let_go(self):
        self.assertEqual(values_in(b"1" + b" " * LARGEST_BYTES), {})
        self.assertEqual(values_in(b'{"a":' * 5000 + b"1" + b"}" * 5000), {})
        self.assertEqual(values_in(b'{"a":' * (DEEPEST + 1) + b"1" + b"}" * (DEEPEST + 1)), {})
        self.assertEqual(len(values_in(json.dumps({str(n): n for n in range(2000)}).encode())), MOST_VALUES)

    @given(st.binary(max_size=300))
    def test_any_bytes_give_finite_numbers_or_none(self, message):
        self.assertTrue(all(math.isfinite(value) for value in values_in(message).values()))


class Maps(TestCase):
    def test_values_are_guessed_by_their_names(self):
        for message, reading in (
            (AIR, {"temp_c": 68.0, "rh_pct": 45.5}),
            (b'{"t": 20, "rh": 40}', {"temp_c": 20.0, "rh_pct": 40.0}),
            (b'{"sensor": {"temp_c": 20, "hum": 40}}', {"temp_c": 20.0, "rh_pct": 40.0}),
            (b'{"weight_g": 812.4}', {"mass_g": 812.4}),
            (b'{"total_kwh": 12.5}', {"energy_kwh": 12.5}),
            (b'{"rate": 5, "battery": 80, "timestamp": 1, "output": 3}', {}),
        ):
            with self.subTest(message=message):
                self.assertEqual(FieldMap().reading(message), reading)

    def test_units_are_turned_into_those_of_darre(self):
        # By definition: 0 °C is 32 °F and 273.15 K, one degree is 1.8 °F; 1 oz is 28.349523125 g, 1 lb 453.59237 g.
        for name, unit, value, kept in (
            ("temp_c", "F", 68.0, 20.0),
            ("temp_c", "F", -40.0, -40.0),
            ("temp_c", "K", 293.15, 20.0),
            ("rh_pct", "share", 0.455, 45.5),
            ("mass_g", "kg", 0.8124, 812.4),
            ("mass_g", "oz", 2.0, 56.699046),
            ("mass_g", "lb", 2.0, 907.18474),
            ("energy_kwh", "Wh", 1250.0, 1.25),
        ):
            with self.subTest(unit=unit):
                reading = FieldMap({name: "x"}, {name: unit}).reading(json.dumps({"x": value}).encode())
                self.assertAlmostEqual(reading[name], kept, places=6)

    def test_what_the_person_says_comes_before_any_guess(self):
        self.assertEqual(FieldMap({"temp_c": "battery"}).reading(AIR), {"temp_c": 87.0})
        self.assertEqual(FieldMap({"mass_g": ""}).reading(b"812.4"), {"mass_g": 812.4})

    def test_unknown_names_and_units_are_named(self):
        for paths, units, word in (
            ({"temp": "t"}, {}, "temp "),
            ({}, {"temp_c": "R"}, "in R"),
            ({}, {"x": "g"}, "x is"),
        ):
            with self.assertRaisesRegex(MappingError, word):
                FieldMap(paths, units)
