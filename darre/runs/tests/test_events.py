"""What happens in a run: pauses put the end off, events are kept and taken back, runs teach the next."""

from datetime import timedelta

from django.utils import timezone

from darre.runs.models import Run, RunEvent
from darre.runs.selectors import learned_rate
from darre.runs.tests.test_run_path import Shed
from drying.transport.uncertainty import RATE_SIGMA


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

    def test_an_ended_run_teaches_the_next_of_its_kind(self):
        Run.objects.filter(ended_at__isnull=False).update(learned_log_rate=None)
        self.assertEqual(learned_rate(self.tyres, self.stacker.id).sigma, RATE_SIGMA)
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
        self.assertLess(learned_rate(self.tyres, self.stacker.id).sigma, RATE_SIGMA)
        started = self.started(self.tyres, self.stacker, 55, "746.3")["id"]
        self.assertLess(Run.objects.get(pk=started).rate_sigma, RATE_SIGMA)
        self.assertGreater(Run.objects.get(pk=started).started_at, run.started_at + timedelta(hours=1))
