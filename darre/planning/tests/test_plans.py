"""Plan, map and kit over the API: what is asked is what the core says, and every change has its way back."""

import numpy as np
from django.utils import timezone

from darre.equipment.models import Dryer, ProbePair
from darre.inventory.models import OwnValue, Spool
from darre.inventory.selectors import preferences
from darre.planning.plans import Wanted, planned
from darre.runs.models import Run
from darre.runs.tests.test_run_path import Shed
from drying.dryers.dryer import HABITS
from drying.planning.drying_map import map_to_show


class Planning(Shed):
    def plan(self, spool, dryer, **asked):
        answer = self.client.get("/api/plan/", {"spool": spool.id, "dryer": dryer.id, **asked})
        self.assertEqual(answer.status_code, 200, answer.json())
        return answer.json()

    def chart(self, spool, dryer, **asked):
        return self.client.get("/api/plan/map/", {"spool": spool.id, "dryer": dryer.id, **asked}).json()

    def test_a_coil_may_be_dried_beside_two_spools(self):
        others = ",".join(str(Spool.objects.get(name=name).id) for name in ("Roller tyres", "Lens caps"))
        self.gauge.form = Spool.Form.LOOSE
        self.gauge.save()
        asked = {"spool": self.gauge.id, "dryer": self.stacker.id, "co_dried": others}
        for address in ("/api/plan/", "/api/plan/map/"):
            answer = self.client.get(address, asked)
            self.assertEqual(answer.status_code, 200, answer.content[:200])

    def test_the_map_is_the_cores_own_and_its_point_is_the_tickets_end(self):
        got = self.chart(self.gauge, self.stacker)
        now = timezone.now()
        want = map_to_show(planned([self.gauge.id], self.stacker, Wanted(), now).setup)
        np.testing.assert_allclose(got["moisture_pct"], want.moisture_pct[0], atol=2e-5)
        ticket = self.plan(self.gauge, self.stacker, temp_c=60, duration_h=9)["ticket"]
        row = [np.interp(9, got["hours"], r) for r in got["moisture_pct"]]
        self.assertAlmostEqual(np.interp(60, got["temps_c"], row), ticket["members"][0]["end_pct"], delta=2e-4)

    def test_company_caps_the_heat_and_says_who_is_last(self):
        guides = Spool.objects.get(name="Cable guides")
        alone = self.plan(self.gauge, self.box)
        both = self.plan(self.gauge, self.box, co_dried=str(guides.id))
        self.assertLess(both["ticket"]["air_c"], alone["ticket"]["air_c"])
        self.assertEqual([lane["spool"]["name"] for lane in both["lanes"]], ["Rain gauge", "Cable guides"])
        self.assertEqual(len(both["ticket"]["members"]), 2)
        self.assertIn(both["ticket"]["last"], (0, 1))
        held = [c for c in both["ticket"]["cautions"] if c["kind"] == "held_by_limit"]
        self.assertEqual(held[0]["limit"]["spool"], 1)
        full = self.plan(self.gauge, self.box, co_dried="3,5,9")
        self.assertEqual([(m["measure"], m["has"], m["takes"]) for m in full["misfits"]], [("slots", 4, 2)])

    def test_what_cannot_be_done_here_names_what_could(self):
        hinge = Spool.objects.get(name="Hinge stock")
        cannot = self.plan(hinge, Dryer.objects.get(name="Bed and lid"))
        self.assertEqual(cannot["outcome"], "cannot")
        could = self.client.get(f"/api/plan/alternatives/?spool={hinge.id}&dryer={cannot['dryer']['id']}").json()
        self.assertIn(("other_dryer", self.stacker.id), [(x["kind"], x["dryer"]) for x in could])
        self.assertEqual(self.plan(Spool.objects.get(name="Dome rail"), self.stacker)["outcome"], "not_needed")
        self.assertEqual(self.plan(hinge, self.stacker, method="ready_by", ready_in_h=2)["outcome"], "not_by_then")

    def test_the_makers_sheet_is_kept_planned_by_and_forgotten(self):
        path = f"/api/spools/{self.tyres.id}/sheet/"
        sheet = {"temp_c": "60", "duration_h": 5, "only_if_opened": True}
        undo = self.client.put(path, sheet, content_type="application/json").json()["undo"]
        ticket = self.plan(self.tyres, self.stacker, method="sheet")["ticket"]
        self.assertEqual((ticket["air_c"], ticket["duration_h"]), (60, 5))
        self.assertIn("only_if_opened", {c["kind"] for c in ticket["cautions"]})
        self.assertIn("sheet", {r["name"] for r in self.chart(self.tyres, self.stacker)["rings"]})
        self.assertEqual(self.post(f"history/{undo}/undo/").status_code, 200)
        gone = self.client.get("/api/plan/", {"spool": self.tyres.id, "dryer": self.stacker.id, "method": "sheet"})
        self.assert_refused(gone, "out_of_range", "method", "no programme")
        self.assertEqual(self.client.delete(path).status_code, 200)

    def test_a_tariff_prices_the_run_by_the_persons_own_clock(self):
        ten = {"start": "2026-11-24T22:00:00+01:00", "temp_c": 60, "duration_h": 5}
        bill = self.plan(self.gauge, self.stacker, **ten)["bill"]
        self.assertEqual((bill["currency"], bill["wait_h"]), ("£", 2.5))
        self.assertAlmostEqual(bill["wait_amount"] / bill["amount"], 0.12 / (0.28 * 0.5 + 0.12 * 0.5), places=6)
        self.client.put("/api/preferences/", {"day_rate": None}, content_type="application/json")
        self.assertIsNone(self.plan(self.gauge, self.stacker, **ten)["bill"])

    def test_what_the_dryer_is_not_known_to_do_is_said(self):
        bare = self.post("dryers/", name="Bare box", kind="heated_box", min_c=35, max_c=60).json()["dryer"]
        ticket = self.plan(self.gauge, Dryer.objects.get(pk=bare["id"]))["ticket"]
        assumed = next(c for c in ticket["cautions"] if c["kind"] == "assumed")
        self.assertEqual(set(assumed["numbers"]), set(HABITS))
        self.assertIn("display_doubtful", {c["kind"] for c in ticket["cautions"]})

    def test_own_values_change_the_plan_and_go_back(self):
        path = "/api/materials/petg/values/clean/"
        before = self.plan(self.gauge, self.stacker)["ticket"]
        kept = self.client.put(path, {"value": "0,1", "note": "my bridges"}, content_type="application/json").json()
        clean = next(v for v in kept["material"]["values"] if v["name"] == "clean")
        self.assertEqual((clean["now"]["value"], clean["built_in"]["value"], clean["own"]), (0.1, 0.08, True))
        sooner = self.plan(self.gauge, self.stacker)["ticket"]
        self.assertLess(sooner["duration_h"], before["duration_h"])
        self.client.delete(path)
        self.assertEqual(self.plan(self.gauge, self.stacker)["ticket"]["duration_h"], before["duration_h"])


