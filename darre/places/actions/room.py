"""The room, its air, and the empty spools that a workshop has."""

import time
from collections.abc import Mapping, Sequence
from datetime import datetime

from django.db import transaction

from darre.common.errors import Refusal
from darre.common.saved import Saved
from darre.history.recorder import history_entry
from darre.inventory.actions.moments import refuse_impossible_time
from darre.places.models import Room, RoomMonth, RoomReading
from drying.air import RoomAir


def add_room(name: str) -> Saved[Room]:
    """Add the room."""
    with history_entry("room.added", f"Added the room {name}") as entry:
        room = entry.create(Room(name=name))
    return entry.saved(room)


@transaction.atomic
def record_room_air(room: Room, readings: Sequence[tuple[datetime, RoomAir]]) -> Saved[int]:
    """Store a logger's readings; those already there for the same moment stay. Returns how many were given.

    A whole file is one history entry without its rows, and is undone as a whole.
    """
    key = time.time_ns()
    rows = [RoomReading(room=room, at=at, temp_c=a.temp_c, rh_pct=a.rh_pct, import_key=key) for at, a in readings]
    with history_entry("room.air_recorded", f"Recorded {len(rows)} readings of {room.name}") as entry:
        entry.create_rows(rows, key)
    return entry.saved(len(rows))


@transaction.atomic
def note_room_air(at: datetime, air: RoomAir) -> Saved[None]:
    """Note the room's air as it was read off. A second reading of the same moment takes the first one's place."""
    room = Room.objects.first()
    if room is None:
        raise Refusal("no_room", "Add the room first.")
    refuse_impossible_time(at, "it was read")
    present = RoomReading.objects.filter(room=room, at=at).first()
    with history_entry("room.air_noted", f"Room air: {air.temp_c:g} °C, {air.rh_pct:g} %") as entry:
        if present:
            entry.update(present, temp_c=air.temp_c, rh_pct=air.rh_pct)
        else:
            entry.create(RoomReading(room=room, at=at, temp_c=air.temp_c, rh_pct=air.rh_pct))
    return entry.done()


@transaction.atomic
def set_months(months: Mapping[int, RoomAir]) -> Saved[None]:
    """Describe the room's usual air, month by month; it fills hours in which nothing was measured."""
    with history_entry("room.months_set", f"Described the room's usual air in {len(months)} months") as entry:
        for present in RoomMonth.objects.all():
            entry.delete(present)
        for month, air in sorted(months.items()):
            entry.create(RoomMonth(month=month, temp_c=air.temp_c, rh_pct=air.rh_pct))
    return entry.done()
