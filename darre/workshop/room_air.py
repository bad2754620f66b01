"""The room's air by the hour, out of what is stored; kept until a reading comes."""

from datetime import datetime

import numpy as np
from django.db.models import Count, Max

from darre.workshop.models import RoomMonth, RoomReading
from darre.workshop.selectors import ASSUMED_AIR
from drying.air.room_series import RoomHours, room_hours
from drying.cache import Cache

_HOURS: Cache[RoomHours] = Cache(8)


def hour_of(at: datetime) -> int:
    """Whole hours since 1970, UTC."""
    return int(at.timestamp() // 3600)


def hours_of_room(first: int, end: int, now: datetime) -> RoomHours:
    """Air of the room from hour `first` to `end`, as far as it was measured by `now`."""
    known = RoomReading.objects.filter(at__lte=now)
    count, last = known.aggregate(count=Count("id"), last=Max("id")).values()
    months = {m.month: (m.temp_c, m.rh_pct) for m in RoomMonth.objects.all()} or None
    key = (count, last, first, end, hour_of(now), repr(months))
    return _HOURS.get(key, lambda: _read(first, end, now, months))


def _read(first: int, end: int, now: datetime, months: dict[int, tuple[float, float]] | None) -> RoomHours:
    rows = RoomReading.objects.filter(at__lte=now).order_by("at").values_list("at", "temp_c", "rh_pct")
    at, temp, rh = zip(*rows.iterator(), strict=True) if rows.exists() else ((), (), ())
    return room_hours(
        np.array([a.timestamp() for a in at]),
        np.array(temp, dtype=np.float64),
        np.array(rh, dtype=np.float64),
        (first, end),
        hour_of(now) + 1,  # the hour that goes on has begun with a reading
        months,
        (ASSUMED_AIR.temp_c, ASSUMED_AIR.rh_pct),
    )
