"""Starting what was planned, as one act."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import datetime
from typing import Any
from uuid import UUID

from django.db import transaction
from django.utils import timezone

from darre.common.errors import Refusal
from darre.common.saved import Saved
from darre.equipment.models import Dryer
from darre.equipment.records import stored_dryer
from darre.history.recorder import computed_before_writing, history_entry, refuse_if_changed_since
from darre.inventory.actions.moments import refuse_before_it_was_there, refuse_impossible_time
from darre.inventory.models import Spool
from darre.inventory.selectors import attended_after
from darre.planning.plans import Wanted, planned, ticket_of
from darre.runs.actions.weighings import (
    Reading,
    coil_meant,
    is_doubtful,
    refuse_impossible,
    running_run,
    with_coil,
    write_weighing,
)
from darre.runs.lessons import stored_cells
from darre.runs.models import Batch, Run
from darre.runs.records import body_activity_at, frozen, temp_now_c
from darre.runs.selectors import running_in
from drying.dryers import ALWAYS, Limit, LimitKind, Setup, broken_limits
from drying.errors import Amount, Sentence
from drying.materials import after_soaking
from drying.planning import Choice, Ticket

LEAST_REASON = 4  # characters; shorter is no reason
SAME_TEMP_C = 1.0


@dataclass(frozen=True)
class NewBatch:
    """What is to be started as one act: the spools, the one that was asked about first, and what was planned for them.

    `readings`: the first weighings, by the spool's key; where one is missing the scale cannot judge that run.
    """

    spools: Sequence[Spool]
    dryer: Dryer
    temp_c: float
    duration_h: float
    client_key: UUID
    method: str = ""
    form: str = ""  # as the spool is, where it is not said
    aim_pct: float | None = None
    override_reason: str = ""
    readings: Mapping[int, Reading] = field(default_factory=dict)
    at: datetime | None = None

    @property
    def names(self) -> str:
        """The spools by name."""
        names = " and ".join(spool.name for spool in self.spools)
        return f"a coil of {names}" if self.is_coil else names

    @property
    def is_coil(self) -> bool:
        """Whether a coil goes in, and not the spool that it was cut off."""
        reading = self.readings.get(self.spools[0].pk)
        return reading is not None and reading.is_coil


def _in_words(limit: Limit) -> Sentence:
    words = {
        LimitKind.FILAMENT_SOFT: "the filament softens above",
        LimitKind.FILAMENT_FUSE: "the turns stick together from",
        LimitKind.SPOOL_SAG: "the empty spool sags above",
        LimitKind.DRYER_MAX: "the dryer gets no hotter than",
        LimitKind.DRYER_MIN: "the dryer goes no lower than",
    }
    return f"{words[limit.kind]} ", Amount(limit.temp_c, "°C")


def refuse_harm(setup: Setup, temp_c: float, reason: str) -> None:
    """Raise Refusal where the temperature goes past a limit: without a way round where it would melt the strand,
    else until the person gives a reason.
    """
    broken = broken_limits(setup, temp_c)
    if not broken:
        return
    asked = Amount(temp_c, "°C")
    why = [part for x in broken for part in ("; ", *_in_words(x))][1:]
    extra = {"limits": [{"kind": x.kind.value, "temp_c": x.temp_c, "overridable": x.overridable} for x in broken]}
    if not all(x.overridable for x in broken):
        says = (asked, " would ruin this spool: ", *why, ". Choose less.")
        raise Refusal("would_melt", says, "temp_c", status=400, extra=extra)
    if len(reason.strip()) < LEAST_REASON:
        raise Refusal(
            "over_limit",
            (asked, " goes past a limit: ", *why, ". Choose another temperature, or say why you want it."),
            "override_reason",
            extra=extra,
        )


def _refuse_no_room(new: NewBatch, dryer: Dryer, temp_c: float) -> None:
    spools = [] if new.is_coil else new.spools
    for spool in new.spools:
        coil = new.readings[spool.pk].coil if new.is_coil else None
        present = None if new.is_coil and coil is None else running_run(spool, coil)
        if present is not None:
            named = spool.name if coil is None else f"{coil.name} of {spool.name}"
            raise Refusal(
                "already_running",
                f"{named} is already being dried in {present.dryer.name}. End that run first.",
                "spool",
                extra={"run": present.id},
            )
    others = running_in(dryer)
    names = ", ".join(r.spool.name for r in others)
    if spools and sum(r.coil_id is None for r in others) + len(spools) > dryer.slots:
        full = f"{dryer.name} is full: {names}. Take one out" if others else f"{dryer.name} holds {dryer.slots}"
        raise Refusal("dryer_full", f"{full}, or choose another dryer.", "dryer")
    set_to = temp_now_c(others[0].batch) if others else temp_c
    if abs(set_to - temp_c) > SAME_TEMP_C:
        runs_at = Amount(set_to, "°C")
        says = (f"{dryer.name} is running at ", runs_at, f" with {names}. Join at ", runs_at,
                ", or choose another dryer.")  # fmt: skip
        raise Refusal("dryer_busy", says, "temp_c")


def start_run(new: NewBatch) -> Saved[list[Run]]:
    """Start what was planned: all of its spools or none, with the first weighings where there are any.

    In a dryer that is running they join the batch that is in it. Pressing twice starts once.
    Raises Refusal: spool already in a run, dryer out of service or full, another temperature set, a limit passed
    without a reason, a mass that cannot be; OutOfRangeError for a temperature or hours out of range.
    """
    return computed_before_writing(lambda last_entry: _start_run(new, last_entry))


def _started(new: NewBatch) -> list[Run]:
    return list(Run.objects.filter(client_key=new.client_key).select_related("batch__dryer", "spool").order_by("id"))


def _start_run(new: NewBatch, last_entry: int) -> Saved[list[Run]]:
    known = _started(new)
    if known:
        return Saved(known)
    at = new.at or timezone.now()
    refuse_impossible_time(at)
    if not new.dryer.in_service:
        says = f"{new.dryer.name} is out of service. Put it back in service in Kit, or choose another dryer."
        raise Refusal("out_of_service", says, "dryer")
    for spool in new.spools:
        refuse_before_it_was_there(spool, at)
    new = replace(new, readings={pk: _of_its_coil(new, pk, reading) for pk, reading in new.readings.items()})
    doubtful = _doubtful(new, at)
    together = [*(s.pk for s in new.spools), *_wound_in(new.dryer, at)]
    lead = new.readings.get(new.spools[0].pk)
    wanted = Wanted(new.method, new.temp_c, new.duration_h, _form(new, lead), new.aim_pct)
    found = planned(together, new.dryer, wanted, at)
    setup = _with_readings(found.setup, new, doubtful)
    refuse_harm(setup, new.temp_c, new.override_reason)
    attended = attended_after(timezone.localtime(at))
    ticket = ticket_of(setup, Choice(new.temp_c, new.duration_h), attended)
    batch = _batch(new, at, setup, {**frozen(ticket), "attended": None if attended is ALWAYS else frozen(attended)})
    bodies = {
        it.spool.pk: body_activity_at(it.spool, at, setup.room, it.closed) for it in found.lanes[: len(new.spools)]
    }
    return _write(new, _Prepared(batch, setup, ticket, bodies), last_entry)


@dataclass(frozen=True)
class _Prepared:
    """What is worked out before anything is written; `bodies`: the activity that each spool's card body is at."""

    batch: Batch
    setup: Setup
    ticket: Ticket
    bodies: Mapping[int, float | None]


