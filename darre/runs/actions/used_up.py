"""A spool is used up: it leaves the rack, and its empty spool tells what its brothers' weigh."""

from datetime import datetime

from django.db import transaction
from django.utils import timezone

from darre.common.errors import Refusal
from darre.common.saved import Saved
from darre.history.recorder import OpenEntry, history_entry
from darre.inventory.models import Spool
from darre.inventory.records import tare_columns
from darre.inventory.selectors import emptied_twins_g
from darre.places.actions.arrivals import take_off_rack
from darre.runs.models import Run, Weighing
from drying.errors import Amount
from drying.weighing import Tare, TareMethod, tare_spread_g, twin_tare


@transaction.atomic
def use_up(spool: Spool, empty_g: float | None = None, at: datetime | None = None) -> Saved[list[Spool]]:
    """Take a spool off the rack; `empty_g` is what its empty spool weighs now, where it was weighed.

    With that its own weighings count from the mass that was measured, and spools of the same make, whose mass is not
    measured, from the mean of the make. Returns those. Raises Refusal as `take_off_rack` does, OutOfRangeError for a
    mass that no empty spool has.
    """
    with history_entry("spool.archived", f"Took {spool.name} off the rack") as entry:
        take_off_rack(entry, spool, at or timezone.now())
        corrected = [] if empty_g is None else _weighed_empty(entry, spool, empty_g)
    return entry.saved(corrected)


def _weighed_empty(entry: OpenEntry, spool: Spool, empty_g: float) -> list[Spool]:
    if not count_from(entry, spool, Tare(empty_g, tare_spread_g(TareMethod.MEASURED), TareMethod.MEASURED)):
        says = (Amount(empty_g, "g"), f" is more than {spool.name} weighed with filament on it. Weigh it again.")
        raise Refusal("more_than_with_filament", says, "empty_g", 400)
    twin = twin_tare(emptied_twins_g(spool.empty_spool))
    brothers = Spool.objects.filter(empty_spool=spool.empty_spool).exclude(tare_method=TareMethod.MEASURED)
    return [brother for brother in brothers if count_from(entry, brother, twin)]


def count_from(entry: OpenEntry, spool: Spool, tare: Tare) -> bool:
    """Count a spool's weighings and runs from another tare. False where it weighed less once: it is of another make."""
    weighings = list(Weighing.objects.filter(spool=spool, weighed_object=Weighing.Object.SPOOL))
    if any(weighing.gross_g < tare.mass_g for weighing in weighings):
        return False
    for run in Run.objects.filter(spool=spool, coil__isnull=True, net_g__isnull=False):
        entry.update(run, net_g=max((run.net_g or 0.0) + spool.tare_g - tare.mass_g, 0.0))
    for record in (*weighings, spool):
        entry.update(record, **tare_columns(tare))
    return True
