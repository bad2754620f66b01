"""Starting the run that was planned."""

from dataclasses import dataclass
from datetime import datetime
from uuid import UUID

from django.db import transaction
from django.utils import timezone

from darre.common.errors import Refusal
from darre.common.saved import Saved
from darre.equipment.models import Dryer
from darre.equipment.records import core_dryer
from darre.history.recorder import computed_before_writing, history_entry, refuse_if_changed_since
from darre.inventory.actions.moments import refuse_before_it_was_there, refuse_future
from darre.inventory.models import Spool
from darre.moisture.lanes import load_now
from darre.places.selectors import room_now
from darre.runs.actions.weighings import (
    Reading,
    refuse_impossible,
    running_run,
    write_weighing,
)
from darre.runs.models import Run
from darre.runs.selectors import learned_rate
from drying.air import RoomAir
from drying.dryers import Dryer as CoreDryer
from drying.dryers import Limit, LimitKind, Load, Setup, broken_limits

LEAST_REASON = 4  # characters; shorter is no reason
SAME_TEMP_C = 1.0


@dataclass(frozen=True)
class NewRun:
    """A run as it is to be started. `weigh_in` may be missing: then the scale cannot judge this run."""

    spool: Spool
    dryer: Dryer
    temp_c: float
    duration_h: float
    client_key: UUID
    method: str = ""
    form: str = ""  # as the spool is, where it is not said
    override_reason: str = ""
    weigh_in: Reading | None = None
    at: datetime | None = None


def _in_words(limit: Limit) -> str:
    words = {
        LimitKind.FILAMENT_SOFT: "the filament softens above",
        LimitKind.FILAMENT_FUSE: "the turns stick together from",
        LimitKind.SPOOL_SAG: "the empty spool sags above",
        LimitKind.DRYER_MAX: "the dryer gets no hotter than",
        LimitKind.DRYER_MIN: "the dryer goes no lower than",
    }
    return f"{words[limit.kind]} {limit.temp_c:g} °C"


def refuse_harm(load: Load, dryer: CoreDryer, room: RoomAir, temp_c: float, reason: str) -> None:
    """Raise Refusal where the temperature goes past a limit: without a way round where it would melt the strand,
    else until the person gives a reason.
    """
    broken = broken_limits(Setup((load,), dryer, room), temp_c)
    if not broken:
        return
    why = "; ".join(_in_words(x) for x in broken)
    extra = {"limits": [{"kind": x.kind.value, "temp_c": x.temp_c, "overridable": x.overridable} for x in broken]}
    if not all(x.overridable for x in broken):
        raise Refusal(
            "would_melt", f"{temp_c:g} °C would ruin this spool: {why}. Choose less.", "temp_c", status=400, extra=extra
        )
    if len(reason.strip()) < LEAST_REASON:
        raise Refusal(
            "over_limit",
            f"{temp_c:g} °C goes past a limit: {why}. Choose another temperature, or say why you want it.",
            "override_reason",
            extra=extra,
        )


def _refuse_no_room(spool: Spool, dryer: Dryer, temp_c: float) -> None:
    present = running_run(spool)
    if present is not None:
        raise Refusal(
            "already_running",
            f"{spool.name} is already being dried in {present.dryer.name}. End that run first.",
            "spool",
            extra={"run": present.id},
        )
    others = list(Run.objects.filter(dryer=dryer, ended_at__isnull=True).select_related("spool"))
    names = ", ".join(r.spool.name for r in others)
    if len(others) >= dryer.slots:
        raise Refusal("dryer_full", f"{dryer.name} is full: {names}. Take one out, or choose another dryer.", "dryer")
    hotter = next((r for r in others if abs(r.temp_c - temp_c) > SAME_TEMP_C), None)
    if hotter:
        raise Refusal(
            "dryer_busy",
            f"{dryer.name} is running at {hotter.temp_c:g} °C with {names}. "
            f"Join at {hotter.temp_c:g} °C, or choose another dryer.",
            "temp_c",
        )


def start_run(new: NewRun) -> Saved[Run]:
    """Start a run, with the first weighing where there is one.

    Raises Refusal: spool already in a run, dryer full, another temperature set, a limit passed without a reason, a
    mass that cannot be; OutOfRangeError for a temperature or hours out of range.
    """
    return computed_before_writing(lambda last_entry: _start_run(new, last_entry))


def _start_run(new: NewRun, last_entry: int) -> Saved[Run]:
    known = Run.objects.filter(client_key=new.client_key).first()
    if known is not None:
        return Saved(known)
    at = new.at or timezone.now()
    refuse_future(at)
    refuse_before_it_was_there(new.spool, at)
    load, room = load_now(new.spool.id, at), room_now(at)
    refuse_harm(load, core_dryer(new.dryer), room.air, new.temp_c, new.override_reason)
    if new.weigh_in is not None:
        refuse_impossible(new.spool, new.weigh_in)
    rate = learned_rate(new.spool, new.dryer.pk)
    run = Run(
        spool=new.spool,
        dryer=new.dryer,
        method=new.method,
        form=Spool.Form.LOOSE if new.weigh_in and new.weigh_in.is_coil else new.form or new.spool.form,
        temp_c=new.temp_c,
        duration_h=new.duration_h,
        override_reason=new.override_reason.strip(),
        started_at=at,
        room_temp_c=room.air.temp_c,
        room_rh_pct=room.air.rh_pct,
        start_moisture_pct=load.start.value,
        start_sd_pct=load.start.uncertainty,
        aim_pct=load.material.aim_pct,
        rate_median=rate.median,
        rate_sigma=rate.sigma,
        client_key=new.client_key,
    )
    return _write_run(run, new, last_entry)


@transaction.atomic
def _write_run(run: Run, new: NewRun, last_entry: int) -> Saved[Run]:
    known = Run.objects.filter(client_key=run.client_key).first()
    if known is not None:
        return Saved(known)
    _refuse_no_room(run.spool, run.dryer, run.temp_c)
    refuse_if_changed_since(last_entry)
    with history_entry("run.started", f"Started drying {run.spool.name} in {run.dryer.name}") as entry:
        entry.create(run)
        if new.weigh_in is not None:
            write_weighing(entry, run.spool, new.weigh_in, run.started_at, run)
    return entry.saved(run)
