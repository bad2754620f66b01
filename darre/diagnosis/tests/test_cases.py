"""Cases over the API: opened, looked into, judged, closed, opened again; what they teach; the demo's own; practice."""

import json
from datetime import datetime, timedelta

from django.db import connection
from django.test import Client
from django.test.utils import CaptureQueriesContext
from django.utils import timezone
from hypothesis import given, settings
from hypothesis import strategies as st

from darre.diagnosis.models import Case, Observation, PracticeRound, Print, Verdict
from darre.diagnosis.practice import hidden
from darre.history.models import HistoryEntry
from darre.inventory.material_book import material_book
from darre.inventory.models import FilamentUse, OwnValue, Spool
from darre.moisture.apps import moisture_state
from darre.moisture.lanes import moistures_at
from darre.runs.tests.test_run_path import Shed
from drying.diagnosis.evidence_table import WATER


class Cases(Shed):
    @classmethod
    def setUpTestData(cls):
        super().setUpTestData()
        cls.funnel = Case.objects.get(title="Rain funnel with strings")
        cls.front = Case.objects.get(title="Drawer front off the soaked spool")
        cls.worm = Case.objects.get(title="Worm gear for the roof")

    def page(self, case):
        return self.client.get(f"/api/cases/{case.pk}/").json()

    def note(self, case, **signs):
        body = [{"sign": sign, "seen": seen} for sign, seen in signs.items()]
        return self.post(f"cases/{case.pk}/signs/", signs=body)

    def put(self, path, **body):
        return self.client.put(f"/api/{path}", body, content_type="application/json")

    def undo(self, answer):
        return self.post(f"history/{answer.json()['undo']}/undo/")

    def trouble(self, material):
        return material_book()[material].trouble.value


class Story(Cases):
    def test_the_demo_tells_its_three_cases(self):
        funnel, front, worm = self.page(self.funnel), self.page(self.front), self.page(self.worm)
        self.assertEqual((funnel["verdict"], funnel["evidence"]["in_words"]), (None, "probably"))
        confounder = next(w for w in funnel["evidence"]["weights"] if w["sign"] == "settings_changed")
        self.assertLess(confounder["bits"], -1)
        self.assertEqual(front["verdict"]["kind"], "wet_not_cause")
        self.assertGreater(front["evidence"]["moisture_pct"], front["evidence"]["trouble_pct"])
        self.assertLess(front["evidence"]["p_water"], 0.1)
        self.assertEqual((worm["verdict"]["kind"], worm["files"]["same"]), ("water", "file"))
        self.assertTrue(next(s for s in worm["strengths"] if s["pose"] == "standing")["change"]["finding"])
        self.assertEqual(sum(p["side"] == "after" for p in worm["photos"]), 1)

    def test_a_case_starts_from_the_spools_moisture_at_the_print_and_not_now(self):
        now = timezone.now()
        [then] = moistures_at([(self.gauge.pk, self.funnel.printed_at)], now)
        self.assertAlmostEqual(self.page(self.funnel)["evidence"]["moisture_pct"], then.value, places=3)
        dry = self.post("cases/", spool=self.gauge.pk, printed_at=self.ago(days=9)).json()["case"]
        evidence = self.client.get(f"/api/cases/{dry['id']}/").json()["evidence"]
        self.assertLess(evidence["p_water"], 0.05)
        self.assertEqual(dry["title"], "Bad print from Rain gauge")

    def test_the_list_costs_the_same_queries_for_any_number_of_cases(self):
        moisture_state().forget()
        with CaptureQueriesContext(connection) as before:
            self.assertEqual(len(self.client.get("/api/cases/").json()), 3)
        for _ in range(4):
            self.post("cases/", spool=self.gauge.pk, title="again")
        moisture_state().forget()
        with CaptureQueriesContext(connection) as after:
            rows = self.client.get("/api/cases/").json()
        self.assertEqual([r["case"]["is_open"] for r in rows], [True] * 5 + [False] * 2)
        self.assertEqual(len(after), len(before))


