"""Spools and where they stand: what is added, moved and corrected, and what no history can be."""

from datetime import timedelta
from itertools import pairwise

from django.test import TestCase
from django.utils import timezone

from darre.common.errors import Refusal
from darre.demo.tests.fresh import load_demo_world
from darre.history.models import HistoryEntry
from darre.inventory.models import EmptySpool, Spool
from darre.places.actions.arrivals import NewSpool, add_spool
from darre.places.actions.stays import correct_stay, move_spools, remove_stay
from darre.places.models import Place, Stay
from drying.errors import UnknownMaterialError
from drying.weighing.tare import Tare, TareMethod


class Spools(TestCase):
    @classmethod
    def setUpTestData(cls):
        load_demo_world(cls)

    def new(self, **other):
        return NewSpool(
            **{
                "name": "Bench spare", "material": "petg", "empty_spool": EmptySpool.objects.first(),
                "tare": Tare(200, 3, TareMethod.TWIN), "place": Place.objects.get(name="Shelf"), **other,
            }
        )  # fmt: skip

    def test_a_new_spool_starts_with_the_honest_prior_of_factory_strand(self):
        reading = add_spool(self.new()).record.moisture_readings.get()
        self.assertEqual((reading.basis, reading.moisture_pct, round(reading.sd_pct, 9)), ("new", 0.2, 0.08))

    def test_a_name_twice_and_an_unknown_material_are_refused_and_leave_no_line(self):
        spools = HistoryEntry.objects.count()
        with self.assertRaisesRegex(Refusal, "already a spool named Rain gauge"):
            add_spool(self.new(name="Rain gauge"))
        with self.assertRaisesRegex(UnknownMaterialError, "no material 'cheese'"):
            add_spool(self.new(material="cheese"))
        self.assertEqual((HistoryEntry.objects.count(), Spool.objects.filter(name="Bench spare").count()), (spools, 0))

    def spans(self, spool):
        stays = Stay.objects.filter(spool=spool).order_by("since").values_list("place__name", "since", "until")
        rows = list(stays)
        for (_, _, until), (_, since, _) in pairwise(rows):
            self.assertEqual(until, since)
        self.assertIsNone(rows[-1][2])
        return [name for name, _, _ in rows]

    def test_moves_now_and_back_in_time_leave_a_whole_history(self):
        gauge, now = Spool.objects.get(name="Rain gauge"), timezone.now()
        shelf, bag = Place.objects.get(name="Shelf"), Place.objects.get(name="Bag 4")
        move_spools([gauge], shelf)
        self.assertEqual(self.spans(gauge), ["Lidded bin B", "On the printer", "Shelf"])
        move_spools([gauge], bag, now - timedelta(days=10))
        self.assertEqual(self.spans(gauge), ["Lidded bin B", "Bag 4", "On the printer", "Shelf"])
        undo = move_spools([gauge, Spool.objects.get(name="Dome rail")], bag).undo
        self.assertEqual(Stay.objects.filter(place=bag, until__isnull=True).count(), 3)
        self.client.post(f"/api/history/{undo}/undo/")
        self.assertEqual(self.spans(gauge)[-1], "Shelf")

    def test_no_spool_is_in_two_places_or_anywhere_before_it_was_there(self):
        gauge, now = Spool.objects.get(name="Rain gauge"), timezone.now()
        shelf = Place.objects.get(name="Shelf")
        first, second = Stay.objects.filter(spool=gauge).order_by("since")
        for since, until, says in (
            (first.since, second.since + timedelta(days=1), "cannot be in two places"),
            (first.since - timedelta(days=400), first.until, "is known from"),
            (now + timedelta(hours=1), None, "has not come yet"),
            (first.until, first.since, "ends before it begins"),
        ):
            with self.assertRaisesRegex(Refusal, says):
                correct_stay(first, shelf, since, until)
        with self.assertRaisesRegex(Refusal, "is known from"):
            move_spools([gauge], shelf, first.since - timedelta(days=1))
        correct_stay(first, shelf, first.since, first.until)
        remove_stay(Stay.objects.get(pk=second.pk))
        self.assertEqual(self.spans(gauge), ["Shelf"])
        with self.assertRaisesRegex(Refusal, "stood nowhere else"):
            remove_stay(Stay.objects.get(spool=gauge))
