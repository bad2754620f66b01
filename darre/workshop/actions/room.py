"""The room's air, and the places and bodies that a workshop has."""

from collections.abc import Sequence
from datetime import datetime

from django.db import transaction

from darre.ledger.book import act
from darre.workshop.models import Place, Room, RoomReading, SpoolBody
from drying.bodies import body_kind
from drying.humid_air import RoomAir


def add_room(name: str) -> Room:
    """Add the room."""
    with act("room.added", f"Added the room {name}") as book:
        return book.create(Room(name=name))


def add_place(name: str, kind: str) -> Place:
    """Add a place where spools stand."""
    with act("place.added", f"Added the place {name}") as book:
        return book.create(Place(name=name, kind=kind))


def add_body(body: SpoolBody) -> SpoolBody:
    """Add a spool body. Raises UnknownMaterialError for an unknown kind."""
    body_kind(body.kind)
    with act("body.added", f"Added the spool body {body.name}") as book:
        return book.create(body)


@transaction.atomic
def record_room_air(room: Room, readings: Sequence[tuple[datetime, RoomAir]]) -> int:
    """Store a logger's readings; those already there for the same moment stay. Returns how many were given.

    A whole file is one line of history without its rows: readings are measurements, not edits.
    """
    rows = [RoomReading(room=room, at=at, temp_c=air.temp_c, rh_pct=air.rh_pct) for at, air in readings]
    with act("room.air_recorded", f"Recorded {len(rows)} readings of {room.name}"):
        RoomReading.objects.bulk_create(rows, ignore_conflicts=True, batch_size=500)
    return len(rows)