class Evidence(Cases):
    def test_seen_not_seen_and_not_looked_are_three_things_and_each_can_be_taken_back(self):
        before = self.page(self.funnel)["evidence"]["p_water"]
        seen = self.note(self.funnel, swap=True)
        higher = self.page(self.funnel)["evidence"]["p_water"]
        self.note(self.funnel, swap=False)
        lower = self.page(self.funnel)["evidence"]["p_water"]
        self.assertTrue(lower < before < higher)
        self.assertEqual(self.undo(seen).status_code, 409)  # it was changed since
        self.note(self.funnel, swap=None)
        self.assertAlmostEqual(self.page(self.funnel)["evidence"]["p_water"], before, places=9)
        self.assertFalse(Observation.objects.filter(case=self.funnel, sign="swap").exists())
        self.assert_refused(self.note(self.funnel, smell=True), "invalid", "signs.0.sign", "smell", 400)

    def test_calipers_count_by_their_spread_and_too_few_readings_count_for_nothing(self):
        self.put(f"cases/{self.funnel.pk}/caliper/", suspect_mm=["1,60", 1.9, 1.7, 1.85, 1.62, 1.88, 1.7, 1.95])
        page = self.page(self.funnel)
        self.assertEqual(page["caliper"]["finding"], "wider")
        self.assertIn({"sign": "caliper", "seen": True, "note": ""}, page["observations"])
        few = self.put(f"cases/{self.funnel.pk}/caliper/", suspect_mm=[1.7, 1.8])
        self.assert_refused(few, "out_of_range", "suspect_mm", "at least 4", 400)
        bad = self.put(f"cases/{self.funnel.pk}/caliper/", suspect_mm=[1.7, "x", 1.8, 1.7])
        self.assertTrue(bad.json()["field"].startswith("suspect_mm"), bad.json())
        self.put(f"cases/{self.funnel.pk}/caliper/", suspect_mm=[])
        self.assertIsNone(self.page(self.funnel)["caliper"])

    def test_own_odds_own_numbers_ratings_and_strengths_are_kept_and_can_be_taken_back(self):
        before = self.page(self.funnel)
        own = self.post(f"cases/{self.funnel.pk}/own/", text="sour smell", times="4")
        self.assertAlmostEqual(self.page(self.funnel)["evidence"]["weights"][-1]["bits"], 2.0)
        self.undo(own)
        chance = self.put("evidence/", sign="crackle", cause="tuning", p_pct=60)
        self.assertLess(self.page(self.funnel)["evidence"]["p_water"], before["evidence"]["p_water"])
        row = next(r for r in self.client.get("/api/evidence/?material=petg").json()["signs"] if r["id"] == "crackle")
        self.assertEqual((row["own"], [x["p"] for x in row["built_in"]][1]), (["tuning"], 0.04))
        self.put("evidence/", sign="crackle", cause="tuning", p_pct=None)
        self.assertEqual(self.undo(chance).status_code, 409)
        rated = self.put(
            f"cases/{self.funnel.pk}/ratings/", blind=True, scores=[{"side": "before", "feature": "walls", "score": 2}]
        )
        self.assertEqual(self.page(self.funnel)["ratings"][0]["blind"], True)
        self.undo(rated)
        self.put(
            f"cases/{self.funnel.pk}/strength/", method="flex", pose="lying", unit="N", before=[1, 2], after=[3, 4]
        )
        self.put(f"cases/{self.funnel.pk}/strength/", method="flex", pose="lying", unit="N")
        self.assertEqual(self.page(self.funnel), before)
        for body, field in (
            ({"sign": "crackle", "cause": "tuning", "p_pct": 100}, "p_pct"),
            ({"cause": "moon", "p_pct": 5}, "cause"),
        ):
            self.assertEqual(self.put("evidence/", **body).json()["field"], field)


