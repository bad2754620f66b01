"""Changing one's mind about what is running: longer, shorter, hotter or cooler, as an event of the same batch."""

from datetime import datetime

from django.db import transaction
from django.utils import timezone

from darre.common.errors import Refusal
from darre.common.saved import Saved
from darre.history.recorder import history_entry
from darre.inventory.actions.moments import refuse_impossible_time
from darre.inventory.material_book import material_book
from darre.planning.actions.start_run import refuse_harm
from darre.runs.models import EventKind, Run, RunEvent
from darre.runs.records import dryer_then, load_then, room_then
from darre.runs.selectors import running_in
from drying.dryers import Setup


@transaction.atomic
def change_run(
    run: Run,
    temp_c: float | None = None,
    duration_h: float | None = None,
    at: datetime | None = None,
    reason: str = "",
) -> Saved[RunEvent]:
    """Set other degrees, °C at the spools, or other hours of heat in all, for everything that is in the box with it.

    Raises Refusal: ended, in the future, before the start, nothing changed, and as starting does for a temperature.
    """
    at = at or timezone.now()
    refuse_impossible_time(at)
    batch = run.batch
    if run.ended_at is not None:
        raise Refusal("already_ended", f"This run of {run.spool.name} has ended already.", status=409)
    if at < batch.started_at:
        raise Refusal("outside_run", (at, " lies before the start. Give a time within the run."), "at", 400)
    if temp_c is None and duration_h is None:
        raise Refusal("nothing_changed", "Needed: another temperature, or other hours.", "temp_c", 400)
    together = [other for other in running_in(batch.dryer) if other.batch_id == batch.pk]
    if temp_c is not None:
        book = material_book()
        loads = tuple(load_then(other, book, other.net_g) for other in together)
        refuse_harm(Setup(loads, dryer_then(batch), room_then(batch)), temp_c, reason)
    names = " and ".join(other.spool.name for other in together)
    with history_entry("run.changed", f"Changed the drying of {names}") as entry:
        event = RunEvent(
            batch=batch, kind=EventKind.CHANGED, at=at, temp_c=temp_c, duration_h=duration_h, note=reason.strip()
        )
        entry.create(event)
    return entry.saved(event)
