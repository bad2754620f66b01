"""Adding spools, and saying how wet they are."""

from datetime import datetime
from typing import Any

from django.db import transaction
from django.utils import timezone

from darre.common.errors import Refusal
from darre.common.saved import Saved
from darre.history.recorder import history_entry
from darre.inventory.actions.moments import refuse_impossible_time
from darre.inventory.material_book import material_book
from darre.inventory.models import FilamentUse, MoistureReading, Spool
from drying.dryers import MakersSheet
from drying.materials import Material, most_held_pct
from drying.quantity import Quantity

PRINTED_SHARE = 0.05  # engineering estimate: how far a typed printed mass is off where nothing else is said, one sd
TYPED_SHARE = 0.2  # engineering estimate: how sure a typed moisture is where nothing else is said, one sd of it


def set_sheet(spool: Spool, sheet: MakersSheet | None) -> Saved[None]:
    """Note what the maker's data sheet of this very spool asks for, or forget it."""
    asked = f"{sheet.temp_c:g} °C, {sheet.duration_h:g} h" if sheet else "nothing"
    with history_entry("spool.sheet_set", f"Maker's sheet of {spool.name}: {asked}") as entry:
        entry.update(
            spool,
            sheet_temp_c=sheet.temp_c if sheet else None,
            sheet_hours=sheet.duration_h if sheet else None,
            sheet_only_if_opened=bool(sheet and sheet.only_if_opened),
        )
    return entry.done()


@transaction.atomic
def change_spool(spool: Spool, **values: Any) -> Saved[None]:
    """Change a spool's own details. Weighings keep the tare they were made with. Refused where the name is taken."""
    if "material" in values:
        material_book()[values["material"]]
    if Spool.objects.filter(name=values.get("name", spool.name)).exclude(pk=spool.pk).exists():
        raise Refusal("name_taken", f"There is already a spool named {values['name']}. Choose another name.", "name")
    with history_entry("spool.changed", f"Changed {spool.name}") as entry:
        entry.update(spool, **values)
    return entry.done()


def refuse_more_than_it_holds(polymer: Material, moisture_pct: float) -> None:
    """Raise Refusal for more water, % of dry mass, than the polymer holds when it has lain in water."""
    most = most_held_pct(polymer)
    if moisture_pct > most:
        says = f"{polymer.name} holds at most about {most:.2g} % of water. Give less, or check the material."
        raise Refusal("more_than_it_holds", says, "moisture_pct", 400)


@transaction.atomic
def note_moisture(spool: Spool, moisture: Quantity, at: datetime | None = None) -> Saved[None]:
    """Record how wet a spool is (% of dry mass), from a dry weighing or other knowledge."""
    at = at or timezone.now()
    refuse_impossible_time(at, "at which it was so")
    refuse_more_than_it_holds(material_book()[spool.material], moisture.value)
    with history_entry(
        "spool.moisture_noted", f"{spool.name}: {moisture.value:g} ± {moisture.plus_minus:g} % noted"
    ) as entry:
        entry.create(
            MoistureReading(
                spool=spool, at=at, moisture_pct=moisture.value, sd_pct=moisture.uncertainty,
                basis=MoistureReading.Basis.TYPED,
            )
        )  # fmt: skip
    return entry.done()


@transaction.atomic
def use_filament(spool: Spool, mass: Quantity, at: datetime | None = None, note: str = "") -> Saved[None]:
    """Note strand that was printed, g: later weighings then tell water and not plastic."""
    at = at or timezone.now()
    refuse_impossible_time(at, "it was printed")
    with history_entry("spool.used", f"Printed {mass.value:g} g off {spool.name}") as entry:
        entry.create(FilamentUse(spool=spool, at=at, mass_g=mass.value, sd_g=mass.uncertainty, note=note))
    return entry.done()


@transaction.atomic
def correct_moisture(reading: MoistureReading, moisture: Quantity, at: datetime) -> Saved[None]:
    """Put right how wet a spool was said to be, % of dry mass. Raises Refusal as `note_moisture` does."""
    refuse_impossible_time(at, "at which it was so")
    refuse_more_than_it_holds(material_book()[reading.spool.material], moisture.value)
    with history_entry("spool.moisture_corrected", f"Corrected how wet {reading.spool.name} was") as entry:
        # By how much the outer turns differ was noted with the moisture that is put right; it stays in proportion.
        outer = reading.next_pct and reading.next_pct * moisture.value / max(reading.moisture_pct, 1e-9)
        entry.update(reading, moisture_pct=moisture.value, sd_pct=moisture.uncertainty, next_pct=outer, at=at)
    return entry.done()


@transaction.atomic
def remove_moisture(reading: MoistureReading) -> Saved[None]:
    """Take out what was said of a spool's moisture. Raises Refusal for the first: its history begins with it."""
    spool = reading.spool
    if not spool.moisture_readings.filter(at__lt=reading.at).exists():
        says = f"The history of {spool.name} begins with this. Correct it instead."
        raise Refusal("first_reading", says, status=409)
    with history_entry("spool.moisture_removed", f"Removed how wet {spool.name} was said to be") as entry:
        entry.delete(reading)
    return entry.done()


def _refuse_of_a_print(use: FilamentUse) -> None:
    if hasattr(use, "print"):
        raise Refusal("of_a_print", "These grams belong to a print. Remove the print instead.", status=409)


@transaction.atomic
def correct_use(use: FilamentUse, mass: Quantity, at: datetime, note: str) -> Saved[None]:
    """Put right what was printed off a spool, g. Raises Refusal for a time to come, and for what a print says."""
    refuse_impossible_time(at, "it was printed")
    _refuse_of_a_print(use)
    with history_entry("spool.use_corrected", f"Corrected what was printed off {use.spool.name}") as entry:
        entry.update(use, mass_g=mass.value, sd_g=mass.uncertainty, at=at, note=note)
    return entry.done()


@transaction.atomic
def remove_use(use: FilamentUse) -> Saved[None]:
    """Take out what was printed off a spool. Raises Refusal for what a print says."""
    _refuse_of_a_print(use)
    with history_entry("spool.use_removed", f"Removed what was printed off {use.spool.name}") as entry:
        entry.delete(use)
    return entry.done()
