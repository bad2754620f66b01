"""The data package: everything goes along, comes back as it was, and nothing that is wrong with one gets in."""

import csv
import hashlib
import io
import json
import tempfile
import zipfile
from datetime import UTC, datetime
from pathlib import Path
from unittest.mock import patch

from django.apps import apps
from django.conf import settings
from django.db import models
from django.test import TestCase
from hypothesis import given
from hypothesis import strategies as st
from hypothesis.extra.django import TestCase as DrawnCase

from darre.common.errors import Refusal
from darre.demo.tests.fresh import load_demo_world
from darre.devices.models import Device, DeviceKind, Sample
from darre.equipment.models import Dryer
from darre.exchange.actions.bring_in import bring_in
from darre.exchange.cells import from_cell, to_cell
from darre.exchange.tables import LEFT_OUT, PURE, tables, unit_of
from darre.exchange.write import LINE_END, photo_files, write_package
from darre.history.models import HistoryEntry
from darre.history.recorder import undo
from darre.inventory.models import MoistureReading, Preferences, Spool
from darre.places.models import RoomReading

NOW = datetime(2026, 11, 27, 9, 0, tzinfo=UTC)


class InAFolder(TestCase):
    @classmethod
    def setUpTestData(cls):
        load_demo_world(cls)
        device = Device.objects.create(
            name="Logger", kind=DeviceKind.LOGGER, dryer=Dryer.objects.first(), token_hash="of a token"
        )
        Sample.objects.bulk_create(
            Sample(device=device, own_ms=n, at_ms=n, temp_c=20.0 + n, rh_pct=40.5, import_key=7) for n in range(2500)
        )
        Preferences.objects.update_or_create(pk=1, defaults={"currency": "€"})

    def setUp(self):
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))

    def written(self, name="one.zip", now=NOW):
        file = self.folder / name
        with file.open("wb") as out:
            write_package(out, now)
        return file

    def empty(self):
        """An empty workshop in the same database: the records go, what points to others first."""
        for table in reversed(tables()):
            table.model._base_manager.all().delete()
        for photo in settings.PHOTO_DIR.glob("*.jpg"):
            photo.unlink()

    def contents(self, file):
        with zipfile.ZipFile(file) as archive:
            return {name: archive.read(name) for name in archive.namelist()}

    def table(self, file, name):
        return list(csv.DictReader(io.StringIO(self.contents(file)[name].decode())))


class ThereAndBack(InAFolder):
    def test_exported_brought_in_and_exported_again_it_is_the_same_to_the_byte_but_for_its_date(self):
        first = self.written()
        self.empty()
        told = bring_in(first, "one.zip").record
        self.assertGreater(told.records, 3000)
        self.assertGreater(told.photos, 0)
        later = self.contents(self.written("two.zip", NOW.replace(year=2027)))
        before = self.contents(first)
        described = [json.loads(each.pop("datapackage.json")) for each in (before, later)]
        self.assertEqual(before, later)
        self.assertEqual([each.pop("created") for each in described], ["2026-11-27T09:00:00Z", "2027-11-27T09:00:00Z"])
        self.assertEqual(*described)

    def test_it_is_one_act_that_is_taken_back_whole(self):
        first = self.written()
        self.empty()
        entry = bring_in(first, "one.zip").undo
        self.assertEqual(Sample.objects.count(), 2500)
        undo(entry)
        for table in tables():
            self.assertFalse(table.model._base_manager.exists(), table.file)

    def test_what_was_brought_in_works(self):
        told = self.client.get("/api/rack/?span=week").json()
        first = self.written()
        self.empty()
        bring_in(first, "one.zip")
        again = self.client.get("/api/rack/?span=week").json()
        names = [[lane["lane"]["spool"]["name"] for lane in each["lanes"]] for each in (told, again)]
        self.assertEqual(*names)
        for path in (
            "/api/storage/",
            "/api/runs/",
            "/api/cases/",
            "/api/trials/",
            "/api/spools/1/page/",
            "/api/runs/1/",
        ):
            self.assertEqual(self.client.get(path).status_code, 200, path)

    def test_over_http_it_is_taken_along_and_brought_in(self):
        answer = self.client.get("/api/data-package/")
        content = b"".join(answer.streaming_content)
        self.assertIn("attachment", answer["Content-Disposition"])
        refused = self.client.put("/api/data-package/?name=a.zip", content, content_type="application/octet-stream")
        self.assertEqual((refused.status_code, refused.json()["code"]), (409, "not_empty"))
        self.empty()
        told = self.client.put("/api/data-package/?name=a.zip", content, content_type="application/octet-stream")
        self.assertEqual(told.status_code, 201, told.content)
        self.assertEqual(Spool.objects.count(), 11)
        self.assertEqual(HistoryEntry.objects.get(pk=told.json()["undo"]).summary, "Brought in a.zip")