class Verdicts(Cases):
    def close(self, case, kind, **more):
        return self.post(f"cases/{case.pk}/verdict/", kind=kind, **more)

    def test_closing_moves_the_marks_as_foretold_and_one_undo_takes_all_of_it_back(self):
        before, foretold = self.trouble("petg"), self.page(self.funnel)["thresholds"]["if_closed"]
        closed = self.close(self.funnel, "water")
        after = self.trouble("petg")
        self.assertLess(after, before)
        told = {m["kind"]: m["thresholds"]["trouble_pct"] for m in foretold}
        self.assertAlmostEqual(after, told["water"], places=3)
        self.assertEqual(self.page(self.funnel)["verdict"]["thresholds_after"]["trouble_pct"], after)
        self.assert_refused(self.close(self.funnel, "other"), "closed", None, "already", 409)
        self.undo(closed)
        self.assertEqual((self.trouble("petg"), self.page(self.funnel)["verdict"]), (before, None))
        self.assertFalse(OwnValue.objects.filter(material="petg").exists())

    def test_new_evidence_opens_a_closed_case_takes_its_lesson_back_and_keeps_the_verdict_as_it_stood(self):
        moved = self.trouble("pla")
        self.assertGreater(moved, 0.70)
        stood = Verdict.objects.get(case=self.front).evidence
        self.assertEqual(self.page(self.front)["evidence"], stood)
        self.note(self.front, swap=False)
        self.assertAlmostEqual(self.trouble("pla"), 0.70)
        self.front.refresh_from_db()
        self.assertTrue(self.front.is_open)
        page = self.page(self.front)
        self.assertEqual([v["kind"] for v in page["verdicts"]], ["wet_not_cause"])
        self.assertNotEqual(page["evidence"]["p_water"], stood["p_water"])
        self.close(self.front, "other", cause="cooling")
        self.assertEqual(len(self.page(self.front)["verdicts"]), 2)

    def test_a_mark_that_the_person_typed_is_left_alone(self):
        self.put("materials/petg/values/trouble/", value=0.3)
        self.assertTrue(self.page(self.funnel)["thresholds"]["typed"])
        self.close(self.funnel, "water")
        self.assertEqual(self.trouble("petg"), 0.3)

    def test_no_finding_teaches_nothing_and_another_cause_must_be_named(self):
        for kind, cause, code in (
            ("other", "", "no_cause"),
            ("water_and_other", "water", "no_cause"),
            ("water", "bed", "cause_not_asked"),
        ):
            self.assert_refused(self.close(self.funnel, kind, cause=cause), code, "cause", "cause", 400)
        self.close(self.funnel, "no_finding")
        self.assertFalse(OwnValue.objects.filter(material="petg").exists())

    def test_a_removed_case_takes_its_lesson_with_it_and_undo_brings_both_back(self):
        moved = self.trouble("pla")
        gone = self.client.delete(f"/api/cases/{self.front.pk}/")
        self.assertAlmostEqual(self.trouble("pla"), 0.70)
        self.undo(gone)
        self.assertAlmostEqual(self.trouble("pla"), moved)
        self.assertEqual(self.page(self.front)["verdict"]["kind"], "wet_not_cause")


class Prints(Cases):
    def net(self):
        lanes = self.client.get("/api/rack/").json()["lanes"]
        return next(lane["lane"]["net_g"] for lane in lanes if lane["lane"]["spool"]["id"] == self.gauge.pk)

    def test_a_print_takes_its_strand_off_the_spool_and_a_case_holds_it(self):
        before, file = self.net(), Print.objects.get(name="Rain funnel").file
        made = self.post("prints/", spool=self.gauge.pk, name="Rain funnel again", file=file.pk)
        grams = made.json()["print"]["mass_g"]
        self.assertAlmostEqual(grams, 13.4 * 3.1416 * 0.175**2 / 4 * 100 * 1.27, delta=0.05)  # 13.4 m of 1.75 mm PETG
        self.assertAlmostEqual(before - self.net(), grams, delta=0.05)
        case = self.client.patch(
            f"/api/cases/{self.funnel.pk}/", {"after": made.json()["print"]["id"]}, content_type="application/json"
        )
        self.assertEqual((case.status_code, self.page(self.funnel)["files"]["same"]), (200, "file"))
        held = self.client.delete(f"/api/prints/{made.json()['print']['id']}/")
        self.assert_refused(held, "in_use", None, "rests on this print", 409)
        self.undo(case)
        self.undo(made)
        self.assertAlmostEqual(self.net(), before)
        self.assertEqual(FilamentUse.objects.filter(note="Rain funnel again").count(), 0)

    def test_a_typed_mass_wins_and_a_print_off_another_spool_is_refused(self):
        typed = self.post("prints/", spool=self.gauge.pk, name="lid", mass_g="12,5").json()["print"]
        self.assertEqual((typed["mass_g"], typed["file"]), (12.5, None))
        other = self.post("prints/", spool=self.tyres.pk, name="tyre").json()["print"]["id"]
        refused = self.post("cases/", spool=self.gauge.pk, before=other)
        self.assert_refused(refused, "other_spool", "print", "another spool", 409)
        later = (timezone.now() + timedelta(days=1)).isoformat()
        self.assert_refused(self.post("prints/", spool=self.gauge.pk, name="x", at=later), "in_future", "at", "printed")

    def test_a_run_that_ended_since_asks_for_the_print_after_it(self):
        self.assertIsNone(self.page(self.funnel)["dried"])
        self.assertIsNotNone(self.page(self.worm)["dried"])


