"""What was computed before a stop is gone on from after it: to the same digits, and only where nothing is in doubt."""

import tempfile
from datetime import timedelta
from pathlib import Path
from unittest.mock import patch

import numpy as np
from django.test import TestCase
from django.utils import timezone

from darre.demo.tests.fresh import load_demo_world
from darre.inventory.models import MoistureReading, OwnValue, Spool
from darre.moisture import kept_shelf
from darre.moisture.apps import best_runs, moisture_state, simulator
from darre.moisture.lanes import shelf_now
from darre.moisture.rack import rack
from drying.moisture import MoistureSimulator
from drying.moisture.block import BlockSimulation


class Kept(TestCase):
    @classmethod
    def setUpTestData(cls):
        load_demo_world(cls)

    def setUp(self):
        self.database = Path(self.enterContext(tempfile.TemporaryDirectory())) / "mine.sqlite3"
        self.file = kept_shelf.file_of(self.database)
        self.now = timezone.now()
        self.begin_anew()

    def begin_anew(self):
        """As a process that has just started."""
        moisture_state().simulator = MoistureSimulator()
        best_runs()._kept.clear()
        best_runs()._weight = 0
        moisture_state().forget()

    def lines(self, now=None):
        histories = shelf_now(now or self.now, 504).histories
        return [np.stack([h.moisture_pct, h.sd_pct, h.next_pct]) for h in histories.spools] + [histories.activity]

    def assert_same(self, one, other):
        for a, b in zip(one, other, strict=True):
            np.testing.assert_array_equal(a, b)

    def test_the_next_start_computes_nothing_again_and_says_the_same(self):
        told, lines = rack(self.now, 504), self.lines()
        kept_shelf.keep(self.database)
        self.begin_anew()
        self.assertTrue(kept_shelf.take(self.database))
        with (
            patch.object(BlockSimulation, "run", side_effect=AssertionError("simulated again")),
            patch("darre.moisture.best.best_run_each", side_effect=AssertionError("planned again")),
        ):
            self.assert_same(self.lines(), lines)
            self.assertEqual(rack(self.now, 504), told)

    def test_what_was_changed_meanwhile_counts(self):
        self.lines()
        kept_shelf.keep(self.database)
        spool = Spool.objects.get(name="Hinge stock")
        at = self.now - timedelta(days=4)
        MoistureReading.objects.create(
            spool=spool, at=at, moisture_pct=1.5, sd_pct=0.1, basis=MoistureReading.Basis.TYPED
        )
        OwnValue.objects.create(material="petg", name="d23", value=9e-12, spread=1.3, note="")
        later = self.now + timedelta(hours=30)
        self.begin_anew()
        expected = self.lines(later)
        self.begin_anew()
        self.assertTrue(kept_shelf.take(self.database))
        for one, other in zip(self.lines(later), expected, strict=True):
            # Spools are stepped side by side, to a tolerance: with others beside them the last digits differ.
            np.testing.assert_allclose(one, other, rtol=1e-4, atol=1e-6)

    def test_another_value_of_a_material_finds_no_run_that_was_planned_without_it(self):
        rack(self.now, 504)
        kept_shelf.keep(self.database)
        OwnValue.objects.create(material="pa6", name="d23", value=9e-13, spread=1.3, note="")
        self.begin_anew()
        expected = [lane.heat and lane.heat.duration_h for lane in rack(self.now, 504).lanes]
        self.begin_anew()
        kept_shelf.take(self.database)
        self.assertEqual([lane.heat and lane.heat.duration_h for lane in rack(self.now, 504).lanes], expected)

    def test_what_is_torn_foreign_or_of_other_code_is_not_read_and_goes(self):
        self.lines()
        kept_shelf.keep(self.database)
        whole = self.file.read_bytes()
        flipped = whole[:-1] + bytes([whole[-1] ^ 1])
        for torn in (b"", b"short", whole[: len(whole) // 2], flipped, whole + b"x"):
            self.file.write_bytes(torn)
            with patch("pickle.loads", side_effect=AssertionError("was read")):
                self.assertFalse(kept_shelf.take(self.database))
            self.assertFalse(self.file.exists())
        for other in (
            self.settings(SECRET_KEY="of another server"),
            patch("darre.moisture.kept_shelf.code_digest", lambda: b"other code"),
            patch("darre.moisture.kept_shelf.MOST_BYTES", 100),
        ):
            self.file.write_bytes(whole)
            with other:
                self.assertFalse(kept_shelf.take(self.database))
            self.assertFalse(self.file.exists())
        self.assertEqual(len(simulator()._recent), 1)

    def test_nothing_kept_is_no_fault_nor_is_a_disk_that_takes_nothing(self):
        self.assertFalse(kept_shelf.take(self.database))
        self.lines()
        with patch("darre.moisture.kept_shelf.os.fdopen", side_effect=OSError("No space left on device")):
            kept_shelf.keep(self.database)
        self.assertEqual(list(self.database.parent.iterdir()), [])

    def test_it_is_readable_for_its_owner_alone(self):
        self.lines()
        kept_shelf.keep(self.database)
        self.assertEqual(self.file.stat().st_mode & 0o077, 0)
