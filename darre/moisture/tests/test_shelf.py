"""The shelf that is read again only where acts touched it is the shelf as it would be read anew."""

from datetime import timedelta
from unittest import mock
from uuid import uuid4

from django.db import transaction
from django.utils import timezone
from hypothesis import given, settings
from hypothesis import strategies as st
from hypothesis.extra.django import TestCase

from darre.equipment.models import Scale
from darre.history.models import HistoryEntry
from darre.history.recorder import snapshot, undo
from darre.history.tests.test_undo import NAMES, REFUSED, Acts
from darre.inventory.actions.spools import change_spool, use_filament
from darre.inventory.models import EmptySpool, Spool
from darre.moisture import shelf as shelf_module
from darre.moisture.apps import moisture_state
from darre.moisture.events import needed_events, spool_events
from darre.moisture.lanes import lanes_of, simulate_shelf
from darre.moisture.shelf import read_shelf, shelf_of
from darre.moisture.state import state_of_records
from darre.places.actions.stays import move_spools
from darre.places.models import Place
from darre.runs.models import Run
from darre.runs.tests.test_run_path import Shed
from drying.moisture import as_needed
from drying.quantity import Quantity

BACK_H = 24 * 366


def content(shelf):
    """Every record of a shelf by its values, in the shelf's order."""
    return [
        (
            snapshot(spool),
            [snapshot(reading) for reading in spool.moisture_readings.all()],
            [snapshot(use) for use in spool.uses.all()],
            [(stay.id, stay.place.pk, stay.since, stay.until) for stay in shelf.stays[spool.pk]],
            [(run.pk, run.started_at, run.ended_at, run.learned_log_rate) for run in shelf.runs[spool.pk]],
            [snapshot(weighing) for run in shelf.runs[spool.pk] for weighing in run.weighings.all()],
            [snapshot(weighing) for weighing in shelf.weighings[spool.pk]],
        )
        for spool in shelf.spools
    ], [(snapshot(place), [snapshot(fill) for fill in place.fills.all()]) for place in shelf.places]


def places_of(shelf):
    return {place.pk: n for n, place in enumerate(shelf.places)}


