"""Own values, programmes and materials over HTTP: each stands over the built-in one and can be gone back from."""

from darre.inventory.material_book import material_book
from darre.inventory.models import OwnMaterial, OwnProgramme, OwnValue
from darre.runs.tests.test_run_path import Shed
from drying.materials import all_materials, material


class OwnMaterials(Shed):
    def put(self, path, **body):
        return self.client.put(f"/api/materials/{path}/", body, content_type="application/json")

    def undo(self, answer):
        entry = answer.json()["undo"]
        self.assertIsNotNone(entry)
        self.assertEqual(self.post(f"history/{entry}/undo/").status_code, 200)

    def value(self, answer, name):
        return next(row for row in answer.json()["material"]["values"] if row["name"] == name)


class Values(OwnMaterials):
    def test_an_own_value_counts_and_the_built_in_one_stays_beside_it(self):
        answer = self.put("petg/values/tg", value="74,5", spread="2", note="own bar tests")
        row = self.value(answer, "tg")
        self.assertTrue(row["own"])
        self.assertEqual((row["now"]["value"], row["now"]["spread"]), (74.5, 2.0))
        self.assertIn("own bar tests", row["now"]["source"])
        self.assertEqual(row["built_in"]["value"], material("petg").tg.value)
        self.assertEqual(material_book()["petg"].tg.value, 74.5)
        self.assertEqual(material_book()["pla"].tg.value, material("pla").tg.value)

    def test_without_a_spread_the_built_in_one_stays(self):
        row = self.value(self.put("petg/values/density", value=1290), "density")
        self.assertEqual(row["now"]["spread"], material("petg").density.spread)

    def test_a_second_value_takes_the_place_of_the_first_and_undo_brings_it_back(self):
        self.put("petg/values/tg", value=74)
        second = self.put("petg/values/tg", value=76)
        self.assertEqual(OwnValue.objects.filter(material="petg", name="tg").count(), 1)
        self.undo(second)
        self.assertEqual(material_book()["petg"].tg.value, 74.0)

    def test_going_back_is_one_act_that_can_be_undone_and_twice_is_nothing(self):
        self.put("petg/values/tg", value=74)
        back = self.client.delete("/api/materials/petg/values/tg/")
        self.assertFalse(self.value(back, "tg")["own"])
        self.assertIsNone(self.client.delete("/api/materials/petg/values/tg/").json()["undo"])
        self.undo(back)
        self.assertEqual(material_book()["petg"].tg.value, 74.0)

    def test_a_very_small_number_is_typed_with_its_power_of_ten(self):
        row = self.value(self.put("petg/values/d23", value="3.1e-12"), "d23")
        self.assertEqual(row["now"]["value"], 3.1e-12)

    def test_what_no_filament_has_is_refused_and_nothing_is_stored(self):
        clean, trouble = material("petg").clean.value, material("petg").trouble.value
        for path, body, code, field in (
            ("petg/values/tg", {"value": 500}, "out_of_range", "tg"),
            ("petg/values/density", {"value": 299}, "out_of_range", "density"),
            ("petg/values/k1", {"value": 1, "spread": 0.5}, "out_of_range", "spread"),
            ("petg/values/clean", {"value": trouble + 0.01}, "out_of_range", "clean"),
            ("petg/values/trouble", {"value": clean}, "out_of_range", "clean"),
            ("petg/values/soft", {"value": 390}, "out_of_range", "soft"),
            ("petg/values/colour", {"value": 1}, "unknown_name", "name"),
            ("petg/values/tg", {"value": "warm"}, "invalid", "value"),
            ("petg/values/tg", {}, "invalid", "value"),
        ):
            with self.subTest(path, **body):
                self.assert_refused(self.put(path, **body), code, field, ".", 400)
        self.assertFalse(OwnValue.objects.exclude(origin=OwnValue.Origin.CASES).exists())
        self.assertEqual(self.put("glass/values/tg", value=70).status_code, 400)

    def test_the_refusal_of_a_temperature_carries_it_as_an_amount(self):
        parts = self.put("petg/values/soft", value=390).json()["parts"]
        amounts = [(part["value"], part["unit"]) for part in parts if part["value"] is not None]
        self.assertEqual(amounts, [(material("petg").fuse.value, "°C")])


