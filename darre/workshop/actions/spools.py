"""Adding spools, and saying how wet they are."""

from dataclasses import dataclass
from datetime import datetime
from typing import Any

from django.db import transaction
from django.utils import timezone

from darre.common.errors import Refusal
from darre.ledger.book import act
from darre.workshop.actions.moments import refuse_future
from darre.workshop.material_book import material_book
from darre.workshop.models import MoistureMark, Place, Spool, SpoolBody, Stay, StrandUse
from drying.dryers.setup import MakersSheet
from drying.materials.spool_bodies import body_kind
from drying.materials.thresholds import new_spool_moisture
from drying.quantity import Quantity
from drying.weighing.tare import Tare


@dataclass(frozen=True)
class NewSpool:
    """What must be known of a spool to add it. `moisture` None: taken as fresh from the factory."""

    name: str
    material: str
    body: SpoolBody
    tare: Tare
    place: Place
    moisture: Quantity | None = None
    colour: str = ""
    maker: str = ""
    purpose: str = ""
    form: str = Spool.Form.WOUND
    strand_diameter_mm: float = 1.75


PRINTED_SHARE = 0.05  # engineering estimate: how far a typed printed mass is off where nothing else is said, one sd
TYPED_SHARE = 0.2  # engineering estimate: how sure a typed moisture is where nothing else is said, one sd of it


@transaction.atomic
def add_spool(new: NewSpool, at: datetime | None = None) -> tuple[Spool, int | None]:
    """Add a spool with its first mark and its place. Returns it and the line of history.

    Raises UnknownMaterialError for an unknown material or body kind, Refusal where the name is taken.
    """
    at = at or timezone.now()
    polymer = material_book()[new.material]
    body_kind(new.body.kind)
    if Spool.objects.filter(name=new.name).exists():
        raise Refusal("name_taken", f"There is already a spool named {new.name}. Give this one another name.", "name")
    known = new.moisture or new_spool_moisture(polymer)
    with act("spool.added", f"Added {new.name}") as book:
        spool = book.create(
            Spool(
                name=new.name,
                material=new.material,
                colour=new.colour,
                maker=new.maker,
                purpose=new.purpose,
                body=new.body,
                form=new.form,
                strand_diameter_mm=new.strand_diameter_mm,
                tare_g=new.tare.mass_g,
                tare_sd_g=new.tare.uncertainty_g,
                tare_method=new.tare.method.value,
                created_at=at,
            )
        )
        book.create(
            MoistureMark(
                spool=spool,
                at=at,
                moisture_pct=known.value,
                sd_pct=known.uncertainty,
                basis=MoistureMark.Basis.TYPED if new.moisture else MoistureMark.Basis.NEW,
            )
        )
        book.create(Stay(spool=spool, place=new.place, since=at))
    return spool, book.undo


def set_sheet(spool: Spool, sheet: MakersSheet | None) -> int | None:
    """Note what the maker's data sheet of this very spool asks for, or forget it. Returns the line of history."""
    told = f"{sheet.temp_c:g} °C, {sheet.duration_h:g} h" if sheet else "nothing"
    with act("spool.sheet_set", f"Maker's sheet of {spool.name}: {told}") as book:
        book.update(
            spool,
            sheet_temp_c=sheet.temp_c if sheet else None,
            sheet_hours=sheet.duration_h if sheet else None,
            sheet_only_if_opened=bool(sheet and sheet.only_if_opened),
        )
    return book.undo


@transaction.atomic
def change_spool(spool: Spool, **values: Any) -> int | None:
    """Change a spool's own facts. Weighings keep the tare they were made with. Refused where the name is taken."""
    if "material" in values:
        material_book()[values["material"]]
    if Spool.objects.filter(name=values.get("name", spool.name)).exclude(pk=spool.pk).exists():
        raise Refusal("name_taken", f"There is already a spool named {values['name']}. Choose another name.", "name")
    with act("spool.changed", f"Changed {spool.name}") as book:
        book.update(spool, **values)
    return book.undo


@transaction.atomic
def note_moisture(spool: Spool, moisture: Quantity, at: datetime | None = None) -> int | None:
    """Say how wet a spool is (% of dry mass), from a dry mark or another knowledge of one's own."""
    at = at or timezone.now()
    refuse_future(at, "at which it was so")
    with act("spool.moisture_noted", f"{spool.name}: {moisture.value:g} ± {moisture.plus_minus:g} % noted") as book:
        book.create(
            MoistureMark(
                spool=spool, at=at, moisture_pct=moisture.value, sd_pct=moisture.uncertainty,
                basis=MoistureMark.Basis.TYPED,
            )
        )  # fmt: skip
    return book.undo


@transaction.atomic
def use_strand(spool: Spool, mass: Quantity, at: datetime | None = None, note: str = "") -> int | None:
    """Note strand that was printed, g: later weighings then tell water and not plastic."""
    at = at or timezone.now()
    refuse_future(at, "it was printed")
    with act("spool.used", f"Printed {mass.value:g} g off {spool.name}") as book:
        book.create(StrandUse(spool=spool, at=at, mass_g=mass.value, sd_g=mass.uncertainty, note=note))
    return book.undo
