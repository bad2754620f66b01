"""The address for readings: what is acknowledged is stored once, what is wrong is named, and nothing else gets in."""

import json
from datetime import UTC, datetime, timedelta

from django.test import TestCase
from django.utils import timezone

from darre.devices.actions import ingest
from darre.devices.actions.devices import add_device
from darre.devices.models import Device, DeviceKind, Sample
from darre.devices.selectors import air_series, live_mass, logged_ingress, run_air
from darre.equipment.models import Dryer, Scale
from darre.history.models import HistoryEntry
from darre.moisture.lanes import simulate_shelf
from darre.moisture.shelf import read_shelf
from darre.places.models import Place, RoomReading
from darre.places.room_air import hour_of
from darre.runs.models import Run
from darre.runs.tests.test_run_path import Shed


def at(moment):
    return moment.isoformat()


class Devices(Shed):
    def setUp(self):
        ingest.buckets = ingest._Buckets()
        self.logger, self.token = add_device("Box logger", DeviceKind.LOGGER, self.box)
        self.now = timezone.now()

    def send(self, readings, token=None, raw=None, **more):
        body = raw if raw is not None else json.dumps({"readings": readings, **more}).encode()
        return self.client.post(
            "/api/ingest/", body, content_type="application/json",
            headers={"Authorization": f"Bearer {self.token if token is None else token}"},
        )  # fmt: skip

    def row(self, seconds_ago=0, **values):
        return {"at": at(self.now - timedelta(seconds=seconds_ago)), **(values or {"temp_c": 60, "rh_pct": 9.5})}