def _wound_in(dryer: Dryer, at: datetime) -> list[int]:
    """The spools that are in a dryer at a moment; a coil wets its air next to nothing."""
    return [run.spool_id for run in running_in(dryer) if run.started_at <= at and run.coil_id is None]


def _of_its_coil(new: NewBatch, spool: int, reading: Reading) -> Reading:
    """The reading as that of a coil of this spool, where a coil was weighed: the one that is named, or a new one."""
    if reading.coil is None or not reading.is_coil:
        return replace(reading, coil=None)
    return coil_meant(next(s for s in new.spools if s.pk == spool), reading)


def _doubtful(new: NewBatch, at: datetime) -> set[int]:
    """The spools whose reading water cannot explain.

    Raises Refusal for the first reading that cannot be; its field names the reading by its place.
    """
    found: set[int] = set()
    for place, spool in enumerate(spool for spool in new.spools if spool.pk in new.readings):
        try:
            refuse_impossible(spool, new.readings[spool.pk])
            if is_doubtful(spool, new.readings[spool.pk], at):
                found.add(spool.pk)
        except Refusal as refusal:
            raise replace(refusal, field=f"readings.{place}.{refusal.field}") from None
    return found


def _form(new: NewBatch, lead: Reading | None) -> str:
    """How the spools go in: a coil where a coil is what was weighed."""
    if lead is not None and lead.is_coil:
        if len(new.spools) > 1:
            raise Refusal("coil_with_others", "Start a coil by itself; other spools can join it.", "readings", 400)
        return Spool.Form.LOOSE.value
    return new.form


