"""Humid air against published tables; the materials file complete and sane; the isotherm and its inverse."""

import ast
import tomllib
from pathlib import Path
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

import drying
from drying.air.psychrometrics import RoomAir
from drying.errors import UnknownMaterialError
from drying.materials.properties import STANDARD_METHODS, all_materials, material
from drying.materials.sorption import activity_of_moisture, equilibrium_moisture_pct, floor_pct

any_material = st.sampled_from(list(all_materials().values()))
activity = st.floats(0.0, 1.0)


class Materials(TestCase):
    def test_every_value_stands_with_source_conditions_and_spread(self):
        for m in all_materials().values():
            for name in ("density", "k1", "k3", "d23", "ea", "tg", "soft", "fuse", "clean", "trouble"):
                value = getattr(m, name)
                if value is None:
                    self.assertEqual(m.id, "pp", f"{m.id} has no {name}")
                    continue
                with self.subTest(material=m.id, name=name):
                    self.assertTrue(value.source and value.conditions and value.unit)
                    least = 1.0 if value.spread_kind == "factor" else 0.0
                    self.assertGreaterEqual(value.spread, least)

    def test_marks_schools_and_limits_stand_in_their_order(self):
        for m in all_materials().values():
            self.assertLess(m.soft.value, m.fuse.value, m.id)
            if m.clean and m.trouble:
                self.assertLess(m.clean.value, m.trouble.value, m.id)
                temps = [m.programmes[s].temp_c for s in STANDARD_METHODS]
                hours = [m.programmes[s].duration_h for s in STANDARD_METHODS]
                self.assertEqual((temps, hours), (sorted(temps), sorted(hours, reverse=True)), m.id)

    def test_the_data_file_has_no_property_that_is_not_read(self):
        table = tomllib.loads((Path(drying.__file__).parent / "materials/data/materials.toml").read_text("utf-8"))
        known = set(table["kinds"]) | {"name", "short", "programmes", "notes", "fibres", "slows_when_dry"}
        for key, raw in table["materials"].items():
            self.assertEqual(set(raw) - known, set(), key)

    def test_an_unknown_material_is_refused_and_the_known_ones_are_named(self):
        with self.assertRaisesRegex(UnknownMaterialError, "cheese.*petg"):
            material("cheese")


class Sorption(TestCase):
    @given(any_material, activity)
    def test_the_isotherm_read_backwards_gives_the_activity_again(self, m, a):
        self.assertAlmostEqual(activity_of_moisture(m, equilibrium_moisture_pct(m, a)), a, delta=1e-9)

    @given(any_material, st.floats(10, 30), st.floats(10, 95), st.floats(40, 70))
    def test_hotter_or_drier_air_lowers_the_floor(self, m, temp_c, rh_pct, dryer_c):
        floor = floor_pct(m, RoomAir(temp_c, rh_pct), dryer_c)
        self.assertLess(floor_pct(m, RoomAir(temp_c, rh_pct), dryer_c + 5), floor)
        self.assertLess(floor_pct(m, RoomAir(temp_c, rh_pct - 5), dryer_c), floor)

    def test_nylon_6_at_saturation_holds_the_sum_of_both_terms(self):
        self.assertAlmostEqual(equilibrium_moisture_pct(material("pa6"), 1.0), 4.13 + 5.07)


class House(TestCase):
    def test_every_public_function_of_the_core_says_what_it_is_for(self):
        for path in Path(drying.__file__).parent.rglob("*.py"):
            if "tests" in path.parts:
                continue
            top = ast.parse(path.read_text("utf-8")).body
            inner = [n for c in top if isinstance(c, ast.ClassDef) for n in c.body]
            for node in (*top, *inner):
                if isinstance(node, ast.FunctionDef | ast.ClassDef) and not node.name.startswith("_"):
                    self.assertTrue(ast.get_docstring(node), f"{path.name}: {node.name} has no docstring")
