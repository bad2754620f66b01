"""Adding a table of spools as one act, which is undone whole."""

from dataclasses import dataclass
from datetime import datetime
from uuid import uuid4

from django.db import transaction
from django.utils import timezone

from darre.common.errors import Refusal
from darre.common.saved import Saved
from darre.equipment.models import Scale
from darre.history.recorder import OpenEntry, history_entry
from darre.inventory.material_book import MaterialBook, material_book
from darre.inventory.models import EmptySpool, Spool
from darre.places.actions.arrivals import NewSpool, write_spool
from darre.places.models import Place
from darre.runs.actions.weighings import Reading, write_weighing
from darre.runs.spool_table import SpoolRow, SpoolTable
from drying.materials import empty_spool_kind
from drying.quantity import Quantity
from drying.weighing import Tare, TareMethod, tare_spread_g, usual_tare

USUAL_NOMINAL_G, USUAL_DIAMETER_MM = 1000.0, 1.75
TYPED_SHARE = 0.2  # of a moisture out of a table: its standard uncertainty, as nobody says how it was found
USUAL_KIND = "polystyrene"


@dataclass(frozen=True)
class Table:
    """A table with what counts where a row says nothing: the place, the empty spool, the scale of its masses."""

    read: SpoolTable
    place: Place
    empty_spool: EmptySpool | None = None
    scale: Scale | None = None


@transaction.atomic
def add_table(table: Table, at: datetime | None = None) -> Saved[list[Spool]]:
    """Add every row that nothing is wrong with, as one entry. Raises Refusal where there is none."""
    rows, at = table.read.good, at or timezone.now()
    if not rows:
        raise Refusal("nothing_to_add", "No row can be added: see what is said beside each.", "text", 400)
    with history_entry("spool.imported", f"Added {len(rows)} spools from a table") as entry:
        empty_spool = table.empty_spool or _usual_empty_spool(entry)
        book = material_book()
        spools = [_add(entry, row, table, empty_spool, at, book) for row in rows]
    return entry.saved(spools)


def _usual_empty_spool(entry: OpenEntry) -> EmptySpool:
    kind = empty_spool_kind(USUAL_KIND)
    name = f"{kind.name} spool"
    found = EmptySpool.objects.filter(name=name).first()
    return found or entry.create(EmptySpool(name=name, kind=kind.id))


def _add(
    entry: OpenEntry, row: SpoolRow, table: Table, empty_spool: EmptySpool, at: datetime, book: MaterialBook
) -> Spool:
    numbers = row.numbers
    tare = usual_tare(numbers.get("nominal_g", USUAL_NOMINAL_G))
    if "tare_g" in numbers:
        tare = Tare(numbers["tare_g"], tare_spread_g(TareMethod.TWIN), TareMethod.TWIN)
    moisture = None
    if "moisture_pct" in numbers:
        moisture = Quantity(numbers["moisture_pct"], max(TYPED_SHARE * numbers["moisture_pct"], 0.02))
    spool = write_spool(
        entry,
        NewSpool(
            name=row.name,
            material=row.material,
            empty_spool=empty_spool,
            tare=tare,
            place=row.place or table.place,
            moisture=moisture,
            colour=row.colour,
            maker=row.maker,
            purpose=row.purpose,
            strand_diameter_mm=numbers.get("diameter_mm", USUAL_DIAMETER_MM),
        ),
        at,
        book,
    )
    if table.scale is not None and "gross_g" in numbers:
        write_weighing(entry, spool, Reading(table.scale, numbers["gross_g"], uuid4()), at, None, book)
    return spool
