"""Moisture against a material's thresholds."""

from unittest import TestCase

from drying.materials.properties import all_materials, material
from drying.materials.sorption import equilibrium_moisture_pct
from drying.materials.thresholds import MoistureLevel, moisture_level, new_spool_moisture


class Waterline(TestCase):
    def test_standing_is_read_off_the_two_marks(self):
        for moisture, want in (
            (0.06, MoistureLevel.CLEAN),
            (0.13, MoistureLevel.BETWEEN),
            (0.23, MoistureLevel.TROUBLE),
        ):
            self.assertEqual(moisture_level(material("petg"), moisture), want)
        self.assertEqual(moisture_level(material("pp"), 0.5), MoistureLevel.NO_MATTER)
        self.assertGreater(new_spool_moisture(material("pa6")).value, material("pa6").trouble.value)


class NewSpools(TestCase):
    def test_fresh_strand_is_believed_to_hold_what_half_humid_air_gives_it_give_or_take(self):
        for polymer in all_materials().values():
            fresh = new_spool_moisture(polymer)
            low, high = (equilibrium_moisture_pct(polymer, a) for a in (0.3, 0.7))
            self.assertAlmostEqual(fresh.value, equilibrium_moisture_pct(polymer, 0.5))
            self.assertTrue(low < fresh.value < high)
            self.assertLess(abs(fresh.uncertainty - (high - low) / 2), 0.15 * fresh.uncertainty + 1e-9, polymer.id)

    def test_the_marks_themselves_count_as_below(self):
        petg = material("petg")
        for moisture, want in (
            (0.0, MoistureLevel.CLEAN),
            (petg.clean.value, MoistureLevel.CLEAN),
            (petg.clean.value + 1e-9, MoistureLevel.BETWEEN),
            (petg.trouble.value, MoistureLevel.BETWEEN),
            (petg.trouble.value + 1e-9, MoistureLevel.TROUBLE),
        ):
            self.assertIs(moisture_level(petg, moisture), want)
        self.assertIs(moisture_level(material("pp"), 0.5), MoistureLevel.NO_MATTER)