def _with_readings(setup: Setup, new: NewBatch, doubtful: set[int]) -> Setup:
    """The set-up with the masses that were weighed now in place of those that were expected, but for the doubtful."""
    loads = list(setup.loads)
    for n, spool in enumerate(new.spools):
        reading = new.readings.get(spool.pk)
        if reading is not None and spool.pk not in doubtful:
            loads[n] = replace(loads[n], net_g=reading.gross_g - (0.0 if reading.is_coil else spool.tare_g))
        if reading is not None and reading.coil is not None and reading.coil.soaked:
            loads[n] = replace(loads[n], start=after_soaking(loads[n].material, loads[n].start), soaked=True)
    return replace(setup, loads=tuple(loads))


@transaction.atomic
def _write(new: NewBatch, prepared: _Prepared, last_entry: int) -> Saved[list[Run]]:
    known = _started(new)
    if known:
        return Saved(known)
    _refuse_no_room(new, new.dryer, new.temp_c)
    refuse_if_changed_since(last_entry)
    at = prepared.batch.started_at
    with history_entry("run.started", f"Started drying {new.names} in {new.dryer.name}") as entry:
        others = running_in(new.dryer)
        batch = others[0].batch if others else entry.create(prepared.batch)
        if at < batch.started_at:  # noted later than the one that it was beside
            entry.update(batch, started_at=at)
        runs = []
        for load, course, spool in zip(prepared.setup.loads, prepared.ticket.forecasts, new.spools, strict=False):
            reading = new.readings.get(spool.pk)
            if reading is not None:
                reading = with_coil(entry, spool, reading, at)
            run = Run(
                batch=batch,
                spool=spool,
                coil=reading.coil if reading else None,
                form=load.form,
                duration_h=new.duration_h,
                started_at=at,
                start_moisture_pct=load.start.value,
                start_sd_pct=load.start.uncertainty,
                net_g=load.net_g,
                aim_pct=load.aim_pct,
                rate_median=load.rate.median,
                rate_sigma=load.rate.sigma,
                rate_cells=stored_cells(load.rate),
                forecast=frozen(course),
                body_activity=None if reading and reading.coil else prepared.bodies[spool.pk],
                client_key=new.client_key,
            )
            runs.append(entry.create(run))
            if reading is not None:
                write_weighing(entry, spool, reading, at, run)
    return entry.saved(runs)


def _batch(new: NewBatch, at: datetime, setup: Setup, ticket: dict[str, Any]) -> Batch:
    del ticket["forecasts"]  # each run has its own
    return Batch(
        dryer=new.dryer,
        method=new.method,
        temp_c=new.temp_c,
        override_reason=new.override_reason.strip(),
        started_at=at,
        room_temp_c=setup.room.temp_c,
        room_rh_pct=setup.room.rh_pct,
        dryer_then=stored_dryer(new.dryer),
        ticket=ticket,
    )
