"""Every action returns the one kind of result, and computes before it takes the write lock."""

import importlib
import inspect
import pkgutil
from datetime import timedelta
from unittest import mock

from django.db import connection
from django.test import SimpleTestCase, TransactionTestCase
from django.utils import timezone

import darre
from darre.common.errors import Refusal
from darre.common.saved import Saved
from darre.demo.tests.fresh import load_demo_world
from darre.diagnosis.actions import verdicts
from darre.diagnosis.models import Case
from darre.equipment.models import Dryer, Scale
from darre.history.models import HistoryEntry
from darre.history.recorder import ChangedMeanwhile, computed_before_writing
from darre.inventory.actions.materials import set_own_value
from darre.inventory.models import Spool
from darre.places.actions.room import note_room_air
from darre.places.models import RoomReading
from darre.planning.actions import start_run as starting
from darre.runs.actions import runs as ending
from darre.runs.actions.weighings import Reading, save_weighing
from darre.runs.models import Run
from drying.air import RoomAir
from drying.diagnosis import VerdictKind

# Acts that are not undone one by one: measurements, a device's token, a practice round.
NOT_UNDONE = ("darre.devices", "darre.diagnosis.actions.practice")


def actions():
    """Public functions of every `actions` package that write."""
    for app in pkgutil.iter_modules(darre.__path__, "darre."):
        if not app.ispkg or importlib.util.find_spec(f"{app.name}.actions") is None:
            continue
        package = importlib.import_module(f"{app.name}.actions")
        for module in pkgutil.iter_modules(package.__path__, f"{app.name}.actions."):
            for name, function in inspect.getmembers(importlib.import_module(module.name), inspect.isfunction):
                if function.__module__ == module.name and not name.startswith("_"):
                    yield f"{module.name}.{name}", function


class OneKindOfResult(SimpleTestCase):
    def test_what_opens_a_history_entry_and_is_public_returns_saved(self):
        found = 0
        for name, function in actions():
            source = inspect.getsource(function)
            takes_entry = "entry" in inspect.signature(function).parameters
            if "history_entry(" not in source or takes_entry or name.startswith(NOT_UNDONE):
                continue
            hint = str(inspect.signature(function).return_annotation)
            if "Iterator" in hint:  # a context that an action opens
                continue
            found += 1
            self.assertIn("Saved", hint, name)
        self.assertGreater(found, 30)


class ComputedFirst(TransactionTestCase):
    def setUp(self):
        load_demo_world(self)
        self.bench = Scale.objects.get(name="Bench scale")

    def without_the_lock(self, target, name):
        """Wraps a computation so that it fails inside a transaction."""
        real, seen = getattr(target, name), []

        def watched(*args, **more):
            seen.append(connection.in_atomic_block)
            return real(*args, **more)

        return mock.patch.object(target, name, watched), seen

    def test_a_run_is_started_ended_and_a_case_closed_without_computing_under_the_lock(self):
        spool, dryer = Spool.objects.get(name="Rain gauge"), Dryer.objects.get(name="Tall stacker")
        patch, seen = self.without_the_lock(starting, "planned")
        with patch:
            [run] = starting.start_run(starting.NewBatch([spool], dryer, 55.0, 6.0, self.key(1), at=self.ago(3))).record
        self.assertEqual(seen, [False])
        patch, seen = self.without_the_lock(ending, "judge_run")
        with patch:
            ending.end_run(run)
        self.assertEqual(seen, [False])
        patch, seen = self.without_the_lock(verdicts, "judged_cases")
        with patch:
            verdicts.close_case(Case.objects.filter(is_open=True).first(), VerdictKind.WATER)
        self.assertEqual(seen, [False])

    def slipped_in(self, module, name, change):
        """Patches a computation so that `change` is made once after it has read what it needs. Counts its calls."""
        real, calls = getattr(module, name), []

        def computed(*args, **more):
            found = real(*args, **more)
            calls.append(found)
            if len(calls) == 1:
                change()
            return found

        return mock.patch.object(module, name, computed), calls

    def test_a_weighing_that_comes_in_while_a_run_is_judged_is_judged_too(self):
        run, added = Run.objects.get(ended_at__isnull=True), []
        reading = Reading(self.bench, run.weighings.latest("at").gross_g - 0.3, self.key(2))
        patch, calls = self.slipped_in(
            ending, "judge_run", lambda: added.append(save_weighing(run.spool, reading, timezone.now()).record)
        )
        with patch:
            ended = ending.end_run(run, at=timezone.now()).record
        self.assertEqual(len(calls), 2)
        self.assertLess(calls[1].moisture.sd, calls[0].moisture.sd)
        self.assertEqual(ended.weighings.order_by("-at").first().pk, added[0].pk)
        self.assertEqual(
            HistoryEntry.objects.filter(kind="run.ended", undone_at=None).latest("id").summary[:5], "Ended"
        )

    def test_a_room_reading_corrected_in_place_while_a_start_is_computed_makes_it_compute_anew(self):
        spool, dryer = Spool.objects.get(name="Rain gauge"), Dryer.objects.get(name="Tall stacker")
        last = RoomReading.objects.latest("at")
        patch, calls = self.slipped_in(starting, "planned", lambda: note_room_air(last.at, RoomAir(31.0, 20.0)))
        with patch:
            [run] = starting.start_run(starting.NewBatch([spool], dryer, 55.0, 6.0, self.key(1))).record
        self.assertEqual(len(calls), 2)
        self.assertEqual((run.batch.room_temp_c, run.batch.room_rh_pct), (31.0, 20.0))

    def test_thresholds_changed_while_a_case_is_closed_are_those_that_its_verdict_keeps(self):
        case = Case.objects.filter(is_open=True).select_related("spool").first()
        material = case.spool.material
        patch, calls = self.slipped_in(verdicts, "judged_cases", lambda: set_own_value(material, "trouble", 0.31))
        with patch:
            verdict = verdicts.close_case(case, VerdictKind.WATER).record
        self.assertEqual(len(calls), 2)
        self.assertEqual(verdict.evidence["trouble_pct"], 0.31)

    def test_a_change_from_before_is_no_reason_to_compute_twice(self):
        run = Run.objects.get(ended_at__isnull=True)
        note_room_air(self.ago(1), RoomAir(18.0, 55.0))
        patch, calls = self.slipped_in(ending, "judge_run", lambda: None)
        with patch:
            ending.end_run(run)
        self.assertEqual(len(calls), 1)

    def test_two_ends_of_one_run_are_one_end(self):
        run = Run.objects.get(ended_at__isnull=True)
        ending.end_run(run)
        with self.assertRaises(Refusal) as refused:
            ending.end_run(run)
        self.assertEqual(refused.exception.code, "already_ended")

    def test_what_never_stands_still_is_refused_after_four_tries(self):
        tries = []

        def act(last_entry: int) -> Saved[None]:
            tries.append(last_entry)
            raise ChangedMeanwhile

        with self.assertRaises(Refusal) as refused:
            computed_before_writing(act)
        self.assertEqual((refused.exception.code, len(tries)), ("busy", 4))

    def key(self, n):
        return f"00000000-0000-4000-8000-00000000000{n}"

    def ago(self, hours):
        return timezone.now() - timedelta(hours=hours)
