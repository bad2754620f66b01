"""Weighings out of a spreadsheet: read as people write them, judged as if weighed one by one, undone as one."""

from datetime import UTC, datetime, timedelta
from zoneinfo import ZoneInfo

from django.test import TestCase
from django.utils import timezone

from darre.demo.tests.fresh import load_demo_world
from darre.equipment.models import Scale
from darre.history.models import HistoryEntry
from darre.inventory.models import FilamentUse, MoistureReading, Spool
from darre.places.models import Stay
from darre.runs.models import Weighing
from darre.runs.weighing_table import read_weighings

LONDON = ZoneInfo("Europe/London")


def said(row):
    return "".join(part["text"] for part in row["problem"])


class Reading(TestCase):
    @classmethod
    def setUpTestData(cls):
        load_demo_world(cls)

    def read(self, text, **more):
        return read_weighings(text, LONDON, **more)

    def test_heads_and_dates_are_taken_as_people_write_them(self):
        for text, meanings, order, at in (
            ("Date\tSpool\tWeight (g)\n2026-06-03 14:30\tRain gauge\t801,4",
             ("date", "spool", "gross_g"), "iso", (13, 30)),
            ("spool;day;time;mass;comment\nrain gauge;03.06.26;14:30;801.4 g;x",
             ("spool", "date", "clock", "gross_g", "note"), "day first", (13, 30)),
            ("Name,When,Gross,Who\nRain gauge,6/23/2026 2:30 pm,0.8014 kg,me",
             ("spool", "date", "gross_g", "nothing"), "month first", (13, 30)),
            ("Filament,A,Scale\nRain gauge,23/06/2026,801.4", ("spool", "date", "gross_g"), "day first", (11, 0)),
            ("Filament,Date,Scale\nRain gauge,2026-06-03T14:30:00+02:00,801.4",
             ("spool", "date", "gross_g"), "iso", (12, 30)),
        ):  # fmt: skip
            with self.subTest(text=text):
                table = self.read(text)
                [row] = table.rows
                self.assertEqual((table.meanings, table.order), (meanings, order))
                self.assertEqual((row.problem, row.spool.name, row.gross_g), ("", "Rain gauge", 801.4))
                self.assertEqual((row.at.astimezone(UTC).hour, row.at.astimezone(UTC).minute), at)

    def test_a_guess_of_columns_and_of_the_order_is_put_right(self):
        text = "a,b,c\n801.4,03/04/2026,Rain gauge"
        table = self.read(text, meanings=("gross_g", "date", "spool"), order="month first")
        self.assertEqual((table.rows[0].at.month, table.rows[0].at.day), (3, 4))
        self.assertEqual(table.rows[0].gross_g, 801.4)

    def test_the_hour_that_comes_twice_goes_by_the_order_of_the_rows(self):
        rows = "\n".join(f"Rain gauge,2026-10-25 {clock},801.4" for clock in ("00:50", "01:40", "01:10"))
        hours = [row.at.astimezone(UTC).hour for row in self.read(f"Spool,Date,Mass\n{rows}").rows]
        self.assertEqual(hours, [23, 0, 1])

    def test_each_thing_that_is_wrong_with_a_row_has_its_sentence(self):
        for row, words in (
            ("Nobody's,2026-06-03,801", "no spool named Nobody's"),
            (",2026-06-03,801", "names no spool"),
            ("Rain gauge,,801", "Its date is missing"),
            ("Rain gauge,yesterday,801", "“yesterday” is no date"),
            ("Rain gauge,2026-13-03,801", "onth must be in"),
            ("Rain gauge,2026-06-03 25:00,801", "our must be in"),
            ("Rain gauge,2026-03-29 01:30,801", "left out when the clocks were put forward"),
            ("Rain gauge,2026-06-03,heavy", "“heavy” is no mass"),
            ("Rain gauge,2026-06-03,", "Its mass is missing"),
        ):
            with self.subTest(row=row):
                self.assertIn(words, self.read(f"Spool,Date,Mass\n{row}").rows[0].problem)