class Delivering(Devices):
    def test_a_reading_is_stored_once_however_often_it_is_sent(self):
        rows = [self.row(s) for s in range(5)]
        self.assertEqual(self.send(rows).json()["stored"], 5)
        again = self.send([*rows, self.row(9)]).json()
        self.assertEqual((again["stored"], again["known"], Sample.objects.count()), (1, 5, 6))
        twice = self.send([self.row(20), self.row(20)]).json()
        self.assertEqual((twice["stored"], twice["known"]), (1, 1))

    def test_bad_readings_are_named_by_their_place_and_the_good_ones_stay(self):
        ahead = self.now + timedelta(minutes=10)
        bad = [
            ({"at": at(ahead), "temp_c": 60}, "at", "future"),
            ({"at": "2026-11-24 10:00", "temp_c": 60}, "at", "zone offset"),
            ({"at": 5, "temp_c": 60}, "at", "zone offset"),
            ({"temp_c": 60}, "at", "zone offset"),
            (self.row(1, temp_c=float("nan")), "temp_c", "not a number"),
            (self.row(2, rh_pct=float("inf")), "rh_pct", "not a number"),
            (self.row(3, mass_g="858"), "mass_g", "not a number"),
            (self.row(4, temp_c=True), "temp_c", "not a number"),
            (self.row(5, temp_c=1e9), "temp_c", "outside -60 to 300"),
            (self.row(6, colour=3), "readings", "holds none of"),
            (self.row(4 * 365 * 86400, temp_c=20), "at", "three years"),
            ("twelve", "readings", "object"),
        ]
        answer = self.send([self.row(30), *(row for row, _, _ in bad), self.row(31)])
        taken = answer.json()
        self.assertEqual((answer.status_code, taken["stored"], taken["refused"]), (200, 2, len(bad)))
        for place, ((_, field, named), told) in enumerate(zip(bad, taken["told"], strict=True), start=1):
            self.assertEqual((told["index"], told["field"]), (place, field))
            self.assertIn(named, told["message"])

    def test_what_is_no_delivery_gets_a_clear_answer_and_stores_nothing(self):
        whole = json.dumps({"readings": [self.row()]}).encode()
        for raw, status, code in (
            (whole[:-7], 400, "not_json"),
            (b"\xff\xfe\x00", 400, "not_utf8"),
            (b"[" * 100_000, 400, "not_json"),
            (b"[]", 400, "no_readings"),
            (b'{"readings": 7}', 400, "no_readings"),
            (b'{"sent_at": "noon", "readings": []}', 400, "not_a_moment"),
            (b" " * (ingest.MOST_BYTES + 1), 413, "too_much"),
            (json.dumps({"readings": [1] * (ingest.MOST_READINGS + 1)}).encode(), 413, "too_much"),
        ):
            answer = self.send([], raw=raw)
            self.assertEqual((answer.status_code, answer.json()["code"]), (status, code))
        self.assertEqual(Sample.objects.count(), 0)

    def test_only_the_right_token_by_post_gets_in_and_an_old_one_no_more(self):
        for token in ("", "wrong", self.token + "x"):
            self.assertEqual(self.send([self.row()], token).status_code, 401)
        self.assertEqual(self.client.get("/api/ingest/").status_code, 405)
        fresh = self.client.post(f"/api/devices/{self.logger.id}/token/").json()["token"]
        self.assertEqual(self.send([self.row()]).status_code, 401)
        self.assertEqual(self.send([self.row()], fresh).json()["stored"], 1)
        self.assertNotIn(fresh, json.dumps([line.changes for line in HistoryEntry.objects.all()]))

    def test_a_flood_is_told_to_wait_and_how_long(self):
        rows = [self.row(0.001 * n) for n in range(2000)]
        statuses = [self.send(rows).status_code for _ in range(4)]
        self.assertEqual(statuses, [200, 200, 200, 429])
        answer = self.send(rows)
        self.assertEqual(answer["Retry-After"], str(answer.json()["retry_after_s"]))
        self.assertTrue(1 <= answer.json()["retry_after_s"] <= 5)

    def test_a_clock_that_is_off_is_followed_and_a_replay_still_lands_once(self):
        behind = self.now - timedelta(hours=2)
        rows = [{"at": at(behind - timedelta(seconds=s)), "temp_c": 60} for s in (2, 1, 0)]
        first = self.send(rows, sent_at=at(behind)).json()
        self.assertAlmostEqual(first["clock_off_s"], 7200, delta=5)
        late = self.send(rows, sent_at=at(behind + timedelta(seconds=9))).json()
        self.assertEqual((late["stored"], late["known"]), (0, 3))
        stored = Sample.objects.latest("at_ms")
        self.assertAlmostEqual(stored.at_ms / 1000, self.now.timestamp(), delta=5)
        fast = self.now + timedelta(days=1)
        self.assertEqual(self.send([{"at": at(fast), "temp_c": 61}], sent_at=at(fast)).json()["stored"], 1)

    def test_a_device_with_readings_stays_and_one_without_goes_and_comes_back(self):
        added = self.post("devices/", name="Shelf logger", kind="logger").json()
        self.assertGreater(len(added["token"]), 30)
        taken = self.post("devices/", name="Box logger", kind="meter").json()
        self.assertEqual((taken["code"], taken["field"]), ("name_taken", "name"))
        undo = self.client.delete(f"/api/devices/{added['device']['id']}/").json()["undo"]
        self.assertFalse(Device.objects.filter(name="Shelf logger").exists())
        self.post(f"history/{undo}/undo/")
        self.assertTrue(Device.objects.filter(name="Shelf logger").exists())
        self.send([self.row()])
        self.assertEqual(self.client.delete(f"/api/devices/{self.logger.id}/").json()["code"], "in_use")


