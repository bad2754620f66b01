"""Records of runs as the core's plain values."""

from collections.abc import Sequence
from datetime import datetime
from typing import Any

from django.db.models import Prefetch, QuerySet

from darre.equipment.records import core_scale, dryer_of_facts
from darre.inventory.material_book import MaterialBook
from darre.inventory.models import Spool
from darre.inventory.records import core_load
from darre.runs.models import Batch, EventKind, Run, Weighing
from drying.air import RoomAir
from drying.dryers import Dryer as CoreDryer
from drying.dryers import Load, Stay
from drying.quantity import Quantity
from drying.runs import Heat, Pause, Planned, end_with_pauses_h, tidy
from drying.transport import Rate
from drying.weighing import Weighing as CoreWeighing


def core_weighing(weighing: Weighing) -> CoreWeighing:
    """A weighing as the core takes it."""
    return CoreWeighing(weighing.gross_g, core_scale(weighing.scale), weighing.warm, weighing.surface_wet)


def runs_with_weighings() -> QuerySet[Run]:
    """Runs with all that judging them needs, in a constant number of queries."""
    together = Run.objects.select_related("spool__empty_spool").defer("forecast").order_by("started_at", "id")
    return Run.objects.select_related("spool__empty_spool", "batch__dryer").prefetch_related(
        "batch__dryer__probes",
        "batch__events",
        "spool__uses",
        Prefetch("batch__runs", together),
        Prefetch("weighings", Weighing.objects.select_related("scale").order_by("at", "id")),
    )


def read_forecasts(runs: Sequence[Run]) -> None:
    """Read the planned courses of runs that were read without them, in one query."""
    told = dict(Run.objects.filter(pk__in=[run.pk for run in runs]).values_list("pk", "forecast"))
    for run in runs:
        run.forecast = told[run.pk]


def counted(run: Run) -> list[Weighing]:
    """The weighings of a run that estimates are made from: all but the doubtful."""
    return [w for w in run.weighings.all() if not w.doubtful]


def dryer_then(batch: Batch) -> CoreDryer:
    """The dryer of a batch as it was known when the batch was started."""
    return dryer_of_facts(batch.dryer_then)


def room_then(batch: Batch) -> RoomAir:
    """The room's air as it was when a batch was started."""
    return RoomAir(batch.room_temp_c, batch.room_rh_pct)


def load_then(run: Run, book: MaterialBook, net_g: float | None) -> Load:
    """What went in, as it was known then; `net_g`: the filament's mass."""
    start, rate = Quantity(run.start_moisture_pct, run.start_sd_pct), Rate(run.rate_median, run.rate_sigma)
    return core_load(run.spool, book[run.spool.material], start, net_g, run.form, rate)


def heats(batch: Batch) -> list[Heat]:
    """The air at the spools, from when on, h after the batch's start."""
    changed = [(hours_between(batch.started_at, e.at), e.temp_c) for e in batch.events.all() if e.temp_c is not None]
    return [(0.0, batch.temp_c), *changed]


def temp_now_c(batch: Batch) -> float:
    """The air at the spools as it was set last, °C."""
    return heats(batch)[-1][1]


def pauses(batch: Batch, until: datetime) -> list[Pause]:
    """When the heat was off, h after the batch's start; a pause that goes on lasts until `until`."""
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
        found.append((since, max(hours_between(batch.started_at, until), since)))
    return tidy(found)


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
    """When a run is to end and to be weighed: by its ticket, with what was changed and the heat that was off since."""
    off = of_run(run, pauses(run.batch, min(now, run.ended_at or now)))
    weigh_at = tuple(h - joined_h(run) for h in run.batch.ticket.get("weigh_at_h", []) if h > joined_h(run))
    return Planned(end_with_pauses_h(off, planned_h(run)), weigh_at)


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
    """Whether another wound spool was in the box with it at some time."""
    return any(
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
