"""Dates and clock times as tables write them, in whichever order; read by the zone that they were written in."""

import re
from collections.abc import Sequence
from datetime import UTC, datetime, time, timedelta
from zoneinfo import ZoneInfo

DATE_ORDERS = ("iso", "day first", "month first")
TIME_FORMATS = (*DATE_ORDERS, "seconds", "milliseconds")
DATE = re.compile(r"(\d{1,4})[-/.](\d{1,2})[-/.](\d{1,4})")
CLOCK = re.compile(r"(\d{1,2}):(\d{2})(?::(\d{2})(?:[.,]\d+)?)?\s*([ap]m)?", re.I)
_OFFSET = re.compile(r"(?:Z|[+-]\d{2}:?\d{2})$")
_SHOWN = 30  # characters of what is no time, in the sentence that says so


def order_of_dates(values: Sequence[str]) -> str:
    """How these dates are written: by what can be no month, else by what changes most."""
    found = [m for m in map(DATE.match, values) if m]
    if any(len(m.group(1)) == 4 for m in found):
        return "iso"
    if any(int(m.group(1)) > 12 for m in found):
        return "day first"
    if any(int(m.group(2)) > 12 for m in found):
        return "month first"
    first, second = {m.group(1) for m in found}, {m.group(2) for m in found}
    return "month first" if len(second) > len(first) else "day first"  # the day changes, the month hardly


def _wall(date: str, clock: str, order: str, without: time | None) -> datetime:
    day, hour = DATE.match(date), CLOCK.search(clock)
    if not day:
        raise ValueError(f"“{date[:_SHOWN]}” is no date")
    one, two, three = (int(x) for x in day.groups())
    year, month, date_of = (one, two, three) if order == "iso" else (three, two, one)
    if order == "month first":
        month, date_of = date_of, month
    year += 2000 if year < 100 else 0
    if not hour:
        if without is None or clock.strip():
            raise ValueError(f"“{clock[:_SHOWN]}” is no clock time")
        return datetime.combine(datetime(year, month, date_of), without)
    hours = int(hour.group(1))
    if hour.group(4):
        hours = hours % 12 + (12 if hour.group(4).lower() == "pm" else 0)
    return datetime(year, month, date_of, hours, int(hour.group(2)), int(hour.group(3) or 0))


def moment_of(
    date: str, clock: str, order: str, zone: ZoneInfo, before: datetime | None = None, without: time | None = None
) -> datetime:
    """The moment, UTC, of a date with its clock time in one text or in two. `without`: where no clock time stands.

    When clocks are put back an hour comes twice: then the row `before` tells which. Raises ValueError, in words, for
    what is no time, and for one that was left out when the clocks were put forward.
    """
    if order == "iso" and _OFFSET.search(date) and CLOCK.search(date):
        return datetime.fromisoformat(date).astimezone(UTC)
    day = DATE.match(date)
    wall = _wall(date, date[day.end() :] if day and date[day.end() :].strip() else clock, order, without)
    at = wall.replace(tzinfo=zone)
    if at.astimezone(UTC).astimezone(zone).replace(tzinfo=None) != wall:
        raise ValueError(f"{wall:%Y-%m-%d %H:%M} was left out when the clocks were put forward in {zone.key}")
    found = at.astimezone(UTC)
    if before and found < before:
        second = at.replace(fold=1).astimezone(UTC)
        return second if second != found and second - before < timedelta(hours=2) else found
    return found
