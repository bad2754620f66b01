"""What a table or a chart gives along as a file is read by other programs as it was shown."""

import csv
import io
import json

from playwright.sync_api import expect

from e2e.browser import BrowserCase
from e2e.parts import PartsCase


class Written(PartsCase):
    ROWS = (
        ["plain", 0.1 + 0.2, None, True],
        ['with "quotes", commas', -2.5e-9, 1, False],
        ["two\r\nlines", 1e21, 0, None],
        ["", None, None, None],
    )

    def table(self, rows):
        columns = [{"name": f"c{n}", "means": "x"} for n in range(len(rows[0]))]
        return {"title": "Übung: 1/2 «x»", "columns": columns, "rows": rows}

    def test_csv_is_read_back_by_another_reader_cell_by_cell(self):
        told = self.js("tableFile.toCsv(x)", x=self.table(self.ROWS))
        head, *rows = csv.reader(io.StringIO(told, newline=""), strict=True)
        self.assertEqual(head, ["c0", "c1", "c2", "c3"])
        for row, (text, number, other, flag) in zip(rows, self.ROWS, strict=True):
            self.assertEqual(row[0], text)
            self.assertEqual(None if row[1] == "" else float(row[1]), number)
            self.assertEqual(None if row[2] == "" else float(row[2]), other)
            self.assertEqual(row[3], "" if flag is None else str(flag).lower())

    def test_no_text_is_taken_for_a_formula_and_a_negative_number_stays_one(self):
        texts = ["=1+1", "+49", "-x", "@sum", "\tx", "'x"]
        told = self.js("tableFile.toCsv(x)", x=self.table([[text, -1] for text in texts]))
        _, *rows = csv.reader(io.StringIO(told, newline=""))
        self.assertEqual(rows, [[f"'{text}", "-1"] for text in texts])

    def test_json_says_the_same_with_what_each_column_means(self):
        told = json.loads(self.js("tableFile.toJson(x)", x=self.table(self.ROWS)))
        self.assertEqual([list(row.values()) for row in told["rows"]], [list(row) for row in self.ROWS])
        self.assertEqual(told["columns"][0], {"name": "c0", "means": "x"})

    def test_a_file_is_named_so_that_every_system_takes_it(self):
        for title, name in (("Übung: 1/2 «x»", "übung-1-2-x.csv"), ("///", "table.csv"), ("a" * 99, "a" * 60 + ".csv")):
            self.assertEqual(self.js("tableFile.fileName(x, 'csv')", x=title), name)


class Saved(BrowserCase):
    def saved(self, press):
        with self.page.expect_download() as caught:
            press()
        return caught.value.suggested_filename, caught.value.path().read_text("utf-8")

    def test_the_rack_a_run_and_all_records_are_taken_along(self):
        self.open("/")
        rack = self.page.evaluate("fetch('/api/rack/?span=weeks').then(r => r.json())")
        name, text = self.saved(lambda: self.page.get_by_role("button", name="CSV").click())
        rows = list(csv.DictReader(io.StringIO(text, newline="")))
        self.assertEqual(name, "moisture-of-all-spools.csv")
        self.assertEqual(len(rows), sum(len(lane["pct"]) for lane in rack["lanes"]))
        self.assertEqual({row["spool"] for row in rows}, {lane["lane"]["spool"]["name"] for lane in rack["lanes"]})
        first = rack["lanes"][0]
        self.assertEqual(rows[0]["moisture_pct"], "" if first["pct"][0] is None else str(first["pct"][0]))

        self.open("/runs/1")
        sheet = self.page.evaluate("fetch('/api/runs/1/').then(r => r.json())")
        name, text = self.saved(lambda: self.page.get_by_role("link", name="save it as a file").click())
        self.assertEqual(json.loads(text)["run"]["id"], sheet["run"]["id"])
        self.page.get_by_role("button", name="as a table").first.click()
        name, text = self.saved(lambda: self.page.get_by_role("button", name="CSV").first.click())
        rows = list(csv.DictReader(io.StringIO(text, newline="")))
        weighed = [row for row in rows if row["weighed_pct"]]
        self.assertEqual(len(weighed), sum(1 for seen in sheet["seen"] if seen["point"]))
        self.assertEqual([float(r["hours"]) for r in rows], sorted(float(r["hours"]) for r in rows))

        self.page.get_by_role("button", name="Settings").click()
        self.page.get_by_role("menuitem", name="backups and your data").click()
        self.scan()
        with self.page.expect_download() as caught:
            self.page.get_by_role("link", name="Download all records").click()
        package = caught.value.path()
        self.expected_errors = "409 (Conflict)"
        self.page.get_by_label("Import an archive").set_input_files(package)
        expect(self.page.get_by_role("alert")).to_contain_text("comes into an empty workshop")