class Series(Devices):
    def test_two_days_at_ten_seconds_come_out_thin_in_one_query_with_the_same_mean(self):
        end = round(self.now.timestamp() * 1000)
        count = 48 * 360
        Sample.objects.bulk_create(
            Sample(device=self.logger, own_ms=end - n * 10_000, at_ms=end - n * 10_000, temp_c=60 + n % 7, rh_pct=10)
            for n in range(count)
        )
        with self.assertNumQueries(1):
            series = air_series(self.logger, end - 48 * 3_600_000, end)
        self.assertEqual(series.count, count)
        self.assertLessEqual(len(series.at_ms), 402)
        self.assertAlmostEqual(sum(series.temp_c) / len(series.temp_c), 63, delta=0.05)
        self.assertEqual(series.at_ms, sorted(series.at_ms))

    def test_the_box_air_of_a_run_is_heard_from_the_logger_in_its_dryer_alone(self):
        run = Run.objects.get(ended_at__isnull=True)
        self.assertIsNone(self.client.get(f"/api/runs/{run.id}/air/").json()["heard"])
        self.send([self.row(s * 60, temp_c=63, rh_pct=12) for s in range(180)])
        heard = self.client.get(f"/api/runs/{run.id}/air/").json()["heard"]
        self.assertEqual((heard["device_name"], heard["count"], heard["air_state"]), ("Box logger", 180, "leaving"))
        self.assertGreater(heard["carried"]["value"], 0.1)
        self.assertIsNone(run_air(Run.objects.filter(batch__dryer=self.stacker).first(), self.now))

    def test_a_live_scale_is_steady_when_it_rests_and_silent_when_not_heard(self):
        scale = Scale.objects.get(name="Bench scale")
        _, token = add_device("Scale cable", DeviceKind.SCALE, scale=scale)

        def show(*masses):
            rows = [self.row(n, mass_g=m) for n, m in enumerate(reversed(masses))]
            self.send(rows, token)
            return self.client.get(f"/api/scales/{scale.id}/live/").json()["heard"]

        self.assertIsNone(self.client.get(f"/api/scales/{scale.id}/live/").json()["heard"])
        self.assertEqual(show(12.0, 400.0, 858.4), {"mass_g": 858.4, "steady": False})
        Sample.objects.all().delete()
        self.assertEqual(show(858.3, 858.4, 858.4, 858.4), {"mass_g": 858.4, "steady": True})
        self.assertIsNone(live_mass(scale, self.now + timedelta(minutes=1)))


class Constraints(TestCase):
    def test_a_moment_is_one_instant_to_the_millisecond(self):
        moment = datetime(2026, 3, 29, 1, 30, 0, 123_000, UTC)
        self.assertEqual(ingest._ms(ingest._moment(moment.isoformat())), round(moment.timestamp() * 1000))
        self.assertEqual(Dryer.objects.count(), 0)


class InAContainer(Devices):
    def test_a_logger_in_a_container_tells_what_gets_into_it(self):
        bin_ = Place.objects.get(name="Dry bin")
        _, token = add_device("Bin logger", DeviceKind.LOGGER, place=bin_)
        self.assertIsNone(logged_ingress(bin_, self.now))
        true = 0.075  # against the 0.03 that is usual for its kind
        told = simulate_shelf(read_shelf(self.now), back_h=21 * 24, factor=true / 0.03)
        row = told.histories.activity[[p.pk for p in told.boxes].index(bin_.pk)]
        hours = range(hour_of(self.now) - 14 * 24, hour_of(self.now))
        rows = [
            {
                "at": datetime.fromtimestamp(hour * 3600, UTC).isoformat(), "temp_c": 18,
                "rh_pct": round(100 * float(row[hour - told.histories.first]), 1),
            }
            for hour in hours
        ]  # fmt: skip
        self.assertEqual(self.send(rows, token).json()["stored"], len(rows))
        found = self.client.get(f"/api/places/{bin_.id}/ingress/").json()["heard"]
        self.assertAlmostEqual(found["value"], true, delta=2 * found["uncertainty"] + 0.01)
        self.assertLess(found["uncertainty"], 0.3 * true)
        self.assertEqual(RoomReading.objects.filter(temp_c=18, rh_pct=rows[5]["rh_pct"]).count(), 0)  # not the room's
