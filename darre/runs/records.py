"""Records of runs as the core's plain values."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime, timedelta
from typing import Any

from django.db.models import Prefetch, QuerySet

from darre.equipment.records import core_scale, dryer_from_stored
from darre.inventory.material_book import MaterialBook
from darre.inventory.models import Spool
from darre.inventory.records import core_load
from darre.runs.apps import run_caches
from darre.runs.lessons import rate_then
from darre.runs.models import Batch, EventKind, Run, Weighing
from drying.air import RoomAir
from drying.dryers import (
    ALWAYS,
    Attended,
    Load,
    Pause,
    Stay,
    TimerPlan,
    TimerSet,
    end_with_pauses_h,
    heated_h,
    plan_timer,
    tidy,
    timer_pauses,
    turn_over_h,
)
from drying.dryers import Dryer as CoreDryer
from drying.materials import as_cool, empty_spool_kind
from drying.quantity import Quantity
from drying.runs import Heat, Planned
from drying.weighing import Weighing as CoreWeighing


def core_weighing(weighing: Weighing) -> CoreWeighing:
    """A weighing as the core takes it."""
    return CoreWeighing(weighing.gross_g, core_scale(weighing.scale), weighing.warm, weighing.surface_wet)


def runs_with_weighings() -> QuerySet[Run]:
    """Runs with all that judging them needs, in a constant number of queries."""
    together = (
        Run.objects.select_related("spool__empty_spool", "coil")
        .defer("forecast", "lesson")
        .order_by("started_at", "id")
    )
    return Run.objects.select_related("spool__empty_spool", "coil", "batch__dryer").prefetch_related(
        "batch__dryer__probes",
        "batch__events",
        "spool__uses",
        Prefetch("batch__runs", together),
        Prefetch("weighings", Weighing.objects.select_related("scale", "coil").order_by("at", "id")),
    )


def read_forecasts(runs: Sequence[Run]) -> None:
    """Read the planned courses of runs that were read without them, in one query."""
    told = dict(Run.objects.filter(pk__in=[run.pk for run in runs]).values_list("pk", "forecast"))
    for run in runs:
        run.forecast = told.get(run.pk, {})  # its start may have been undone since


def read_tickets(runs: Sequence[Run]) -> None:
    """Read the tickets of runs whose batches were read without them, in one query."""
    told = dict(Batch.objects.filter(runs__in=[run.pk for run in runs]).values_list("pk", "ticket")) if runs else {}
    for run in runs:
        run.batch.ticket = told.get(run.batch_id, {})  # its start may have been undone since


def counted(run: Run) -> list[Weighing]:
    """The weighings of a run that estimates are made from: all but the doubtful."""
    return [w for w in run.weighings.all() if not w.doubtful]


def dryer_then(batch: Batch) -> CoreDryer:
    """The dryer of a batch as it was known when the batch was started."""
    stored = batch.dryer_then
    return run_caches().dryers.get(repr(stored), lambda: dryer_from_stored(stored))


def room_then(batch: Batch) -> RoomAir:
    """The room's air as it was when a batch was started."""
    return RoomAir(batch.room_temp_c, batch.room_rh_pct)


def in_open_winding(run: Run) -> bool:
    """Whether its turns counted as lying free in the dryer that it was in."""
    return run.form == Spool.Form.WOUND and dryer_then(run.batch).opens_winding


def load_then(run: Run, book: MaterialBook, net_g: float | None) -> Load:
    """What went in, as it was known then; `net_g`: the filament's mass."""
    start = Quantity(run.start_moisture_pct, run.start_sd_pct)
    load = core_load(run.spool, book[run.spool.material], start, net_g, run.form, rate_then(run))
    return replace(
        load,
        soaked=run.coil is not None and run.coil.soaked,
        open_winding=in_open_winding(run),
    )


BODY_FORGETS = timedelta(hours=24)  # card has come back to the room by then


def body_activity_after(batch: Batch) -> float:
    """The water activity that a card body has come to in a batch's air, as cool as its isotherm's."""
    hot_c = temp_now_c(batch)
    return as_cool(room_then(batch).activity_at(hot_c), hot_c)


@dataclass(frozen=True)
class ClosedAir:
    """The air of a container: its water activity, and since when it was about a spool."""

    activity: float
    since: datetime


