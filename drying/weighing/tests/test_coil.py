"""What a length of filament weighs."""

import math
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from drying.errors import DryingError
from drying.materials.properties import all_materials, material
from drying.weighing.coil import coil_mass_g


class Coils(TestCase):
    def test_a_length_weighs_what_its_cylinder_does(self):
        # 10 m of 1.75 mm PETG at 1270 kg/m³: 10 · π/4 · 0.00175² m³
        self.assertAlmostEqual(coil_mass_g(material("petg"), 1.75, 10.0).value, 30.547, places=3)

    @given(st.sampled_from(list(all_materials())), st.floats(1, 3), st.floats(0.05, 500))
    def test_mass_goes_with_the_length_and_the_square_of_the_diameter(self, name, diameter, length):
        one, polymer = coil_mass_g(material(name), diameter, length), material(name)
        self.assertAlmostEqual(coil_mass_g(polymer, diameter, 2 * length).value, 2 * one.value, delta=1e-9 * one.value)
        self.assertAlmostEqual(coil_mass_g(polymer, diameter / 2, length).value, one.value / 4, delta=1e-9 * one.value)
        self.assertAlmostEqual(one.uncertainty / one.value, 2 * 0.03 / diameter)

    def test_a_length_that_no_coil_has_is_refused(self):
        for length in (0.0, -1.0, 6000.0, math.nan):
            with self.assertRaises(DryingError):
                coil_mass_g(material("petg"), 1.75, length)
