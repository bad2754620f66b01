"""The path of a run over the API: plan, weigh in, start, weigh, weigh out, verdict; and every refusal on the way."""

from datetime import timedelta
from uuid import uuid4

from django.test import SimpleTestCase, TestCase
from django.utils import timezone
from hypothesis import given
from hypothesis import strategies as st

from darre.demo.tests.fresh import load_demo_world
from darre.equipment.models import Dryer, Scale
from darre.equipment.records import core_dryer
from darre.history.models import HistoryEntry
from darre.inventory.models import MoistureReading, Spool
from darre.inventory.records import core_load
from darre.moisture.apps import moisture_state
from darre.moisture.lanes import lane_of
from darre.places.selectors import room_now
from darre.runs.models import Run, Weighing
from darre.runs.selectors import _shown_h, learned_rate, share_of_strand
from drying.dryers.load import as_planned, room_as_planned
from drying.dryers.setup import Setup
from drying.planning.choose import choose
from drying.planning.ticket import write_ticket


class Shed(TestCase):
    """The demo world, and short ways to speak with its API."""

    @classmethod
    def setUpTestData(cls):
        load_demo_world(cls)
        cls.gauge = Spool.objects.get(name="Rain gauge")
        cls.tyres = Spool.objects.get(name="Roller tyres")
        cls.box = Dryer.objects.get(name="Cellar box")
        cls.stacker = Dryer.objects.get(name="Tall stacker")
        cls.bench = Scale.objects.get(name="Bench scale")
        cls.pocket = Scale.objects.get(name="Pocket scale")

    def post(self, path, **body):
        return self.client.post(f"/api/{path}", body, content_type="application/json")

    def reading(self, gross_g, **more):
        return {"scale": self.bench.id, "gross_g": gross_g, "client_key": str(uuid4()), **more}

    def start(self, spool=None, dryer=None, temp_c=63, gross_g="800,3", **more):
        body = {"temp_c": temp_c, "duration_h": 8, "method": "usual", "client_key": str(uuid4()), **more}
        spool = spool or self.gauge
        if gross_g is not None:
            body["readings"] = [{**self.reading(gross_g), "spool": spool.id}]
        return self.post("plan/start/", spool=spool.id, dryer=(dryer or self.box).id, **body)

    def started(self, *args, **more):
        """The run that was started."""
        return self.start(*args, **more).json()["runs"][0]

    def ago(self, **time):
        return (timezone.now() - timedelta(**time)).isoformat()

    def assert_refused(self, answer, code, field, named, status=None):
        body = answer.json()
        self.assertEqual((body["code"], body["field"]), (code, field), body)
        self.assertRegex(body["message"], named)
        self.assertIn(answer.status_code, (status,) if status else (400, 409))


class Path(Shed):
    def test_from_the_plan_to_the_verdict(self):
        plan = self.client.get(f"/api/plan/?spool={self.gauge.id}&dryer={self.box.id}").json()
        self.assertEqual((plan["ticket"]["setting"]["set_c"], plan["ticket"]["air_c"]), (68, 63))
        self.assertEqual(plan["ticket"]["forecasts"][0]["basis"], "wound_spool")

        run = self.started(at=self.ago(hours=9))
        self.assertEqual(
            self.post("weighings/", spool=self.gauge.id, **self.reading(799.3), at=self.ago(hours=5)).status_code, 201
        )
        ended = self.post(f"runs/{run['id']}/end/", weigh_out=self.reading(798.8))
        self.assertEqual(ended.status_code, 200)

        sheet = self.client.get(f"/api/runs/{run['id']}/").json()
        lost = sheet["verdict"]["loss"]
        self.assertEqual(sheet["verdict"]["state"], "going")
        self.assertAlmostEqual(lost["mass_g"]["value"], 1.5)
        self.assertAlmostEqual(lost["mass_g"]["plus_minus"], 0.173, places=3)
        self.assertAlmostEqual(lost["dry_basis_pct"]["value"], 100 * 1.5 / 581.9, delta=0.002)
        self.assertEqual([round(s["gross_g"], 1) for s in sheet["seen"]], [800.3, 799.3, 798.8])
        mark = MoistureReading.objects.filter(spool=self.gauge).last()
        self.assertAlmostEqual(mark.moisture_pct, sheet["verdict"]["moisture"]["mean"], delta=1e-3)

    def test_the_ticket_says_what_the_core_says_to_the_digit(self):
        now = timezone.now()
        lane = lane_of(self.tyres.id, now)
        share = share_of_strand(lane.spool, lane.material, "", lane.net_g)
        rate = learned_rate(lane.spool, self.stacker.id, share)
        load = core_load(lane.spool, lane.material, lane.moisture, lane.net_g, rate=rate)
        setup = Setup((as_planned(load),), core_dryer(self.stacker), room_as_planned(room_now(now).air))
        want = write_ticket(setup, choose("brisk", setup))
        got = self.client.get(f"/api/plan/?spool={self.tyres.id}&dryer={self.stacker.id}&method=brisk").json()["ticket"]
        self.assertEqual((got["air_c"], got["duration_h"]), (want.air_c, want.duration_h))
        self.assertEqual(got["members"][0]["floor_pct"], want.members[0].floor_pct)
        self.assertAlmostEqual(got["members"][0]["end_pct"], want.members[0].end_pct, places=6)

    def test_hours_are_counted_in_true_time_across_a_change_of_the_clocks(self):
        # 29 March 2026, 01:30 GMT to 03:30 BST is one hour, whatever the clocks on the wall say.
        MoistureReading.objects.filter(spool=self.tyres).update(at="2026-03-01T00:00:00+00:00")
        run = self.started(self.tyres, self.stacker, 50, "750", at="2026-03-29T00:30:00+00:00")
        self.post(f"runs/{run['id']}/end/", weigh_out=self.reading(749), at="2026-03-29T03:30:00+01:00")
        sheet = self.client.get(f"/api/runs/{run['id']}/").json()
        self.assertEqual((sheet["now_h"], sheet["seen"][1]["point"]["time_h"]), (2.0, 2.0))