class Practice(Cases):
    def test_a_round_hides_its_truth_until_it_is_answered_and_then_scores_it(self):
        begun = self.post("practice/", budget_min=8).json()
        self.assertIsNone(begun["truth"])
        self.assertEqual(self.post("practice/", budget_min=30).json()["id"], begun["id"])  # an open one goes on
        self.assertNotIn("after_drying", [c["id"] for c in begun["checks_left"]])  # twenty minutes
        done = self.post(f"practice/{begun['id']}/checks/", check="push").json()
        self.assertEqual((done["left_min"], len(done["shown"])), (3, 4))
        self.assert_refused(self.post(f"practice/{begun['id']}/checks/", check="swap"), "not_left", "check", "minutes")
        told = self.post(f"practice/{begun['id']}/answer/", chance_pct="80").json()["truth"]
        case = hidden(PracticeRound.objects.get().seed)
        self.assertEqual((told["cause"], told["was_water"]), (case.cause, case.cause == WATER))
        self.assert_refused(self.post(f"practice/{begun['id']}/answer/", chance_pct=1), "ended", None, "ended")
        total = self.client.get("/api/practice/").json()["sum"]
        self.assertAlmostEqual(total["brier_you"], (0.8 - told["was_water"]) ** 2)
        self.assertEqual((total["rounds"], total["tenths"][0]["count"]), (1, 1))


class Contract(Cases):
    def test_whatever_is_sent_is_answered_in_the_promised_shape(self):
        client = Client(raise_request_exception=True)
        anything = st.none() | st.booleans() | st.integers() | st.floats() | st.text(max_size=6) | st.just([1, "x"])
        some_id = st.integers(-1, 12) | anything
        sign = st.fixed_dictionaries({"sign": anything, "seen": anything})
        acts = {
            "post cases/": {"spool": some_id, "title": anything, "before": some_id, "printed_at": anything},
            "post cases/3/signs/": {"signs": st.lists(sign, max_size=2) | anything},
            "post cases/3/own/": {"text": anything, "times": anything},
            "put cases/3/caliper/": {"suspect_mm": st.lists(st.floats(0, 3), max_size=6), "dry_mm": anything},
            "put cases/3/ratings/": {"scores": anything, "blind": anything},
            "put cases/3/strength/": dict.fromkeys(("method", "pose", "unit", "before", "after"), anything),
            "post cases/3/verdict/": {"kind": anything, "cause": anything},
            "patch cases/3/": {"title": anything, "before": some_id, "after": some_id, "printed_at": anything},
            "post prints/": {"spool": some_id, "name": anything, "file": some_id, "mass_g": anything, "at": anything},
            "put evidence/": {"sign": anything, "cause": anything, "p_pct": anything},
            "post practice/": {"budget_min": anything},
        }

        @settings(max_examples=80, deadline=None)
        @given(st.data(), st.sampled_from(list(acts)))
        def send(data, act):
            method, path = act.split(" ")
            body = data.draw(st.fixed_dictionaries({}, optional=acts[act]) | anything)
            answer = getattr(client, method)(f"/api/{path}", json.dumps(body), content_type="application/json")
            if answer.status_code >= 400:
                self.assertIn(answer.status_code, (400, 409), (act, body))
                self.assertTrue(answer.json()["message"])

        send()

    def test_a_case_on_which_evidence_rests_is_not_undone_with_it_and_a_bare_one_is(self):
        opened = self.post("cases/", spool=self.gauge.pk)
        case = Case.objects.get(pk=opened.json()["case"]["id"])
        noted = self.note(case, crackle=True)
        self.assertEqual(self.undo(opened).status_code, 409)
        self.undo(noted)
        self.assertEqual(self.undo(opened).status_code, 200)
        self.assertFalse(Case.objects.filter(pk=case.pk).exists())

    def test_every_act_leaves_one_line_of_history(self):
        lines = HistoryEntry.objects.count()
        self.note(self.funnel, swap=True, bubbles=False)
        self.post("cases/", spool=Spool.objects.get(name="Dome rail").pk)
        self.assertEqual(HistoryEntry.objects.count(), lines + 2)
        self.assertLess(HistoryEntry.objects.latest("id").at - timezone.now(), timedelta(seconds=1))
        self.assertIsInstance(datetime.fromisoformat(self.page(self.funnel)["case"]["opened_at"]), datetime)