class Adding(TestCase):
    @classmethod
    def setUpTestData(cls):
        load_demo_world(cls)
        cls.gauge = Spool.objects.get(name="Rain gauge")
        cls.scale = Scale.objects.get(name="Bench scale")

    def setUp(self):
        self.since = Spool.objects.get(pk=self.gauge.pk).created_at

    def day(self, before):
        return f"{self.since - timedelta(days=before):%Y-%m-%d}"

    def post(self, rows, look=False, **more):
        text = "Spool,Date,Mass\n" + "\n".join(",".join(map(str, row)) for row in rows)
        body = {"text": text, "zone": "Europe/London", "scale": self.scale.pk, **more}
        path = f"/api/weighings/table/{'look/' if look else ''}"
        return self.client.post(path, body, content_type="application/json")

    def state(self):
        return [
            sorted(map(repr, m.objects.values_list())) for m in (Weighing, FilamentUse, MoistureReading, Stay, Spool)
        ]

    def test_looking_tells_what_adding_does_and_stores_nothing(self):
        rows = [
            ("Rain gauge", self.day(30), 1190.0),
            ("Rain gauge", self.day(20), 1010.4),
            ("Rain gauge", self.day(10), 1900),
        ]
        before, entries = self.state(), HistoryEntry.objects.count()
        looked = self.post(rows, look=True).json()
        self.assertEqual((self.state(), HistoryEntry.objects.count()), (before, entries))
        added = self.post(rows)
        self.assertEqual((added.status_code, added.json()["added"], looked["good"]), (201, 2, 2))
        self.assertEqual(looked["spools"], 1)

    def test_a_loss_that_water_cannot_explain_was_printed_and_a_gain_is_named(self):
        rows = [
            ("Rain gauge", self.day(30), 1190.0),
            ("Rain gauge", self.day(20), 1010.4),
            ("Rain gauge", self.day(10), 1100.0),
        ]
        looked = self.post(rows, look=True).json()["rows"]
        self.assertEqual([round(row["printed_g"], 1) for row in looked], [0.0, 179.6, 0.0])
        self.assertRegex(said(looked[2]), "It gained 89.6 g since .*; water can explain at most")
        self.post(rows)
        use, later = FilamentUse.objects.filter(note="between two weighings").order_by("at")
        self.assertAlmostEqual(use.mass_g, 179.6, places=6)
        known = self.gauge.weighings.filter(at__gte=self.since).order_by("at").first()
        self.assertEqual(later.at, known.at)  # up to what was weighed here first
        self.assertAlmostEqual(later.mass_g, 1010.4 - known.gross_g, places=6)
        self.assertGreater(use.sd_g, 0.03 * 179.6)  # what it may have lost as water comes on top
        self.assertFalse(Weighing.objects.filter(spool=self.gauge, doubtful=True).exists())

    def test_the_spool_is_there_from_its_first_weighing_on_as_fresh_from_the_factory(self):
        stay = self.gauge.stays.order_by("since").first()
        self.assertEqual(self.post([("Rain gauge", self.day(30), 1190.0)]).status_code, 201)
        spool = Spool.objects.get(pk=self.gauge.pk)
        first = Weighing.objects.filter(spool=spool).order_by("at").first()
        self.assertEqual((spool.created_at, first.gross_g), (first.at, 1190.0))
        self.assertEqual(spool.stays.order_by("since").first().since, first.at)
        self.assertEqual(spool.stays.order_by("since").first().place, stay.place)
        self.assertEqual(spool.moisture_readings.order_by("at").first().basis, MoistureReading.Basis.NEW)
        self.assertEqual(self.client.get("/api/rack/?span=season").status_code, 200)

    def test_it_is_one_act_that_is_undone_whole(self):
        before = self.state()
        undo = self.post([("Rain gauge", self.day(30 - n), 1190.0 - 20.0 * n) for n in range(20)]).json()["undo"]
        self.assertNotEqual(self.state(), before)
        self.assertEqual(self.client.post(f"/api/history/{undo}/undo/").status_code, 200)
        self.assertEqual(self.state(), before)

    def test_rows_in_any_order_and_pasted_twice_are_stored_once(self):
        rows = [("Rain gauge", self.day(10), 1000.0), ("Rain gauge", self.day(30), 1190.0)]
        self.assertEqual(self.post(rows).json()["added"], 2)
        again = self.post(rows)
        self.assertEqual((again.status_code, again.json()["code"]), (400, "nothing_to_add"))
        self.assertEqual([said(row) for row in self.post(rows, look=True).json()["rows"]], ["It is there already."] * 2)

    def test_what_one_weighing_is_refused_a_row_is_too(self):
        ahead, past = f"{timezone.now() + timedelta(days=9):%Y-%m-%d}", "1996-06-03"
        for row, words in (
            (("Rain gauge", self.day(1), 3500), "more than Bench scale can weigh"),
            (("Rain gauge", self.day(1), 1190.04), "shows steps of 0.1 g"),
            (("Rain gauge", self.day(1), 20), "is less than the empty spool of Rain gauge"),
            (("Rain gauge", ahead, 1000), "has not come yet"),
            (("Rain gauge", past, 1000), "more than 5 years ago"),
        ):
            with self.subTest(row=row):
                self.assertIn(words, said(self.post([row], look=True).json()["rows"][0]))

    def test_where_no_scale_is_said_it_is_the_coarsest_that_shows_all_the_digits(self):
        for masses, name in (
            ((1190, 1010), "Parcel scale"),
            ((1190, 1010.4), "Bench scale"),
            ((1190.04,), "Parcel scale"),
        ):
            rows = [("Rain gauge", self.day(30 - n), mass) for n, mass in enumerate(masses)]
            looked = self.post(rows, look=True, scale=None).json()
            self.assertEqual(Scale.objects.get(pk=looked["scale"]).name, name)

    def test_bad_fields_are_named(self):
        for more, field in (
            ({"zone": "Mars/North"}, "zone"),
            ({"scale": 99}, "scale"),
            ({"order": "year"}, "order"),
            ({"text": ""}, "text"),
        ):
            answer = self.post([("Rain gauge", self.day(1), 1000)], **more)
            self.assertEqual((answer.status_code, answer.json()["field"]), (400, field))

    def test_a_year_of_weighings_of_ten_spools_is_read_and_written_in_one_go(self):
        names = list(Spool.objects.values_list("name", "tare_g"))[:10]
        start = datetime(2025, 10, 1, tzinfo=UTC)
        rows = [
            (name, f"{start + timedelta(days=7 * week):%Y-%m-%d}", round(tare + 900.0 - 10.0 * week, 1))
            for name, tare in names
            for week in range(50)
        ]
        answer = self.post(rows)
        self.assertEqual((answer.status_code, answer.json()["added"], answer.json()["spools"]), (201, 500, 10))