class Refusals(Shed):
    def test_each_bad_weigh_in_has_its_own_answer_and_stores_nothing(self):
        before = Weighing.objects.count()
        cases = (
            ("abc", {}, "invalid", "gross_g", "“abc” is not a number"),
            ("", {}, "invalid", "gross_g", "Needed: a number in g"),
            ("1.234,5", {}, "invalid", "gross_g", "not a number"),
            (True, {}, "invalid", "gross_g", "Needed: a number"),
            (-3, {}, "invalid", "gross_g", "-3 g is out of range"),
            ("1e999", {}, "invalid", "gross_g", "not a number"),
            (99999, {}, "invalid", "gross_g", "at most 20000 g"),
            (120, {}, "gross_below_tare", "gross_g", "less than the empty spool of Rain gauge"),
            (858, {"scale": self.pocket.id}, "over_scale", "gross_g", "more than Pocket scale can weigh"),
            (858, {"scale": 999}, "invalid", "scale", "999"),
            (858, {"at": "2026-10-25T01:30:00"}, "invalid", "at", "no zone offset"),
            (858, {"at": "yesterday"}, "invalid", "at", "zone offset"),
            (858, {"at": "2126-01-01T00:00:00Z"}, "in_future", "at", "has not come yet"),
        )
        for gross, more, code, field, named in cases:
            with self.subTest(gross=gross, **more):
                answer = self.post("weighings/", spool=self.gauge.id, **{**self.reading(gross), **more})
                self.assert_refused(answer, code, field, named, 400)
        self.assertEqual(Weighing.objects.count(), before)

    def test_a_comma_a_point_a_number_and_the_unit_behind_it_are_all_understood(self):
        for typed in ("798,8", "798.8", 798.8, " 798.8 g"):
            kept = self.post("weighings/", spool=self.gauge.id, **self.reading(typed)).json()
            self.assertEqual(kept["weighing"]["gross_g"], 798.8, typed)

    def test_a_double_click_on_keep_is_one_weigh_in_one_run_and_one_end(self):
        slip = {"spool": self.tyres.id, **self.reading(754.2)}
        first, second = self.post("weighings/", **slip), self.post("weighings/", **slip)
        self.assertEqual((first.status_code, second.status_code), (201, 200))
        self.assertEqual(first.json()["weighing"]["id"], second.json()["weighing"]["id"])

        ticket = {"client_key": str(uuid4()), "at": self.ago(hours=3)}
        runs = [self.started(**ticket)["id"] for _ in range(2)]
        self.assertEqual(len(set(runs)), 1)
        slip = self.reading(798.8)
        ends = [self.post(f"runs/{runs[0]}/end/", weigh_out=slip).status_code for _ in range(2)]
        self.assertEqual(ends, [200, 200])
        self.assertEqual(Weighing.objects.filter(run=runs[0]).count(), 2)

    def test_a_weigh_out_before_or_without_its_weigh_in_is_refused(self):
        run = self.started(at=self.ago(hours=2))["id"]
        early = self.post(f"runs/{run}/end/", weigh_out=self.reading(798.8), at=self.ago(hours=3))
        self.assert_refused(early, "end_before_start", "at", "later end")
        self.post("weighings/", spool=self.gauge.id, **self.reading(799.4), at=self.ago(minutes=30))
        middle = self.post(f"runs/{run}/end/", weigh_out=self.reading(798.8), at=self.ago(hours=1))
        self.assert_refused(middle, "before_weigh_in", "at", "cannot come before")
        bare = self.started(self.tyres, self.stacker, 50, None, at=self.ago(hours=2))["id"]
        self.assert_refused(
            self.post(f"runs/{bare}/end/", weigh_out=self.reading(750)),
            "no_weigh_in",
            "weigh_out",
            "not weighed at the start",
        )
        self.assertIsNone(Run.objects.get(pk=bare).ended_at)

    def test_past_a_limit_takes_a_reason_and_melting_takes_none(self):
        over = self.start(temp_c=70)
        self.assert_refused(over, "over_limit", "override_reason", "dryer gets no hotter than 65", 409)
        self.assertEqual({x["kind"] for x in over.json()["limits"]}, {"dryer_max", "filament_soft", "spool_sag"})
        self.assert_refused(
            self.start(temp_c=70, override_reason="  x "), "over_limit", "override_reason", "say why", 409
        )
        melted = self.start(temp_c=95, override_reason="because I want to")
        self.assert_refused(melted, "would_melt", "temp_c", "would ruin this spool.*stick together", 400)
        fine = self.start(dryer=self.stacker, temp_c=70, override_reason="body checked at 75 °C before")
        self.assertEqual(
            (fine.status_code, fine.json()["runs"][0]["override_reason"]), (201, "body checked at 75 °C before")
        )

    def test_a_spool_cannot_be_in_two_runs_nor_a_dryer_run_at_two_temperatures_or_over_full(self):
        self.assert_refused(
            self.start(self.tyres, temp_c=55, gross_g="750"), "dryer_busy", "temp_c", "running at 63 °C"
        )
        self.assertEqual(self.start().status_code, 201)
        again = self.start(dryer=self.stacker)
        self.assert_refused(again, "already_running", "spool", "already being dried in Cellar box", 409)
        self.assert_refused(self.start(self.tyres, gross_g="750"), "dryer_full", "dryer", "full: .*Vent louvre", 409)

    def test_a_plan_that_cannot_be_says_why(self):
        ask = f"/api/plan/?spool={self.gauge.id}&dryer="
        oven = Dryer.objects.get(name="Old oven")
        star = Spool.objects.get(name="Star chart")
        self.assert_refused(
            self.client.get(f"{ask}{self.box.id}&temp_c=warm"), "invalid", "temp_c", "“warm” is not a number"
        )
        self.assert_refused(
            self.client.get(f"{ask}{self.box.id}&duration_h=0"),
            "invalid",
            "duration_h",
            "more than 0 h, at most 400 h",
        )
        self.assert_refused(self.client.get(f"{ask}99"), "invalid", "dryer", "99")
        Dryer.objects.filter(pk=oven.pk).update(min_c=90, max_c=120)
        harms = self.client.get(f"/api/plan/?spool={star.id}&dryer={oven.id}").json()
        self.assertEqual((harms["outcome"], harms["ticket"]), ("harms", None))
        self.assertRegex("".join(part["text"] for part in harms["why_not"]), "least, 90 °C, would stick the turns")

    def test_other_bodies_addresses_and_methods_answer_in_the_same_shape(self):
        form = self.client.post("/api/weighings/", {"spool": 1})
        unread = self.client.post("/api/weighings/", "{", content_type="application/json")
        for answer, status in (
            (form, 415), (unread, 400), (self.client.get("/api/runs/999/"), 404), (self.client.get("/api/none/"), 404),
            (self.client.delete("/api/runs/"), 405),
        ):  # fmt: skip
            self.assertEqual(answer.status_code, status)
            self.assertEqual(set(answer.json()), {"code", "message", "parts", "field", "fields"})


