"""Starting and ending a drying run."""

from datetime import datetime

from django.db import transaction
from django.utils import timezone

from darre.common.errors import Refusal
from darre.history.recorder import OpenEntry, Saved, history_entry
from darre.inventory.actions.moments import refuse_future
from darre.inventory.material_book import material_book
from darre.inventory.models import MoistureMark, Spool
from darre.runs.actions.weighings import (
    Reading,
    belongs_to,
    refuse_impossible,
    write_weighing,
)
from darre.runs.models import Run, Weighing
from darre.runs.selectors import get_run, judge_run
from drying.runs.rate import told_alone
from drying.runs.verdict import RunState, Verdict
from drying.transport.uncertainty import Rate

TELLING = (RunState.DRY, RunState.GOING, RunState.STALLED)  # runs whose weigh-ins fit a course teach of its rate


def _weigh_out(entry: OpenEntry, run: Run, reading: Reading, at: datetime) -> None:
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
    write_weighing(entry, run.spool, reading, at, run)


def _told(run: Run, verdict: Verdict) -> dict[str, float]:
    """What an ended run teaches of the rate; nothing where its weigh-ins fit no course or tell too little."""
    before = Rate(run.rate_median, run.rate_sigma)
    told = told_alone(before, verdict.log_rate.value, verdict.log_rate.uncertainty)
    if told is None or verdict.state not in TELLING:
        return {}
    return {"told_log_rate": told[0], "told_log_rate_sd": told[1]}


@transaction.atomic
def end_run(run: Run, weigh_out: Reading | None = None, at: datetime | None = None) -> Saved[Run]:
    """End a run, with the weigh-out where there is one, and mark the spool's moisture as the run leaves it.

    Pressing twice ends it once. Raises Refusal: ended before, in the future, end not after the start, weigh-out
    without or before the weigh-in, a mass that cannot be.
    """
    if run.ended_at is not None:
        if weigh_out is not None and Weighing.objects.filter(client_key=weigh_out.client_key, run=run).exists():
            return Saved(run)
        raise Refusal("already_ended", f"This run of {run.spool.name} has ended already.", status=409)
    at = at or timezone.now()
    refuse_future(at)
    if at <= run.started_at:
        raise Refusal(
            "end_before_start", f"The run began at {run.started_at:%Y-%m-%d %H:%M} UTC; give a later end.", "at", 400
        )
    with history_entry("run.ended", f"Ended drying {run.spool.name}") as entry:
        if weigh_out is not None:
            _weigh_out(entry, run, weigh_out, at)
        verdict = judge_run(get_run(run.pk), material_book()[run.spool.material], at)
        entry.update(run, ended_at=at, **_told(run, verdict))
        # A coil that was dried tells what the spool it was cut from held at the start; the spool itself was not dried.
        coil = run.spool.form == Spool.Form.WOUND and run.weighings.filter(hangs=Weighing.Hangs.COIL).exists()
        found = verdict.start if coil else verdict.moisture
        entry.create(
            MoistureMark(
                spool=run.spool,
                at=run.started_at if coil else at,
                moisture_pct=max(found.mean, 0.0),
                sd_pct=found.sd,
                basis=MoistureMark.Basis.RUN,
            )
        )
    return entry.saved(run)
