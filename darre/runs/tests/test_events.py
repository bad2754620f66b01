"""What happens in a run: pauses put the end off, events are kept and taken back, runs teach the next."""

from datetime import timedelta

from django.utils import timezone

from darre.equipment.models import Dryer
from darre.inventory.material_book import material_book
from darre.runs.lessons import lesson_of, rate_then, warming_of
from darre.runs.models import Run, RunEvent
from darre.runs.selectors import learned_rate, share_of_strand
from darre.runs.tests.test_run_path import Shed
from drying.runs.rate import NO_WARMING
from drying.transport.uncertainty import RATE_SIGMA, Rate


class Events(Shed):
    def setUp(self):
        self.run_id = self.started(self.tyres, self.stacker, 55, "750", at=self.ago(hours=6))["id"]

    def sheet(self):
        return self.client.get(f"/api/runs/{self.run_id}/").json()

    def note(self, kind, hours_ago, **more):
        return self.post(f"runs/{self.run_id}/events/", kind=kind, at=self.ago(hours=hours_ago), **more)

    def test_a_pause_stops_the_heat_puts_the_end_off_and_can_be_taken_back(self):
        before = self.sheet()
        self.note("paused", 4)
        held = self.sheet()
        self.assertTrue(held["paused"])
        self.assertAlmostEqual(held["heated_h"], 2, delta=0.01)
        undo = self.note("resumed", 1).json()["undo"]
        after = self.sheet()
        self.assertFalse(after["paused"])
        self.assertAlmostEqual(after["end_h"], before["end_h"] + 3, delta=0.01)
        self.assertGreater(after["verdict"]["moisture"]["p50"], before["verdict"]["moisture"]["p50"])
        self.assertEqual(self.post(f"history/{undo}/undo/").status_code, 200)
        self.assertTrue(self.sheet()["paused"])

    def test_a_power_cut_counts_its_minutes_and_other_events_none(self):
        self.note("power_cut", 3, minutes="90")
        self.note("lid", 2, minutes=2, note="looked in")
        sheet = self.sheet()
        self.assertAlmostEqual(sheet["heated_h"], 4.5, delta=0.01)
        self.assertEqual([(e["kind"], e["minutes"]) for e in sheet["events"]], [("power_cut", 90), ("lid", 2)])
        event = RunEvent.objects.get(kind="power_cut")
        self.assertEqual(self.client.delete(f"/api/run-events/{event.id}/").status_code, 200)
        self.assertAlmostEqual(self.sheet()["heated_h"], 6, delta=0.01)

    def test_what_cannot_have_happened_is_refused_by_its_field(self):
        self.assert_refused(self.note("resumed", 1), "not_paused", "kind", "is not paused")
        self.note("paused", 2)
        self.assert_refused(self.note("paused", 1), "already_paused", "kind", "paused already")
        for kind, hours, code in (
            ("turned", 7, "outside_run"),
            ("turned", -2, "in_future"),
            ("power_cut", 1, "no_minutes"),
            ("danced", 1, "invalid"),
        ):
            self.assertEqual(self.note(kind, hours).json()["code"], code)
        backwards = self.client.put(
            f"/api/runs/{self.run_id}/energy/", {"start_kwh": 5, "end_kwh": "4,9"}, content_type="application/json"
        )
        self.assert_refused(backwards, "meter_backwards", "end_kwh", "less than the 5 kWh", 400)

    def test_the_meter_is_believed_over_the_dryers_mean_power(self):
        guessed = self.sheet()["spent"]
        self.assertFalse(guessed["metered"])
        self.client.put(
            f"/api/runs/{self.run_id}/energy/", {"start_kwh": 100, "end_kwh": 100.8}, content_type="application/json"
        )
        spent = self.sheet()["spent"]
        self.assertTrue(spent["metered"])
        self.assertAlmostEqual(spent["energy_kwh"]["value"], 0.8)
        self.assertLess(spent["energy_kwh"]["plus_minus"], guessed["energy_kwh"]["plus_minus"])
        self.assertAlmostEqual(spent["amount"] / 0.8, 0.2, delta=0.081)

    def test_the_ran_out_time_lies_within_the_run_and_before_it_was_set_again(self):
        early = self.note("timer", 3, out_at=self.ago(hours=2))
        self.assert_refused(early, "ran_out_later", "out_at", "before it was set again", 400)
        self.assertEqual(self.note("timer", 3, out_at=self.ago(hours=7)).json()["code"], "outside_run")
        self.assertEqual(self.note("turned", 3, out_at=self.ago(hours=4)).json()["code"], "ran_out_later")

    def test_an_ended_run_teaches_the_next_of_its_kind(self):
        Run.objects.filter(ended_at__isnull=False).update(learned_log_rate=None)
        self.assertEqual(learned_rate(self.tyres, self.stacker.id, 0.5).sigma, RATE_SIGMA)
        run = Run.objects.get(pk=self.run_id)
        self.post("weighings/", spool=self.tyres.id, **self.reading("747"), at=self.ago(hours=3))
        run.refresh_from_db()
        self.post(
            f"runs/{run.id}/end/",
            weigh_out=self.reading("746.3"),
            at=timezone.now().isoformat(),
        )
        run.refresh_from_db()
        self.assertIsNotNone(run.learned_log_rate)
        learned = learned_rate(self.tyres, self.stacker.id, 0.5)
        self.assertLess(learned.sigma, RATE_SIGMA)
        self.assertEqual(learned.cells.shapes, tuple(run.lesson["shapes"]))
        started = Run.objects.get(pk=self.started(self.tyres, self.stacker, 55, "746.3")["id"])
        self.assertLess(started.rate_sigma, RATE_SIGMA)
        self.assertGreater(started.started_at, run.started_at + timedelta(hours=1))
        # What the next run knows of floor and shape stays with it, whatever becomes of the one that taught it.
        Run.objects.filter(pk=run.pk).update(lesson={})
        share = share_of_strand(self.tyres, material_book()[self.tyres.material], started.form, started.net_g)
        self.assertIsNone(learned_rate(self.tyres, self.stacker.id, share).cells)
        self.assertEqual(rate_then(started).cells.shapes, learned.cells.shapes)

    def test_a_lesson_that_cannot_be_read_is_none_and_the_rate_still_counts(self):
        for raw in ({}, {"shapes": ["computed"]}, {"shapes": 3, "level": [[1]], "slope": [[1]], "curvature": [["x"]]}):
            self.assertIsNone(lesson_of(raw))
            self.assertEqual(warming_of({"warming": raw}), NO_WARMING)
            Run.objects.exclude(pk=self.run_id).update(lesson={})
            taught = {"learned_log_rate": 0.3, "learned_log_rate_sd": 0.1, "lesson": raw, "rate_cells": raw}
            Run.objects.filter(pk=self.run_id).update(**taught, ended_at=timezone.now())
            self.assertIsNone(learned_rate(self.tyres, self.stacker.id, 0.5).cells)
            run = Run.objects.get(pk=self.run_id)
            self.assertEqual(rate_then(run), Rate(run.rate_median, run.rate_sigma))


