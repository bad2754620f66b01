"""Moments that an act cannot have: still to come, too long ago, or before the spool was there."""

from datetime import datetime, timedelta

from django.utils import timezone

from darre.common.errors import Refusal
from darre.inventory.models import MoistureReading, Spool
from darre.inventory.selectors import preferences

CLOCK_SLACK = timedelta(minutes=5)  # clocks of phones and servers differ
YEAR = timedelta(days=365.25)


def refuse_impossible_time(at: datetime, what: str = "it was weighed") -> None:
    """Raise Refusal for a moment that has not come yet, or so long ago that the year is a slip; how long that is can be
    set.
    """
    now = timezone.now()
    if at > now + CLOCK_SLACK:
        raise Refusal("in_future", (at, f" has not come yet. Give the time {what}."), "at", 400)
    years = preferences().years_back
    if at < now - years * YEAR:
        says = (at, f" is more than {years} years ago. Correct the year, or allow older times in Settings.")
        raise Refusal("too_long_ago", says, "at", 400)


def refuse_before_it_was_there(spool: Spool, at: datetime) -> None:
    """Raise Refusal for a moment before anything is known of a spool."""
    first = MoistureReading.objects.filter(spool=spool).order_by("at").first()
    since = min(spool.created_at, first.at) if first else spool.created_at
    if at < since - CLOCK_SLACK:
        raise Refusal(
            "before_it_was_there",
            (f"{spool.name} is known from ", since, " on. Give a later time, or note how wet it was before."),
            "at",
            400,
        )