class HistoryAndUndo(Shed):
    def test_every_write_leaves_what_when_before_and_after(self):
        run = self.started(at=self.ago(hours=1))["id"]
        self.post(f"runs/{run}/end/", weigh_out=self.reading(799.4))
        line = HistoryEntry.objects.first()
        self.assertEqual(
            (line.kind, [c["model"] for c in line.changes]),
            ("run.ended", ["runs.weighing", "runs.run", "inventory.moisturereading"]),
        )
        ended = line.changes[1]
        self.assertIsNone(ended["before"]["ended_at"])
        self.assertIsNotNone(ended["after"]["ended_at"])

    def test_undo_puts_everything_back_once_and_says_so(self):
        before = list(MoistureReading.objects.values()), list(Weighing.objects.values()), list(Run.objects.values())
        started = self.start(at=self.ago(hours=1)).json()
        ended = self.post(f"runs/{started['runs'][0]['id']}/end/", weigh_out=self.reading(799.4)).json()
        for line in (ended["undo"], ended["undo"], started["undo"]):
            self.assertEqual(self.post(f"history/{line}/undo/").status_code, 200)
        after = list(MoistureReading.objects.values()), list(Weighing.objects.values()), list(Run.objects.values())
        self.assertEqual(before, after)
        self.assertEqual(HistoryEntry.objects.filter(kind="entry.undone").count(), 2)

    def test_what_later_acts_rest_on_is_not_taken_back(self):
        started = self.start(at=self.ago(hours=2)).json()
        self.post("weighings/", spool=self.gauge.id, **self.reading(799.4))
        self.assert_refused(
            self.post(f"history/{started['undo']}/undo/"), "in_use", None, "Undo the later changes first", 409
        )
        self.assertTrue(Run.objects.filter(pk=started["runs"][0]["id"]).exists())
        self.post(f"runs/{started['runs'][0]['id']}/end/")
        self.assert_refused(self.post(f"history/{started['undo']}/undo/"), "changed_since", None, "changed again", 409)
        self.assert_refused(self.post("history/9999/undo/"), "not_found", None, "no such history entry", 404)


