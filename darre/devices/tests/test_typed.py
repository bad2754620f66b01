"""The air of a dryer typed off a cheap meter: stored once, drawn with the run, taken out again, and how it says no."""

from datetime import timedelta

from django.utils import timezone

from darre.devices.models import Device, Sample
from darre.devices.tests.logs import hang
from darre.runs.models import Run
from darre.runs.tests.test_run_path import Shed


class ByHand(Shed):
    def setUp(self):
        self.run_now = Run.objects.get(ended_at__isnull=True)
        self.began, self.now = self.run_now.batch.started_at, timezone.now()

    def note(self, temp_c="61,5", rh_pct="9", hours=None, run=None):
        at = None if hours is None else (self.began + timedelta(hours=hours)).isoformat()
        return self.post(f"runs/{(run or self.run_now).pk}/air/", temp_c=temp_c, rh_pct=rh_pct, at=at)

    def air(self):
        return self.client.get(f"/api/runs/{self.run_now.pk}/air/").json()

    def test_readings_are_drawn_from_the_second_on_and_heat_alone_stands_beside_them(self):
        self.assertEqual(self.note("20", "50", hours=0.02).status_code, 201)
        self.assertIsNone(self.air()["heard"])
        self.assertEqual([row["temp_c"] for row in self.air()["typed"]], [20.0])
        self.note("60", "9", hours=1.0)
        heard = self.air()["heard"]
        self.assertEqual((heard["device_name"], heard["count"]), (f"By hand, {self.run_now.dryer.name}", 2))
        self.assertEqual((heard["temp_c"], heard["rh_pct"]), ([20.0, 60.0], [50.0, 9.0]))
        # Air of 20 °C and 50 % holds 1.17 kPa of vapour; at 60 °C 19.95 kPa are saturated: 5.9 %.
        self.assertAlmostEqual(heard["heat_alone_pct"][0], 50.0)
        self.assertAlmostEqual(heard["heat_alone_pct"][1], 5.9, delta=0.15)

    def test_a_logger_comes_before_what_was_typed_which_stays_to_be_seen(self):
        self.note(hours=0.5)
        self.note(hours=0.9)
        hang(self.run_now, "Box logger", hours=1.0)
        self.assertEqual(self.air()["heard"]["device_name"], "Box logger")
        self.assertEqual(len(self.air()["typed"]), 2)

    def test_one_is_taken_back_and_another_removed_and_the_other_rows_stay(self):
        first = self.note(hours=0.5).json()["undo"]
        self.note(hours=0.9)
        self.assertEqual(self.post(f"history/{first}/undo/").status_code, 200)
        (row,) = self.air()["typed"]
        removed = self.client.delete(f"/api/air-readings/{row['id']}/")
        self.assertEqual((removed.status_code, self.air()["typed"]), (200, []))
        self.post(f"history/{removed.json()['undo']}/undo/")
        self.assertEqual(len(self.air()["typed"]), 1)

    def test_the_same_reading_sent_twice_is_stored_once_and_another_of_that_moment_is_refused(self):
        self.assertEqual([self.note(hours=0.5).status_code for _ in range(2)], [201, 200])
        answer = self.note("40", hours=0.5)
        self.assertEqual((answer.status_code, answer.json()["field"]), (409, "at"))
        self.assertEqual(Sample.objects.filter(device__by_hand=True).count(), 1)

    def test_what_cannot_be_is_refused_at_its_field(self):
        for typed, field in (
            ({"temp_c": "hot"}, "temp_c"), ({"rh_pct": "101"}, "rh_pct"), ({"hours": -3}, "at"), ({"hours": 900}, "at"),
        ):  # fmt: skip
            with self.subTest(typed=typed):
                answer = self.note(**typed)
                self.assertEqual((answer.status_code, answer.json()["field"]), (400, field))
        ended = Run.objects.filter(ended_at__isnull=False).first()
        self.assertEqual(self.note(run=ended).json()["code"], "not_in_the_run")
        self.assertFalse(Sample.objects.exists())
        self.assertFalse(Device.objects.filter(by_hand=True).exists())

    def test_what_a_device_sent_stays(self):
        hang(self.run_now, "Box logger", hours=1.0)
        answer = self.client.delete(f"/api/air-readings/{Sample.objects.first().pk}/")
        self.assertEqual((answer.status_code, answer.json()["code"]), (409, "sent"))
