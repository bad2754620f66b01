"""Wanted again and again, kept clean, for a print's file; stopped, and compared with the answer before."""

from datetime import UTC, datetime, timedelta
from unittest import TestCase, mock
from zoneinfo import ZoneInfo

from django.utils import timezone

from darre.inventory.material_book import material_book
from darre.runs.models import Run
from darre.schedule.actions import work_out as working
from darre.schedule.apps import schedule_caches
from darre.schedule.due import due_at, next_occurrence
from darre.schedule.models import Wish
from darre.schedule.tests.test_schedule import Scheduled

KEPT_AHEAD_H = 72
LONDON = ZoneInfo("Europe/London")


class Due(TestCase):
    SATURDAY = datetime(2027, 3, 6, 9, 0, tzinfo=LONDON)

    def wish(self, **more):
        return Wish(ready_by=self.SATURDAY, every_days=7, created_at=self.SATURDAY - timedelta(days=3), **more)

    def day(self, *date_and_hour):
        return datetime(*date_and_hour, tzinfo=LONDON)

    def test_it_is_wanted_at_the_same_time_of_day_whatever_the_clocks_do(self):
        # Clocks go forward on 28 March 2027.
        found = next_occurrence(self.SATURDAY, 7, self.day(2027, 3, 27, 12), LONDON)
        self.assertEqual(found, datetime(2027, 4, 3, 8, 0, tzinfo=UTC))
        before = next_occurrence(self.SATURDAY, 7, self.day(2027, 3, 20, 12), LONDON)
        self.assertEqual(before, datetime(2027, 3, 27, 9, 0, tzinfo=UTC))

    def test_it_is_wanted_next_at_the_first_time_since_it_was_dried(self):
        for dried, now, due in (
            (None, (2027, 3, 4, 12), (2027, 3, 6, 9)),
            (None, (2027, 3, 7, 12), (2027, 3, 6, 9)),  # a day late, and not over yet
            (None, (2027, 3, 10, 12), (2027, 3, 13, 9)),  # that one is over
            ((2027, 3, 6, 8), (2027, 3, 6, 10), (2027, 3, 6, 9)),
            ((2027, 3, 6, 9), (2027, 3, 6, 10), (2027, 3, 13, 9)),
            ((2027, 3, 12, 20), (2027, 3, 14, 10), (2027, 3, 13, 9)),
            ((2027, 3, 14, 9), (2027, 3, 14, 10), (2027, 3, 20, 9)),
        ):
            with self.subTest(dried=dried, now=now):
                found = due_at(self.wish(), dried and self.day(*dried), self.day(*now), LONDON)
                self.assertEqual(found, self.day(*due))

    def test_what_is_wanted_once_or_whenever_stays_so(self):
        once = Wish(ready_by=self.SATURDAY, created_at=self.SATURDAY)
        self.assertEqual(due_at(once, None, self.day(2028, 1, 1, 9), LONDON), self.SATURDAY)
        self.assertIsNone(due_at(Wish(created_at=self.SATURDAY), None, self.SATURDAY, LONDON))


class Again(Scheduled):
    def test_after_its_run_it_is_wanted_a_turn_later(self):
        ready = timezone.now() + timedelta(days=2)
        self.want("Roller tyres", ready_by=ready.isoformat(), every_days=7)
        [told] = self.seen()["wishes"]
        self.assertAlmostEqual(datetime.fromisoformat(told["due_at"]), ready, delta=timedelta(seconds=1))
        [start] = [s for s in self.work_out()["starts"] if s["spool_name"] == "Roller tyres"]
        self.assertEqual(datetime.fromisoformat(start["ready_by"]), datetime.fromisoformat(told["due_at"]))
        tyres = self.spool("Roller tyres")
        self.assertEqual(self.start(tyres, self.stacker, temp_c=55, gross_g=None).status_code, 201)
        run = Run.objects.get(spool=tyres, ended_at=None).pk
        later = ready + timedelta(hours=5)
        with mock.patch.object(timezone, "now", return_value=later):
            self.assertEqual(self.post(f"runs/{run}/end/").status_code, 200)
        self.assertEqual(Run.objects.get(pk=run).ended_at, later)
        with mock.patch.object(timezone, "now", return_value=later + timedelta(hours=1)):
            [told] = self.seen()["wishes"]
        zone = ZoneInfo("Europe/London")
        due = datetime.fromisoformat(told["due_at"]).astimezone(zone).replace(tzinfo=None)
        self.assertEqual(due, ready.astimezone(zone).replace(tzinfo=None) + timedelta(days=7))

    def test_a_spool_that_is_kept_clean_waits_while_it_prints_clean_and_is_dried_before_it_does_not(self):
        lanes = [lane for lane in self.client.get("/api/lanes/").json() if lane["run"] is None]
        wet = self.want("Roller tyres", keep_clean=True)
        clean = [lane["spool"]["name"] for lane in lanes if lane["moisture_level"] == "clean"]
        for name in clean:
            self.want(name, keep_clean=True)
        found = self.work_out()
        starts = {start["spool_name"]: start for start in found["starts"]}
        self.assertEqual((starts["Roller tyres"]["wish"], starts["Roller tyres"]["late_h"]), (wet["id"], 0))
        stays = {
            contained["lane"]["spool"]["name"]: contained["clean"]["hours"]
            for holding in self.client.get("/api/storage/").json()
            for contained in holding["contents"]
        }
        ready = {wish["spool_name"] for wish in found["wishes"] if wish["id"] in found["ready"]}
        self.assertGreater(len(clean), 2)
        for name in clean:
            with self.subTest(name=name):
                hours = stays.get(name)
                if name in ready:
                    self.assertTrue(hours is None or hours > KEPT_AHEAD_H or self.is_at_aim(lanes, name))
                else:
                    due = datetime.fromisoformat(starts[name]["ready_by"])
                    self.assertLessEqual(hours, KEPT_AHEAD_H)
                    self.assertAlmostEqual((due - timezone.now()).total_seconds() / 3600, hours, delta=0.3)

    def is_at_aim(self, lanes, name):
        moisture = next(lane["moisture"]["value"] for lane in lanes if lane["spool"]["name"] == name)
        return moisture <= material_book()[self.spool(name).material].aim_pct

    def test_what_makes_no_sense_has_its_own_sentence(self):
        tyres = self.spool("Roller tyres").pk
        for asked, code, field in (
            ({"every_days": 7}, "no_first_time", "ready_by"),
            ({"keep_clean": True, "ready_by": self.ahead(days=1)}, "always", "ready_by"),
            ({"every_days": 0, "ready_by": self.ahead(days=1)}, "invalid", "every_days"),
        ):
            told = self.post("schedule/wishes/", spool=tyres, **asked).json()
            self.assertEqual((told["code"], told["field"]), (code, field), told)
        wish = self.want("Roller tyres", ready_by=self.ahead(days=1))
        path = f"/api/schedule/wishes/{wish['id']}/"
        answer = self.client.patch(path, {"keep_clean": True}, content_type="application/json")
        self.assertEqual((answer.status_code, answer.json()["code"]), (400, "always"))
        body = {"keep_clean": True, "ready_by": None}
        self.assertLess(self.client.patch(path, body, content_type="application/json").status_code, 300)


