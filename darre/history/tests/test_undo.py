"""Undo takes back its own act and nothing else: whatever is done and undone, what is left is what the acts that still
stand would give alone.
"""

from datetime import timedelta
from uuid import uuid4

from django.db import transaction
from django.utils import timezone
from hypothesis import given, settings
from hypothesis import strategies as st
from hypothesis.extra.django import TestCase

from darre.common.errors import Refusal
from darre.devices.actions.devices import add_device
from darre.devices.models import Device, DeviceKind
from darre.equipment.actions.dryers import add_dryer, add_probe, remove_dryer
from darre.equipment.models import Dryer, ProbePair, Scale
from darre.history.models import HistoryEntry
from darre.history.recorder import undo
from darre.inventory.actions.spools import change_spool, note_moisture, use_filament
from darre.inventory.models import EmptySpool, FilamentUse, MoistureReading, Spool
from darre.places.actions.arrivals import NewSpool, add_spool
from darre.places.actions.places import add_place, fill_place, remove_place, weigh_desiccant
from darre.places.actions.room import add_room, note_room_air, record_room_air
from darre.places.actions.stays import correct_stay, move_spools
from darre.places.models import DesiccantFill, DesiccantWeighing, Place, Room, RoomReading, Stay
from darre.runs.actions.used_up import use_up
from darre.runs.actions.weighings import Reading, save_weighing
from darre.runs.models import Weighing
from drying.air import RoomAir
from drying.dryers.calibration import ProbePair as CorePair
from drying.errors import DryingError
from drying.quantity import Quantity
from drying.weighing import Tare, TareMethod

PICTURED = (Room, RoomReading, Place, DesiccantFill, DesiccantWeighing, EmptySpool, Spool, MoistureReading, FilamentUse,
            Stay, Weighing, Dryer, ProbePair)  # fmt: skip
OWN_KEYS = {"id", "client_key", "import_key"}


def told(value):
    return value.strftime("%Y-%m-%d %H:%M:%S.%f") if hasattr(value, "strftime") else str(value)


def picture():
    """Every record by its content, with the content of what it points to in place of a number."""

    def of(record):
        fields = []
        for field in record._meta.concrete_fields:
            if field.name not in OWN_KEYS:
                value = getattr(record, field.name)
                fields.append((field.name, of(value) if field.is_relation and value is not None else told(value)))
        return tuple(fields)

    return {model.__name__: sorted(of(record) for record in model.objects.all()) for model in PICTURED}


class Acts:
    """Acts by name on things by name, so that they can be done again in another database."""

    def __init__(self, base):
        self.base = base

    def at(self, n):
        return self.base + timedelta(minutes=n)

    def room(self, n, which):
        return add_room("Shed") if not Room.objects.exists() else None

    def air(self, n, which):
        return note_room_air(self.at(n), RoomAir(18.0 + which, 60.0))

    def log(self, n, which):
        room = Room.objects.get()
        hours = [self.at(-60 * h) for h in range(3 + which)]
        return record_room_air(room, [(at, RoomAir(15.0, 50.0)) for at in hours])

    def place(self, n, which):
        return add_place(f"Bin {which}", "gasket_bin", since=self.base)

    def no_place(self, n, which):
        return remove_place(Place.objects.get(name=f"Bin {which}"))

    def fill(self, n, which):
        return fill_place(Place.objects.get(name=f"Bin {which}"), "silica_gel", 100.0, at=self.at(n))

    def weigh_fill(self, n, which):
        fill = DesiccantFill.objects.filter(place__name=f"Bin {which}").latest("at")
        return weigh_desiccant(fill, 105.0, 0.2, self.at(n))

    def spool(self, n, which):
        body = EmptySpool.objects.get()
        tare = Tare(200.0, 40.0, TareMethod.UNKNOWN)
        return add_spool(NewSpool(f"Spool {which}", "petg", body, tare, Place.objects.earliest("pk")), self.at(n))

    def move(self, n, which):
        return move_spools([Spool.objects.get(name=f"Spool {which}")], Place.objects.latest("pk"), self.at(n))

    def rename(self, n, which):
        return change_spool(Spool.objects.get(name=f"Spool {which}"), purpose=f"for {n}")

    def moisture(self, n, which):
        return note_moisture(Spool.objects.get(name=f"Spool {which}"), Quantity(0.1, 0.02), self.at(n))

    def printed(self, n, which):
        return use_filament(Spool.objects.get(name=f"Spool {which}"), Quantity(20.0, 1.0), self.at(n))

    def weigh(self, n, which):
        reading = Reading(Scale.objects.get(), 700.0, uuid4(), doubtful=True)
        return save_weighing(Spool.objects.get(name=f"Spool {which}"), reading, self.at(n))

    def used_up(self, n, which):
        return use_up(Spool.objects.get(name=f"Spool {which}"), 190.0 + which, self.at(n))

    def dryer(self, n, which):
        pairs = [CorePair(50.0 + k, 46.0 + k, 20.0) for k in range(which)]
        return add_dryer(Dryer(name=f"Box {which}", kind="heated_box", min_c=30, max_c=70), pairs, self.at(n))

    def probe(self, n, which):
        return add_probe(Dryer.objects.get(name=f"Box {which}"), CorePair(60.0, 55.0, 20.0), self.at(n))

    def no_dryer(self, n, which):
        return remove_dryer(Dryer.objects.get(name=f"Box {which}"))


