"""Logger files: what the columns mean is guessed right, nothing is stored before it is shown, bad rows are named."""

import json
from datetime import UTC, datetime, timedelta
from itertools import pairwise
from urllib.parse import urlencode

from django.test import SimpleTestCase
from django.utils import timezone

from darre.common.errors import Refusal
from darre.devices.actions.devices import add_device
from darre.devices.actions.ingest import BOUNDS
from darre.devices.logger_file import decoded, guess, read
from darre.devices.models import DeviceKind, Sample
from darre.places.models import RoomReading
from darre.runs.tests.test_run_path import Shed

OCTETS = "application/octet-stream"
FIRST = datetime(2026, 11, 3, 14, 30, tzinfo=UTC)


class Guessing(SimpleTestCase):
    def test_one_reading_is_read_the_same_out_of_every_way_to_write_it(self):
        files = {
            "points": "Time,Temperature (°C),Humidity (%)\n2026-11-03 14:30:00,45.5,15.6\n",
            "decimal commas": "Datum;Zeit;Temp °C;Feuchte %\n03.11.2026;14:30;45,5;15,6\n13.11.2026;14:40;46;15\n",
            "month first": "date\ttime\ttemp F\trh\n11/03/2026\t2:30 PM\t113.9\t15.6\n11/13/2026\t2:40 PM\t114\t1",
            "epoch": f"timestamp,temp_c,rh\n{FIRST.timestamp():.0f},45.5,0.156\n",
            "milliseconds": f"unix ms|temp C|humidity\n{FIRST.timestamp() * 1000:.0f}|45.5|15.6\n",
            "offset": "moment,temperature,humidity\n2026-11-03T15:30:00+01:00,45.5,15.6\n",
            "notes above": "Logger 7\n\nmade by hand\nwhen,temp °C,r.h.\n2026-11-03 14:30,45.5,15.6\n",
            "kelvin": "when,temperature K,rh\n2026-11-03 14:30,318.65,15.6\n",
        }
        for name, text in files.items():
            with self.subTest(name):
                rows, bad = read(text, guess(text, "UTC"), BOUNDS)
                self.assertEqual(bad, [])
                self.assertEqual(rows[0].at, FIRST)
                self.assertAlmostEqual(rows[0].values["temp_c"], 45.5, delta=0.01)
                self.assertAlmostEqual(rows[0].values["rh_pct"], 15.6, delta=0.01)

    def test_when_clocks_are_put_back_the_order_of_the_rows_tells_the_two_hours_apart(self):
        walls = ["01:30", "02:00", "02:30", "02:00", "02:30", "03:00"]
        text = "when,temp °C\n" + "".join(f"2026-10-25 {w},20\n" for w in walls)
        rows, bad = read(text, guess(text, "Europe/Berlin"), BOUNDS)
        self.assertEqual(bad, [])
        self.assertEqual({b.at - a.at for a, b in pairwise(rows)}, {timedelta(minutes=30)})
        gap = "when,temp °C\n2026-03-29 01:30,20\n2026-03-29 02:30,20\n"
        self.assertIn("put forward", read(gap, guess(gap, "Europe/Berlin"), BOUNDS)[1][0].why)

    def test_encodings_are_told_apart_and_what_is_no_text_is_refused(self):
        text = "when,temp °C\n2026-11-03 14:30,20\n"
        for encoding in ("utf-8", "utf-8-sig", "cp1252", "utf-16"):
            self.assertEqual(decoded(text.encode(encoding))[0], text, encoding)
        for broken in (b"\x89PNG\r\n\x1a\n\x00\x00\x00", b"\xff\xfe\x00"):
            with self.assertRaises(Refusal):
                decoded(broken)


