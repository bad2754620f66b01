"""What happens in a run: lid, turn, timer, desiccant, sensor, pause, power cut; and the meter's readings."""

from datetime import datetime

from django.db import transaction
from django.utils import timezone

from darre.common.errors import Refusal
from darre.common.saved import Saved
from darre.history.recorder import history_entry
from darre.runs.actions.weighings import refuse_future
from darre.runs.models import EventKind, Run, RunEvent
from darre.runs.records import is_paused

IN_WORDS = {
    EventKind.LID: "Lid opened",
    EventKind.TURNED: "Turned the spool",
    EventKind.TIMER: "Restarted the timer",
    EventKind.DESICCANT: "Changed the desiccant",
    EventKind.SENSOR: "Moved the sensor",
    EventKind.PAUSED: "Paused",
    EventKind.RESUMED: "Resumed",
    EventKind.POWER_CUT: "Power cut",
    EventKind.CHANGED: "Changed the plan",
    EventKind.OTHER: "Noted",
}


def _refuse_out_of_turn(run: Run, kind: EventKind) -> None:
    paused = is_paused(run.batch)
    if kind is EventKind.PAUSED and paused:
        raise Refusal("already_paused", f"This run of {run.spool.name} is paused already.", "kind")
    if kind is EventKind.RESUMED and not paused:
        raise Refusal("not_paused", f"This run of {run.spool.name} is not paused, so it cannot be resumed.", "kind")


@transaction.atomic
def note_event(
    run: Run, kind: EventKind, at: datetime | None = None, minutes: float | None = None, note: str = ""
) -> Saved[RunEvent]:
    """Note what happened in a run.

    Raises Refusal: in the future, before the start or after the end, paused twice, resumed without a pause, a power
    cut without its minutes.
    """
    at = at or timezone.now()
    refuse_future(at)
    if at < run.started_at or (run.ended_at is not None and at > run.ended_at):
        raise Refusal("outside_run", (at, " lies outside this run. Give a time within it."), "at", 400)
    if kind is EventKind.POWER_CUT and minutes is None:
        raise Refusal("no_minutes", "Say for how many minutes the power was away.", "minutes", 400)
    _refuse_out_of_turn(run, kind)
    with history_entry(f"event.{kind.value}", f"{IN_WORDS[kind]}: {run.spool.name}") as entry:
        event = entry.create(RunEvent(batch=run.batch, kind=kind, at=at, minutes=minutes, note=note))
    return entry.saved(event)


@transaction.atomic
def remove_event(event: RunEvent) -> Saved[None]:
    """Take an event out of a run."""
    names = ", ".join(event.batch.runs.values_list("spool__name", flat=True))
    with history_entry("event.removed", f"Removed: {IN_WORDS[EventKind(event.kind)].lower()}, {names}") as entry:
        entry.delete(event)
    return entry.done()


@transaction.atomic
def note_energy(run: Run, start_kwh: float | None, end_kwh: float | None) -> Saved[None]:
    """Note what the meter of a run's box showed at the start and now.

    Raises Refusal where it would have run backwards.
    """
    if start_kwh is not None and end_kwh is not None and end_kwh < start_kwh:
        raise Refusal(
            "meter_backwards", f"{end_kwh:g} kWh is less than the {start_kwh:g} kWh at the start.", "end_kwh", 400
        )
    with history_entry("run.metered", f"Read the meter for {run.spool.name}") as entry:
        entry.update(run.batch, energy_start_kwh=start_kwh, energy_end_kwh=end_kwh)
    return entry.done()
