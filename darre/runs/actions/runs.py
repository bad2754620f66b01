"""Starting and ending a drying run."""

from dataclasses import dataclass, replace
from datetime import datetime, timedelta
from typing import Any

from django.db import transaction
from django.utils import timezone

from darre.common.errors import Refusal
from darre.common.saved import Saved
from darre.history.recorder import computed_before_writing, history_entry, refuse_if_changed_since
from darre.inventory.actions.moments import CLOCK_SLACK, refuse_impossible_time
from darre.inventory.material_book import material_book
from darre.inventory.models import MoistureReading
from darre.runs.actions.left_in import LeftIn, leave_in, refuse_hold
from darre.runs.actions.weighings import (
    Reading,
    belongs_to,
    new_weighing,
    printed,
    refuse_impossible,
    write_printed,
)
from darre.runs.conditions import desiccant_left_pct
from darre.runs.lessons import stored_lesson
from darre.runs.models import Run, Weighing
from darre.runs.records import hours_between
from darre.runs.selectors import get_run, judge_run, lesson_by, run_so_far
from drying.quantity import NOTHING
from drying.runs import TEACHING, RunSoFar, Verdict, next_ratio, rate_by_data_alone


def _refuse_last_weighing(run: Run, reading: Reading, at: datetime) -> None:
    """Raise Refusal for a last weighing that cannot be compared with the run's others."""
    last = run.weighings.order_by("-at").first()
    if last is None:
        raise Refusal(
            "no_weigh_in",
            f"{run.spool.name} was not weighed at the start, so there is nothing to compare with. "
            "Enter the mass you noted at the start, or end the run without weighing.",
            "weigh_out",
        )
    if not belongs_to(run, reading):
        raise Refusal(
            "other_thing_weighed",
            f"This run began with a weighing of the {last.weighed_object}; weigh the {last.weighed_object} again.",
            "weigh_out",
            400,
        )
    if at <= last.at:
        raise Refusal(
            "before_weigh_in",
            ("The last weighing cannot come before the one at ", last.at, ". Give a later time."),
            "at",
            400,
        )
    refuse_impossible(run.spool, reading)


def learned_by(run: Run, verdict: Verdict, so_far: RunSoFar, at: datetime) -> dict[str, Any]:
    """What an ended run teaches of the rate, and of floor and shape with it; nothing where its weighings fit no course
    or tell too little.
    """
    found = rate_by_data_alone(so_far.rate, verdict.log_rate.value, verdict.log_rate.uncertainty)
    if found is None or verdict.state not in TEACHING:
        return {}
    lesson = stored_lesson(lesson_by(run, so_far, at))
    return {"learned_log_rate": found[0], "learned_log_rate_sd": found[1], "lesson": lesson}


def end_run(
    run: Run, weigh_out: Reading | None = None, at: datetime | None = None, left: LeftIn | None = None
) -> Saved[Run]:
    """End a run, with the last weighing where there is one, and note the spool's moisture as the run leaves it, and
    that it stays in the dryer where it does (`left`).

    Pressing twice ends it once. Raises Refusal: ended before, in the future, end not after the start, last weighing
    without or before the first, a mass that cannot be, a hold that cannot be.
    """
    ending = _Ending(weigh_out, at or timezone.now(), left)
    return computed_before_writing(lambda last_entry: _end_run(run.pk, ending, last_entry))


@dataclass(frozen=True)
class _Ending:
    weigh_out: Reading | None
    at: datetime
    left: LeftIn | None


def _end_run(run_id: int, ending: _Ending, last_entry: int) -> Saved[Run]:
    weigh_out, at = ending.weigh_out, ending.at
    run = get_run(run_id)
    if run.ended_at is not None:
        if weigh_out is not None and Weighing.objects.filter(client_key=weigh_out.client_key, run=run).exists():
            return Saved(run)
        raise Refusal("already_ended", f"This run of {run.spool.name} has ended already.", status=409)
    refuse_impossible_time(at)
    if run.started_at > timezone.now() + CLOCK_SLACK:
        return _ended_ahead(run, last_entry)
    if at <= run.started_at:
        raise Refusal("end_before_start", ("The run began at ", run.started_at, "; give a later end."), "at", 400)
    if ending.left is not None:
        refuse_hold(run, ending.left, at)
    last, grams, book = None, NOTHING, material_book()
    if weigh_out is not None:
        weigh_out = replace(weigh_out, coil=run.coil if weigh_out.is_coil else None)
        _refuse_last_weighing(run, weigh_out, at)
        last, grams = new_weighing(run.spool, weigh_out, at, run, book), printed(weigh_out)
    verdict = judge_run(run, book, at, last, grams)
    so_far = run_so_far(run, book, at, last, grams)
    left_pct = desiccant_left_pct(run, book, at)
    found = _Found(last, moisture_left(run, at, verdict, so_far), learned_by(run, verdict, so_far, at), left_pct)
    return _write_end(run, replace(ending, weigh_out=weigh_out), found, last_entry)


def moisture_left(run: Run, at: datetime, verdict: Verdict, so_far: RunSoFar) -> MoistureReading:
    """How wet a run leaves its spool. A coil that was dried tells what the spool it was cut from held at the start; the
    spool itself was not dried.
    """
    coil = run.coil_id is not None
    found = verdict.start if coil else verdict.moisture
    ratio = None if coil else next_ratio(so_far, hours_between(run.started_at, at))
    mean = max(found.mean, 0.0)
    return MoistureReading(
        spool=run.spool,
        at=run.started_at if coil else at,
        moisture_pct=mean,
        sd_pct=found.sd,
        next_pct=None if ratio is None else ratio * mean,
        basis=MoistureReading.Basis.RUN,
    )


@dataclass(frozen=True)
class _Found:
    """What the end of a run is written with, worked out before anything is written."""

    last: Weighing | None
    left: MoistureReading
    learned: dict[str, Any]
    desiccant_pct: float | None


@transaction.atomic
def _ended_ahead(run: Run, last_entry: int) -> Saved[Run]:
    """End a run that was started while the clock was ahead: it is over as soon as it began, and tells nothing."""
    refuse_if_changed_since(last_entry)
    with history_entry("run.ended", f"Ended drying {run.spool.name}, which began while the clock was ahead") as entry:
        entry.update(run, ended_at=run.started_at + timedelta(seconds=1))
    return entry.saved(run)


@transaction.atomic
def _write_end(run: Run, ending: _Ending, found: _Found, last_entry: int) -> Saved[Run]:
    weigh_out, at = ending.weigh_out, ending.at
    refuse_if_changed_since(last_entry)
    with history_entry("run.ended", f"Ended drying {run.spool.name}") as entry:
        if found.last is not None and weigh_out is not None:
            write_printed(entry, run.spool, weigh_out, at)
            entry.create(found.last)
        entry.update(run, ended_at=at, **found.learned)
        entry.create(found.left)
        if found.desiccant_pct is not None:
            entry.update(run.batch.dryer, desiccant_load_pct=found.desiccant_pct)
        if ending.left is not None:
            leave_in(entry, run, ending.left, at)
    return entry.saved(run)
