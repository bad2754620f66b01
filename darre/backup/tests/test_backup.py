"""Backups: whole while everything is written to, kept by a rule, put back, and refused where they are not whole."""

import hashlib
import io
import itertools
import json
import os
import sqlite3
import tempfile
import threading
import zipfile
from contextlib import closing, suppress
from datetime import UTC, datetime, timedelta
from pathlib import Path
from unittest import TestCase, mock

from django.test import override_settings
from django.utils import timezone
from hypothesis import given
from hypothesis import strategies as st

from darre.backup import daily
from darre.backup.api import views
from darre.backup.archive import DATABASE, MANIFEST, make_backup, read_manifest
from darre.backup.keeping import back_up, backups, folder_of, is_due, restore, which_stay
from darre.common.database_file import UnusableError
from darre.runs.tests.test_run_path import Shed

NOW = datetime(2026, 11, 27, 10, 30, tzinfo=UTC)


class InAFolder(TestCase):
    """A small database with photos in a folder of its own."""

    def setUp(self):
        super().setUp()
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.photos = self.folder / "photos"
        self.photos.mkdir()
        self.photo = self.photos / f"{'a' * 40}.jpg"
        self.photo.write_bytes(b"a picture")
        (self.photos / "half.part").write_bytes(b"not finished")
        self.database = self.folder / "own.sqlite3"
        with closing(sqlite3.connect(self.database)) as db:
            db.execute("PRAGMA journal_mode = WAL")
            db.execute("CREATE TABLE django_migrations (id INTEGER PRIMARY KEY, app TEXT, name TEXT)")
            db.execute("INSERT INTO django_migrations (app, name) VALUES ('inventory', '0001_initial')")
            db.execute("CREATE TABLE note (id INTEGER PRIMARY KEY, text TEXT)")
            db.executemany("INSERT INTO note (text) VALUES (?)", [(f"line {n}",) for n in range(500)])
            db.commit()
        overridden = override_settings(PHOTO_DIR=self.photos)
        overridden.enable()
        self.addCleanup(overridden.disable)

    def count(self, database=None):
        with closing(sqlite3.connect(database or self.database)) as db:
            return db.execute("SELECT count(*) FROM note").fetchone()[0]

    def rebuilt(self, file, change):
        """The same backup with its parts changed by hand."""
        with zipfile.ZipFile(file) as archive:
            parts = {name: archive.read(name) for name in archive.namelist()}
        change(parts)
        broken = self.folder / f"broken-{len(list(self.folder.iterdir()))}.zip"
        with zipfile.ZipFile(broken, "w") as archive:
            for name, content in parts.items():
                archive.writestr(name, content)
        return broken


