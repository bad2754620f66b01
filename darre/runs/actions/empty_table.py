"""Taking over a list of what empty spools weigh, as one act that is undone whole."""

from dataclasses import dataclass

from django.db import transaction

from darre.common.errors import Refusal
from darre.common.saved import Saved
from darre.history.recorder import history_entry
from darre.inventory.models import EmptySpool, Spool
from darre.inventory.selectors import emptied_twins_g
from darre.runs.actions.used_up import count_from
from darre.runs.empty_table import EmptyTable, sizes_of
from drying.weighing import TareMethod, twin_tare


@dataclass(frozen=True)
class TakenOver:
    """How many makes were added or changed, and how many spools are counted from their mass from now on."""

    makes: int
    spools: int


@transaction.atomic
def take_over(table: EmptyTable) -> Saved[TakenOver]:
    """Take over every row that nothing is wrong with, as one entry. Spools of a make whose empty mass nobody knew are
    counted from it from now on; what was weighed here stays. Raises Refusal where there is none.
    """
    rows = table.good
    if not rows:
        raise Refusal("nothing_to_add", "No row can be taken over: see what is said beside each.", "text", 400)
    spools = 0
    counted = "1 empty mass" if len(rows) == 1 else f"{len(rows)} empty masses"
    with history_entry("empty_spool.imported", f"Took over {counted}") as entry:
        for row in rows:
            values = {"kind": row.kind, "listed_g": row.listed_g, **sizes_of(row)}
            if row.known is None:
                entry.create(EmptySpool(name=row.name, **values))
                continue
            empty_spool = entry.update(row.known, **values)
            tare = twin_tare(emptied_twins_g(empty_spool))
            unknown = Spool.objects.filter(empty_spool=empty_spool, tare_method=TareMethod.UNKNOWN)
            spools += sum(count_from(entry, spool, tare) for spool in unknown)
    return entry.saved(TakenOver(len(rows), spools))
