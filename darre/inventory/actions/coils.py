"""Coils: cut off a spool, named, changed and removed."""

from datetime import datetime
from typing import Any

from django.db import transaction
from django.utils import timezone

from darre.common.errors import Refusal
from darre.common.saved import Saved
from darre.history.recorder import OpenEntry, history_entry
from darre.inventory.actions.moments import refuse_before_it_was_there, refuse_impossible_time
from darre.inventory.models import Coil, Spool


def next_name(spool: Spool) -> str:
    """A name that no coil of this spool has yet: "coil 3"."""
    taken = set(spool.coils.values_list("name", flat=True))
    return next(name for n in range(1, len(taken) + 2) if (name := f"coil {n}") not in taken)


def write_coil(entry: OpenEntry, spool: Spool, at: datetime, length_m: float | None) -> Coil:
    """Store a coil that was cut and weighed in one go, in an open entry, under the next free name."""
    return entry.create(Coil(spool=spool, name=next_name(spool), cut_at=at, length_m=length_m))


def _refuse_name_taken(spool: Spool, name: str, but: int = 0) -> None:
    if spool.coils.filter(name=name).exclude(pk=but).exists():
        raise Refusal("name_taken", f"{spool.name} has a coil named {name} already. Choose another name.", "name")


@transaction.atomic
def cut_coil(
    spool: Spool, name: str = "", length_m: float | None = None, *, soaked: bool = False, at: datetime | None = None
) -> Saved[Coil]:
    """Note a coil that was cut off a spool. Raises Refusal: name taken, in the future, before the spool was there."""
    at = at or timezone.now()
    refuse_impossible_time(at, "it was cut")
    refuse_before_it_was_there(spool, at)
    name = name.strip() or next_name(spool)
    _refuse_name_taken(spool, name)
    with history_entry("coil.cut", f"Cut {name} off {spool.name}") as entry:
        coil = entry.create(Coil(spool=spool, name=name, cut_at=at, length_m=length_m, soaked=soaked))
    return entry.saved(coil)


@transaction.atomic
def change_coil(coil: Coil, **values: Any) -> Saved[None]:
    """Change a coil, or note that it is used up. Raises Refusal where its name is taken or it is in a dryer."""
    _refuse_name_taken(coil.spool, values.get("name", coil.name), coil.pk)
    if values.get("used_up_at") and coil.runs.filter(ended_at__isnull=True).exists():
        raise Refusal("in_dryer", f"{coil.name} is in a dryer. End its run first.", "used_up_at")
    with history_entry("coil.changed", f"Changed {coil.name} of {coil.spool.name}") as entry:
        entry.update(coil, **values)
    return entry.done()


@transaction.atomic
def remove_coil(coil: Coil) -> Saved[None]:
    """Remove a coil that was noted by mistake. Raises Refusal where it was weighed or dried."""
    if coil.runs.exists() or coil.weighings.exists():
        raise Refusal("in_use", f"{coil.name} was weighed or dried. Note that it is used up instead.", status=409)
    with history_entry("coil.removed", f"Removed {coil.name} of {coil.spool.name}") as entry:
        entry.delete(coil)
    return entry.done()
