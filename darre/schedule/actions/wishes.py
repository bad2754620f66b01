"""What is wanted: added, changed, pinned, removed."""

from datetime import datetime, timedelta
from typing import Any

from django.db import transaction
from django.utils import timezone

from darre.common.errors import Refusal
from darre.common.saved import Saved
from darre.equipment.models import Dryer
from darre.history.recorder import history_entry
from darre.inventory.material_book import material_book
from darre.inventory.models import Spool
from darre.schedule.models import PlannedStart, Wish

FURTHEST = timedelta(days=60)
SLACK = timedelta(minutes=20)


def _refuse_time(ready_by: datetime | None) -> None:
    now = timezone.now()
    if ready_by is not None and ready_by < now - SLACK:
        raise Refusal("in_past", (ready_by, " has passed. Give a time that is to come."), "ready_by", 400)
    if ready_by is not None and ready_by > now + FURTHEST:
        raise Refusal("too_far", (ready_by, " is more than 60 days ahead. Give an earlier time."), "ready_by", 400)


def _refuse_turns(ready_by: datetime | None, every_days: int | None, *, keep_clean: bool) -> None:
    if every_days is not None and ready_by is None:
        raise Refusal("no_first_time", "Needed: by when it is wanted the first time.", "ready_by", 400)
    if keep_clean and ready_by is not None:
        raise Refusal("always", "A spool that is kept clean is wanted always: leave the time empty.", "ready_by", 400)


@transaction.atomic
def add_wish(
    spool: Spool,
    ready_by: datetime | None = None,
    grams: float | None = None,
    note: str = "",
    every_days: int | None = None,
    *,
    keep_clean: bool = False,
) -> Saved[Wish]:
    """Want a spool dry: once, every so many days, or always.

    Raises Refusal: wanted already, off the rack, never needs drying, in the past, again and again without a first time.
    """
    _refuse_time(ready_by)
    _refuse_turns(ready_by, every_days, keep_clean=keep_clean)
    if Wish.objects.filter(spool=spool).exists():
        raise Refusal("wanted_already", f"{spool.name} is on the list. Change it there.", "spool")
    if spool.archived_at is not None:
        raise Refusal("archived", f"{spool.name} is off the rack. Put it back first.", "spool")
    material = material_book()[spool.material]
    if not material.programmes:
        raise Refusal("no_need", f"{material.name} takes up too little water to need drying.", "spool", 400)
    with history_entry("wish.added", f"{spool.name} is wanted dry") as entry:
        wish = entry.create(
            Wish(
                spool=spool, ready_by=ready_by, grams=grams, note=note.strip(), every_days=every_days,
                keep_clean=keep_clean,
            )
        )  # fmt: skip
    return entry.saved(wish)


@transaction.atomic
def change_wish(wish: Wish, **values: Any) -> Saved[None]:
    """Change when it is wanted, or for what. Raises Refusal for a time that has passed."""
    if "ready_by" in values and values["ready_by"] != wish.ready_by:
        _refuse_time(values["ready_by"])
    will = {name: values.get(name, getattr(wish, name)) for name in ("ready_by", "every_days", "keep_clean")}
    _refuse_turns(**will)
    with history_entry("wish.changed", f"Changed when {wish.spool.name} is wanted") as entry:
        entry.update(wish, **values)
    return entry.done()


@transaction.atomic
def pin_wish(wish: Wish, dryer: Dryer | None, at: datetime | None) -> Saved[None]:
    """Have it go into this dryer at this time, whatever else moves; None for both: wherever and whenever is best.

    Raises Refusal for a time that has passed and a dryer out of service.
    """
    if (dryer is None) != (at is None):
        raise Refusal("invalid", "A pinned run has a dryer and a time.", "dryer" if dryer is None else "at", 400)
    if dryer is not None and not dryer.in_service:
        says = f"{dryer.name} is out of service. Put it back in service in Kit, or choose another dryer."
        raise Refusal("out_of_service", says, "dryer")
    if at is not None and at < timezone.now() - SLACK:
        raise Refusal("in_past", (at, " has passed. Give a time that is to come."), "at", 400)
    did = "Pinned" if dryer else "Unpinned"
    with history_entry("wish.pinned", f"{did} {wish.spool.name} in the schedule") as entry:
        entry.update(wish, pinned_dryer=dryer, pinned_at=at)
    return entry.done()


@transaction.atomic
def remove_wish(wish: Wish) -> Saved[None]:
    """It is wanted no longer; its planned start goes with it."""
    with history_entry("wish.removed", f"{wish.spool.name} is no longer wanted by a time") as entry:
        for start in PlannedStart.objects.filter(wish=wish):
            entry.delete(start)
        entry.delete(wish)
    return entry.done()
