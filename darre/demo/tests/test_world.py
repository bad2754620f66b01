"""The demo world is the same at every start, and work done in a demo is never lost."""

import sqlite3
import tempfile
from contextlib import closing
from datetime import UTC, datetime, timedelta
from pathlib import Path
from uuid import uuid4

from django.core.management.base import CommandError
from django.test import SimpleTestCase, TransactionTestCase
from django.utils import timezone

from darre.demo.climate import shed_air
from darre.demo.management.commands.demo_world import make_room
from darre.demo.tests.fresh import copy_database, load_demo_world
from darre.demo.trials import soaking_lot
from darre.moisture.lanes import lanes
from darre.places.actions.places import add_place
from darre.places.models import Place
from darre.runs.models import Run, Weighing
from darre.trials.models import Trial
from drying.storage import PlaceKind


class World(TransactionTestCase):
    def picture(self, now):
        load_demo_world(self, now)
        rack = {x.spool.name: (x.moisture.value, x.moisture_level, x.net_g) for x in lanes(now)}
        return rack, dict(Weighing.objects.values_list("client_key", "gross_g"))

    def test_every_start_gives_the_same_world_but_for_its_dates(self):
        now = timezone.now()
        add_place("Left by another test", PlaceKind.SHELF)
        first = self.picture(now - timedelta(days=40, hours=5))
        self.assertFalse(Place.objects.filter(name="Left by another test").exists())
        rack, weighed = self.picture(now)
        # Moisture histories go by whole hours on a grid of weeks, on which the dates fall elsewhere.
        for name, (moisture, moisture_level, net_g) in rack.items():
            self.assertAlmostEqual(moisture, first[0][name][0], delta=0.03 * moisture, msg=name)
            self.assertEqual((moisture_level, net_g), first[0][name][1:])
        for key, gross_g in weighed.items():
            self.assertAlmostEqual(gross_g, first[1][key], delta=0.3)

    def test_the_story_stands_as_it_is_told(self):
        load_demo_world(self)
        running = Run.objects.get(ended_at__isnull=True)
        self.assertEqual(running.dryer.name, "Cellar box")
        self.assertAlmostEqual((timezone.now() - running.started_at).total_seconds() / 3600, 4, delta=0.1)
        nylon = Run.objects.get(spool__name="Hinge stock")
        self.assertEqual(nylon.weighings.count(), 6)
        states = {x.spool.name: x.moisture_level for x in lanes(timezone.now())}
        self.assertEqual((states["Roller tyres"], states["Dome rail"]), ("trouble", "clean"))

    def test_a_lot_lies_in_water_and_the_scale_shows_its_next_coil_as_it_really_is(self):
        load_demo_world(self)
        trial, lot = Trial.objects.get(kind="uptake", closed_at=None), soaking_lot()
        third = list(trial.samples.all())[2]
        told = self.client.get(f"/api/trials/{trial.pk}/").json()
        self.assertEqual((told["next"], told["fit"]), (third.pk, None))
        hours = (timezone.now() - trial.began_at).total_seconds() / 3600.0
        body = {"gross_g": round(lot.mass_g(third.name, hours), 2), "client_key": str(uuid4())}
        answer = self.client.post(f"/api/samples/{third.pk}/readings/", body, content_type="application/json")
        self.assertEqual(answer.status_code, 201, answer.content)
        fit = self.client.get(f"/api/trials/{trial.pk}/").json()["fit"]
        self.assertTrue(fit["fits"])
        self.assertTrue(fit["end_pct"]["p05"] < lot.end_pct < fit["end_pct"]["p95"], fit["end_pct"])


class Shed(SimpleTestCase):
    def test_the_climate_stays_in_its_range_with_damp_spells(self):
        rows = shed_air(datetime(2026, 3, 1, tzinfo=UTC))
        self.assertEqual(len(rows), 35 * 24 + 1)
        temps, humids = [a.temp_c for _, a in rows], [a.rh_pct for _, a in rows]
        self.assertTrue(min(temps) >= 12 and max(temps) <= 22 and min(humids) >= 55 and max(humids) <= 85)
        self.assertGreater(sum(h > 78 for h in humids), 48)


class RoomForANewDemo(TransactionTestCase):
    def setUp(self):
        load_demo_world(self)
        folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        self.file, self.own = folder / "demo.sqlite3", folder / "mine.sqlite3"

    def test_a_demo_that_nobody_touched_makes_way(self):
        copy_database(self.file)
        self.assertIsNone(make_room(self.file))
        self.assertFalse(self.file.exists())

    def test_a_demo_in_which_someone_worked_is_set_aside_whole(self):
        add_place("My own shelf", PlaceKind.SHELF)
        copy_database(self.file)
        kept = make_room(self.file)
        self.assertFalse(self.file.exists())
        with closing(sqlite3.connect(kept)) as db:
            self.assertIn(("My own shelf",), db.execute("SELECT name FROM places_place").fetchall())

    def test_a_database_that_is_no_demo_is_refused_and_stays(self):
        copy_database(self.own)
        with self.assertRaisesMessage(CommandError, "is not a demo database"):
            make_room(self.own)
        self.assertTrue(self.own.exists())