class Drawn(SimpleTestCase):
    def test_a_run_that_goes_as_planned_is_drawn_as_far_as_its_forecast(self):
        self.assertEqual({_shown_h(8.0, 8.0, now_h) for now_h in (0.0, 4.0, 8.0, 8.6)}, {8.8})

    @given(st.floats(0.01, 300.0), st.floats(0.0, 300.0), st.floats(0.0, 300.0))
    def test_it_is_drawn_beyond_its_end_and_beyond_now_and_not_far(self, planned_h, waits_h, now_h):
        end_h = planned_h + waits_h
        shown = _shown_h(planned_h, end_h, now_h)
        self.assertGreaterEqual(shown, max(1.09999 * end_h, now_h))
        self.assertLessEqual(shown, max(1.22 * end_h, 1.13 * now_h))

    def test_polls_of_one_that_goes_on_for_ten_days_or_is_paused_meet_few_ends(self):
        """What is drawn anew is worked out anew."""
        polls = [n / 360.0 for n in range(0, 240 * 360, 7)]
        self.assertLess(len({_shown_h(4.0, 4.0, now_h) for now_h in polls}), 50)
        self.assertLess(len({_shown_h(4.0, 4.0 + now_h, now_h) for now_h in polls}), 50)


class Lists(Shed):
    def test_lists_answer_in_a_constant_number_of_queries(self):
        def count(path):
            moisture_state().forget()
            with self.assertNumQueries(self.allowed[path]):
                self.assertEqual(self.client.get(path).status_code, 200)

        self.allowed = {"/api/lanes/": 25, "/api/runs/": 10, "/api/history/": 1, "/api/dryers/": 2, "/api/scales/": 1}
        self.client.get("/api/lanes/")  # the room's air is read once, and kept until a reading comes
        for path in self.allowed:
            count(path)
        for n, (name, gross) in enumerate((("Dome rail", "1111"), ("Star chart", "1122"), ("Lens caps", "587"))):
            started = self.start(Spool.objects.get(name=name), self.stacker, 40, gross, at=self.ago(hours=n + 1))
            self.assertEqual(started.status_code, 201)
        for path in self.allowed:
            count(path)

    def test_the_rack_is_sorted_by_wetness_against_each_ones_own_trouble_mark(self):
        lanes = self.client.get("/api/lanes/").json()
        wetness = [x["moisture"]["value"] / x["trouble_pct"] for x in lanes]
        self.assertEqual(wetness, sorted(wetness, reverse=True))
        self.assertEqual(lanes[0]["spool"]["name"], "Hinge stock")
