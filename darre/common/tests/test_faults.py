"""What fails in the world answers in a sentence: a full disk, a damaged or newer database, a second server, a jumping
clock, files that are gone, clients that fall silent.
"""

import os
import socket
import sqlite3
import subprocess
import sys
import tempfile
import urllib.request
from contextlib import ExitStack, closing
from datetime import timedelta
from pathlib import Path
from unittest import mock

from django.conf import settings
from django.db import DatabaseError, connection
from django.db.migrations.recorder import MigrationRecorder
from django.test import Client, SimpleTestCase, TransactionTestCase
from django.utils import timezone
from PIL import Image

from darre.common import database_file
from darre.common.database_file import UnusableError
from darre.common.errors import storage_refusal
from darre.common.tests.test_whole_contract import CONTRACT
from darre.demo.tests.fresh import copy_database, load_demo_world
from darre.diagnosis.models import Photo
from darre.diagnosis.photo_store import photo_path, store_photo
from darre.runs.models import Run
from darre.runs.tests.test_run_path import Shed

REQUEST = b"POST /api/weighings/ HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Length: 999\r\n\r\n{"


class FullDisk(TransactionTestCase):
    def test_what_cannot_be_saved_is_said_and_reading_goes_on(self):
        load_demo_world(self)
        spool = Run.objects.first().spool_id
        body = {"moisture_pct": 0.1, "plus_minus_pct": 0.05}

        def note():
            return self.client.post(f"/api/spools/{spool}/moisture/", body, content_type="application/json")

        with connection.cursor() as cursor:
            pages = cursor.execute("PRAGMA page_count").fetchone()[0]
            cursor.execute(f"PRAGMA max_page_count = {pages}")
            try:
                found = [note() for _ in range(200)]
                full = next(answer for answer in found if answer.status_code != 201)
                self.assertEqual((full.status_code, full.json()["code"]), (507, "disk_full"))
                self.assertIn("was not saved. Make room", full.json()["message"])
                for path in ("rack/?span=week", "runs/", "storage/", "history/", "health/", "preferences/"):
                    self.assertEqual(self.client.get(f"/api/{path}").status_code, 200, path)
            finally:
                cursor.execute("PRAGMA max_page_count = 1073741823")
        self.assertEqual(note().status_code, 201)


