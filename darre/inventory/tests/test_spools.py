"""A spool's own data, its maker's sheet, what is known of its water, what was printed from it, and preferences."""

from datetime import timedelta
from uuid import uuid4

from django.utils import timezone

from darre.history.models import HistoryEntry
from darre.inventory.models import EmptySpool, FilamentUse, MoistureReading, Preferences, Spool
from darre.runs.tests.test_run_path import Shed


class Spools(Shed):
    def put(self, path, **body):
        return self.client.put(f"/api/{path}", body, content_type="application/json")

    def body(self, **more):
        gauge = self.gauge
        return {
            "name": gauge.name,
            "material": gauge.material,
            "empty_spool": gauge.empty_spool_id,
            "tare_g": gauge.tare_g,
            "tare_method": gauge.tare_method,
            **more,
        }

    def undo(self, answer):
        self.assertEqual(self.post(f"history/{answer.json()['undo']}/undo/").status_code, 200)


class Changing(Spools):
    def test_a_changed_spool_is_changed_and_can_be_changed_back(self):
        answer = self.put(f"spools/{self.gauge.id}/", **self.body(name="Gauge two", colour="slate", tare_g="201,5"))
        self.gauge.refresh_from_db()
        self.assertEqual((self.gauge.name, self.gauge.colour, self.gauge.tare_g), ("Gauge two", "slate", 201.5))
        self.undo(answer)
        self.gauge.refresh_from_db()
        self.assertEqual(self.gauge.name, "Rain gauge")

    def test_how_the_tare_is_known_says_how_sure_it_is(self):
        doubt = {}
        for method in ("measured", "twin", "nominal"):
            self.put(f"spools/{self.gauge.id}/", **self.body(tare_method=method))
            self.gauge.refresh_from_db()
            doubt[method] = self.gauge.tare_sd_g
        self.assertLess(doubt["measured"], doubt["twin"])
        self.assertAlmostEqual(doubt["twin"], 3.0)  # ± 6 g are two standard uncertainties
        self.assertAlmostEqual(doubt["nominal"], 10.0)

    def test_its_own_name_is_no_clash_and_anothers_is(self):
        self.assertEqual(self.put(f"spools/{self.gauge.id}/", **self.body()).status_code, 200)
        self.assert_refused(
            self.put(f"spools/{self.gauge.id}/", **self.body(name="Roller tyres")),
            "name_taken",
            "name",
            "Roller tyres",
            409,
        )

    def test_bad_data_is_refused_by_field_all_at_once_and_nothing_changes(self):
        entries = HistoryEntry.objects.count()
        answer = self.put(
            f"spools/{self.gauge.id}/",
            **self.body(name="", tare_g="heavy", strand_diameter_mm=9, empty_spool=999, tare_method="guess"),
        )
        self.assertEqual(answer.status_code, 400)
        self.assertEqual(
            {error["field"] for error in answer.json()["fields"]},
            {"name", "tare_g", "strand_diameter_mm", "empty_spool", "tare_method"},
        )
        self.assertEqual(self.put(f"spools/{self.gauge.id}/", **self.body(material="glass")).status_code, 400)
        self.assertEqual(HistoryEntry.objects.count(), entries)
        self.assertEqual(Spool.objects.get(pk=self.gauge.pk).tare_g, self.gauge.tare_g)

    def test_an_amount_in_a_refusal_comes_with_its_unit(self):
        parts = self.put(f"spools/{self.gauge.id}/", **self.body(strand_diameter_mm=9)).json()["parts"]
        amounts = [(part["value"], part["unit"]) for part in parts if part["value"] is not None]
        self.assertEqual(amounts, [(9.0, "mm"), (0.5, "mm"), (5.0, "mm")])

    def test_an_empty_spool_is_added_with_usual_sizes(self):
        added = self.post("empty-spools/", name="Grey ring", kind="petg").json()
        ring = EmptySpool.objects.get(pk=added["id"])
        self.assertEqual((ring.outer_diameter_mm, ring.width_mm, ring.hub_diameter_mm), (200.0, 60.0, 90.0))
        self.assertIn("Grey ring", [row["name"] for row in self.client.get("/api/empty-spools/").json()])
        self.assertEqual(self.post("empty-spools/", name="Odd", kind="glass").status_code, 400)

    def test_a_large_empty_spool_is_larger_where_nothing_was_measured_and_as_measured_where_it_was(self):
        large = self.post("empty-spools/", name="Big ring", kind="petg", nominal_g=3000).json()
        # Three times the volume in the same proportions: each length is larger by the cube root of three, 1.442.
        self.assertAlmostEqual(large["outer_diameter_mm"], 288.4, delta=0.1)
        self.assertAlmostEqual(large["width_mm"], 86.5, delta=0.1)
        flat = self.post("empty-spools/", name="Flat ring", kind="petg", width_mm="38,5", nominal_g=1000).json()
        self.assertEqual((flat["outer_diameter_mm"], flat["width_mm"], flat["hub_diameter_mm"]), (200.0, 38.5, 90.0))

    def test_a_hub_that_is_as_large_as_the_flanges_is_refused_at_its_field(self):
        answer = self.post("empty-spools/", name="Odd", kind="petg", hub_diameter_mm=210)
        self.assert_refused(answer, "invalid", "hub_diameter_mm", "smaller than the flanges, 200 mm", 400)