NAMES = [name for name in vars(Acts) if not name.startswith("_") and name != "at"]
step = st.one_of(
    st.tuples(st.sampled_from(NAMES), st.integers(0, 2)), st.tuples(st.just("undo"), st.integers(0, 30))
)  # fmt: skip
REFUSED = (Refusal, DryingError, Room.DoesNotExist, Place.DoesNotExist, DesiccantFill.DoesNotExist, Spool.DoesNotExist,
           Dryer.DoesNotExist)  # fmt: skip


class WhateverIsDone(TestCase):
    def setUp(self):
        self.base = timezone.now() - timedelta(hours=5)
        EmptySpool.objects.create(name="Grey ring", kind="polystyrene")
        Scale.objects.create(name="Scale", max_g=5000, resolution_g=0.1)

    def do(self, acts, n, name, which):
        """The entry of an act; None where it was refused or nothing was to do, which leaves everything as it is."""
        before = picture()
        try:
            with transaction.atomic():
                saved = getattr(acts, name)(n, which)
        except REFUSED:
            self.assertEqual(picture(), before)
            return None
        return saved and saved.undo

    def followed(self, steps):
        """Do and undo; the steps that stand in the end."""
        acts, entries, stands = Acts(self.base), [], {}
        for n, (name, which) in enumerate(steps):
            if name != "undo":
                entry = self.do(acts, n, name, which)
                if entry is not None:
                    entries.append((entry, n))
                    stands[n] = True
            elif entries:
                entry, act = entries[which % len(entries)]
                before, last = picture(), HistoryEntry.objects.latest("pk").pk
                try:
                    undo(entry)
                except Refusal as refusal:
                    self.assertRegex(refusal.message, "Undo the later change|Import the file again")
                    self.assertEqual(picture(), before)
                    continue
                newest = HistoryEntry.objects.latest("pk").pk
                if newest != last:
                    entries.append((newest, act))
                    stands[act] = not stands[act]
        return [n for n, stand in stands.items() if stand]

    @settings(max_examples=30, deadline=None)
    @given(st.lists(step, min_size=3, max_size=14))
    def test_what_is_left_is_what_the_acts_that_stand_give_alone(self, steps):
        whole = [("room", 0), ("place", 0), ("spool", 0), *steps]
        point = transaction.savepoint()
        standing = self.followed(whole)
        left = picture()
        transaction.savepoint_rollback(point)
        acts = Acts(self.base)
        for n in standing:
            self.assertIsNotNone(self.do(acts, n, *whole[n]), (whole, n))
        self.assertEqual(picture(), left, whole)


class Seen(TestCase):
    def test_a_room_whose_readings_came_later_is_not_undone_with_them(self):
        added = add_room("Shed")
        for hour in range(3):
            note_room_air(timezone.now() - timedelta(hours=hour), RoomAir(18.0, 60.0))
        with self.assertRaisesRegex(Refusal, "Other records depend on this one now"):
            undo(added.undo)
        self.assertEqual(RoomReading.objects.count(), 3)

    def test_a_move_to_a_place_that_was_removed_since_is_not_undone_into_nothing(self):
        there, here = (add_place(name, "gasket_bin").record for name in ("Bin 1", "Bin 2"))
        make = EmptySpool.objects.create(name="Grey ring", kind="polystyrene")
        at = timezone.now() - timedelta(hours=3)
        added = add_spool(NewSpool("Spool", "petg", make, Tare(200.0, 3.0, TareMethod.TWIN), there), at)
        stay = added.record.stays.get()
        moved = correct_stay(stay, here, at, None)
        remove_place(there)
        with self.assertRaisesRegex(Refusal, "The place it belonged to was removed since"):
            undo(moved.undo)
        self.assertEqual(added.record.stays.get().place, here)

    def test_what_a_device_hangs_on_is_not_removed_under_it(self):
        dryer = add_dryer(Dryer(name="Box", kind="heated_box", min_c=30, max_c=70)).record
        add_device("Box meter", DeviceKind.METER, dryer=dryer)
        with self.assertRaisesRegex(Refusal, "Box stays: Box meter .device. belongs to it"):
            remove_dryer(dryer)
        self.assertEqual(Device.objects.get().dryer, dryer)

    def test_a_dryer_that_is_undone_and_brought_back_has_its_probe_pairs(self):
        pairs = [CorePair(50.0 + k, 46.0 + k, 20.0) for k in range(3)]
        added = add_dryer(Dryer(name="Box", kind="heated_box", min_c=30, max_c=70), pairs)
        undo(added.undo)
        self.assertFalse(Dryer.objects.exists())
        undo(HistoryEntry.objects.latest("pk").pk)
        self.assertEqual(Dryer.objects.get().probes.count(), 3)
