"""Containers and other places, and the desiccant in them."""

from datetime import datetime
from typing import Any

from django.db import transaction
from django.utils import timezone

from darre.common.errors import Refusal
from darre.common.saved import Saved
from darre.history.recorder import history_entry
from darre.inventory.actions.moments import refuse_impossible_time
from darre.places.models import DesiccantFill, DesiccantWeighing, Place, Stay
from drying.storage import OPEN_KINDS, DesiccantKind, PlaceKind
from drying.storage.desiccant import desiccant


def _require_free_name(name: str, but: int = 0) -> None:
    if Place.objects.filter(name=name).exclude(pk=but).exists():
        raise Refusal("name_taken", f"There is already a place named {name}. Give this one another name.", "name")


@transaction.atomic
def add_place(name: str, kind: str, **values: Any) -> Saved[Place]:
    """Add a place where spools stand. Returns it."""
    _require_free_name(name)
    with history_entry("place.added", f"Added the place {name}") as entry:
        place = entry.create(Place(name=name, kind=kind, **values))
    return entry.saved(place)


@transaction.atomic
def change_place(place: Place, **values: Any) -> Saved[None]:
    """Change what is known about a place; its whole past is computed anew with it."""
    _require_free_name(values.get("name", place.name), place.pk)
    with history_entry("place.changed", f"Changed the place {place.name}") as entry:
        entry.update(place, **values)
    return entry.done()


@transaction.atomic
def remove_place(place: Place) -> Saved[None]:
    """Remove a place in which nothing ever stood."""
    stay = Stay.objects.filter(place=place).select_related("spool").first()
    if stay:
        raise Refusal("in_use", f"{stay.spool.name} stood in {place.name}, so it stays as part of its history.")
    with history_entry("place.removed", f"Removed the place {place.name}") as entry:
        for fill in place.fills.all():
            for weighing in fill.weighings.all():
                entry.delete(weighing)
            entry.delete(fill)
        entry.delete(place)
    return entry.done()


@transaction.atomic
def fill_place(
    place: Place,
    kind: str,
    dry_g: float = 0.0,
    load_pct: float | None = None,
    at: datetime | None = None,
    **more: Any,
) -> Saved[None]:
    """Note that desiccant was put in (or, with no kind, taken out). `load_pct` None: freshly regenerated."""
    at = at or timezone.now()
    refuse_impossible_time(at, "it was put in")
    if PlaceKind(place.kind) in OPEN_KINDS:
        raise Refusal("open_place", f"{place.name} is open to the room: desiccant cannot dry it. Choose a container.")
    if kind and dry_g <= 0.0:
        raise Refusal("no_mass", "Say how much desiccant there is, dry, in g.", "dry_g", 400)
    left = desiccant(DesiccantKind(kind)).left_pct if kind else 0.0
    content = f"{dry_g:g} g of {desiccant(DesiccantKind(kind)).name}" if kind else "no desiccant"
    with history_entry("place.filled", f"{place.name}: {content}") as entry:
        load = left if load_pct is None else load_pct
        entry.create(DesiccantFill(place=place, kind=kind, dry_g=dry_g if kind else 0.0, load_pct=load, at=at, **more))
    return entry.done()


@transaction.atomic
def weigh_desiccant(fill: DesiccantFill, mass_g: float, sd_g: float, at: datetime | None = None) -> Saved[None]:
    """Note what a container's desiccant weighs, pouch and all. Two such weighings tell what gets in."""
    at = at or timezone.now()
    refuse_impossible_time(at)
    if at < fill.at:
        raise Refusal("before_it_was_there", "This desiccant was put in later. Give a later time.", "at", 400)
    with history_entry("winding.weighed", f"Desiccant of {fill.place.name}: {mass_g:g} g") as entry:
        entry.create(DesiccantWeighing(fill=fill, at=at, mass_g=mass_g, sd_g=sd_g))
    return entry.done()