class What(InAFolder):
    def test_every_kind_of_record_goes_along_or_is_left_out_by_name(self):
        own = {m._meta.label for m in apps.get_models() if m.__module__.startswith("darre.")}
        self.assertEqual({t.model._meta.label for t in tables()} | set(LEFT_OUT), own)

    def test_no_secret_goes_along(self):
        whole = b"".join(self.contents(self.written()).values())
        self.assertNotIn(b"of a token", whole)
        self.assertNotIn(b"token_hash", whole)

    def test_every_number_has_its_unit_or_is_known_to_have_none(self):
        counts = {"slots", "years_back", "score", "size", "width", "height", "month", "seed", "bound_jobs_late"}
        for table in tables():
            for field in table.fields:
                number = isinstance(field, models.FloatField | models.IntegerField) and not field.primary_key
                if number and field.attname not in PURE | counts:
                    self.assertIsNotNone(unit_of(field), f"{table.file} {field.attname}")

    def test_the_description_fits_the_tables(self):
        content = self.contents(self.written())
        described = json.loads(content["datapackage.json"])
        self.assertEqual(described["profile"], "tabular-data-package")
        by_name = {each["name"]: each for each in described["resources"]}
        for each in by_name.values():
            raw = content[each["path"]]
            head, *rows = list(csv.reader(io.StringIO(raw.decode())))
            self.assertEqual(head, [f["name"] for f in each["schema"]["fields"]])
            self.assertEqual((len(raw), len(rows)), (each["bytes"], each["rows"]))
            self.assertEqual(each["hash"], "sha256:" + hashlib.sha256(raw).hexdigest())
            for key in each["schema"]["foreignKeys"]:
                self.assertIn(key["fields"], head)
                self.assertIn(key["reference"]["resource"], by_name)
        gross = next(f for f in by_name["runs-weighing"]["schema"]["fields"] if f["name"] == "gross_g")
        self.assertEqual((gross["type"], gross["unit"]), ("number", "g"))

    def test_moments_are_in_utc_and_numbers_have_all_their_digits(self):
        rows = self.table(self.written(), "inventory-moisturereading.csv")
        for row, reading in zip(rows, MoistureReading.objects.order_by("pk"), strict=True):
            self.assertTrue(row["at"].endswith("Z"))
            self.assertEqual(datetime.fromisoformat(row["at"]), reading.at)
            self.assertEqual(float(row["moisture_pct"]), reading.moisture_pct)

    def test_a_photo_that_goes_while_it_is_written_is_left_out(self):
        gone = settings.PHOTO_DIR / "gone.jpg"
        with patch("darre.exchange.write.photo_files", return_value=[gone, *photo_files()]):
            names = self.contents(self.written()).keys()
        self.assertNotIn("photos/gone.jpg", names)
        self.assertIn("datapackage.json", names)

    def test_a_spreadsheet_takes_no_text_for_a_formula(self):
        spool = Spool.objects.first()
        for text in ("=1+1", "+49", "-x", "@sum", "\ttab", "'quoted", "plain = text"):
            Spool.objects.filter(pk=spool.pk).update(purpose=text)
            row = next(r for r in self.table(self.written(), "inventory-spool.csv") if r["id"] == str(spool.pk))
            self.assertNotIn(row["purpose"][0], "=+-@\t")
            self.assertEqual(from_cell(Spool._meta.get_field("purpose"), row["purpose"]), text)


