"""Reading the workshop: the room's air, and what each spool met of it since its moisture was known."""

from collections import defaultdict
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Any

from darre.places.models import Place, Room, RoomReading, Stay
from drying.air import ASSUMED_AIR, RoomAir, dew_point_c

STALE_AFTER = timedelta(hours=6)


@dataclass(frozen=True)
class RoomNow:
    """The room's air now. `measured_at` None: assumed, nothing was measured."""

    name: str
    air: RoomAir
    dew_point_c: float
    measured_at: datetime | None
    stale: bool


def room_now(now: datetime) -> RoomNow:
    """The last reading of the room up to `now`."""
    last = RoomReading.objects.filter(at__lte=now).select_related("room").last()
    if last is None:
        room = Room.objects.first()
        air = ASSUMED_AIR
        return RoomNow(room.name if room else "the room", air, dew_point_c(air.temp_c, air.rh_pct), None, True)
    air = RoomAir(last.temp_c, last.rh_pct)
    return RoomNow(
        last.room.name, air, dew_point_c(air.temp_c, max(air.rh_pct, 0.01)), last.at, now - last.at > STALE_AFTER
    )


@dataclass(frozen=True, slots=True)
class StayRow:
    """A stay as it is read for whole racks: a year has thousands of them."""

    id: int
    spool_id: int
    place: Place
    since: datetime
    until: datetime | None


def stays_by_spool(places: Iterable[Place], **which: Any) -> dict[int, list[StayRow]]:
    """Where every spool stood, in order of time, by spool; one query. `which` picks the rows of some."""
    at = {place.pk: place for place in places}
    found: dict[int, list[StayRow]] = defaultdict(list)
    rows = Stay.objects.filter(**which).order_by("since").values_list("id", "spool_id", "place_id", "since", "until")
    for pk, spool_id, place_id, since, until in rows.iterator(2000):
        found[spool_id].append(StayRow(pk, spool_id, at[place_id], since, until))
    return found


def present_stay(stays: Iterable[StayRow], now: datetime) -> StayRow | None:
    """Where the spool stood at `now`."""
    return next((s for s in stays if s.since <= now and (s.until is None or s.until > now)), None)


def air_since(start: datetime, now: datetime) -> list[tuple[datetime, RoomAir]]:
    """The room's air from `start` on, the reading in force at `start` first."""
    before = RoomReading.objects.filter(at__lte=start).order_by("-at").values_list("at", "temp_c", "rh_pct")[:1]
    after = RoomReading.objects.filter(at__gt=start, at__lte=now).order_by("at").values_list("at", "temp_c", "rh_pct")
    rows = [(at, RoomAir(temp, rh)) for at, temp, rh in (*before, *after)]
    return rows or [(start, ASSUMED_AIR)]
