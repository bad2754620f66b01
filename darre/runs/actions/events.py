"""What happens in a run: lid, turn, timer, desiccant, sensor, pause, power cut; and the meter's readings."""

from dataclasses import dataclass
from datetime import datetime

from django.db import transaction
from django.utils import timezone

from darre.common.errors import Refusal
from darre.common.saved import Saved
from darre.history.recorder import history_entry
from darre.runs.actions.weighings import refuse_impossible_time
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


@dataclass(frozen=True)
class NewEvent:
    """What happened in a run: when (None: now), for how many minutes where that counts (power away, timer set for), and
    when the timer that was set again had run out, where that was seen.
    """

    kind: EventKind
    at: datetime | None = None
    minutes: float | None = None
    out_at: datetime | None = None
    note: str = ""


def _refuse_outside(run: Run, at: datetime, field: str) -> None:
    refuse_impossible_time(at)
    if at < run.started_at or (run.ended_at is not None and at > run.ended_at):
        raise Refusal("outside_run", (at, " lies outside this run. Give a time within it."), field, 400)


@transaction.atomic
def note_event(run: Run, new: NewEvent) -> Saved[RunEvent]:
    """Note what happened in a run.

    Raises Refusal: in the future, before the start or after the end, paused twice, resumed without a pause, a power
    cut without its minutes, a timer that ran out after it was set again.
    """
    at, kind = new.at or timezone.now(), new.kind
    _refuse_outside(run, at, "at")
    if kind is EventKind.POWER_CUT and new.minutes is None:
        raise Refusal("no_minutes", "Say for how many minutes the power was away.", "minutes", 400)
    if new.out_at is not None:
        _refuse_outside(run, new.out_at, "out_at")
        if kind is not EventKind.TIMER or new.out_at > at:
            raise Refusal(
                "ran_out_later", "The timer ran out before it was set again: give an earlier time.", "out_at", 400
            )
    _refuse_out_of_turn(run, kind)
    with history_entry(f"event.{kind.value}", f"{IN_WORDS[kind]}: {run.spool.name}") as entry:
        event = entry.create(
            RunEvent(batch=run.batch, kind=kind, at=at, minutes=new.minutes, out_at=new.out_at, note=new.note)
        )
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