class Answered(Scheduled):
    def test_stopped_meanwhile_it_comes_to_nothing_and_the_last_one_stays(self):
        self.want("Roller tyres", ready_by=self.ahead(days=3))
        first = self.work_out()
        self.want("Window panel", ready_by=self.ahead(days=3))
        solve, said = working.worked_out, schedule_caches().stops.said

        def stopped(*args):
            self.assertEqual(self.client.post("/api/schedule/stop/").status_code, 204)
            return solve(*args)

        with mock.patch.object(working, "worked_out", stopped):
            told = self.post("schedule/", zone="Europe/London")
        self.assertEqual((told.status_code, told.json()["code"]), (409, "stopped"))
        self.assertEqual(self.seen()["solved_at"], first["solved_at"])
        self.assertEqual(
            {s["spool_name"] for s in self.work_out()["starts"] if s["wish"]}, {"Roller tyres", "Window panel"}
        )
        self.assertEqual(schedule_caches().stops.said, said + 1)

    def test_it_is_told_what_the_answer_before_came_to(self):
        # At another moment the same runs cost something else: the room's air and the spools have changed.
        self.enterContext(mock.patch.object(timezone, "now", return_value=timezone.now()))
        wish = self.want("Roller tyres", ready_by=self.ahead(days=3))
        first = self.work_out()
        self.assertIsNone(first["before"])
        pinned = {"dryer": 2, "at": self.ahead(days=3)}
        self.client.put(f"/api/schedule/wishes/{wish['id']}/pin/", pinned, content_type="application/json")
        second = self.work_out()
        told = {name: first["sum"][name] for name in ("jobs_late", "hours_late", "visits", "cost")}
        self.assertEqual(second["before"] | {"cost": 0}, told | {"cost": 0})
        self.assertAlmostEqual(second["before"]["cost"], told["cost"], places=6)
        self.assertGreater(second["sum"]["jobs_late"], second["before"]["jobs_late"])

    def test_what_is_to_be_loaded_within_a_day_is_told_in_one_query_until_it_runs(self):
        for name in ("Roller tyres", "Hinge stock"):
            self.want(name, ready_by=self.ahead(days=6))
        self.assertEqual(self.client.get("/api/schedule/next/").json(), [])
        planned = {s["spool_name"]: s for s in self.work_out()["starts"] if s["wish"]}
        with self.assertNumQueries(1):
            told = self.client.get("/api/schedule/next/").json()
        soon = {name for name, s in planned.items() if s["starts_at"] < self.ahead(days=1)}
        self.assertEqual({row["spool_name"] for row in told}, soon)
        first = min(soon)  # which of them comes within a day hangs on the hour at which it is asked
        self.assertEqual(self.start(self.spool(first), self.stacker, temp_c=55, gross_g=None).status_code, 201)
        told = self.client.get("/api/schedule/next/").json()
        self.assertEqual({row["spool_name"] for row in told}, soon - {first})


class ForAPrint(Scheduled):
    def test_a_print_file_says_what_it_takes_of_each_spool_and_whether_that_is_on_it(self):
        metres, content = 60.0, b"M83\nG92 E0\n" + b"G1 X10 E600 F1200\n" * 100
        sent = self.client.put("/api/print-files/?name=hinge.gcode", content, content_type="application/octet-stream")
        file = sent.json()["file"]
        self.assertAlmostEqual(file["summary"]["extruded_mm"], 1000 * metres, delta=1)
        told = {row["spool"]: row for row in self.client.get(f"/api/print-files/{file['id']}/takes/").json()}
        hinges = self.spool("Hinge stock")
        # Nylon 6 at 1.14 g/cm³, strand of 1.75 mm: 2.405 mm² of it.
        self.assertAlmostEqual(told[hinges.pk]["mass_g"]["value"], metres * 2.405 * 1.14, delta=0.03 * metres * 2.7)
        self.assertTrue(told[hinges.pk]["enough"])
        self.assertGreater(told[hinges.pk]["left_g"], 500)
        self.assertEqual(self.client.get("/api/print-files/999/takes/").status_code, 404)