def body_activity_at(spool: Spool, at: datetime, room: RoomAir, closed: ClosedAir | None = None) -> float | None:
    """The water activity of the air that a card spool's body is at, where it has not come back to the room's since its
    last run, or stands in a container (`closed`); None where it has, and for plastic.
    """
    kind = empty_spool_kind(spool.empty_spool.kind)
    before = spool.runs.filter(ended_at__gt=at - BODY_FORGETS, ended_at__lte=at, coil=None).order_by("-ended_at")
    last = before.select_related("batch").first() if kind.isotherm else None
    outside = as_cool(room.rh_pct / 100.0, room.temp_c)
    now = outside if closed is None else closed.activity
    if last is not None and last.ended_at is not None:
        return kind.activity_after(body_activity_after(last.batch), now, hours_between(last.ended_at, at))
    if closed is None or not kind.isotherm:
        return None
    return kind.activity_after(outside, now, hours_between(closed.since, at))


def heats(batch: Batch) -> list[Heat]:
    """The air at the spools, from when on, h after the batch's start."""
    changed = [(hours_between(batch.started_at, e.at), e.temp_c) for e in batch.events.all() if e.temp_c is not None]
    return [(0.0, batch.temp_c), *changed]


def temp_now_c(batch: Batch) -> float:
    """The air at the spools as it was set last, °C."""
    return heats(batch)[-1][1]


def _noted_pauses(batch: Batch, until_h: float) -> list[Pause]:
    found, since = [], None
    for event in batch.events.all():
        at = hours_between(batch.started_at, event.at)
        if event.kind == EventKind.POWER_CUT:
            found.append((at, at + (event.minutes or 0.0) / 60.0))
        elif event.kind == EventKind.PAUSED and since is None:
            since = at
        elif event.kind == EventKind.RESUMED and since is not None:
            found.append((since, at))
            since = None
    if since is not None:
        found.append((since, max(until_h, since)))
    return tidy(found)


def _heat_planned_h(batch: Batch, at: datetime) -> float:
    """Hours of heat that were planned of a batch in all at a moment, from its start."""
    started = [joined_h(run) + run.duration_h for run in batch.runs.all() if run.started_at <= at]
    changed = [e.duration_h for e in batch.events.all() if e.duration_h is not None and e.at <= at]
    return changed[-1] if changed else max(started, default=0.0)


def _timer_sets(batch: Batch) -> list[TimerSet]:
    """When the timer was set: at each start, when the heat was switched on again, and when it was noted."""
    starts = {run.started_at for run in batch.runs.all()} | {batch.started_at}
    found = [TimerSet(hours_between(batch.started_at, at), _heat_planned_h(batch, at)) for at in starts]
    for event in batch.events.all():
        if event.kind in (EventKind.TIMER, EventKind.RESUMED):
            set_h = event.minutes / 60.0 if event.minutes and event.kind == EventKind.TIMER else None
            out_h = None if event.out_at is None else hours_between(batch.started_at, event.out_at)
            at_h = hours_between(batch.started_at, event.at)
            found.append(TimerSet(at_h, _heat_planned_h(batch, event.at), set_h, out_h))
    return found


def _off(batch: Batch, until: datetime) -> tuple[list[Pause], list[Pause], float | None]:
    """When the heat was off as noted, when because the timer had run out, and when the present turn runs out."""
    until_h = hours_between(batch.started_at, until)
    noted = _noted_pauses(batch, until_h)
    timer, out_h = timer_pauses(dryer_then(batch), _timer_sets(batch), noted, until_h)
    return noted, timer, out_h


def pauses(batch: Batch, until: datetime) -> list[Pause]:
    """When the heat was off, h after the batch's start: paused, without power, or with the timer run out. What goes on
    lasts until `until`.
    """
    noted, timer, _ = _off(batch, until)
    return tidy([*noted, *timer])


def is_off(batch: Batch, at: datetime) -> bool:
    """Whether its heat is off at a moment, by hand or because the timer has run out."""
    _, _, out_h = _off(batch, at)
    return is_paused(batch) or (out_h is not None and out_h < hours_between(batch.started_at, at))


def attended(batch: Batch) -> Attended:
    """When somebody is there, by the clock of the batch, as it was known at its start."""
    told = batch.ticket.get("attended")
    return ALWAYS if told is None else Attended(tuple((begin, end) for begin, end in told["spans"]))


@dataclass(frozen=True)
class TimerNow:
    """The timer of a running run, h after the run's start: since when it has run out (None: it runs), when to set it
    next (at once, where it has run out), and for how long.
    """

    out_since_h: float | None
    set_at_h: float
    set_h: float


def _without_rounding(hours: float) -> float:
    """Hours that were found by way of the present moment, without what rounding left of it."""
    return round(hours, 6)


