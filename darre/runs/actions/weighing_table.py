"""Adding a table of weighings as one act, which is undone whole."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import datetime
from uuid import uuid4

from django.db import transaction

from darre.common.errors import Refusal
from darre.common.saved import Saved
from darre.equipment.models import Scale
from darre.history.recorder import computed_before_writing, history_entry, refuse_if_changed_since
from darre.inventory.actions.moments import refuse_impossible_time
from darre.inventory.material_book import MaterialBook, material_book
from darre.inventory.models import FilamentUse, Spool
from darre.places.actions.arrivals import write_earlier_arrival
from darre.runs.actions.weighed_before import Weighed, printed_before, printed_up_to_known, weighed_of
from darre.runs.actions.weighings import Reading, refuse_impossible, shows, weighing_of
from darre.runs.models import Weighing
from darre.runs.weighing_table import WeighingRow, WeighingTable


@dataclass
class Judged:
    """The table with what becomes of each row, and the records that they make."""

    table: WeighingTable
    weighings: list[Weighing] = field(default_factory=list)
    uses: list[FilamentUse] = field(default_factory=list)

    @property
    def earliest(self) -> Mapping[Spool, datetime]:
        """The first moment of each spool that is weighed."""
        found: dict[Spool, datetime] = {}
        for weighing in self.weighings:
            found[weighing.spool] = min(weighing.at, found.get(weighing.spool, weighing.at))
        return found


def fitting_scale(masses: Sequence[float]) -> Scale:
    """The coarsest scale that shows the digits of these masses and carries them; else the one with the most range.
    Raises Refusal where there is no scale.
    """
    scales = list(Scale.objects.order_by("-max_g", "-resolution_g"))
    if not scales:
        raise Refusal("no_scale", "Needed: the scale that they were weighed on. Add it in Kit first.", "scale", 400)
    return next((scale for scale in scales if all(shows(scale, mass) for mass in masses)), scales[0])


def judge_weighings(table: WeighingTable, scale: Scale) -> Judged:
    """What becomes of the rows, in the order of their moments, whatever that of the rows: as if each had been weighed
    then. What a spool lost that water cannot explain was printed off.
    """
    book, judged = material_book(), Judged(table)
    spools = {row.spool.pk: row.spool for row in table.good if row.spool}
    known = {pk: weighed_of(spool) for pk, spool in spools.items()}
    done: dict[int, WeighingRow] = {}
    for row in sorted(table.good, key=lambda row: (row.at, row.line)):
        assert row.spool is not None
        try:
            done[row.line] = _judge(row, known[row.spool.pk], scale, book, judged)
        except Refusal as refusal:
            done[row.line] = replace(row, problem=refusal.says)
    for of in known.values():
        judged.uses += printed_up_to_known(of, book)
    judged.table = replace(table, rows=tuple(done.get(row.line, row) for row in table.rows))
    return judged


def _judge(row: WeighingRow, of: Weighed, scale: Scale, book: MaterialBook, judged: Judged) -> WeighingRow:
    assert row.at is not None
    assert row.gross_g is not None
    reading = Reading(scale, row.gross_g, uuid4(), row.note)
    refuse_impossible_time(row.at)
    refuse_impossible(of.spool, reading)
    if of.knows(row.at, row.gross_g):
        raise Refusal("known", "It is there already.", "gross_g")
    printed = printed_before(row.at, reading, of, book)
    if printed is not None:
        judged.uses.append(printed)
        of.uses.append(printed)
    weighing = weighing_of(of.spool, reading, row.at, None, doubtful=False)
    judged.weighings.append(weighing)
    of.join(weighing)
    return replace(row, printed_g=printed.mass_g if printed else 0.0)


def add_weighings(table: WeighingTable, scale: Scale) -> Saved[WeighingTable]:
    """Add every row that nothing is wrong with, as one entry. Raises Refusal where no row can be added."""
    return computed_before_writing(lambda last_entry: _add(judge_weighings(table, scale), last_entry))


@transaction.atomic
def _add(judged: Judged, last_entry: int) -> Saved[WeighingTable]:
    if not judged.weighings:
        raise Refusal("nothing_to_add", "No row can be added: see what is said beside each.", "text", 400)
    with history_entry("weighing.imported", f"Added {len(judged.weighings)} weighings from a table") as entry:
        refuse_if_changed_since(last_entry)
        for spool, at in judged.earliest.items():
            write_earlier_arrival(entry, spool, at)
        entry.create_all(judged.uses)
        entry.create_all(judged.weighings)
    return entry.saved(judged.table)


def spools_of(rows: Sequence[WeighingRow]) -> int:
    """How many spools the rows are of."""
    return len({row.spool.pk for row in rows if row.spool})
