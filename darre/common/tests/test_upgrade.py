"""Databases of earlier versions: kept as they were stored, brought up to date by the migrations alone."""

import json
import os
import sqlite3
import subprocess
import sys
import tempfile
from pathlib import Path

from django.conf import settings
from django.test import SimpleTestCase

STORED = sorted((Path(__file__).parent / "data").glob("version-*.sql"))
BROUGHT_UP_TO_DATE = """
import json
from django.core.management import call_command
from django.test import Client
call_command("migrate", verbosity=0)
call_command("migrate", check_unapplied=True, verbosity=0)
client = Client(headers={"host": "127.0.0.1"})
paths = ["rack/?span=week", "spools/1/page/", "runs/1/", "cases/1/", "storage/", "history/", "plan/?spool=1&dryer=1"]
print(json.dumps({path: [(answer := client.get("/api/" + path)).status_code, answer.json()] for path in paths}))
"""


class Upgrades(SimpleTestCase):
    def shell(self, database, code):
        command = [sys.executable, str(settings.BASE_DIR / "manage.py"), "shell", "-v0", "-c", code]
        env = {**os.environ, "DARRE_DB": str(database)}
        done = subprocess.run(command, env=env, check=False, capture_output=True, text=True)
        self.assertEqual(done.returncode, 0, done.stderr)
        return done.stdout

    def test_every_stored_database_is_migrated_and_answers_with_its_records(self):
        self.assertTrue(STORED)
        for stored in STORED:
            with self.subTest(stored.name), tempfile.TemporaryDirectory() as folder:
                database = Path(folder) / "darre.sqlite3"
                with sqlite3.connect(database) as db:
                    db.executescript(stored.read_text("utf-8"))
                answers = json.loads(self.shell(database, BROUGHT_UP_TO_DATE).splitlines()[-1])
                self.assertEqual({path: status for path, (status, _) in answers.items()}, dict.fromkeys(answers, 200))
                [lane] = answers["rack/?span=week"][1]["lanes"]
                self.assertEqual(lane["lane"]["spool"]["name"], "Rain gauge")
                self.assertAlmostEqual(answers["runs/1/"][1]["verdict"]["loss"]["mass_g"]["value"], 1.3, places=6)
                self.assertEqual([o["sign"] for o in answers["cases/1/"][1]["observations"]], ["crackle", "strings"])
                self.assertEqual(answers["storage/"][1][-1]["place"]["name"], "Dry bin")
                self.assertGreater(len(answers["history/"][1]), 8)