class Timers(Shed):
    """A night with a timer of 4 h: 12 h are planned, nobody sets it again for 3 h."""

    def setUp(self):
        Dryer.objects.filter(pk=self.stacker.pk).update(timer_max_h=4.0)
        self.stacker.refresh_from_db()

    def night(self, hours_ago):
        started = self.started(self.tyres, self.stacker, 55, "750", at=self.ago(hours=hours_ago), duration_h=12)
        return started["id"]

    def sheet(self, run):
        return self.client.get(f"/api/runs/{run}/").json()

    def test_the_heat_stops_when_the_timer_has_run_out_and_the_page_asks_for_it(self):
        run = self.night(hours_ago=7)
        sheet = self.sheet(run)
        self.assertAlmostEqual(sheet["heated_h"], 4.0, delta=0.01)
        self.assertAlmostEqual(sheet["end_h"], 12.0 + 3.0, delta=0.01)
        timer = sheet["run"]["timer"]
        self.assertAlmostEqual(timer["out_since_h"], 4.0, delta=0.01)
        self.assertEqual(timer["set_h"], 4.0)
        lane = next(row for row in self.client.get("/api/lanes/").json() if row["spool"]["id"] == self.tyres.id)
        self.assertAlmostEqual(lane["run"]["timer"]["out_since_h"], 4.0, delta=0.01)

    def test_less_water_leaves_than_with_heat_straight_through_the_night(self):
        run = self.night(hours_ago=11)
        stopped = self.sheet(run)["verdict"]["moisture"]["p50"]
        for hours in (7, 3):
            self.post(f"runs/{run}/events/", kind="timer", at=self.ago(hours=hours))
        self.assertLess(self.sheet(run)["verdict"]["moisture"]["p50"], 0.9 * stopped)

    def test_ran_out_then_set_again_later_is_one_entry_and_its_hours_are_without_heat(self):
        run = self.night(hours_ago=9)
        noted = self.post(f"runs/{run}/events/", kind="timer", at=self.ago(hours=2), out_at=self.ago(hours=6))
        sheet = self.sheet(run)
        self.assertEqual([event["kind"] for event in sheet["events"]], ["timer"])
        self.assertAlmostEqual(sheet["heated_h"], 3.0 + 2.0, delta=0.01)
        self.assertIsNone(sheet["run"]["timer"]["out_since_h"])
        self.assertAlmostEqual(sheet["run"]["timer"]["set_at_h"], 7.0 + 4.0, delta=0.01)
        self.assertEqual(self.post(f"history/{noted.json()['undo']}/undo/").status_code, 200)
        self.assertAlmostEqual(self.sheet(run)["heated_h"], 4.0, delta=0.01)

    def test_energy_counts_the_hours_with_heat_alone(self):
        run = self.night(hours_ago=8)
        half = self.sheet(run)["spent"]["energy_kwh"]["value"]
        self.post(f"runs/{run}/events/", kind="timer", at=self.ago(hours=4))
        self.assertAlmostEqual(self.sheet(run)["spent"]["energy_kwh"]["value"] / half, 2.0, delta=0.02)

    def test_the_hours_at_home_are_planned_for_and_stand_in_the_run(self):
        hours = {"home_weekdays": "0-1, 23-24", "home_weekends": "0-1, 23-24"}
        answer = self.client.put("/api/preferences/", hours, content_type="application/json")
        self.assertEqual(answer.json()["preferences"]["home_weekdays"], "00:00–01:00, 23:00–24:00")
        asked = {"spool": self.tyres.id, "dryer": self.stacker.id, "temp_c": 55, "duration_h": 12}
        plan = self.client.get("/api/plan/", {**asked, "start": "2026-03-02T21:00:00Z"}).json()
        ticket = plan["ticket"]
        # Started at 21:00 with 4 h: up again from 23:00 to 01:00; set at 01:00 it runs out at 05:00, until 23:00.
        self.assertEqual([turn["at_h"] for turn in ticket["turns"]], [0.0, 4.0, 26.0])
        self.assertEqual(ticket["off"], [{"from_h": 8.0, "to_h": 26.0}])
        self.assertEqual((ticket["duration_h"], ticket["end_h"]), (12.0, 30.0))

    def test_hours_that_no_day_has_are_refused_by_their_field(self):
        for typed in ("7-25", "seven to nine", "7-7", "8:75-9"):
            answer = self.client.put("/api/preferences/", {"home_weekdays": typed}, content_type="application/json")
            self.assert_refused(answer, "invalid", "home_weekdays", "cannot be read as hours of a day", 400)
