"""Dryers, probe pairs and scales over HTTP: added, changed, refused by field, removed, and taken back."""

from darre.equipment.models import Dryer, ProbePair, Scale
from darre.history.models import HistoryEntry
from darre.inventory.models import Spool
from darre.runs.tests.test_run_path import Shed

NEW = {"name": "Tin with a lamp", "kind": "lamp", "min_c": "30", "max_c": "55", "slots": 1}


class Equipment(Shed):
    def put(self, path, **body):
        return self.client.put(f"/api/{path}", body, content_type="application/json")

    def undo(self, answer):
        self.assertEqual(self.post(f"history/{answer.json()['undo']}/undo/").status_code, 200)


class Dryers(Equipment):
    def test_what_was_left_out_is_not_known_and_its_kind_fills_in(self):
        added = self.post("dryers/", **NEW)
        self.assertEqual(added.status_code, 201)
        dryer = added.json()["dryer"]
        for name in ("vent_m3_h", "swing_c", "warm_up_h", "hot_side_excess_c", "heater_w", "timer_max_h", "fan"):
            self.assertIsNone(dryer[name], name)
        kind = next(k for k in self.client.get("/api/dryer-kinds/").json() if k["kind"] == "lamp")
        self.assertTrue(all(kind[name] > 0 for name in ("vent_m3_h", "swing_c", "warm_up_h", "heater_w")))
        self.undo(added)
        self.assertFalse(Dryer.objects.filter(name=NEW["name"]).exists())

    def test_levels_are_stored_coolest_first_and_are_all_it_can_hold(self):
        levels = [{"name": "hot", "air_c": "52"}, {"name": "mild", "air_c": "38,5"}]
        dryer = self.post("dryers/", **NEW, levels=levels).json()["dryer"]
        self.assertEqual(
            [(level["name"], level["air_c"]) for level in dryer["levels"]], [("mild", 38.5), ("hot", 52.0)]
        )
        self.assertEqual(dryer["calibration"]["kind"], "levels")

    def test_every_field_at_fault_is_named_at_once(self):
        faults = {
            "name": "", "min_c": "cold", "max_c": "300", "slots": 0, "swing_c": -1, "vent_m3_h": "10001",
            "metered_h": 0, "max_width_mm": 9,
        }  # fmt: skip
        answer = self.post("dryers/", **{**NEW, **faults})
        self.assertEqual(answer.status_code, 400)
        self.assertEqual({error["field"] for error in answer.json()["fields"]}, set(faults))
        for error in answer.json()["fields"]:
            self.assertTrue(error["message"] and error["parts"], error)

    def test_numbers_that_do_not_go_together_are_refused(self):
        for change, field, says in (
            ({"max_c": 25}, "max_c", "cannot be under the coolest, 30 °C"),
            ({"metered_kwh": 1}, "metered_kwh", "all three, or none"),
            ({"metered_kwh": 1, "metered_h": 5}, "metered_kwh", "all three, or none"),
        ):
            self.assert_refused(self.post("dryers/", **{**NEW, **change}), "invalid", field, says, 400)
        parts = self.post("dryers/", **{**NEW, "max_c": 25}).json()["parts"]
        self.assertEqual([part["value"] for part in parts if part["value"] is not None], [30.0])
        self.assertFalse(Dryer.objects.filter(name=NEW["name"]).exists())

    def test_what_is_out_of_service_is_not_planned_for_not_started_and_comes_back(self):
        where = f"rack/?span=week&spool={self.gauge.id}"
        best = self.client.get(f"/api/{where}").json()["lanes"][0]["heat"]["dryer"]
        out = self.put(f"dryers/{best}/service/", in_service=False)
        self.assertIs(out.json()["dryer"]["in_service"], False)
        heat = self.client.get(f"/api/{where}").json()["lanes"][0]["heat"]
        self.assertNotEqual(heat and heat["dryer"], best)
        plan = self.client.get(f"/api/plan/?spool={self.gauge.id}").json()
        self.assertNotEqual(plan["dryer"]["id"], best)
        weak = f"spool={Spool.objects.get(name='Hinge stock').id}&dryer={self.box.id}"
        could = self.client.get(f"/api/plan/alternatives/?{weak}").json()
        self.assertTrue(could)
        self.assertNotIn(best, [alternative["dryer"] for alternative in could])
        started = self.start(self.gauge, Dryer.objects.get(pk=best), 50)
        self.assert_refused(started, "out_of_service", "dryer", "Put it back in service in Kit", 409)
        self.undo(out)
        self.assertEqual(self.client.get(f"/api/{where}").json()["lanes"][0]["heat"]["dryer"], best)

    def test_a_step_of_degrees_is_told_apart_from_a_temperature(self):
        for field, value, is_step in (("swing_c", 41, True), ("min_c", 201, False), ("display_offset_c", 101, True)):
            errors = self.post("dryers/", **{**NEW, field: value}).json()["fields"]
            parts = next(error["parts"] for error in errors if error["field"] == field)
            self.assertEqual({part["difference"] for part in parts if part["unit"] == "°C"}, {is_step}, field)

    def test_a_name_is_taken_once_and_its_own_name_is_no_clash(self):
        self.assert_refused(
            self.post("dryers/", **{**NEW, "name": "Cellar box"}), "name_taken", "name", "Cellar box", 409
        )
        mine = self.post("dryers/", **NEW).json()["dryer"]["id"]
        self.assertEqual(self.put(f"dryers/{mine}/", **{**NEW, "max_c": 58}).status_code, 200)
        self.assert_refused(
            self.put(f"dryers/{mine}/", **{**NEW, "name": "Old oven"}), "name_taken", "name", "Old oven", 409
        )

    def test_a_changed_dryer_changes_its_plans_and_not_its_runs(self):
        before = self.client.get("/api/runs/").json()
        page = self.client.get("/api/dryers/").json()
        box = next(d for d in page if d["id"] == self.box.id)
        body = {name: box[name] for name in ("name", "kind", "min_c", "slots", "levels", "timer_choices_h")}
        changed = self.put(f"dryers/{self.box.id}/", **body, max_c=58)
        plan = self.client.get("/api/plan/", {"spool": self.gauge.id, "dryer": self.box.id}).json()
        self.assertLessEqual(plan["ticket"]["air_c"], 58)
        temps = [(row["run"]["id"], row["run"]["temp_c"]) for row in before]
        self.assertEqual(
            [(row["run"]["id"], row["run"]["temp_c"]) for row in self.client.get("/api/runs/").json()], temps
        )
        self.undo(changed)
        self.box.refresh_from_db()
        self.assertEqual(self.box.max_c, 65)

    def test_one_that_was_never_used_goes_with_its_pairs_and_comes_back_with_them(self):
        mine = self.post("dryers/", **NEW).json()["dryer"]["id"]
        self.post(f"dryers/{mine}/probes/", set_c=50, air_c=46)
        removed = self.client.delete(f"/api/dryers/{mine}/")
        self.assertFalse(ProbePair.objects.filter(dryer=mine).exists())
        self.undo(removed)
        self.assertEqual(ProbePair.objects.get(dryer=mine).air_c, 46.0)
        self.assert_refused(self.client.delete(f"/api/dryers/{self.box.id}/"), "in_use", None, "has runs", 409)