class Sheets(Spools):
    def test_a_makers_sheet_is_noted_shown_forgotten_and_brought_back(self):
        noted = self.put(f"spools/{self.tyres.id}/sheet/", temp_c="65", duration_h="12", only_if_opened=True)
        self.assertEqual(noted.status_code, 200)
        sheet = self.client.get(f"/api/spools/{self.tyres.id}/page/").json()["traced"]["lane"]["spool"]["sheet"]
        self.assertEqual(sheet, {"temp_c": 65.0, "duration_h": 12.0, "only_if_opened": True})
        forgotten = self.client.delete(f"/api/spools/{self.tyres.id}/sheet/")
        self.tyres.refresh_from_db()
        self.assertEqual((self.tyres.sheet_temp_c, self.tyres.sheet_only_if_opened), (None, False))
        self.undo(forgotten)
        self.tyres.refresh_from_db()
        self.assertEqual((self.tyres.sheet_temp_c, self.tyres.sheet_hours), (65.0, 12.0))

    def test_a_sheet_out_of_range_names_what_is_wrong(self):
        for body, field in (
            ({"temp_c": 19, "duration_h": 8}, "temp_c"),
            ({"temp_c": 60, "duration_h": 500}, "duration_h"),
        ):
            self.assert_refused(
                self.put(f"spools/{self.tyres.id}/sheet/", **body), "invalid", field, "out of range", 400
            )
        self.assertEqual(self.put("spools/999/sheet/", temp_c=60, duration_h=8).status_code, 404)


class Knowledge(Spools):
    def test_what_is_noted_of_its_water_is_stored_as_one_standard_uncertainty(self):
        noted = self.post(f"spools/{self.gauge.id}/moisture/", moisture_pct="0,31", plus_minus_pct="0.1")
        reading = MoistureReading.objects.filter(spool=self.gauge).latest("id")
        self.assertEqual((reading.moisture_pct, reading.sd_pct, reading.basis), (0.31, 0.05, "typed"))
        self.undo(noted)
        self.assertFalse(MoistureReading.objects.filter(pk=reading.pk).exists())

    def test_the_rack_follows_what_was_noted(self):
        self.post(f"spools/{self.gauge.id}/moisture/", moisture_pct=0.05, plus_minus_pct=0.02)
        lane = next(x for x in self.client.get("/api/lanes/").json() if x["spool"]["id"] == self.gauge.id)
        self.assertAlmostEqual(lane["moisture"]["value"], 0.05, delta=0.005)
        self.assertEqual(lane["moisture_level"], "clean")

    def test_a_print_off_it_is_sure_to_a_twentieth_unless_it_says_otherwise(self):
        for body, sd in (({"mass_g": 80}, 4.0), ({"mass_g": 80, "plus_minus_g": 3}, 1.5)):
            used = self.post(f"spools/{self.gauge.id}/uses/", **body)
            self.assertEqual(used.status_code, 201)
            self.assertAlmostEqual(FilamentUse.objects.latest("id").sd_g, sd)
        self.undo(used)
        self.assertEqual(FilamentUse.objects.filter(spool=self.gauge, mass_g=80).count(), 1)

    def test_what_has_not_come_yet_is_refused_but_a_clock_a_little_ahead_is_not(self):
        ahead = {minutes: (timezone.now() + timedelta(minutes=minutes)).isoformat() for minutes in (3, 20)}
        for path, body in (("moisture", {"moisture_pct": 0.2, "plus_minus_pct": 0.1}), ("uses", {"mass_g": 10})):
            address = f"spools/{self.gauge.id}/{path}/"
            self.assertEqual(self.post(address, **body, at=ahead[3]).status_code, 201)
            self.assert_refused(self.post(address, **body, at=ahead[20]), "in_future", "at", "has not come yet", 400)
            self.assert_refused(
                self.post(address, **body, at="2026-11-24T05:00:00"), "invalid", "at", "zone offset", 400
            )

    def test_amounts_that_cannot_be_are_refused(self):
        for path, body, field in (
            ("moisture", {"moisture_pct": -0.1, "plus_minus_pct": 0.1}, "moisture_pct"),
            ("moisture", {"moisture_pct": 51, "plus_minus_pct": 0.1}, "moisture_pct"),
            ("moisture", {"moisture_pct": 0.2}, "plus_minus_pct"),
            ("uses", {"mass_g": 0}, "mass_g"),
            ("uses", {"mass_g": "20001"}, "mass_g"),
        ):
            with self.subTest(path, **body):
                self.assert_refused(self.post(f"spools/{self.gauge.id}/{path}/", **body), "invalid", field, ".", 400)


