"""A backup that is put back from the page."""

import sqlite3
from contextlib import closing
from unittest import mock

from django.test import TestCase

from darre.backup.api import views
from darre.backup.keeping import back_up
from darre.backup.staged import put_back_staged, stage, staged_file
from darre.backup.tests.test_backup import NOW, InAFolder
from darre.common.database_file import UnusableError


class FromThePage(InAFolder, TestCase):
    """Looked at when it is asked for, put in place at the next start."""

    def test_it_waits_for_the_next_start_and_is_put_in_place_once(self):
        made = back_up(self.database, NOW).file
        with closing(sqlite3.connect(self.database)) as db:
            db.execute("INSERT INTO note (text) VALUES ('later')")
            db.commit()
        stage(made, self.database)
        self.assertEqual(self.count(self.database), 501)
        kept = put_back_staged(self.database, NOW)
        self.assertEqual((self.count(self.database), self.count(kept)), (500, 501))
        self.assertIsNone(put_back_staged(self.database, NOW))
        self.assertEqual(self.count(self.database), 500)

    def test_what_is_no_backup_does_not_wait(self):
        bad = self.folder / "bad.zip"
        whole = back_up(self.database, NOW).file.read_bytes()
        for content in (b"", b"no zip", whole[: len(whole) // 2]):
            bad.write_bytes(content)
            with self.assertRaises(UnusableError):
                stage(bad, self.database)
            self.assertFalse(staged_file(self.database).exists())

    def test_one_that_is_torn_while_it_waits_is_let_go_and_the_records_stay(self):
        stage(back_up(self.database, NOW).file, self.database)
        waits = staged_file(self.database)
        self.assertEqual(waits.stat().st_mode & 0o077, 0)
        waits.write_bytes(waits.read_bytes()[:-200])
        with self.assertRaises(UnusableError):
            put_back_staged(self.database, NOW)
        self.assertEqual(self.count(self.database), 500)
        self.assertFalse(waits.exists())

    def test_over_http_one_that_is_kept_or_sent(self):
        made = back_up(self.database, NOW).file
        with mock.patch.object(views, "database_file", return_value=self.database):
            told = self.client.post(f"/api/backups/{made.name}/restore/")
            self.assertEqual((told.status_code, told.json()), (200, {"starts_again": False}))
            self.assertTrue(staged_file(self.database).exists())
            staged_file(self.database).unlink()
            sent = {"data": made.read_bytes(), "content_type": "application/octet-stream"}
            self.assertEqual(self.client.put("/api/restore/?name=a.zip", **sent).status_code, 200)
            self.assertTrue(staged_file(self.database).exists())
            staged_file(self.database).unlink()
            for path, content, status in (("restore/?name=a.zip", b"no zip", 409), ("restore/?name=a.zip", b"", 400)):
                answer = self.client.put(f"/api/{path}", content, content_type="application/octet-stream")
                self.assertEqual(answer.status_code, status)
            self.assertEqual(self.client.post("/api/backups/darre-20200101-000000.zip/restore/").status_code, 404)
            self.assertFalse(staged_file(self.database).exists())
