"""Starting and ending a drying run."""

from dataclasses import dataclass
from datetime import datetime
from uuid import UUID

from django.db import transaction
from django.utils import timezone

from darre.common.errors import Refusal
from darre.ledger.book import Book, act
from darre.runs.actions.weighings import (
    Reading,
    belongs_to,
    refuse_impossible,
    running_run,
    write_weighing,
)
from darre.runs.lanes import load_now
from darre.runs.models import Dryer, Run, Weighing
from darre.runs.records import core_dryer
from darre.runs.selectors import get_run, judge_run, learned_rate
from darre.workshop.actions.moments import refuse_before_it_was_there, refuse_future
from darre.workshop.material_book import material_book
from darre.workshop.models import MoistureMark, Spool
from darre.workshop.selectors import room_now
from drying.air.psychrometrics import RoomAir
from drying.dryers.dryer import Dryer as CoreDryer
from drying.dryers.limits import Limit, LimitKind, broken_limits
from drying.dryers.setup import Load, Setup
from drying.runs.rate import told_alone
from drying.runs.verdict import RunState, Verdict
from drying.transport.uncertainty import Rate

LEAST_REASON = 4  # characters; shorter is no reason
SAME_TEMP_C = 1.0
TELLING = (RunState.DRY, RunState.GOING, RunState.STALLED)  # runs whose weigh-ins fit a course teach of its rate


@dataclass(frozen=True)
class NewRun:
    """A run as it is to be started. `weigh_in` may be missing: then the scale cannot judge this run."""

    spool: Spool
    dryer: Dryer
    temp_c: float
    duration_h: float
    client_key: UUID
    school: str = ""
    form: str = ""  # as the spool is, where it is not said
    override_reason: str = ""
    weigh_in: Reading | None = None
    at: datetime | None = None


def _in_words(limit: Limit) -> str:
    words = {
        LimitKind.STRAND_SOFT: "the strand softens above",
        LimitKind.STRAND_FUSE: "the turns stick together from",
        LimitKind.BODY_SAG: "the spool body sags above",
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


@dataclass(frozen=True)
class Started:
    """A run that is stored, and the line of history to take it back by (None where it stood already)."""

    run: Run
    line_id: int | None


@transaction.atomic
def start_run(new: NewRun) -> Started:
    """Start a run, with the weigh-in where there is one.

    Raises Refusal: spool already in a run, no slot free, another temperature set, a limit passed without a reason, a
    mass that cannot be; OutOfRangeError for a temperature or hours out of range.
    """
    known = Run.objects.filter(client_key=new.client_key).first()
    if known is not None:
        return Started(known, None)
    at = new.at or timezone.now()
    refuse_future(at)
    refuse_before_it_was_there(new.spool, at)
    load = load_now(new.spool.id, at)
    room = room_now(at)
    refuse_harm(load, core_dryer(new.dryer), room.air, new.temp_c, new.override_reason)
    _refuse_no_room(new.spool, new.dryer, new.temp_c)
    if new.weigh_in is not None:
        refuse_impossible(new.spool, new.weigh_in)
    start, rate = load.start, learned_rate(new.spool, new.dryer.pk)
    with act("run.started", f"Started drying {new.spool.name} in {new.dryer.name}") as book:
        run = book.create(
            Run(
                spool=new.spool,
                dryer=new.dryer,
                school=new.school,
                form=Spool.Form.LOOSE if new.weigh_in and new.weigh_in.is_coil else new.form or new.spool.form,
                temp_c=new.temp_c,
                duration_h=new.duration_h,
                override_reason=new.override_reason.strip(),
                started_at=at,
                room_temp_c=room.air.temp_c,
                room_rh_pct=room.air.rh_pct,
                start_moisture_pct=start.value,
                start_sd_pct=start.uncertainty,
                aim_pct=load.material.aim_pct,
                rate_median=rate.median,
                rate_sigma=rate.sigma,
                client_key=new.client_key,
            )
        )
        if new.weigh_in is not None:
            write_weighing(book, new.spool, new.weigh_in, at, run)
    return Started(run, book.undo)


def _weigh_out(book: Book, run: Run, reading: Reading, at: datetime) -> None:
    last = run.weighings.order_by("-at").first()
    if last is None:
        raise Refusal(
            "no_weigh_in",
            f"{run.spool.name} was not weighed in, so a weigh-out has nothing to be compared with. "
            "Enter the mass you noted at the start, or end the run without weighing.",
            "weigh_out",
        )
    if not belongs_to(run, reading):
        raise Refusal(
            "other_thing_weighed",
            f"This run was weighed in with a {last.hangs}; weigh the {last.hangs} out as well.",
            "weigh_out",
            400,
        )
    if at <= last.at:
        raise Refusal(
            "before_weigh_in",
            f"The weigh-out cannot come before the weighing at {last.at:%Y-%m-%d %H:%M} UTC. Give a later time.",
            "at",
            400,
        )
    refuse_impossible(run.spool, reading)
    write_weighing(book, run.spool, reading, at, run)


def _told(run: Run, verdict: Verdict) -> dict[str, float]:
    """What an ended run teaches of the rate; nothing where its weigh-ins fit no course or tell too little."""
    before = Rate(run.rate_median, run.rate_sigma)
    told = told_alone(before, verdict.log_rate.value, verdict.log_rate.uncertainty)
    if told is None or verdict.state not in TELLING:
        return {}
    return {"told_log_rate": told[0], "told_log_rate_sd": told[1]}


@transaction.atomic
def end_run(run: Run, weigh_out: Reading | None = None, at: datetime | None = None) -> Started:
    """End a run, with the weigh-out where there is one, and mark the spool's moisture as the run leaves it.

    Pressing twice ends it once. Raises Refusal: ended before, in the future, end not after the start, weigh-out
    without or before the weigh-in, a mass that cannot be.
    """
    if run.ended_at is not None:
        if weigh_out is not None and Weighing.objects.filter(client_key=weigh_out.client_key, run=run).exists():
            return Started(run, None)
        raise Refusal("already_ended", f"This run of {run.spool.name} has ended already.", status=409)
    at = at or timezone.now()
    refuse_future(at)
    if at <= run.started_at:
        raise Refusal(
            "end_before_start", f"The run began at {run.started_at:%Y-%m-%d %H:%M} UTC; give a later end.", "at", 400
        )
    with act("run.ended", f"Ended drying {run.spool.name}") as book:
        if weigh_out is not None:
            _weigh_out(book, run, weigh_out, at)
        verdict = judge_run(get_run(run.pk), material_book()[run.spool.material], at)
        book.update(run, ended_at=at, **_told(run, verdict))
        # A coil that was dried tells what the spool it was cut from held at the start; the spool itself was not dried.
        coil = run.spool.form == Spool.Form.WOUND and run.weighings.filter(hangs=Weighing.Hangs.COIL).exists()
        found = verdict.start if coil else verdict.moisture
        book.create(
            MoistureMark(
                spool=run.spool,
                at=run.started_at if coil else at,
                moisture_pct=max(found.mean, 0.0),
                sd_pct=found.sd,
                basis=MoistureMark.Basis.RUN,
            )
        )
    return Started(run, book.undo)