class Labels(Spools):
    def test_a_label_is_a_drawing_for_its_spool_alone(self):
        one, two = (self.client.get(f"/api/spools/{s.id}/label/").json() for s in (self.gauge, self.tyres))
        self.assertTrue(one["svg"].startswith("<svg") and one["svg"].rstrip().endswith("</svg>"))
        self.assertNotEqual(one["svg"], two["svg"])
        self.assertEqual(self.client.get("/api/spools/999/label/").status_code, 404)


class Preferred(Spools):
    def test_one_preference_is_changed_and_the_others_stay(self):
        before = self.client.get("/api/preferences/").json()
        changed = self.put("preferences/", temp_unit="F").json()["preferences"]
        self.assertEqual(changed, before | {"temp_unit": "F"})
        self.assertEqual(Preferences.objects.count(), 1)

    def test_undo_brings_the_units_back(self):
        answer = self.put("preferences/", mass_unit="oz", clock="12")
        self.undo(answer)
        told = self.client.get("/api/preferences/").json()
        self.assertEqual((told["mass_unit"], told["clock"]), ("g", "24"))

    def test_a_tariff_that_makes_no_sense_is_refused(self):
        for body, field in (
            ({"day_rate": "-1"}, "day_rate"),
            ({"night_rate": "much"}, "night_rate"),
            ({"night_from_min": 1440}, "night_from_min"),
            ({"temp_unit": "K"}, "temp_unit"),
        ):
            self.assert_refused(self.put("preferences/", **body), "invalid", field, ".", 400)

    def test_without_a_price_plans_tell_no_cost(self):
        self.put("preferences/", day_rate=None, night_rate=None)
        plan = self.client.get("/api/plan/", {"spool": self.gauge.id, "dryer": self.box.id}).json()
        self.assertIsNone(plan["bill"])
        self.put("preferences/", day_rate="0,4", currency="€")
        bill = self.client.get("/api/plan/", {"spool": self.gauge.id, "dryer": self.box.id}).json()["bill"]
        energy = plan["ticket"]["energy_kwh"]["value"] if plan["ticket"] else 0.0
        self.assertAlmostEqual(bill["amount"], 0.4 * energy, places=6)
        self.assertEqual(bill["currency"], "€")


class OtherWorkshops(Spools):
    def test_an_act_that_was_meant_for_another_workshop_is_refused_and_reading_goes_on(self):
        own = self.client.get("/api/preferences/").json()["workshop"]
        body = {"moisture_pct": 0.1, "plus_minus_pct": 0.05}
        for key, status in ((str(uuid4()), 409), (own, 201), ("", 201)):
            answer = self.client.post(
                f"/api/spools/{self.gauge.id}/moisture/", body, content_type="application/json",
                headers={"X-Darre-Workshop": key},
            )  # fmt: skip
            self.assertEqual(answer.status_code, status, key)
            if status == 409:
                self.assert_refused(answer, "other_workshop", None, "another workshop", 409)
            self.assertEqual(self.client.get("/api/lanes/", headers={"X-Darre-Workshop": key}).status_code, 200)
        self.assertEqual(self.client.get("/api/preferences/").json()["workshop"], own)
