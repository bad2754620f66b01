"""Where spools stand: moving them, and correcting what was noted. History stays whole: no two places at once, none
before a spool was there.
"""

from collections.abc import Sequence
from datetime import datetime, timedelta

from django.db import transaction
from django.utils import timezone

from darre.common.errors import Refusal, Spoken
from darre.common.saved import Saved
from darre.history.recorder import OpenEntry, history_entry
from darre.inventory.actions.moments import refuse_before_it_was_there, refuse_impossible_time
from darre.inventory.models import Spool
from darre.places.models import Place, Stay


def put(entry: OpenEntry, spool: Spool, place: Place, at: datetime) -> Stay:
    """Put a spool into a place from `at` on: the stay of that moment ends then, later ones stay as they are."""
    stays = list(Stay.objects.filter(spool=spool).order_by("since"))
    present = next((s for s in stays if s.since <= at and (s.until is None or s.until > at)), None)
    after = next((s for s in stays if s.since > at), None)
    if present and present.since == at:
        return entry.update(present, place=place)
    until = present.until if present else (after.since if after else None)
    if present:
        entry.update(present, until=at)
    return entry.create(Stay(spool=spool, place=place, since=at, until=until))


@transaction.atomic
def move_spools(spools: Sequence[Spool], place: Place, at: datetime | None = None) -> Saved[list[Stay]]:
    """Put spools into a place, now or from an earlier time on until the next known move. Returns the stays.

    Refused before a spool existed, and in the future.
    """
    at = at or timezone.now()
    refuse_impossible_time(at, "it was moved")
    for spool in spools:
        refuse_before_it_was_there(spool, at)
    names = ", ".join(s.name for s in spools)
    with history_entry("spool.moved", f"Moved {names} to {place.name}") as entry:
        stays = [put(entry, spool, place, at) for spool in spools]
    return entry.saved(stays)


def _others(stay: Stay) -> list[Stay]:
    return list(
        Stay.objects.filter(spool_id=stay.spool_id).exclude(pk=stay.pk).select_related("place").order_by("since")
    )


def _span(stay: Stay) -> Spoken:
    return ("from ", stay.since) if stay.until is None else ("from ", stay.since, " to ", stay.until)


@transaction.atomic
def correct_stay(stay: Stay, place: Place, since: datetime, until: datetime | None) -> Saved[None]:
    """Correct a stay that was noted wrongly. Refused where it would then lie over another stay of the spool."""
    refuse_impossible_time(since, "it was moved")
    refuse_before_it_was_there(stay.spool, since)
    if until is not None and until <= since:
        raise Refusal("ends_before_it_begins", "The stay ends before it begins. Give a later end.", "until", 400)
    far = timezone.now() + timedelta(days=36500)
    for other in _others(stay):
        if since < (other.until or far) and other.since < (until or far):
            raise Refusal(
                "two_places_at_once",
                (
                    f"{stay.spool.name} was in {other.place.name} ",
                    *_span(other),
                    ": it cannot be in two places. Correct that stay first, or choose other times.",
                ),
                "since" if since >= other.since else "until",
            )
    with history_entry("stay.corrected", f"Corrected a stay of {stay.spool.name}: {place.name}") as entry:
        entry.update(stay, place=place, since=since, until=until)
    return entry.done()


@transaction.atomic
def remove_stay(stay: Stay) -> Saved[None]:
    """Take a stay out; the one before it lasts until the next. The only stay of a spool stays."""
    others = _others(stay)
    if not others:
        raise Refusal("only_stay", f"{stay.spool.name} stood nowhere else. Correct this stay instead.")
    before = next((s for s in reversed(others) if s.since < stay.since), None)
    with history_entry("stay.removed", f"Removed a stay of {stay.spool.name}") as entry:
        until = stay.until
        entry.delete(stay)
        if before:
            entry.update(before, until=until)
    return entry.done()
