"""A spool arrives: its record, its first known moisture and its place."""

from dataclasses import dataclass
from datetime import datetime

from django.db import transaction
from django.utils import timezone

from darre.common.errors import Refusal
from darre.common.saved import Saved
from darre.history.recorder import OpenEntry, history_entry
from darre.inventory.actions.moments import refuse_impossible_time
from darre.inventory.actions.spools import refuse_more_than_it_holds
from darre.inventory.material_book import MaterialBook, material_book
from darre.inventory.models import EmptySpool, MoistureReading, Spool
from darre.inventory.records import tare_columns
from darre.places.models import Place, Stay
from drying.materials import empty_spool_kind, new_spool_moisture
from drying.quantity import Quantity
from drying.weighing import Tare


@dataclass(frozen=True)
class NewSpool:
    """What must be known of a spool to add it. `moisture` None: taken as fresh from the factory."""

    name: str
    material: str
    empty_spool: EmptySpool
    tare: Tare
    place: Place
    moisture: Quantity | None = None
    colour: str = ""
    maker: str = ""
    purpose: str = ""
    form: str = Spool.Form.WOUND
    strand_diameter_mm: float = 1.75


@transaction.atomic
def add_spool(new: NewSpool, at: datetime | None = None) -> Saved[Spool]:
    """Add a spool with its first moisture reading and its place, from `at` on: perhaps the day it was opened.

    Raises UnknownMaterialError for an unknown material or kind of empty spool, Refusal where the name is taken, and
    for a time to come.
    """
    at = at or timezone.now()
    refuse_impossible_time(at, "it was put there")
    with history_entry("spool.added", f"Added {new.name}") as entry:
        spool = write_spool(entry, new, at, material_book())
    return entry.saved(spool)


def write_spool(entry: OpenEntry, new: NewSpool, at: datetime, book: MaterialBook) -> Spool:
    """Store a spool in an open entry. Raises as `add_spool` does."""
    polymer = book[new.material]
    empty_spool_kind(new.empty_spool.kind)
    if Spool.objects.filter(name=new.name).exists():
        raise Refusal("name_taken", f"There is already a spool named {new.name}. Give this one another name.", "name")
    if new.moisture is not None:
        refuse_more_than_it_holds(polymer, new.moisture.value)
    spool = entry.create(
        Spool(
            name=new.name,
            material=new.material,
            colour=new.colour,
            maker=new.maker,
            purpose=new.purpose,
            empty_spool=new.empty_spool,
            form=new.form,
            strand_diameter_mm=new.strand_diameter_mm,
            created_at=at,
            **tare_columns(new.tare),
        )
    )
    _note_moisture(entry, spool, at, new.moisture or new_spool_moisture(polymer), told=new.moisture is not None)
    entry.create(Stay(spool=spool, place=new.place, since=at))
    return spool


def _note_moisture(entry: OpenEntry, spool: Spool, at: datetime, known: Quantity, *, told: bool) -> None:
    """A spool's first moisture: as it was told, or as fresh from the factory."""
    basis = MoistureReading.Basis.TYPED if told else MoistureReading.Basis.NEW
    entry.create(MoistureReading(spool=spool, at=at, moisture_pct=known.value, sd_pct=known.uncertainty, basis=basis))


def write_earlier_arrival(entry: OpenEntry, spool: Spool, at: datetime) -> None:
    """Have a spool be there from an earlier moment on: where it stood first, and as fresh from the factory, since
    nothing is known of what was before.
    """
    first = spool.moisture_readings.order_by("at", "id").first()
    if at >= min(spool.created_at, first.at if first else spool.created_at):
        return
    if first is not None and first.basis == MoistureReading.Basis.NEW:
        entry.update(first, at=at)
    else:
        _note_moisture(entry, spool, at, new_spool_moisture(material_book()[spool.material]), told=False)
    entry.update(spool, created_at=at)
    stay = spool.stays.order_by("since", "id").first()
    if stay is not None and stay.since > at:
        entry.update(stay, since=at)


def take_off_rack(entry: OpenEntry, spool: Spool, at: datetime) -> None:
    """Take a spool that is used up or gone off the rack; its records stay. It stands nowhere from then on.

    Raises Refusal in the future, where it is archived already, and while it or a coil of it is in a dryer.
    """
    refuse_impossible_time(at, "it was used up")
    if spool.archived_at is not None:
        raise Refusal("already_archived", f"{spool.name} is off the rack already.", status=409)
    if spool.runs.filter(ended_at__isnull=True).exists():
        raise Refusal("in_dryer", f"{spool.name} is in a dryer. End its run first.", status=409)
    entry.update(spool, archived_at=at)
    for stay in Stay.objects.filter(spool=spool, until__isnull=True, since__lt=at):
        entry.update(stay, until=at)


@transaction.atomic
def restore_spool(spool: Spool) -> Saved[None]:
    """Put an archived spool on the rack again; where it stands is said by moving it.

    Raises Refusal where it is there.
    """
    if spool.archived_at is None:
        raise Refusal("not_archived", f"{spool.name} is on the rack.", status=409)
    with history_entry("spool.restored", f"Put {spool.name} on the rack again") as entry:
        entry.update(spool, archived_at=None)
    return entry.done()
