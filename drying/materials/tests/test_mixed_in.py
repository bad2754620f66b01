"""What is mixed into a polymer, what lying in water does, and filament that snaps."""

import math
from unittest import TestCase

from drying.air import RoomAir
from drying.errors import OutOfRangeError, UnknownMaterialError
from drying.materials import (
    after_soaking,
    all_materials,
    all_mixed_in,
    equilibrium_moisture_pct,
    floor_pct,
    material,
    most_from_air_pct,
    most_held_pct,
    parts_of,
    snaps,
    soaked_pct,
    with_mixed_in,
    with_own,
)
from drying.materials.own_values import OwnValue
from drying.quantity import Quantity

# From typical literature values: how many times as much water, °C later, times as dense.
SAID = {
    "silky": (1.6, -2, 1),
    "matte": (1.5, 0, 1),
    "wood": (2.7, 0, 1),
    "fibre": (0.85, 7.5, 1.06),
    "tough": (1.15, 0, 1),
}
ROOM = RoomAir(21.0, 50.0)


class MixedIn(TestCase):
    def test_each_changes_water_softening_and_density_as_its_row_says(self):
        self.assertEqual(set(all_mixed_in()), set(SAID))
        for key, (holds, later, denser) in SAID.items():
            for base in (material("pla"), material("pa6")):
                mixed = with_mixed_in(base, key)
                with self.subTest(mixed.name):
                    water = equilibrium_moisture_pct(mixed, 0.6) / equilibrium_moisture_pct(base, 0.6)
                    self.assertAlmostEqual(water, holds)
                    self.assertAlmostEqual(mixed.soft.value - base.soft.value, later)
                    self.assertAlmostEqual(mixed.density.value / base.density.value, denser)
                    self.assertAlmostEqual(mixed.soaked.value / base.soaked.value, holds)

    def test_what_is_mixed_in_makes_the_water_less_sure(self):
        mixed = with_mixed_in(material("pla"), "silky")
        self.assertAlmostEqual(math.log(mixed.k1.spread) ** 2, math.log(1.25) ** 2 + math.log(1.4) ** 2)
        self.assertEqual(mixed.d23, material("pla").d23)

    def test_what_softens_earlier_is_dried_so_much_cooler_and_fibre_is_named(self):
        silky, fibre = with_mixed_in(material("pla"), "silky"), with_mixed_in(material("petg"), "fibre")
        self.assertEqual([run.temp_c for run in silky.programmes.values()], [38.0, 46.0, 53.0])
        self.assertEqual(fibre.programmes, material("petg").programmes)
        self.assertTrue(fibre.fibres and "fibres" in fibre.notes[-1])

    def test_the_usual_method_still_reaches_the_clean_threshold_in_an_ordinary_room(self):
        for key in all_mixed_in():
            mixed = with_mixed_in(material("pla"), key)
            floor = floor_pct(mixed, ROOM, mixed.programmes["usual"].temp_c)
            self.assertLess(floor, mixed.clean.value, key)

    def test_the_same_two_are_the_same_object_and_the_id_comes_apart_again(self):
        mixed = with_mixed_in(material("pla-tough"), "matte")
        self.assertIs(mixed, with_mixed_in(material("pla-tough"), "matte"))
        self.assertEqual(parts_of(mixed.id), ("pla-tough", "matte"))
        self.assertEqual(parts_of("pla-tough"), ("pla-tough", None))

    def test_what_cannot_be_mixed_in_is_refused_by_name(self):
        with self.assertRaisesRegex(UnknownMaterialError, "cheese.*silky"):
            with_mixed_in(material("pla"), "cheese")
        with self.assertRaisesRegex(OutOfRangeError, "filled with fibre already") as refused:
            with_mixed_in(material("pa6-cf"), "fibre")
        self.assertEqual(refused.exception.name, "material")


class Soaked(TestCase):
    def test_lying_in_water_holds_more_than_saturated_air(self):
        for name, held in {"pla": 1.3, "petg": 0.6, "tpu": 1.5, "pc": 0.4, "pa6": 9.5}.items():
            self.assertEqual(soaked_pct(material(name)), held)
            self.assertGreater(held, equilibrium_moisture_pct(material(name), 1.0), name)

    def test_the_most_is_that_of_water_or_that_of_air_whichever_is_more(self):
        self.assertAlmostEqual(most_held_pct(material("pla")), 1.3 * 1.3**2)
        self.assertEqual(most_held_pct(material("pva")), most_from_air_pct(material("pva")))
        for m in all_materials().values():
            self.assertGreaterEqual(most_held_pct(m), most_from_air_pct(m), m.id)

    def test_after_nobody_knows_how_long_it_is_anywhere_between_before_and_full(self):
        found = after_soaking(material("pla"), Quantity(0.3, 0.05))
        self.assertAlmostEqual(found.value, 0.8)  # halfway from 0.3 to 1.3
        self.assertAlmostEqual(found.uncertainty, math.hypot(1.0 / math.sqrt(12.0), 0.05))
        self.assertEqual(after_soaking(material("pla"), Quantity(2.0, 0.1)).value, 2.0)

    def test_an_own_value_without_a_built_in_one_is_a_factor(self):
        own = with_own(material("pva"), (OwnValue("soaked", 40.0),)).soaked
        self.assertEqual((own.value, own.spread, own.spread_kind), (40.0, 1.4, "factor"))


class Brittle(TestCase):
    def test_lactic_blends_snap_above_their_own_threshold_well_though_they_print(self):
        pla = material("pla")
        self.assertTrue(snaps(pla, 0.36))
        self.assertFalse(snaps(pla, 0.35))
        self.assertLess(pla.brittle.value, pla.trouble.value)
        self.assertFalse(snaps(material("tpu"), 5.0))