class Kit(Shed):
    def put(self, path, **body):
        return self.client.put(f"/api/{path}", body, content_type="application/json")

    def test_probe_pairs_turn_the_dial_and_a_wrong_one_is_refused_and_not_kept(self):
        before = ProbePair.objects.count()
        kept = self.post(f"dryers/{self.stacker.id}/probes/", set_c=50, air_c="44").json()
        self.assertEqual((kept["dryer"]["calibration"]["pairs"], kept["dryer"]["calibration"]["offset_c"]), (1, 6))
        wrong = self.post(f"dryers/{self.stacker.id}/probes/", set_c=70, air_c=30)
        self.assert_refused(wrong, "out_of_range", "pairs", "mistyped", 400)
        self.assertEqual(ProbePair.objects.count(), before + 1)
        self.client.delete(f"/api/probes/{kept['dryer']['probes'][0]['id']}/")
        self.assertEqual(ProbePair.objects.count(), before)

    def test_a_dryer_is_added_changed_removed_and_each_is_taken_back(self):
        body = {"name": "Lamp bucket", "kind": "lamp", "min_c": 30, "max_c": "55,5", "timer_choices_h": [2, "4"]}
        added = self.post("dryers/", **body).json()
        here = f"dryers/{added['dryer']['id']}/"
        self.assertEqual((added["dryer"]["max_c"], added["dryer"]["timer_choices_h"]), (55.5, [2, 4]))
        self.assertIn("swing_c", added["dryer"]["assumed"])
        changed = self.put(here, **body | {"levels": [{"name": "high", "air_c": 50}, {"name": "low", "air_c": 40}]})
        self.assertEqual([x["name"] for x in changed.json()["dryer"]["levels"]], ["low", "high"])
        removed = self.client.delete(f"/api/{here}").json()
        self.assertFalse(Dryer.objects.filter(name="Lamp bucket").exists())
        self.post(f"history/{removed['undo']}/undo/")
        self.assertEqual(Dryer.objects.get(name="Lamp bucket").levels, [["low", 40], ["high", 50]])

    def test_what_no_dryer_is_is_refused_by_its_field(self):
        fine = {"name": "New box", "kind": "heated_box", "min_c": 35, "max_c": 60}
        cases = (
            ({"name": "Cellar box"}, "name_taken", "name", "already a dryer"),
            ({"kind": "toaster"}, "invalid", "kind", "toaster"),
            ({"max_c": 20}, "invalid", "max_c", "hottest cannot be under"),
            ({"swing_c": 90}, "invalid", "swing_c", "at most 40 °C"),
            ({"metered_kwh": 1}, "invalid", "metered_kwh", "all three"),
            ({"levels": [{"name": "low", "air_c": 500}]}, "invalid", "levels.0.air_c", "at most 200"),
        )
        for wrong, code, field, named in cases:
            with self.subTest(field):
                self.assert_refused(self.post("dryers/", **fine | wrong), code, field, named)
        self.assert_refused(self.client.delete(f"/api/dryers/{self.box.id}/"), "in_use", None, "has runs")
        self.assertEqual(Run.objects.filter(batch__dryer=self.box).count(), 1)


