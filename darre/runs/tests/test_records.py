"""What the database itself refuses, writes at the same moment, and what a killed server leaves behind."""

import http.client
import json
import os
import signal
import sqlite3
import subprocess
import sys
import tempfile
from contextlib import closing
from datetime import timedelta
from pathlib import Path
from uuid import uuid4

from django.conf import settings
from django.db import IntegrityError, connection, transaction
from django.test import TestCase, TransactionTestCase
from django.utils import timezone

from darre.common.errors import Refusal
from darre.common.tests.at_once import at_once
from darre.demo.tests.fresh import copy_database, load_demo_world
from darre.equipment.models import Dryer, Scale
from darre.inventory.models import Spool
from darre.network.tests.test_server import two_free_ports
from darre.places.actions.room import add_room, note_room_air
from darre.places.models import RoomReading, Stay
from darre.places.selectors import room_now
from darre.planning.actions.start_run import NewBatch, start_run
from darre.runs.actions.weighings import Reading, save_weighing
from darre.runs.models import Run, Weighing
from drying.air import RoomAir


class Constraints(TestCase):
    @classmethod
    def setUpTestData(cls):
        load_demo_world(cls)

    def test_the_database_refuses_wrong_records_even_past_the_actions(self):
        run = Run.objects.filter(ended_at__isnull=True).get()
        weighing, stay = Weighing.objects.first(), Stay.objects.first()
        wrong = {
            "gross_not_below_tare": lambda: Weighing.objects.filter(pk=weighing.pk).update(gross_g=1),
            "run_ends_after_its_start": lambda: Run.objects.filter(pk=run.pk).update(
                ended_at=run.started_at - timedelta(hours=1)
            ),
            "runs_run.spool_id": lambda: Run.objects.exclude(pk=run.pk).update(ended_at=None, spool=run.spool),
            "stay_ends_later": lambda: Stay.objects.filter(pk=stay.pk).update(until=stay.since - timedelta(days=1)),
            "tare_not_negative": lambda: Spool.objects.update(tare_g=-1),
            "humidity_0_to_100": lambda: RoomReading.objects.update(rh_pct=101),
            "dryer_makes_sense": lambda: Dryer.objects.update(max_c=1),
            "invalid foreign key": lambda: connection.cursor().execute("UPDATE runs_weighing SET scale_id = 999"),
        }
        for name, write in wrong.items():
            with self.subTest(name), self.assertRaisesRegex(IntegrityError, name), transaction.atomic():
                write()
                connection.check_constraints()

    def test_sqlite_runs_as_promised(self):
        with connection.cursor() as cursor:
            got = {
                p: cursor.execute(f"PRAGMA {p}").fetchone()[0] for p in ("journal_mode", "foreign_keys", "synchronous")
            }
        self.assertEqual(got, {"journal_mode": "wal", "foreign_keys": 1, "synchronous": 2})
        self.assertEqual(settings.DATABASES["default"]["OPTIONS"]["transaction_mode"], "IMMEDIATE")


class AtTheSameMoment(TransactionTestCase):
    def setUp(self):
        load_demo_world(self)

    def together(self, act):
        """Run `act` six times at once; what each returned or was refused with."""

        def one():
            try:
                return act()
            except Refusal as refusal:
                return refusal.code

        return at_once(one, 6)

    def test_one_slip_sent_many_times_at_once_is_one_weigh_in(self):
        spool, scale = Spool.objects.get(name="Rain gauge"), Scale.objects.get(name="Bench scale")
        reading = Reading(scale, 798.8, uuid4())
        before = Weighing.objects.count()
        kept = self.together(lambda: save_weighing(spool, reading).record.pk)
        self.assertEqual((len(kept), len(set(kept)), Weighing.objects.count()), (6, 1, before + 1))

    def test_many_starts_at_once_of_one_spool_are_one_run(self):
        spool, dryer = Spool.objects.get(name="Rain gauge"), Dryer.objects.get(name="Cellar box")
        found = self.together(lambda: start_run(NewBatch([spool], dryer, 63, 8, uuid4())).record[0].pk)
        self.assertEqual(sorted(map(str, found))[1:], ["already_running"] * 5)
        self.assertEqual(Run.objects.filter(spool=spool, ended_at__isnull=True).count(), 1)


class KillNine(TransactionTestCase):
    def setUp(self):
        load_demo_world(self)

    def test_a_weigh_in_survives_kill_nine_right_after_its_answer(self):
        with tempfile.TemporaryDirectory() as folder:
            file = Path(folder) / "demo.sqlite3"
            copy_database(file)
            env = {**os.environ, "DARRE_DB": str(file)}
            port = two_free_ports()
            serve = [sys.executable, "-m", "darre.serve", "--port", str(port)]
            server = subprocess.Popen(
                serve, cwd=settings.BASE_DIR, env=env, start_new_session=True, stdout=subprocess.PIPE, text=True
            )
            try:
                self.assertIn("in your browser", server.stdout.readline())
                key = str(uuid4())
                weighing = json.dumps({"spool": 1, "scale": 2, "gross_g": "1047,3", "client_key": key})
                link = http.client.HTTPConnection("127.0.0.1", port, timeout=60)
                link.request("POST", "/api/weighings/", weighing, {"Content-Type": "application/json"})
                answer = link.getresponse()
            finally:
                os.killpg(server.pid, signal.SIGKILL)
                server.communicate()
            self.assertEqual(answer.status, 201)
            with closing(sqlite3.connect(file)) as db:
                found = db.execute("SELECT gross_g FROM runs_weighing WHERE client_key = ?", [key.replace("-", "")])
                self.assertEqual(found.fetchall(), [(1047.3,)])


class FutureSafe(TestCase):
    def test_a_stale_room_is_said_to_be_stale_and_an_unmeasured_one_assumed(self):
        now = timezone.now()
        add_room("Shed")
        self.assertIsNone(room_now(now).measured_at)
        note_room_air(now - timedelta(hours=7), RoomAir(18.0, 62.0))
        self.assertTrue(room_now(now).stale)
        self.assertFalse(room_now(now - timedelta(hours=6)).stale)
