"""The room's air by the hour, from what is stored."""

from datetime import UTC, datetime

import numpy as np
from django.db import connection

from darre.places.apps import room_hours_cache
from darre.places.models import RoomMonth, RoomReading
from drying.air import HourlyRoomAir, hourly_room_air
from drying.cache import digest

Row = tuple[str, float, float]


def hour_of(at: datetime) -> int:
    """Whole hours since 1970, UTC."""
    return int(at.timestamp() // 3600)


def moment(hour: float) -> datetime:
    """The moment of an hour since 1970."""
    return datetime.fromtimestamp(hour * 3600.0, UTC)


def hours_of_room(first: int, end: int, now: datetime) -> HourlyRoomAir:
    """Air of the room from hour `first` to `end`, as far as it was measured by `now`."""
    months = {m.month: (m.temp_c, m.rh_pct) for m in RoomMonth.objects.all()} or None
    stored = _digest_until(now)
    key = (stored, first, end, hour_of(now), repr(months))
    found = room_hours_cache().peek(key)
    if found is None:
        found = _hourly(_readings_until(now), first, end, now, months)
        if _digest_until(now) == stored:  # else a reading came in between, and the key would not be of this air
            room_hours_cache().put(key, found)
    return found


def _digest_until(now: datetime) -> bytes:
    """Digest of the readings, so that a correction in place is noticed too: of their moments, and of the sums of their
    values, each multiplied by its id. The database computes it: every new shelf asks for it, and reading a year of rows
    or turning their values into text takes four times as long.
    """
    with connection.cursor() as cursor:
        cursor.execute(
            "SELECT group_concat(at, ''), total(temp_c * id), total(rh_pct * id)"
            " FROM places_roomreading WHERE at <= %s",
            [connection.ops.adapt_datetimefield_value(now)],
        )
        moments, *sums = cursor.fetchone()
    return digest(moments or "", repr(sums))


def _readings_until(now: datetime) -> list[Row]:
    """Readings as they are stored, in order of time: moments stay text, as turning a year of them costs more than the
    rest of a page.
    """
    wanted = RoomReading.objects.filter(at__lte=now).order_by("at").values_list("at", "temp_c", "rh_pct")
    sql, parameters = wanted.query.sql_with_params()
    with connection.cursor() as cursor:
        cursor.execute(sql, parameters)
        return cursor.fetchall()


def _hourly(
    rows: list[Row], first: int, end: int, now: datetime, months: dict[int, tuple[float, float]] | None
) -> HourlyRoomAir:
    at, temp_c, rh_pct = zip(*rows, strict=True) if rows else ((), (), ())
    return hourly_room_air(
        np.array(at, dtype="datetime64[us]").astype(np.int64) / 1e6,
        np.array(temp_c, dtype=np.float64),
        np.array(rh_pct, dtype=np.float64),
        (first, end),
        hour_of(now) + 1,  # the current hour counts as begun
        months,
    )
