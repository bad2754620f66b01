"""Past runs out of a spreadsheet: read as people write them, judged as if made one by one, undone as one."""

from datetime import UTC, timedelta
from unittest import mock
from zoneinfo import ZoneInfo

import numpy as np
from django.test import SimpleTestCase, TestCase
from django.utils import timezone

from darre.demo.tests.fresh import load_demo_world
from darre.equipment.models import Dryer, Scale
from darre.history.models import HistoryEntry
from darre.inventory.models import FilamentUse, MoistureReading, Spool
from darre.places.models import Stay
from darre.planning.actions import past_runs
from darre.planning.past_table import degrees_of, hours_of, read_past_runs
from darre.runs.models import Batch, Run, Weighing

LONDON = ZoneInfo("Europe/London")
KINDS = (Batch, Run, Weighing, FilamentUse, MoistureReading, Stay, Spool)


def said(row):
    return "".join(part["text"] for part in row["problem"])


class Numbers(SimpleTestCase):
    def test_degrees_and_hours_are_taken_as_people_write_them(self):
        for text, fahrenheit, degrees in (
            ("65", False, 65.0), ("65,5 °C", False, 65.5), ("149 F", False, 65.0), ("149", True, 65.0),
            ("65 C", True, 65.0), ("hot", False, None), ("", False, None),
        ):  # fmt: skip
            self.assertEqual(degrees_of(text, fahrenheit=fahrenheit), degrees, text)
        for text, hours in (
            ("8", 8.0), ("8.5 h", 8.5), ("7:30", 7.5), ("7h30", 7.5), ("90 min", 1.5), ("2 days", 48.0),
            ("12 hrs", 12.0), ("overnight", None), ("", None),
        ):  # fmt: skip
            self.assertEqual(hours_of(text), hours, text)


class Reading(TestCase):
    @classmethod
    def setUpTestData(cls):
        load_demo_world(cls)

    def test_heads_are_taken_as_people_write_them(self):
        for text, meanings in (
            ("Date\tSpool\tDryer\tTemp\tHours\tBefore\tAfter\n"
             "2026-06-03 12:00\tRain gauge\tCellar box\t65\t8\t1012.5\t1010",
             ("date", "spool", "dryer", "temp_c", "hours", "before_g", "after_g")),
            ("Filament;Start;Time;Set °F;Drying time;Weight in;Weight out\n"
             "Rain gauge;03.06.26;12:00;149;8:00;1012,5;1010",
             ("spool", "date", "clock", "temp_c", "hours", "before_g", "after_g")),
            ("name,day,wet mass (g),dry mass (g),duration,temperature,who\n"
             "Rain gauge,2026-06-03 12:00,1012.5,1010,480 min,65 C,me",
             ("spool", "date", "before_g", "after_g", "hours", "temp_c", "nothing")),
        ):  # fmt: skip
            with self.subTest(text=text):
                table = read_past_runs(text, LONDON)
                [row] = table.rows
                self.assertEqual(table.meanings, meanings)
                self.assertEqual((row.problem, row.spool.name), ("", "Rain gauge"))
                self.assertEqual((row.temp_c, row.hours, row.before_g, row.after_g), (65.0, 8.0, 1012.5, 1010.0))
                self.assertEqual(row.at.astimezone(UTC).hour, 11)

    def test_each_thing_that_is_wrong_with_a_row_has_its_sentence(self):
        for row, words in (
            ("Nobody's,2026-06-03,,65,8,,", "no spool named Nobody's"),
            ("Rain gauge,2026-06-03,Toaster,65,8,,", "no dryer named Toaster"),
            ("Rain gauge,,,65,8,,", "Its date is missing"),
            ("Rain gauge,2026-06-03,,,8,,", "Its temperature is missing"),
            ("Rain gauge,2026-06-03,,hot,8,,", "“hot” is no temperature"),
            ("Rain gauge,2026-06-03,,650,8,,", "A dryer is not set to 650"),
            ("Rain gauge,2026-06-03,,65,,,", "Its hours are missing"),
            ("Rain gauge,2026-06-03,,65,overnight,,", "“overnight” is no number of hours"),
            ("Rain gauge,2026-06-03,,65,0,,", "more than 0"),
            ("Rain gauge,2026-06-03,,65,8,heavy,", "“heavy” is no mass"),
            ("Rain gauge,2026-06-03,,65,8,,1010", "tells nothing without the one before"),
        ):
            with self.subTest(row=row):
                [read] = read_past_runs(f"Spool,Date,Dryer,Temp,Hours,Before,After\n{row}", LONDON).rows
                problem = read.problem if isinstance(read.problem, str) else "".join(map(str, read.problem))
                self.assertIn(words.split(" 650")[0], problem)