class Same:
    def is_as_read_anew(self, now, what):
        """The kept shelf, its records and the events of its spools, at a moment."""
        kept, anew = shelf_of(state_of_records(now), now), read_shelf(now)
        self.assertEqual(content(kept), content(anew), what)
        for spool, fresh in zip(kept.spools, anew.spools, strict=True):
            shown = int(now.timestamp() // 3600) - BACK_H
            expected = as_needed(spool_events(anew, fresh, places_of(anew)), shown)
            self.assertEqual(needed_events(kept, spool, places_of(kept), BACK_H), expected, what)


ACT = st.tuples(st.sampled_from(NAMES), st.integers(0, 2))
OF_A_SPOOL = st.tuples(st.sampled_from(["move", "weigh", "moisture", "printed"]), st.just(0))
STEP = st.one_of(ACT, OF_A_SPOOL, st.tuples(st.just("undo"), st.integers(0, 30)))


class WhateverIsDone(Same, TestCase):
    def setUp(self):
        self.base = timezone.now() - timedelta(hours=5)
        EmptySpool.objects.create(name="Grey ring", kind="polystyrene")
        Scale.objects.create(name="Scale", max_g=5000, resolution_g=0.1)

    def do(self, acts, n, name, which):
        try:
            with transaction.atomic():
                if name == "undo":
                    undo(list(HistoryEntry.objects.values_list("pk", flat=True))[which % HistoryEntry.objects.count()])
                else:
                    getattr(acts, name)(n, which)
        except REFUSED:
            return

    @settings(max_examples=12, deadline=None)
    @given(st.lists(STEP, min_size=4, max_size=12))
    def test_it_is_the_shelf_as_read_anew(self, steps):
        moisture_state().forget()
        acts, whole = Acts(self.base), [("room", 0), ("place", 0), ("spool", 0), ("spool", 1), *steps]
        for n, (name, which) in enumerate(whole):
            self.do(acts, n, name, which)
            if n % 2 or name in ("move", "undo"):  # sometimes two acts lie between
                self.is_as_read_anew(self.base + timedelta(minutes=len(whole) + 20 * n), whole[: n + 1])


class OfOneSpool(Same, Shed):
    def setUp(self):
        super().setUp()
        moisture_state().forget()
        self.now = timezone.now()
        shelf_of(state_of_records(self.now), self.now)

    def whole_reads(self, act):
        """How often everything was read while the shelf was asked for after an act."""
        answer = act()
        self.assertIn(getattr(answer, "status_code", 200), (200, 201, 204), getattr(answer, "content", b"")[:300])
        count, now = [], timezone.now()
        with mock.patch.object(shelf_module, "read_shelf", lambda now: count.append(1) or read_shelf(now)):
            shelf_of(state_of_records(now), now)
        self.is_as_read_anew(now, act)
        return len(count)

    def test_moves_weighings_and_prints_read_one_spool_again_and_other_acts_everything(self):
        bin_ = Place.objects.get(name="Lidded bin B").pk
        undone = lambda: self.post(f"history/{HistoryEntry.objects.latest('pk').pk}/undo/")  # noqa: E731
        for n, (once, act) in enumerate(
            (
                (0, lambda: self.post("stays/", spools=[3, 4], place=bin_)),
                (0, lambda: self.post("spools/3/uses/", mass_g=20)),
                (0, lambda: self.post("spools/3/moisture/", moisture_pct=0.2, plus_minus_pct=0.05)),
                (0, undone),
                (0, lambda: self.post("room/readings/", temp_c=21, rh_pct=50)),
                (1, lambda: change_spool(Spool.objects.get(pk=3), purpose="lids")),
                (1, lambda: self.post(f"places/{bin_}/fills/", kind="silica_gel", dry_g=200)),
            )
        ):
            self.assertEqual(self.whole_reads(act), once, n)

    def test_a_run_is_read_again_with_all_that_hangs_on_it(self):
        run = Run.objects.filter(ended_at=None).first()
        weighed = {
            "spool": run.spool_id,
            "scale": Scale.objects.get(name__contains="ench").pk,
            "client_key": str(uuid4()),
        }
        last_g = run.weighings.latest("at").gross_g
        self.assertEqual(self.whole_reads(lambda: self.post("weighings/", gross_g=last_g - 0.4, **weighed)), 0)
        self.assertEqual(run.weighings.latest("at").gross_g, last_g - 0.4)
        end = lambda: self.post(f"runs/{run.pk}/end/")  # noqa: E731
        self.assertEqual(self.whole_reads(end), 1)
        self.assertIsNotNone(Run.objects.get(pk=run.pk).ended_at)

    def test_another_database_in_its_place_is_read_whole(self):
        last = HistoryEntry.objects.latest("pk")
        move_spools([Spool.objects.get(pk=3)], Place.objects.first())
        HistoryEntry.objects.filter(pk=last.pk).update(at=last.at - timedelta(seconds=1))
        self.assertEqual(self.whole_reads(lambda: None), 1)

    def test_time_alone_moves_what_lay_ahead(self):
        spool, bin_ = Spool.objects.get(pk=3), Place.objects.get(name="Lidded bin B")
        move_spools([spool], bin_, self.now - timedelta(minutes=30))
        use_filament(spool, Quantity(20.0, 1.0), self.now - timedelta(minutes=10))
        for minutes in (90, 31, 29, 11, 9, -70):
            self.is_as_read_anew(self.now - timedelta(minutes=minutes), minutes)

    def test_lanes_of_a_shelf_read_again_are_those_of_one_read_anew(self):
        self.post("stays/", spools=[3, 7], place=Place.objects.get(name="Lidded bin B").pk)
        now = timezone.now()
        kept, anew = (
            lanes_of(simulate_shelf(shelf, 48, BACK_H))
            for shelf in (shelf_of(state_of_records(now), now), read_shelf(now))
        )
        self.assertEqual([lane.spool.pk for lane in kept], [lane.spool.pk for lane in anew])
        for lane, fresh in zip(kept, anew, strict=True):
            self.assertAlmostEqual(lane.moisture.value, fresh.moisture.value, delta=1e-9)