class Importing(Shed):
    def setUp(self):
        self.logger, _ = add_device("Window logger", DeviceKind.LOGGER)
        self.began = timezone.now().replace(second=0, microsecond=0) - timedelta(days=60)

    def table(self, rows=30):
        times = [self.began + timedelta(minutes=10 * n) for n in range(rows)]
        lines = [f"{at:%Y-%m-%d %H:%M},{15 + n / 10:.1f},{60 + n}" for n, at in enumerate(times)]
        bad = ["rubbish,15,60", "2026-01-01 00:00,400,60", "2099-01-01 00:00,15,60", ""]
        return "\n".join(["when,temp °C,humidity %", *lines, *bad])

    def ask(self, path, text, layout=None, **more):
        asked = {"zone": "UTC", **more, **({"layout": json.dumps(layout)} if layout else {})}
        return self.client.put(
            f"/api/{path}?{urlencode(asked)}", text.encode(), content_type="application/octet-stream"
        )

    def test_a_file_is_shown_with_its_bad_rows_named_and_stored_only_then_and_once(self):
        looked = self.ask("logger-files/look/", self.table()).json()
        self.assertEqual([c["meaning"] for c in looked["layout"]["columns"]], ["moment", "temp_c", "rh_pct"])
        self.assertEqual((looked["count"], looked["bad_count"], Sample.objects.count()), (30, 3, 0))
        for bad, says in zip(looked["bad"], ("no date", "outside", "future"), strict=True):
            self.assertIn(says, bad["why"])
        kept = {"layout": looked["layout"], "device": self.logger.id, "name": "window.csv"}
        for stored, known in ((30, 0), (0, 30)):
            answer = self.ask("logger-files/", self.table(), **kept).json()
            self.assertEqual((answer["stored"], answer["known"]), (stored, known))
        self.assertEqual(RoomReading.objects.filter(at__lte=self.began + timedelta(hours=6)).count(), 30)

    def test_a_layout_that_cannot_be_read_by_says_why(self):
        layout = self.ask("logger-files/look/", self.table()).json()["layout"]
        columns = layout["columns"]
        for change, code in (
            ({"zone": "Nowhere/Land"}, "unknown_zone"),
            ({"columns": [{**columns[0], "meaning": "nothing"}, *columns[1:]]}, "no_time"),
            ({"columns": [columns[0], columns[1], {**columns[1]}]}, "double_column"),
            ({"columns": [columns[0], {**columns[1], "unit": "oz"}, columns[2]]}, "unknown_unit"),
        ):
            answer = self.ask("logger-files/look/", self.table(), layout={**layout, **change})
            self.assertEqual((answer.status_code, answer.json()["code"]), (400, code))
        for text, code in (("", "empty"), ("just words\nand more\n", "no_table")):
            self.assertEqual(self.ask("logger-files/look/", text).json()["code"], code)
        odd = self.client.put(
            "/api/logger-files/look/?zone=UTC&layout={", b"x", content_type="application/octet-stream"
        )
        self.assertEqual((odd.status_code, odd.json()["field"]), (400, "layout"))

    def test_a_file_of_many_megabytes_is_looked_into_and_stored_and_one_that_is_too_large_is_refused(self):
        begin, note = timezone.now() - timedelta(days=400), "x" * 160
        times = (f"{begin + timedelta(minutes=n):%Y-%m-%d %H:%M}" for n in range(26_000))
        rows = (f"{at},{15 + n % 7},{60 + n % 9},{note}" for n, at in enumerate(times))
        text = "\n".join(["when,temp °C,humidity %,note", *rows])
        self.assertGreater(len(text), 4_500_000)
        looked = self.ask("logger-files/look/", text).json()
        self.assertEqual((looked["count"], looked["bad_count"]), (26_000, 0))
        stored = self.ask("logger-files/", text, looked["layout"], device=self.logger.id, name="a.csv").json()
        self.assertEqual(stored["stored"], 26_000)
        large = self.ask("logger-files/look/", "x" * (20 * 1024 * 1024 + 1))
        self.assertEqual((large.status_code, large.json()["code"]), (413, "too_large"))

    def test_heads_and_cells_without_an_end_cost_no_more_than_their_length(self):
        row = "\n2026-03-05 10:00,20,50"
        for head in ("date" * 30_000, " " * 120_000 + "F", "time" * 20_000 + "stamp", "(" * 100_000, "1" * 100_000):
            text = f"when,{head},temp °C{row * 30}"
            self.assertEqual(len(read(text, guess(text, "UTC"), BOUNDS)[0]), 30)