class Whole(InAFolder):
    def test_it_comes_back_as_it_was_into_an_empty_place_too(self):
        made = back_up(self.database, NOW).file
        with zipfile.ZipFile(made) as archive:
            self.assertEqual(sorted(archive.namelist()), sorted([DATABASE, MANIFEST, f"photos/{self.photo.name}"]))
            self.assertEqual(read_manifest(archive).made_at, NOW)
        self.photo.unlink()
        fresh = self.folder / "elsewhere" / "new.sqlite3"
        self.assertIsNone(restore(made, fresh, NOW))
        self.assertEqual((self.count(fresh), self.photo.read_bytes()), (500, b"a picture"))

    def test_sessions_of_the_time_of_the_backup_do_not_live_again(self):
        with closing(sqlite3.connect(self.database)) as db:
            db.execute("CREATE TABLE django_session (session_key TEXT)")
            db.execute("INSERT INTO django_session VALUES ('of a phone that is lost since')")
            db.commit()
        fresh = self.folder / "new.sqlite3"
        restore(back_up(self.database, NOW).file, fresh, NOW)
        with closing(sqlite3.connect(fresh)) as db:
            self.assertEqual(db.execute("SELECT COUNT(*) FROM django_session").fetchone(), (0,))

    def test_what_was_there_is_kept(self):
        made = back_up(self.database, NOW).file
        with closing(sqlite3.connect(self.database)) as db:
            db.execute("INSERT INTO note (text) VALUES ('later')")
            db.commit()
        kept = restore(made, self.database, NOW)
        self.assertEqual((self.count(), self.count(kept)), (500, 501))

    def test_wherever_it_is_broken_off_one_of_the_two_stands_there_whole(self):
        made = back_up(self.database, NOW).file
        with closing(sqlite3.connect(self.database)) as db:
            db.execute("INSERT INTO note (text) VALUES ('later')")
            db.commit()
        for step in ("os.link", "os.unlink", "os.rename", "os.replace"):
            for call in range(1, 4):
                with self.subTest(step=step, call=call):
                    done = itertools.count(1)
                    real = getattr(os, step.removeprefix("os."))

                    def breaks(*args, done=done, real=real, call=call, **more):
                        if next(done) == call and "own.sqlite3" in str(args):
                            raise SystemError("the power went")
                        return real(*args, **more)

                    with mock.patch(step, breaks), suppress(SystemError):
                        restore(made, self.database, NOW)
                    self.assertIn(self.count(), (500, 501))

    def test_a_disk_that_refuses_is_said_and_the_records_stay(self):
        made = back_up(self.database, NOW).file
        full = mock.patch("darre.backup.keeping._kept_beside", side_effect=OSError(28, "No space left on device"))
        with full, self.assertRaisesRegex(UnusableError, "was not put back: No space left"):
            restore(made, self.database, NOW)
        self.assertEqual(self.count(), 500)

    def test_nothing_that_was_acknowledged_before_it_began_is_missing_while_it_is_written_to(self):
        stop, acknowledged = threading.Event(), [500]

        def write():
            with closing(sqlite3.connect(self.database, timeout=30)) as db:
                while not stop.is_set():
                    db.execute("INSERT INTO note (text) VALUES ('more')")
                    db.commit()
                    acknowledged.append(acknowledged[-1] + 1)

        writer = threading.Thread(target=write)
        writer.start()
        try:
            for n in range(25):
                before = acknowledged[-1]
                made = make_backup(self.database, self.photos, self.folder / "b", NOW + timedelta(seconds=n))
                target = self.folder / f"back-{n}.sqlite3"
                restore(made, target, NOW)
                self.assertGreaterEqual(self.count(target), before)
        finally:
            stop.set()
            writer.join()

    def test_a_damaged_database_is_not_backed_up_and_nothing_half_is_left(self):
        content = bytearray(self.database.read_bytes())
        content[4096:12288] = b"x" * 8192
        self.database.write_bytes(bytes(content))
        with self.assertRaises((UnusableError, sqlite3.DatabaseError)):
            back_up(self.database, NOW)
        self.assertFalse(any(folder_of(self.database).glob("*")))


class Refused(InAFolder):
    def test_what_is_no_backup_or_damaged_or_newer_is_said_and_changes_nothing(self):
        made = back_up(self.database, NOW).file
        with zipfile.ZipFile(made) as archive:
            told = json.loads(archive.read(MANIFEST))

        def manifest(**changed):
            return lambda parts: parts.update({MANIFEST: json.dumps(told | changed).encode()})

        def swapped(parts):
            parts[DATABASE] = parts[DATABASE][:-4096] + b"y" * 4096

        def longer(parts):
            parts[DATABASE] += b"more"

        def escaping(parts):
            parts["../escaped.txt"] = b"out"

        def newer(parts):
            with tempfile.NamedTemporaryFile() as file:
                Path(file.name).write_bytes(parts[DATABASE])
                with closing(sqlite3.connect(file.name)) as db:
                    db.execute("INSERT INTO django_migrations (app, name) VALUES ('inventory', '9999_to_come')")
                    db.commit()
                parts[DATABASE] = Path(file.name).read_bytes()
            digest = hashlib.sha256(parts[DATABASE]).hexdigest()
            files = told["files"] | {DATABASE: {"bytes": len(parts[DATABASE]), "sha256": digest}}
            parts[MANIFEST] = json.dumps(told | {"files": files}).encode()

        text = self.folder / "text.zip"
        text.write_text("hello")
        for file, named in (
            (text, "no backup"),
            (self.folder / "missing.zip", "no file"),
            (self.rebuilt(made, lambda parts: parts.pop(MANIFEST)), "no backup"),
            (self.rebuilt(made, swapped), "damaged"),
            (self.rebuilt(made, longer), "damaged"),
            (self.rebuilt(made, escaping), "no backup"),
            (self.rebuilt(made, lambda parts: parts.update({"photos/evil.html": b"<script>"})), "no backup"),
            (self.rebuilt(made, manifest(format=2)), "newer"),
            (self.rebuilt(made, manifest(files={})), "no backup"),
            (self.rebuilt(made, manifest(files={DATABASE: {"bytes": 10**15, "sha256": ""}})), "more than any"),
            (self.rebuilt(made, manifest(made_at="yesterday")), "no backup"),
            (self.rebuilt(made, newer), "9999_to_come"),
        ):
            with self.subTest(named), self.assertRaisesRegex(UnusableError, named):
                restore(file, self.database, NOW)
            self.assertEqual((self.count(), (self.folder.parent / "escaped.txt").exists()), (500, False))
        self.assertEqual(list(self.folder.glob("kept-*")), [])

    def test_a_small_file_that_unpacks_to_a_huge_one_is_not_unpacked(self):
        made = back_up(self.database, NOW).file
        bomb = self.folder / "bomb.zip"
        with zipfile.ZipFile(made) as archive:
            told = archive.read(MANIFEST)
        with zipfile.ZipFile(bomb, "w", zipfile.ZIP_DEFLATED) as archive:
            archive.writestr(MANIFEST, told)
            archive.writestr(f"photos/{self.photo.name}", b"a picture")
            archive.writestr(DATABASE, b"\0" * (64 * 2**20))
        with self.assertRaisesRegex(UnusableError, "damaged"):
            restore(bomb, self.database, NOW)
        self.assertEqual(self.count(), 500)