class Programmes(OwnMaterials):
    def programme(self, answer, name):
        return next(row for row in answer.json()["material"]["programmes"] if row["name"] == name)

    def test_an_own_programme_counts_for_its_method_alone(self):
        answer = self.put("petg/programmes/usual", temp_c="61", duration_h="9,5")
        usual = self.programme(answer, "usual")
        self.assertEqual((usual["now"]["temp_c"], usual["now"]["duration_h"], usual["own"]), (61.0, 9.5, True))
        self.assertFalse(self.programme(answer, "brisk")["own"])
        again = self.put("petg/programmes/usual", temp_c=60, duration_h=10)
        self.assertEqual(OwnProgramme.objects.filter(material="petg").count(), 1)
        self.undo(again)
        self.assertEqual(OwnProgramme.objects.get(material="petg").temp_c, 61.0)

    def test_going_back_brings_the_built_in_one(self):
        before = self.programme(self.put("petg/programmes/brisk", temp_c=72, duration_h=4), "brisk")["built_in"]
        back = self.client.delete("/api/materials/petg/programmes/brisk/")
        self.assertEqual(self.programme(back, "brisk")["now"], before)
        self.assertIsNone(self.client.delete("/api/materials/petg/programmes/brisk/").json()["undo"])
        self.undo(back)
        self.assertEqual(OwnProgramme.objects.get(material="petg", name="brisk").temp_c, 72.0)

    def test_bad_programmes_are_refused_by_field(self):
        for path, body, field in (
            ("petg/programmes/usual", {"temp_c": 19, "duration_h": 8}, "temp_c"),
            ("petg/programmes/usual", {"temp_c": 60, "duration_h": 0.2}, "duration_h"),
            ("petg/programmes/wild", {"temp_c": 60, "duration_h": 8}, "name"),
        ):
            with self.subTest(path, **body):
                self.assert_refused(self.put(path, **body), *self.code_of(field), ".", 400)
        self.assertFalse(OwnProgramme.objects.exists())

    def code_of(self, field):
        return ("unknown_name" if field == "name" else "invalid", field)


class Materials(OwnMaterials):
    def test_one_of_your_own_begins_as_its_base_and_goes_its_own_way(self):
        added = self.post("materials/", name="  Fair stock ", base="petg")
        self.assertEqual(added.status_code, 201)
        mine = added.json()["material"]["id"]
        self.assertEqual(material_book()[mine].tg.value, material("petg").tg.value)
        self.assertEqual(added.json()["material"]["name"], "Fair stock")
        self.put(f"{mine}/values/tg", value=70)
        self.assertEqual(
            (material_book()[mine].tg.value, material_book()["petg"].tg.value), (70, material("petg").tg.value)
        )

    def test_names_are_told_apart_without_their_case(self):
        self.post("materials/", name="Fair stock", base="petg")
        for name in ("fair STOCK", material("petg").name.upper(), "Fair--stock", "???"):
            self.assert_refused(
                self.post("materials/", name=name, base="petg"), "name_taken", "name", "another name", 409
            )
        self.assert_refused(
            self.post("materials/", name="Other", base="glass"), "unknown_base", "base", "built-in", 400
        )
        self.assertEqual(OwnMaterial.objects.count(), 1)

    def test_it_is_removed_with_its_values_and_undo_brings_all_of_it_back(self):
        mine = self.post("materials/", name="Fair stock", base="petg").json()["material"]["id"]
        self.put(f"{mine}/values/tg", value=70)
        self.put(f"{mine}/programmes/own", temp_c=58, duration_h=11)
        removed = self.client.delete(f"/api/materials/{mine}/")
        self.assertNotIn(mine, material_book().entries)
        self.assertFalse(OwnValue.objects.filter(material=mine).exists())
        self.undo(removed)
        self.assertEqual(material_book()[mine].tg.value, 70.0)
        self.assertEqual(OwnProgramme.objects.get(material=mine).duration_h, 11.0)

    def test_one_that_a_spool_is_made_of_and_a_built_in_one_stay(self):
        mine = self.post("materials/", name="Fair stock", base="petg").json()["material"]["id"]
        self.gauge.material = mine
        self.gauge.save()
        self.assert_refused(self.client.delete(f"/api/materials/{mine}/"), "in_use", None, "Rain gauge", 409)
        self.assert_refused(self.client.delete("/api/materials/petg/"), "built_in", None, "built-in", 400)

    def test_the_list_has_every_built_in_material_with_source_and_use_of_each_value(self):
        shown = {row["id"]: row for row in self.client.get("/api/materials/").json()}
        self.assertEqual(set(shown), set(all_materials()))
        for row in shown.values():
            for value in row["values"]:
                if value["now"]:
                    self.assertTrue(value["now"]["source"], (row["id"], value["name"]))


