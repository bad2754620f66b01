"""Reading the workshop: the room's air, and what each spool met of it since its moisture was known."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta

import numpy as np
from django.db.models import Prefetch, QuerySet

from darre.workshop.models import MoistureMark, PlaceKind, Preferences, Room, RoomReading, Spool, Stay
from drying.arrays import Array
from drying.cost import Tariff
from drying.humid_air import RoomAir, dew_point_c
from drying.weighing import Quantity

HOUR = timedelta(hours=1)
STALE_AFTER = timedelta(hours=6)
ASSUMED_AIR = RoomAir(20.0, 60.0)  # where nothing was ever measured; the screen says that it is assumed


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


def spools_with_story() -> QuerySet[Spool]:
    """Spools with all that their waterline needs, in a constant number of queries."""
    return Spool.objects.select_related("body").prefetch_related(
        Prefetch("marks", MoistureMark.objects.order_by("at", "id")),
        Prefetch("stays", Stay.objects.select_related("place").order_by("since")),
    )


def last_mark(spool: Spool, now: datetime) -> MoistureMark | None:
    """The last moment up to `now` at which the moisture was known; reads what `spools_with_story` fetched."""
    return max((m for m in spool.marks.all() if m.at <= now), key=lambda m: (m.at, m.id), default=None)


def present_stay(spool: Spool) -> Stay | None:
    """Where the spool stands; reads what `spools_with_story` fetched."""
    return next((s for s in spool.stays.all() if s.until is None), None)


def air_since(start: datetime, now: datetime) -> list[tuple[datetime, RoomAir]]:
    """The room's air from `start` on, the reading in force at `start` first."""
    before = RoomReading.objects.filter(at__lte=start).order_by("-at").values_list("at", "temp_c", "rh_pct")[:1]
    after = RoomReading.objects.filter(at__gt=start, at__lte=now).order_by("at").values_list("at", "temp_c", "rh_pct")
    rows = [(at, RoomAir(temp, rh)) for at, temp, rh in (*before, *after)]
    return rows or [(start, ASSUMED_AIR)]


def hours_between(air: Sequence[tuple[datetime, RoomAir]], start: datetime, now: datetime) -> tuple[Array, Array]:
    """The room's temperature in °C and its activity (0..1) in each whole hour that ends at or before `now`, counted
    back from it, as far as `start`: the reading in force when the hour began.
    """
    count = max(0, int((now - start) / HOUR))
    begins = np.array([(now - HOUR * k).timestamp() for k in range(count, 0, -1)])
    read_at = np.array([at.timestamp() for at, _ in air])
    row = np.maximum(np.searchsorted(read_at, begins, side="right") - 1, 0)
    temps, activities = np.array([a.temp_c for _, a in air]), np.array([a.activity for _, a in air])
    return temps[row], activities[row]


def met_by_spool(stays: Iterable[Stay], activity: Array, known_at: datetime, now: datetime) -> Array:
    """The room's activity as one spool met it, hour by hour up to `now`: NaN before it was known and where its place
    was sealed for most of the hour. Between stays a spool counts as standing open in the room.
    """
    middles = np.array([(now - HOUR * (k - 0.5)).timestamp() for k in range(activity.size, 0, -1)])
    met = np.where(middles < known_at.timestamp(), np.nan, activity)
    for stay in stays:
        if stay.place.kind == PlaceKind.SEALED:
            until = (stay.until or now).timestamp()
            met[(middles >= stay.since.timestamp()) & (middles < until)] = np.nan
    return met


def quantity(mark: MoistureMark) -> Quantity:
    """The mark's moisture as the core takes it."""
    return Quantity(mark.moisture_pct, mark.sd_pct)


def preferences() -> Preferences:
    """The preferences, or the usual ones where none were ever set."""
    return Preferences.objects.filter(pk=1).first() or Preferences(pk=1)


def tariff_of(mine: Preferences) -> Tariff | None:
    """What power costs, None where no price was given."""
    if mine.day_rate is None:
        return None
    return Tariff(mine.day_rate, mine.night_rate, mine.night_from_min, mine.night_to_min)
