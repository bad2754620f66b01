"""Working out the schedule and keeping it."""

from typing import Any

from django.db import transaction
from django.utils import timezone

from darre.common.errors import Refusal
from darre.common.saved import Saved
from darre.history.recorder import OpenEntry, computed_before_writing, history_entry, refuse_if_changed_since
from darre.schedule.answers import Solved, came_to, worked_out
from darre.schedule.apps import schedule_caches
from darre.schedule.jobs import scene
from darre.schedule.models import Answer, PlannedStart


def work_out(zone: str) -> Saved[Answer]:
    """Work out the best schedule for what is wanted, and keep it in place of the last.

    Raises Refusal where something that is wanted fits nowhere, and where somebody said stop meanwhile; the last answer
    then stays.
    """
    begun = schedule_caches().stops.said
    return computed_before_writing(lambda last_entry: _work_out(zone, last_entry, begun))


def _work_out(zone: str, last_entry: int, begun: int) -> Saved[Answer]:
    now = timezone.now()
    solved = worked_out(scene(now, zone))
    if schedule_caches().stops.said != begun:
        raise Refusal("stopped", "Stopped.", status=409)
    with transaction.atomic():
        refuse_if_changed_since(last_entry)
        with history_entry("schedule.worked_out", "Worked out the schedule") as entry:
            moved = _write_starts(entry, solved)
            answer = _write_answer(entry, solved, zone, moved)
        return entry.saved(answer)


def _write_starts(entry: OpenEntry, solved: Solved) -> list[dict[str, Any]]:
    """Put the new starts in place of the old; what moved, for those that were planned before."""
    old = {row.wish_id: row for row in PlannedStart.objects.all()}
    moved = []
    for start in solved.answer.starts:
        subject = solved.scene.subjects[start.job]
        if subject.run is not None or subject.wish is None:
            continue
        values: dict[str, Any] = {
            "dryer_id": int(start.option.dryer),
            "temp_c": start.option.temp_c,
            "hours": start.option.hours,
            "starts_at": solved.scene.moment(start.start_h),
        }
        row = old.pop(subject.wish.pk, None)
        if row is None:
            entry.create(PlannedStart(wish=subject.wish, **values))
        elif any(getattr(row, name) != value for name, value in values.items()):
            was = row.starts_at.isoformat()
            entry.update(row, **values)
            moved.append({"spool": subject.lane.spool.name, "was": was, "now": values["starts_at"].isoformat()})
    for row in old.values():
        entry.delete(row)
    return moved


def _write_answer(entry: OpenEntry, solved: Solved, zone: str, moved: list[dict[str, Any]]) -> Answer:
    answer = Answer.objects.filter(pk=1).first()
    values = {
        "solved_at": solved.scene.now,
        "zone": zone,
        "worked_out_from": solved.scene.fingerprint,
        "optimal": solved.answer.optimal,
        "bound_jobs_late": solved.answer.bound.jobs_late,
        "bound_hours_late": solved.answer.bound.hours_late,
        "came_to": came_to(solved),
        "before": answer and answer.came_to,
        "moved": moved,
    }
    return entry.create(Answer(pk=1, **values)) if answer is None else entry.update(answer, **values)
