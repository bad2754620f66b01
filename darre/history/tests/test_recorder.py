"""The history: whatever is done, taking it back in reverse leaves every record as it was."""

from datetime import timedelta
from uuid import uuid4

from django.utils import timezone
from hypothesis import given, settings
from hypothesis import strategies as st
from hypothesis.extra.django import TestCase

from darre.common.errors import Refusal
from darre.demo.tests.fresh import load_demo_world
from darre.equipment.models import Scale
from darre.history.models import HistoryEntry
from darre.history.recorder import history_entry, snapshot, undo
from darre.inventory.models import MoistureReading, Spool
from darre.places.actions.stays import move_spools
from darre.places.models import Place, Stay
from darre.runs.actions.weighings import Reading, save_weighing
from darre.runs.models import Weighing

step = st.tuples(st.sampled_from(["weigh", "move", "rename", "drop"]), st.integers(0, 10), st.integers(0, 4))


class OpenEntry(TestCase):
    @classmethod
    def setUpTestData(cls):
        load_demo_world(cls)

    def picture(self):
        return [
            [snapshot(x) for x in model.objects.order_by("pk")] for model in (Spool, Stay, Weighing, MoistureReading)
        ]

    def do(self, what, which, where, moment):
        spool = Spool.objects.order_by("pk")[which]
        if what == "weigh":
            save_weighing(spool, Reading(Scale.objects.get(name="Bench scale"), 900.1, uuid4(), doubtful=True), moment)
        elif what == "move":
            move_spools([spool], Place.objects.order_by("pk")[where], moment)
        else:
            with history_entry(f"spool.{what}", what) as entry:
                if what == "rename":
                    entry.update(spool, name=f"{spool.name}*", purpose=str(where))
                else:
                    entry.delete(
                        spool.moisture_readings.order_by("pk")[0]
                    ) if spool.moisture_readings.exists() else None

    @settings(max_examples=25)
    @given(st.lists(step, min_size=1, max_size=6))
    def test_taking_acts_back_last_first_restores_every_record_to_the_letter(self, steps):
        before, last = self.picture(), HistoryEntry.objects.first().pk
        for n, one in enumerate(steps):
            self.do(*one, timezone.now() - timedelta(seconds=60 - n))
        for line in HistoryEntry.objects.filter(pk__gt=last).order_by("-pk").values_list("pk", flat=True):
            undo(line)
        self.assertEqual(self.picture(), before)

    def test_an_act_that_fails_half_way_stores_neither_records_nor_a_line(self):
        before, lines = self.picture(), HistoryEntry.objects.count()
        with self.assertRaises(ZeroDivisionError), history_entry("spool.broken", "broken") as entry:
            entry.update(Spool.objects.first(), purpose="changed")
            raise ZeroDivisionError
        self.assertEqual((self.picture(), HistoryEntry.objects.count()), (before, lines))

    def test_what_was_changed_since_is_not_overwritten(self):
        spool = Spool.objects.first()
        for purpose in ("first", "second"):
            with history_entry("spool.edited", purpose) as entry:
                entry.update(spool, purpose=purpose)
        first = HistoryEntry.objects.get(summary="first")
        with self.assertRaisesRegex(Refusal, "changed again afterwards"):
            undo(first.pk)
        self.assertEqual(Spool.objects.get(pk=spool.pk).purpose, "second")