class WhichStay(TestCase):
    def test_a_year_of_daily_backups_comes_to_days_weeks_and_months(self):
        stay: set[datetime] = set()
        for day in range(400):
            stay = which_stay([*stay, NOW + timedelta(days=day)])
        newest = NOW + timedelta(days=399)
        self.assertTrue({newest - timedelta(days=n) for n in range(7)} <= stay)
        self.assertLessEqual(len(stay), 7 + 5 + 12)
        self.assertGreater(newest - min(stay), timedelta(days=300))

    @given(st.lists(st.integers(0, 900), min_size=1, max_size=60, unique=True))
    def test_the_newest_always_stays_and_nothing_else_appears(self, days):
        made = {NOW - timedelta(days=n) for n in days}
        stay = which_stay(made)
        self.assertIn(max(made), stay)
        self.assertLessEqual(stay, made)


class Daily(InAFolder):
    def test_one_is_due_after_a_day_and_not_before(self):
        self.assertTrue(is_due(self.database, NOW))
        back_up(self.database, NOW)
        self.assertFalse(is_due(self.database, NOW + timedelta(hours=23)))
        self.assertTrue(is_due(self.database, NOW + timedelta(hours=24)))
        self.assertFalse(is_due(self.folder / "none.sqlite3", NOW))

    def test_it_is_made_beside_the_serving_and_a_failure_is_tried_again(self):
        stop, tries = threading.Event(), []

        def fails_once(database, now):
            tries.append(1)
            if len(tries) == 1:
                raise OSError("No space left on device")
            return back_up(database, now)

        with (
            mock.patch.object(daily, "back_up", fails_once),
            mock.patch.object(daily, "LOOK_EVERY_S", 0.01),
            self.assertLogs("darre", "WARNING") as said,
        ):
            thread = daily.keep_daily(self.database, stop)
            while not backups(self.database):
                stop.wait(0.01)
            stop.set()
            thread.join(10)
        self.assertIn("No space left", said.output[0])
        self.assertEqual(len(backups(self.database)), 1)

    def test_files_of_other_names_are_left_alone(self):
        back_up(self.database, NOW)
        mine = folder_of(self.database) / "darre-by-hand.zip"
        mine.write_bytes(b"mine")
        for day in range(1, 60):
            back_up(self.database, NOW + timedelta(days=day))
        self.assertTrue(mine.exists())
        self.assertLess(len(backups(self.database)), 20)


class OverHttp(Shed):
    def test_a_backup_is_made_listed_and_taken_along(self):
        with tempfile.TemporaryDirectory() as folder:
            database = Path(folder) / "shed.sqlite3"
            with closing(sqlite3.connect(database)) as db:
                db.execute("CREATE TABLE django_migrations (id INTEGER PRIMARY KEY, app TEXT, name TEXT)")
            patched = mock.patch.object(views, "database_file", return_value=database)
            patched.start()
            self.addCleanup(patched.stop)
            self.assertEqual(self.client.get("/api/backups/").json(), [])
            made = self.post("backups/")
            self.assertEqual(made.status_code, 201)
            [row] = self.client.get("/api/backups/").json()
            self.assertEqual(row, made.json())
            answer = self.client.get(f"/api/backups/{row['name']}")
            content = b"".join(answer.streaming_content)
            with zipfile.ZipFile(io.BytesIO(content)) as archive:
                self.assertIn(DATABASE, archive.namelist())
            for name in ("darre-20260101-000000.zip", "..%2f..%2fsecret_key", "secret_key"):
                self.assertEqual(self.client.get(f"/api/backups/{name}").status_code, 404, name)
        self.assertLess(abs(timezone.now() - datetime.fromisoformat(row["made_at"])), timedelta(minutes=2))
