"""Reading the workshop: the room's air, and the stages a spool went through since its moisture was known."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from itertools import pairwise

from django.db.models import Prefetch, QuerySet

from darre.workshop.models import MoistureMark, PlaceKind, Room, RoomReading, Spool, Stay
from drying.humid_air import RoomAir, dew_point_c
from drying.strand import Stage
from drying.weighing import Quantity

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


def stages_between(
    stays: Iterable[Stay], air: Sequence[tuple[datetime, RoomAir]], start: datetime, now: datetime
) -> list[Stage]:
    """What surrounded a spool from `start` to `now`: one stage for each change of air or of place.

    Before its first stay and between stays a spool counts as standing open in the room.
    """
    sealed = [(s.since, s.until or now) for s in stays if s.place.kind == PlaceKind.SEALED]
    cuts = {start, now} | {at for at, _ in air} | {edge for span in sealed for edge in span}
    edges = sorted(edge for edge in cuts if start <= edge <= now)
    stages: list[Stage] = []
    row = 0
    for begin, end in pairwise(edges):
        while row + 1 < len(air) and air[row + 1][0] <= begin:
            row += 1
        hours = (end - begin).total_seconds() / 3600.0
        closed = any(since <= begin < until for since, until in sealed)
        stages.append(Stage(hours, air[row][1].temp_c, None if closed else air[row][1].activity))
    return stages


def quantity(mark: MoistureMark) -> Quantity:
    """The mark's moisture as the core takes it."""
    return Quantity(mark.moisture_pct, mark.sd_pct)