class MixedIn(OwnMaterials):
    def fields(self, **changed):
        names = ("name", "material", "tare_g", "tare_method", "strand_diameter_mm", "form")
        own = {name: getattr(self.gauge, name) for name in names}
        return {**own, "empty_spool": self.gauge.empty_spool_id, **changed}

    def change(self, **changed):
        return self.client.put(f"/api/spools/{self.gauge.id}/", self.fields(**changed), content_type="application/json")

    def test_a_spool_of_a_polymer_with_something_in_it_goes_by_its_own_values_and_undo_goes_back(self):
        choices = {row["id"]: row["suffix"] for row in self.client.get("/api/materials/mixed-in/").json()}
        changed = self.change(material="petg" + choices["wood"])
        self.assertEqual(changed.status_code, 200, changed.content)
        mixed = material_book()["petg--wood"]
        self.assertAlmostEqual(mixed.k1.value, 2.7 * 0.40)  # PETG's, in the table of materials
        lane = next(r for r in self.client.get("/api/lanes/").json() if r["spool"]["id"] == self.gauge.id)
        self.assertAlmostEqual(lane["clean_pct"], 2.0 * 0.08)
        row = next(row for row in self.client.get("/api/materials/").json() if row["id"] == "petg--wood")
        self.assertEqual((row["mixed_in"], row["name"]), ("wood", "PETG, wood or cork"))
        self.undo(changed)
        self.assertNotIn("petg--wood", material_book().entries)

    def test_an_own_value_of_the_polymer_moves_the_mixed_one_which_may_have_its_own(self):
        self.change(material="petg--matte")
        self.put("petg/values/k1", value=1.0)
        self.assertAlmostEqual(material_book()["petg--matte"].k1.value, 1.5)
        self.assertEqual(self.put("petg--matte/values/k1", value=0.7).status_code, 200)
        self.assertEqual((material_book()["petg--matte"].k1.value, material_book()["petg"].k1.value), (0.7, 1.0))
        self.client.delete("/api/materials/petg--matte/values/k1/")
        self.assertAlmostEqual(material_book()["petg--matte"].k1.value, 1.5)

    def test_what_is_not_known_or_cannot_be_is_refused_at_the_material(self):
        for wrong, says in (("petg--cheese", "silky"), ("glass--silky", "petg"), ("pa6-cf--fibre", "already")):
            self.assert_refused(self.change(material=wrong), "out_of_range", "material", says, 400)
        self.gauge.refresh_from_db()
        self.assertEqual(self.gauge.material, "petg")

    def test_an_own_material_stays_while_a_spool_has_something_mixed_into_it(self):
        mine = self.post("materials/", name="Fair stock", base="petg").json()["material"]["id"]
        self.change(material=f"{mine}--silky")
        self.assert_refused(self.client.delete(f"/api/materials/{mine}/"), "in_use", None, "Rain gauge", 409)

    def test_a_spool_that_prints_clean_is_said_to_snap_above_its_own_threshold(self):
        self.change(material="pla")
        for pct, expected in (("0.30", False), ("0.45", True)):
            self.post(f"spools/{self.gauge.id}/moisture/", moisture_pct=pct, plus_minus_pct=0.02)
            lane = next(r for r in self.client.get("/api/lanes/").json() if r["spool"]["id"] == self.gauge.id)
            self.assertIs(lane["snaps"], expected, pct)
