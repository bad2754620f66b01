"""The demo world is the same at every start, and work done in a demo is never lost."""

import os
import subprocess
import sys
import tempfile
from datetime import UTC, datetime, timedelta
from pathlib import Path

from django.conf import settings
from django.test import SimpleTestCase, TransactionTestCase
from django.utils import timezone

from darre.demo.climate import shed_air
from darre.demo.tests.fresh import load_demo_world
from darre.moisture.lanes import lanes
from darre.runs.models import Run, Weighing


class World(TransactionTestCase):
    def picture(self, now):
        load_demo_world(now)
        rack = {x.spool.name: (x.moisture.value, x.moisture_level, x.net_g) for x in lanes(now)}
        return rack, dict(Weighing.objects.values_list("client_key", "gross_g"))

    def test_every_start_gives_the_same_world_but_for_its_dates(self):
        now = timezone.now()
        first = self.picture(now - timedelta(days=40, hours=5))
        self._fixture_teardown()
        rack, weighed = self.picture(now)
        # Lines are told by whole hours on a grid of weeks, on which the dates fall elsewhere.
        for name, (moisture, moisture_level, net_g) in rack.items():
            self.assertAlmostEqual(moisture, first[0][name][0], delta=0.03 * moisture, msg=name)
            self.assertEqual((moisture_level, net_g), first[0][name][1:])
        for key, gross_g in weighed.items():
            self.assertAlmostEqual(gross_g, first[1][key], delta=0.3)

    def test_the_story_stands_as_it_is_told(self):
        load_demo_world()
        running = Run.objects.get(ended_at__isnull=True)
        self.assertEqual(running.dryer.name, "Cellar box")
        self.assertAlmostEqual((timezone.now() - running.started_at).total_seconds() / 3600, 4, delta=0.1)
        nylon = Run.objects.get(spool__name="Hinge stock")
        self.assertEqual(nylon.weighings.count(), 6)
        states = {x.spool.name: x.moisture_level for x in lanes(timezone.now())}
        self.assertEqual((states["Roller tyres"], states["Dome rail"]), ("trouble", "clean"))


class Shed(SimpleTestCase):
    def test_the_climate_stays_in_its_range_with_damp_spells(self):
        rows = shed_air(datetime(2026, 3, 1, tzinfo=UTC))
        self.assertEqual(len(rows), 35 * 24 + 1)
        temps, humids = [a.temp_c for _, a in rows], [a.rh_pct for _, a in rows]
        self.assertTrue(min(temps) >= 12 and max(temps) <= 22 and min(humids) >= 55 and max(humids) <= 85)
        self.assertGreater(sum(h > 78 for h in humids), 48)

    def test_a_demo_that_was_worked_in_is_kept_and_another_database_is_not_touched(self):
        with tempfile.TemporaryDirectory() as folder:
            manage = [sys.executable, str(settings.BASE_DIR / "manage.py")]

            def run(name, *words):
                env = {**os.environ, "DARRE_DB": str(Path(folder) / name)}
                return subprocess.run([*manage, *words], env=env, check=False, capture_output=True, text=True)

            run("demo.sqlite3", "demo_world")
            self.assertNotIn("kept", run("demo.sqlite3", "demo_world").stdout)
            work = "from darre.places.actions.places import add_place; add_place('My own shelf', 'shelf')"
            run("demo.sqlite3", "shell", "-c", work)
            self.assertIn("Your work in the last demo is kept in", run("demo.sqlite3", "demo_world").stdout)
            kept = next(Path(folder).glob("kept-*.sqlite3"))
            found = run(
                kept.name, "shell", "-v0", "-c", "from darre.places.models import Place; print(Place.objects.last())"
            )
            self.assertEqual(found.stdout.strip(), "My own shelf")
            refused = run("mine.sqlite3", "demo_world")
            self.assertIn("is not a demo database", refused.stderr)