class Adding(TestCase):
    @classmethod
    def setUpTestData(cls):
        load_demo_world(cls)
        cls.scale = Scale.objects.get(name="Bench scale")
        cls.box = Dryer.objects.get(name="Cellar box")

    def setUp(self):
        self.since = Spool.objects.get(name="Hinge stock").created_at

    def row(self, before, masses=("1084.1", "1082.3"), name="Hinge stock", dryer="Cellar box", clock="10:00"):
        day = f"{self.since - timedelta(days=before):%Y-%m-%d} {clock}"
        return ",".join((name, day, dryer, "65", "6", *masses))

    def post(self, *rows, look=False, **more):
        text = "Spool,Date,Dryer,Temp,Hours,Before,After\n" + "\n".join(rows)
        body = {"text": text, "zone": "UTC", "scale": self.scale.pk, **more}
        return self.client.post(f"/api/runs/table/{'look/' if look else ''}", body, content_type="application/json")

    def state(self):
        return [sorted(map(repr, model.objects.values_list())) for model in KINDS]

    def test_a_row_teaches_what_the_same_run_teaches_that_is_started_and_ended_by_hand(self):
        present = Run.objects.get(ended_at=None)  # what goes on in the dryer now, which another run would join
        self.client.post(f"/api/runs/{present.pk}/end/", {}, content_type="application/json")
        spool = Spool.objects.get(name="Gear stock")  # which was weighed on its first day, at 823.0 g
        masses = (823.2, 821.9)
        at = (spool.created_at + timedelta(hours=5)).replace(minute=0, second=0, microsecond=0)
        row = f"Gear stock,{at:%Y-%m-%d %H:%M},Cellar box,{self.set_to(65.0):.9f},6,{masses[0]},{masses[1]}"
        undo = self.post(row).json()["undo"]
        by_table = self.taught(spool, at)
        self.assertEqual(self.client.post(f"/api/history/{undo}/undo/").status_code, 200)
        reading = {"scale": self.scale.pk, "gross_g": masses[0], "client_key": "00000000-0000-4000-8000-000000000001"}
        started = self.client.post(
            "/api/plan/start/",
            {
                "spool": spool.pk, "dryer": self.box.pk, "temp_c": 65.0, "duration_h": 6.0, "at": at.isoformat(),
                "client_key": reading["client_key"], "readings": [{"spool": spool.pk, **reading}],
            },
            content_type="application/json",
        )  # fmt: skip
        self.assertEqual(started.status_code, 201, started.content[:300])
        run = Run.objects.get(spool=spool, started_at=at)
        end = reading | {"gross_g": masses[1], "client_key": "00000000-0000-4000-8000-000000000002"}
        ended = self.client.post(
            f"/api/runs/{run.pk}/end/",
            {"at": (at + timedelta(hours=6)).isoformat(), "weigh_out": end},
            content_type="application/json",
        )
        self.assertLess(ended.status_code, 300, ended.content[:300])
        for one, other in zip(by_table, self.taught(spool, at), strict=True):
            self.assertAlmostEqual(one, other, places=6)

    def set_to(self, air_c):
        """What the Cellar box is set to for this air: a straight line through its probe pairs."""
        slope, intercept = np.polyfit(*zip(*self.box.probes.values_list("set_c", "air_c"), strict=True), 1)
        return (air_c - intercept) / slope

    def taught(self, spool, at):
        run = Run.objects.get(spool=spool, started_at=at)
        left = MoistureReading.objects.get(spool=spool, basis=MoistureReading.Basis.RUN, at=run.ended_at)
        return (
            run.batch.temp_c, run.start_moisture_pct, run.start_sd_pct, run.net_g, run.learned_log_rate,
            run.learned_log_rate_sd, left.moisture_pct, left.sd_pct, left.next_pct,
        )  # fmt: skip

    def test_looking_tells_what_adding_does_and_stores_nothing(self):
        rows = [self.row(30), self.row(20, ("900.0", "898.4")), self.row(10, ("1300", "1298"))]
        before, entries = self.state(), HistoryEntry.objects.count()
        looked = self.post(*rows, look=True).json()
        self.assertEqual((self.state(), HistoryEntry.objects.count()), (before, entries))
        self.assertAlmostEqual(looked["rows"][1]["printed_g"], 1082.3 - 900.0, places=6)
        self.assertRegex(said(looked["rows"][2]), "It gained .* g since .*; water can explain at most")
        added = self.post(*rows)
        self.assertEqual((added.status_code, added.json()["added"], looked["good"]), (201, 2, 2))

    def test_it_is_one_act_that_is_undone_whole(self):
        before, entries = self.state(), HistoryEntry.objects.count()
        undo = self.post(self.row(30), self.row(20), self.row(20, ("500.0", "499.1"), "Rail support")).json()["undo"]
        self.assertEqual(HistoryEntry.objects.count(), entries + 1)
        self.assertEqual(HistoryEntry.objects.get(pk=undo).summary, "Added 3 past runs from a table")
        together = Run.objects.filter(spool__name__in=("Hinge stock", "Rail support")).order_by("started_at")[1:3]
        self.assertEqual(len({run.batch_id for run in together}), 1)
        self.assertEqual(self.client.post(f"/api/history/{undo}/undo/").status_code, 200)
        self.assertEqual(self.state(), before)

    def test_what_cannot_be_is_named_and_rows_sent_twice_are_stored_once(self):
        ahead = timezone.now() - timedelta(hours=2)
        late = f"Rain gauge,{ahead:%Y-%m-%d %H:%M},,65,6,,"
        for row, words in (
            (late, "It would end at .*Start it in Plan"),
            (self.row(30, ("1084.1", "911.0")), "Water cannot explain its two masses"),
            (self.row(30, ("20", "19")), "is less than the empty spool"),
            (self.row(30, ("9000", "")), "more than Bench scale can weigh"),
            (self.row(3000), "more than 5 years ago"),
        ):
            with self.subTest(row=row):
                self.assertRegex(said(self.post(row, look=True).json()["rows"][0]), words)
        self.assertEqual(self.post(self.row(30)).json()["added"], 1)
        again = self.post(self.row(30), self.row(30, clock="13:00"), look=True).json()
        self.assertEqual(said(again["rows"][0]), "It is there already.")
        self.assertRegex(said(again["rows"][1]), "It was in a dryer then")
        self.assertEqual(self.post(self.row(30)).json()["code"], "nothing_to_add")

    def test_a_table_that_broke_off_leaves_whole_runs_and_is_finished_by_sending_it_again(self):
        rows = [self.row(30), self.row(20), self.row(10)]
        undo = self.post(*rows).json()["undo"]
        whole = [(r.started_at, r.learned_log_rate) for r in Run.objects.filter(started_at__lt=self.since)]
        self.client.post(f"/api/history/{undo}/undo/")
        before, judge, judged = self.state(), past_runs.judge_run, []

        def power_cut(*args):
            judged.append(args)
            if len(judged) == 2:
                raise SystemError("the power went")
            return judge(*args)

        since = HistoryEntry.objects.latest("pk").pk
        broken = mock.patch.object(past_runs, "judge_run", power_cut)
        with broken, self.assertLogs("django.request"), self.assertRaises(SystemError):
            self.post(*rows)
        self.assertFalse(Run.objects.filter(started_at__lt=self.since, ended_at=None).exists())
        longer = self.row(20).replace(",65,6,", ",65,7,")
        self.assertRegex(said(self.post(longer, look=True).json()["rows"][0]), "It was in a dryer then")
        self.assertEqual(self.post(*rows).json()["added"], 2)
        self.assertEqual(
            [(r.started_at, r.learned_log_rate) for r in Run.objects.filter(started_at__lt=self.since)], whole
        )
        for entry in HistoryEntry.objects.filter(pk__gt=since).order_by("-pk"):
            self.assertEqual(self.client.post(f"/api/history/{entry.pk}/undo/").status_code, 200)
        self.assertEqual(self.state(), before)

    def test_bad_fields_are_named(self):
        for more, field in (({"zone": "Mars/North"}, "zone"), ({"dryer": 99}, "dryer"), ({"text": ""}, "text")):
            answer = self.post(self.row(30), **more)
            self.assertEqual((answer.status_code, answer.json()["field"]), (400, field))
        rows = [self.row(30)] * 201
        self.assertIn("at most 200 runs", self.post(*rows).json()["message"])
