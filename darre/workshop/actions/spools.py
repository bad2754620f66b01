"""Adding spools, and saying how wet they are."""

from dataclasses import dataclass
from datetime import datetime

from django.utils import timezone

from darre.common.errors import Refusal
from darre.ledger.book import act
from darre.workshop.material_book import material_book
from darre.workshop.models import MoistureMark, Place, Spool, SpoolBody, Stay
from drying.bodies import body_kind
from drying.load import MakersSheet
from drying.waterline import new_spool_moisture
from drying.weighing import Quantity, Tare


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


def add_spool(new: NewSpool, at: datetime | None = None) -> Spool:
    """Add a spool with its first mark and its place.

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
    return spool


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
    return book.line.id if book.line else None


def move_spool(spool: Spool, place: Place, at: datetime | None = None) -> Stay:
    """Put a spool in another place. Refused before the present stay began."""
    at = at or timezone.now()
    present = Stay.objects.filter(spool=spool, until__isnull=True).first()
    if present and at <= present.since:
        raise Refusal(
            "before_present_stay", f"{spool.name} came to its present place after that; give a later time.", "at"
        )
    with act("spool.moved", f"Moved {spool.name} to {place.name}") as book:
        if present:
            book.update(present, until=at)
        return book.create(Stay(spool=spool, place=place, since=at))
