"""By when a spool is wanted next: once, again and again, or before it stops printing clean."""

from collections.abc import Mapping
from datetime import UTC, datetime, timedelta, tzinfo

from darre.moisture.storage import storage
from darre.schedule.models import Wish

KEPT_AHEAD = timedelta(hours=72)
"""A spool that is to be kept clean is dried when it would stop printing clean within so long."""


def next_occurrence(first: datetime, every_days: int, after: datetime, zone: tzinfo) -> datetime:
    """The first of these moments that is later than `after`: at the same time of day by the clock of a zone, whatever
    the clocks do in between.
    """
    wall = first.astimezone(zone).replace(tzinfo=None)
    passed = (after.astimezone(zone).replace(tzinfo=None) - wall) / timedelta(days=every_days)
    at = wall + max(int(passed) - 1, 0) * timedelta(days=every_days)
    while (found := at.replace(tzinfo=zone).astimezone(UTC)) <= after:
        at += timedelta(days=every_days)
    return found


def due_at(wish: Wish, dried_at: datetime | None, now: datetime, zone: tzinfo) -> datetime | None:
    """When a spool is wanted next; None: whenever there is room. `dried_at`: the end of its last run.

    One that is wanted again and again is wanted at the first of those times since it was dried; a time that passed more
    than half a turn ago is over.
    """
    if wish.ready_by is None or wish.every_days is None:
        return wish.ready_by
    over = now - timedelta(days=wish.every_days) / 2
    after = max(wish.created_at, over, *([] if dried_at is None else [dried_at]))
    return next_occurrence(wish.ready_by, wish.every_days, after, zone) if wish.ready_by <= after else wish.ready_by


def clean_until(now: datetime) -> Mapping[int, datetime | None]:
    """Until when each spool in a container prints clean, by its key; None: not within two weeks."""
    found = {}
    for holding in storage(now):
        for contained in holding.contents:
            hours = contained.clean.hours
            found[contained.lane.spool.pk] = None if hours is None else now + timedelta(hours=hours)
    return found