class OwnMaterials(Shed):
    def test_an_own_material_is_begun_used_guarded_and_removed(self):
        made = self.post("materials/", name="Shed blend", base="pla").json()["material"]
        self.assertEqual((made["id"], made["own"]), ("own-shed-blend", True))
        own = {"temp_c": 45, "duration_h": 9}
        self.client.put(f"/api/materials/{made['id']}/programmes/own/", own, content_type="application/json")
        Spool.objects.filter(pk=self.tyres.id).update(material=made["id"])
        plan = self.client.get("/api/plan/", {"spool": self.tyres.id, "dryer": self.stacker.id, "method": "own"}).json()
        self.assertEqual((plan["ticket"]["air_c"], plan["lanes"][0]["material_short"]), (45, "Shed blend"))
        kept = self.client.delete(f"/api/materials/{made['id']}/")
        self.assert_refused(kept, "in_use", None, "Roller tyres is of Shed blend")
        Spool.objects.filter(pk=self.tyres.id).update(material="tpu")
        self.assertEqual(self.client.delete(f"/api/materials/{made['id']}/").status_code, 200)

    def test_values_out_of_order_are_refused_and_nothing_is_kept(self):
        def put(path, **body):
            return self.client.put(f"/api/materials/{path}/", body, content_type="application/json")

        for path, body, code, field, named in (
            (
                "petg/values/clean",
                {"value": 5},
                "out_of_range",
                "clean",
                "must lie below the trouble threshold, 0.22 %",
            ),
            ("petg/values/density", {"value": "12"}, "out_of_range", "density", "between 300 kg/m³ and 5000"),
            ("petg/values/smell", {"value": 1}, "unknown_name", "name", "smell"),
            ("cheese/values/clean", {"value": 1}, "out_of_range", "material", "cheese"),
            ("petg/programmes/usual", {"temp_c": 500, "duration_h": 1}, "invalid", "temp_c", "at most 200 °C"),
        ):
            with self.subTest(path):
                self.assert_refused(put(path, **body), code, field, named, 400)
        self.assertFalse(OwnValue.objects.filter(material="petg").exists())
        self.assert_refused(self.client.delete("/api/materials/petg/"), "built_in", None, "built-in rows stay")
        self.assert_refused(self.post("materials/", name="PETG", base="petg"), "name_taken", "name", "PETG")

    def test_preferences_change_one_by_one_and_are_taken_back(self):
        def put(**body):
            return self.client.put("/api/preferences/", body, content_type="application/json")

        kept = put(temp_unit="F").json()
        self.assertEqual((kept["preferences"]["temp_unit"], kept["preferences"]["currency"]), ("F", "£"))
        self.assert_refused(put(temp_unit="K"), "invalid", "temp_unit", "K")
        self.assert_refused(put(night_from_min=2000), "invalid", "night_from_min", "1439")
        self.post(f"history/{kept['undo']}/undo/")
        self.assertEqual(preferences().temp_unit, "C")