class TheFile(SimpleTestCase):
    def setUp(self):
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        self.file = self.folder / "darre.sqlite3"
        with closing(sqlite3.connect(self.file)) as db:
            db.executescript("CREATE TABLE a(b); " + "INSERT INTO a VALUES (zeroblob(9000)); " * 30)

    def test_a_second_server_on_the_same_database_is_told_so(self):
        first = database_file.lock(self.file)
        with self.assertRaisesRegex(UnusableError, "Another Darre is working with darre.sqlite3. Stop that one, or"):
            database_file.lock(self.file)
        os.close(first)
        os.close(database_file.lock(self.file))

    def test_a_sound_or_new_file_is_let_in(self):
        database_file.refuse_damaged(self.file)
        database_file.refuse_damaged(self.folder / "none.sqlite3")

    def test_what_is_no_database_damaged_or_cut_short_is_named_and_left_as_it_is(self):
        sound = self.file.read_bytes()
        for broken in (
            b"no database at all" * 400,
            sound[:4096] + b"x" * 4096 + sound[8192:],
            sound[: len(sound) // 2],
        ):
            self.file.write_bytes(broken)
            with self.assertRaisesRegex(UnusableError, "damaged or no database.*backup.*Nothing was changed"):
                database_file.refuse_damaged(self.file)
            self.assertEqual(self.file.read_bytes(), broken)

    def test_what_the_database_itself_says_becomes_a_sentence(self):
        read_only = closing(sqlite3.connect(f"file:{self.file}?mode=ro", uri=True))
        with read_only as db, self.assertRaises(sqlite3.OperationalError) as met:
            db.execute("DELETE FROM a")
        self.assertEqual(storage_refusal(DatabaseError(str(met.exception))).code, "read_only")
        self.assertIsNone(storage_refusal(DatabaseError("no such column: spoons")))


class Versions(TransactionTestCase):
    def test_a_database_of_a_newer_version_is_not_touched(self):
        database_file.refuse_newer()
        recorder, newer = MigrationRecorder(connection), ("inventory", "9999_from_the_future")
        recorder.record_applied(*newer)
        self.addCleanup(recorder.record_unapplied, *newer)
        with self.assertRaisesRegex(UnusableError, "newer Darre .it knows 9999_from_the_future.*Nothing was changed"):
            database_file.refuse_newer()


class Clocks(Shed):
    def test_no_page_breaks_when_the_clock_stands_years_back_or_a_year_ahead(self):
        client = Client(raise_request_exception=False)
        real, asked = timezone.now(), 0
        for days in (-5 * 365, 400):
            with mock.patch.object(timezone, "now", return_value=real + timedelta(days=days)):
                for path, methods in CONTRACT["paths"].items():
                    if "get" not in methods or path in ("/api/schema/",):
                        continue
                    address = "/".join("3" if "id}" in part else part for part in path.split("/"))
                    answer = client.get(address, {"spool": 4, "span": "week", "dryer": 1})
                    self.assertLess(answer.status_code, 500, (days, address, getattr(answer, "content", b"")[:300]))
                    asked += answer.status_code == 200
        self.assertGreater(asked, 40)

    def test_a_run_that_began_while_the_clock_was_ahead_is_ended_and_the_spool_is_free_again(self):
        run = self.started()
        ahead = timezone.now() + timedelta(days=400)
        Run.objects.filter(pk=run["id"]).update(started_at=ahead)
        Run.objects.get(pk=run["id"]).batch.__class__.objects.filter(runs=run["id"]).update(started_at=ahead)
        self.assertEqual(self.post(f"runs/{run['id']}/end/").status_code, 200)
        self.assertEqual(self.start().status_code, 201)


class Photos(Shed):
    def test_a_photo_that_is_gone_is_not_there_and_one_of_no_bytes_is_healed_by_sending_it_again(self):
        with tempfile.TemporaryDirectory() as folder, self.settings(PHOTO_DIR=Path(folder)):
            photo = Photo.objects.first()
            self.assertEqual(self.client.get(f"/api/photos/{photo.pk}/whole.jpg").status_code, 404)
            picture = Path(folder) / "sent.png"
            Image.new("RGB", (60, 40), "olive").save(picture)
            stored = store_photo(picture.read_bytes())
            good = photo_path(stored.file).read_bytes()
            photo_path(stored.file).write_bytes(b"")
            self.assertEqual(store_photo(picture.read_bytes()), stored)
            self.assertEqual(photo_path(stored.file).read_bytes(), good)


class Served(TransactionTestCase):
    """A real server on a copy of the demo world."""

    def setUp(self):
        load_demo_world(self)
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        self.file = self.folder / "demo.sqlite3"
        copy_database(self.file)
        with socket.socket() as probe:
            probe.bind(("127.0.0.1", 0))
            self.port = probe.getsockname()[1]

    def serve(self, **env):
        command = [sys.executable, "-m", "darre.serve", "--port", str(self.port)]
        return subprocess.Popen(
            command, cwd=settings.BASE_DIR, env={**os.environ, "DARRE_DB": str(self.file), **env},
            stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True,
        )  # fmt: skip

    def stop(self, server):
        server.terminate()
        server.communicate()

    def test_clients_that_fall_silent_half_way_do_not_keep_others_out_and_files_are_private(self):
        server = self.serve(DARRE_PATIENCE_S="0.3")
        self.addCleanup(self.stop, server)
        self.assertIn("in your browser", server.stdout.readline())
        with ExitStack() as silent:
            for n in range(16):
                half = silent.enter_context(socket.create_connection(("127.0.0.1", self.port)))
                half.sendall(
                    b"POST /api/weighings/ HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Length: 999\r\n\r\n{"[: 30 + 4 * n]
                )
            with urllib.request.urlopen(f"http://127.0.0.1:{self.port}/api/health/", timeout=60) as answer:
                self.assertEqual(answer.status, 200)
        for part in self.folder.iterdir():
            self.assertEqual(part.stat().st_mode & 0o077, 0, part)

    def test_a_server_that_cannot_start_says_why_in_one_sentence(self):
        handle = database_file.lock(self.file)
        server = self.serve()
        _, err = server.communicate()
        os.close(handle)
        self.assertEqual(server.returncode, 1)
        self.assertRegex(err, r"^darre: Another Darre is working with demo.sqlite3\. Stop that one, or .*\n$")