class Wrong(InAFolder):
    @classmethod
    def setUpTestData(cls):
        super().setUpTestData()
        with tempfile.TemporaryFile() as out:
            write_package(out, NOW)
            out.seek(0)
            cls.package = out.read()

    def setUp(self):
        super().setUp()
        self.empty()

    def rebuilt(self, change, digests=False):
        """The package with parts of it changed by hand."""
        with zipfile.ZipFile(io.BytesIO(self.package)) as archive:
            parts = {name: archive.read(name) for name in archive.namelist()}
        change(parts)
        if not digests and "datapackage.json" in parts:
            try:
                described = json.loads(parts["datapackage.json"])
                for each in described["resources"]:
                    each.pop("hash", None)
                parts["datapackage.json"] = json.dumps(described).encode()
            except (ValueError, TypeError, KeyError, RecursionError):
                pass  # it is what was changed
        file = self.folder / "changed.zip"
        with zipfile.ZipFile(file, "w") as out:
            for name, content in parts.items():
                out.writestr(name, content)
        return file

    def cell(self, table, column, value, line=1):
        def change(parts):
            rows = list(csv.reader(io.StringIO(parts[table].decode())))
            rows[line][rows[0].index(column)] = value
            out = io.StringIO()
            csv.writer(out, lineterminator="\n").writerows(rows)
            parts[table] = out.getvalue().encode()

        return self.rebuilt(change)

    def described(self, **values):
        def change(parts):
            parts["datapackage.json"] = json.dumps(json.loads(parts["datapackage.json"]) | values).encode()

        return self.rebuilt(change)

    def assert_refused(self, file, says):
        entries = HistoryEntry.objects.count()
        with self.assertRaises(Refusal) as caught:
            bring_in(file, "x.zip")
        self.assertRegex(caught.exception.message, says)
        for table in tables():
            self.assertFalse(table.model._base_manager.exists(), table.file)
        self.assertEqual(HistoryEntry.objects.count(), entries)

    def test_a_value_that_cannot_stand_there_is_named_by_file_line_and_column(self):
        for table, column, value in (
            ("runs-weighing.csv", "gross_g", "nan"),
            ("runs-weighing.csv", "gross_g", "1e999"),
            ("runs-weighing.csv", "gross_g", ""),
            ("runs-weighing.csv", "gross_g", "12,5"),
            ("runs-weighing.csv", "at", "yesterday"),
            ("runs-weighing.csv", "at", "2026-11-27T09:00:00"),
            ("runs-weighing.csv", "at", "0001-01-01T00:00:00Z"),
            ("runs-weighing.csv", "warm", "yes"),
            ("runs-weighing.csv", "client_key", "no key"),
            ("runs-weighing.csv", "spool_id", "9" * 30),
            ("inventory-spool.csv", "name", "x" * 5000),
            ("inventory-spool.csv", "form", "braided"),
            ("runs-batch.csv", "ticket", "{torn"),
            ("runs-batch.csv", "ticket", "[" * 100_000),
        ):
            with self.subTest(table=table, column=column, value=value[:20]):
                self.assert_refused(self.cell(table, column, value), f"{table}, line 2, {column}")

    def test_what_does_not_hold_together_is_refused(self):
        self.assert_refused(self.cell("runs-weighing.csv", "spool_id", "999"), "999 is not in inventory-spool.csv")
        self.assert_refused(self.cell("runs-weighing.csv", "id", "2", line=1), "number 2 already")
        self.assert_refused(self.cell("places-roomreading.csv", "rh_pct", "140.0"), "places-roomreading.csv")
        self.assert_refused(self.cell("equipment-dryer.csv", "max_c", "-300.0"), "equipment-dryer.csv")

    def test_a_table_that_was_changed_after_it_was_written_is_told(self):
        def change(parts):
            parts["inventory-spool.csv"] = parts["inventory-spool.csv"].replace(b"Rain gauge", b"Rain gouge")

        self.assert_refused(self.rebuilt(change, digests=True), "not as it was written")

    def test_what_does_not_belong_in_it_is_refused_by_name(self):
        for name in ("../evil.csv", "/etc/passwd", "photos/../../x.jpg", "photos/a.jpg", "extra.csv", "run.exe"):
            self.assert_refused(self.rebuilt(lambda parts, name=name: parts.update({name: b"x"})), "does not belong")
        self.assert_refused(
            self.rebuilt(lambda parts: parts.update({f"photos/{'a' * 40}.jpg": b"<script>"})), "damaged"
        )

        def column(parts):
            parts["inventory-helper.csv"] = parts["inventory-helper.csv"].replace(b"name", b"nome", 1)

        self.assert_refused(self.rebuilt(column), "not known: 'nome'")

    def test_what_is_no_package_or_a_newer_one_is_said(self):
        for content in (b"", b"no zip", b"PK\x03\x04" + b"\0" * 100, self.package[: len(self.package) // 2]):
            file = self.folder / "x.zip"
            file.write_bytes(content)
            self.assert_refused(file, "no data package")
        self.assert_refused(self.rebuilt(lambda parts: parts.pop("datapackage.json")), "has no datapackage.json")
        self.assert_refused(self.described(version="2"), "format 2; this version reads 1")
        self.assert_refused(self.described(name="other"), "of another program")
        for torn in (b"{", b"[]", b"[" * 100_000):
            self.assert_refused(
                self.rebuilt(lambda parts, torn=torn: parts.update({"datapackage.json": torn})), "cannot be read"
            )

    def test_a_small_archive_that_unpacks_to_a_huge_one_is_not_unpacked(self):
        file = self.folder / "bomb.zip"
        with zipfile.ZipFile(file, "w", zipfile.ZIP_DEFLATED) as out:
            out.writestr("datapackage.json", b"{}")
            with out.open("inventory-spool.csv", "w", force_zip64=True) as entry:
                for _ in range(30):
                    entry.write(bytes(1_000_000))
        self.assertLess(file.stat().st_size, 50_000)
        with (
            patch("darre.exchange.read.MOST_BYTES", 20_000_000),
            patch("zipfile.ZipFile.open", side_effect=AssertionError),
        ):
            self.assert_refused(file, "more than any")

    def test_a_row_with_a_cell_too_many_and_a_table_that_is_none_are_named(self):
        def longer(parts):
            parts["inventory-spool.csv"] = parts["inventory-spool.csv"].replace(b"\n1,", b"\n1,1,", 1)

        self.assert_refused(self.rebuilt(longer), "inventory-spool.csv, line 2")
        for bad in (b'id,"name\n', b"id\n\xff\xfe\n", b"id,name\n1,\0\n"):
            self.assert_refused(
                self.rebuilt(lambda parts, bad=bad: parts.update({"inventory-helper.csv": bad})), "inventory-helper.csv"
            )


class Cells(DrawnCase):
    @given(st.text(st.characters(exclude_categories=["Cs"], exclude_characters="\0"), max_size=60))
    def test_any_text_comes_back_as_it_was(self, text):
        field = Spool._meta.get_field("purpose")
        out = io.StringIO()
        csv.writer(out, lineterminator=LINE_END).writerow([to_cell(field, text), ""])
        [[cell, _]] = csv.reader(io.StringIO(out.getvalue(), newline=""))
        self.assertEqual(from_cell(field, cell), text)

    @given(st.floats(allow_nan=False, allow_infinity=False))
    def test_any_number_comes_back_as_it_was(self, number):
        field = Spool._meta.get_field("tare_g")
        self.assertEqual(from_cell(field, to_cell(field, number)), number)

    @given(st.datetimes(datetime(1970, 1, 2), datetime(2199, 1, 1)))
    def test_any_moment_comes_back_as_it_was(self, moment):
        field = RoomReading._meta.get_field("at")
        at = moment.replace(tzinfo=UTC)
        self.assertEqual(from_cell(field, to_cell(field, at)), at)