def _timer_ahead(run: Run, now: datetime) -> tuple[float | None, TimerPlan]:
    """Since when the timer of a run that is not paused has run out, and how it is to be set from now on, both by the
    batch's clock.
    """
    batch = run.batch
    noted, timer, out_h = _off(batch, now)
    now_h = hours_between(batch.started_at, now)
    done = heated_h(of_run(run, tidy([*noted, *timer])), now_h - joined_h(run))
    left = max(planned_h(run) - done, 0.0)
    plan = plan_timer(dryer_then(batch), left, attended(batch), now_h, out_h)
    return (out_h if out_h is not None and out_h < now_h else None), plan


def timer_now(run: Run, now: datetime) -> TimerNow | None:
    """What is to be done about the timer of a running run; None where nothing is: it has none, it lasts to the end."""
    if run.ended_at is not None or is_paused(run.batch) or dryer_then(run.batch).longest_turn_h is None:
        return None
    since, plan = _timer_ahead(run, now)
    if not plan.turns:
        return None
    offset, turn = joined_h(run), plan.turns[0]
    if since is not None:
        return TimerNow(_without_rounding(since - offset), _without_rounding(since - offset), turn.set_h)
    return TimerNow(None, _without_rounding(turn.at_h - offset), turn.set_h)


def is_paused(batch: Batch) -> bool:
    """Whether its heat is switched off now."""
    last = [e.kind for e in batch.events.all() if e.kind in (EventKind.PAUSED, EventKind.RESUMED)]
    return bool(last) and last[-1] == EventKind.PAUSED


def joined_h(run: Run) -> float:
    """When a run began, h after its batch's start."""
    return hours_between(run.batch.started_at, run.started_at)


def of_run(run: Run, spans: list[Pause]) -> list[Pause]:
    """Spans of the batch's clock by the clock of one of its runs."""
    offset = joined_h(run)
    return [(max(begin - offset, 0.0), end - offset) for begin, end in spans if end > offset]


def planned_h(run: Run) -> float:
    """Hours of heat that are planned for a run: as it was started, or as changed last while it was in."""
    changed = [
        e.duration_h - joined_h(run)
        for e in run.batch.events.all()
        if e.duration_h is not None and run.started_at <= e.at and (run.ended_at is None or e.at <= run.ended_at)
    ]
    return max(changed[-1], 0.01) if changed else run.duration_h


def planned(run: Run, now: datetime) -> Planned:
    """When a run is to end and to be weighed: by its ticket, with what was changed, the heat that was off since, and
    the hours in which nobody will be there to set the timer.
    """
    off = of_run(run, pauses(run.batch, min(now, run.ended_at or now)))
    end_h = end_with_pauses_h(off, planned_h(run))
    if run.ended_at is None and end_h > hours_between(run.started_at, now) and not is_paused(run.batch):
        end_h = _without_rounding(_timer_ahead(run, now)[1].end_h - joined_h(run))
    weigh_at = tuple(h - joined_h(run) for h in run.batch.ticket.get("weigh_at_h", []) if h > joined_h(run))
    return Planned(end_h, weigh_at)


def turn_over_at_h(run: Run) -> float:
    """When to turn a spool over, h after its start: as the ticket says, or halfway where the plan was changed since or
    it joined later.
    """
    told = run.batch.ticket.get("turn_over_h")
    as_started = joined_h(run) == 0.0 and planned_h(run) == run.duration_h
    return float(told) if told is not None and as_started else turn_over_h(planned_h(run))


def stays(batch: Batch, book: MaterialBook) -> list[Stay]:
    """Everything that was in the box, from when to when, h after the batch's start; in the order of `batch.runs`."""
    return [
        Stay(
            load_then(run, book, run.net_g),
            hours_between(batch.started_at, run.started_at),
            None if run.ended_at is None else hours_between(batch.started_at, run.ended_at),
        )
        for run in batch.runs.all()
    ]


def shares_box(run: Run) -> bool:
    """Whether another wound spool wetted the air of the box that it was in at some time."""
    return not dryer_then(run.batch).opens_winding and any(
        other.pk != run.pk
        and other.form == Spool.Form.WOUND
        and (run.ended_at is None or other.started_at < run.ended_at)
        and (other.ended_at is None or run.started_at < other.ended_at)
        for other in run.batch.runs.all()
    )


def hours_between(start: datetime, end: datetime) -> float:
    """Hours from one moment to another."""
    return (end - start).total_seconds() / 3600.0


def frozen(values: Any) -> Any:
    """A plan's dataclasses and arrays as plain values that can be stored."""
    if hasattr(values, "tolist"):
        return values.tolist()
    if hasattr(values, "__dataclass_fields__"):
        return {name: frozen(getattr(values, name)) for name in values.__dataclass_fields__}
    if isinstance(values, list | tuple):
        return [frozen(value) for value in values]
    return values