class Probes(Equipment):
    def test_pairs_move_the_calibration_and_a_removed_one_moves_it_back(self):
        mine = self.post("dryers/", **NEW).json()["dryer"]["id"]
        self.post(f"dryers/{mine}/probes/", set_c=40, air_c="37,5", room_c=19)
        two = self.post(f"dryers/{mine}/probes/", set_c=55, air_c=50).json()["dryer"]
        self.assertEqual(two["calibration"]["pairs"], 2)
        probe = next(p for p in two["probes"] if p["set_c"] == 55)
        one = self.client.delete(f"/api/probes/{probe['id']}/")
        self.assertEqual(one.json()["dryer"]["calibration"]["pairs"], 1)
        self.undo(one)
        self.assertEqual(ProbePair.objects.filter(dryer=mine).count(), 2)

    def test_a_pair_that_no_dryer_has_is_refused_and_not_kept(self):
        mine = self.post("dryers/", **NEW).json()["dryer"]["id"]
        self.post(f"dryers/{mine}/probes/", set_c=40, air_c=38)
        entries = HistoryEntry.objects.count()
        wrong = self.post(f"dryers/{mine}/probes/", set_c=55, air_c=20)
        self.assert_refused(wrong, "out_of_range", "pairs", "mistyped", 400)
        for body, field in (({"set_c": 301, "air_c": 50}, "set_c"), ({"set_c": 50}, "air_c")):
            self.assert_refused(self.post(f"dryers/{mine}/probes/", **body), "invalid", field, ".", 400)
        self.assertEqual((ProbePair.objects.filter(dryer=mine).count(), HistoryEntry.objects.count()), (1, entries))


class Scales(Equipment):
    def test_without_a_word_on_it_a_scale_repeats_within_half_a_step(self):
        added = self.post("scales/", name="Post scale", max_g="10000", resolution_g="5")
        self.assertEqual(added.json()["scale"]["repeatability_g"], 2.5)
        self.assertEqual(
            self.post("scales/", name="Post 2", max_g=9, resolution_g=1, repeatability_g=0.2).json()["scale"][
                "repeatability_g"
            ],
            0.2,
        )
        self.undo(added)
        self.assertFalse(Scale.objects.filter(name="Post scale").exists())

    def test_a_scale_without_steps_or_with_a_taken_name_is_refused(self):
        for body, code, field in (
            ({"name": "Bench scale", "max_g": 1, "resolution_g": 1}, "name_taken", "name"),
            ({"name": "X", "max_g": 0, "resolution_g": 1}, "invalid", "max_g"),
            ({"name": "X", "max_g": 100, "resolution_g": 0}, "invalid", "resolution_g"),
            ({"name": "X", "max_g": 100, "resolution_g": 1, "repeatability_g": -1}, "invalid", "repeatability_g"),
        ):
            self.assert_refused(self.post("scales/", **body), code, field, ".")

    def test_one_that_something_was_weighed_on_stays(self):
        fresh = self.post("scales/", name="Post scale", max_g=10000, resolution_g=5).json()["scale"]["id"]
        removed = self.client.delete(f"/api/scales/{fresh}/")
        self.undo(removed)
        self.assertTrue(Scale.objects.filter(name="Post scale").exists())
        self.assert_refused(self.client.delete(f"/api/scales/{self.bench.id}/"), "in_use", None, "weighed on", 409)
