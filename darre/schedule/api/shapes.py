"""A schedule in the shape in which it is answered: moments in place of hours, names in place of jobs."""

from datetime import datetime
from typing import Any

from darre.equipment.records import core_dryer
from darre.schedule.answers import (
    USUAL_HORIZON_H,
    Schedule,
    Solved,
    StartView,
    came_to,
    currency,
    views,
    what_ifs,
    why_late,
)
from drying.dryers import DryerKind
from drying.planning.schedule import Reason, Visit, energy_kwh, what_is_done
from drying.planning.schedule.ways import NEVER_ALONE


def schedule_shape(found: Schedule) -> dict[str, Any]:
    """All that the screen shows."""
    solved, stored, scene = found.solved, found.stored, found.scene
    problem = solved.problem if solved else scene.problem(USUAL_HORIZON_H)
    late = why_late(solved) if solved else []
    rates = sorted({price.per_kwh for price in problem.tariff})
    return {
        "now": scene.now,
        "start": scene.start,
        "solved_at": stored.solved_at if stored else None,
        "worked_out": solved is not None,
        "stale": found.stale,
        "currency": currency(),
        "wishes": found.wishes,
        "ready": [wish.pk for wish in scene.ready],
        "nowhere": [wish.pk for wish in scene.nowhere],
        "dryers": [_dryer(dryer) for dryer in scene.dryers.values()],
        "starts": [_start(solved, view) for view in views(solved)] if solved else [],
        "visits": [_visit(solved, visit) for visit in what_is_done(solved.problem, solved.answer)] if solved else [],
        "late": [_late(solved, reason) for reason in late] if solved else [],
        "sum": sum_shape(solved) if solved else None,
        "at_home": [span(scene.moment, begin, end) for begin, end in problem.home],
        "cheap": [
            span(scene.moment, price.from_h, price.to_h)
            for price in problem.tariff
            if len(rates) > 1 and price.per_kwh == rates[0]
        ],
        "moved": stored.moved if stored and solved else [],
        "before": stored.before if stored and solved else None,
        "what_ifs": what_ifs(solved, late) if solved else [],
        "helpers": found.helpers,
        "changes": found.changes,
        "feed_key": str(stored.feed_key) if stored else None,
    }


def span(moment: Any, begin: float, end: float) -> dict[str, datetime]:
    """A stretch of hours from the start as two moments."""
    return {"since": moment(begin), "until": moment(end)}


def _dryer(dryer: Any) -> dict[str, Any]:
    names = ("id", "name", "kind", "slots", "timer_max_h", "min_c", "max_c")
    return {name: getattr(dryer, name) for name in names} | {"never_alone": DryerKind(dryer.kind) in NEVER_ALONE}


def _start(solved: Solved, view: StartView) -> dict[str, Any]:
    scene, start = solved.scene, view.start
    subject = scene.subjects[view.job]
    lane, wish, run = subject.lane, subject.wish, subject.run
    out_h = view.taken_out_h
    dryer = core_dryer(scene.dryers[start.option.dryer])
    setting = dryer.calibration.setting(start.option.temp_c, scene.here.room.temp_c)
    job = next(job for job in solved.problem.jobs if job.id == view.job)
    watched = [o.watch_h or 0.0 for o in job.options if o.dryer == start.option.dryer]
    return {
        "wish": wish.pk if wish else None,
        "run": run.pk if run else None,
        "spool": lane.spool.pk,
        "spool_name": lane.spool.name,
        "dryer": int(start.option.dryer),
        "temp_c": start.option.temp_c,
        "hours": start.option.hours,
        "set_c": setting.set_c,
        "set_level": setting.level,
        "starts_at": scene.moment(start.start_h),
        "ends_at": scene.moment(start.end_h),
        "taken_out_at": None if out_h is None else scene.moment(out_h),
        "watched_h": 0.0 if run else max(watched, default=0.0),
        "ready_by": subject.due_at,
        "late_h": view.late_h,
        "pinned": wish is not None and wish.pinned_at is not None and run is None,
        "reaches": subject.reaches,
        "beside": view.beside,
        "course_pct": view.course,
        "trouble_pct": lane.material.trouble.value if lane.material.trouble else None,
        "clean_pct": lane.material.clean.value if lane.material.clean else None,
    }


def _visit(solved: Solved, visit: Visit) -> dict[str, Any]:
    def names(jobs: tuple[str, ...]) -> list[str]:
        return [solved.scene.subjects[job].lane.spool.name for job in jobs]

    return {
        "at": solved.scene.moment(visit.at_h),
        "load": names(visit.loads),
        "take_out": names(visit.takes_out),
        "timers": [solved.scene.dryers[dryer].name for dryer in visit.timers],
    }


def _late(solved: Solved, reason: Reason) -> dict[str, Any]:
    scene = solved.scene
    subject = scene.subjects[reason.job]
    return {
        "spool_name": subject.lane.spool.name,
        "why": reason.why.value,
        "late_h": solved.answer.late[reason.job],
        "hours": reason.hours,
        "dryer_name": scene.dryers[reason.dryer].name,
        "ready_by": subject.due_at,
        "soonest": None if reason.soonest_h is None else scene.moment(reason.soonest_h),
        "others": [scene.subjects[job].lane.spool.name for job in reason.others],
    }


def sum_shape(solved: Solved) -> dict[str, Any]:
    """What an answer comes to."""
    answer = solved.answer
    return {
        **came_to(solved),
        "energy_kwh": energy_kwh(solved.problem, answer.starts),
        "last_end": solved.scene.moment(max(s.end_h for s in answer.starts)) if answer.starts else None,
        "optimal": answer.optimal,
        "least_jobs_late": answer.bound.jobs_late,
        "least_hours_late": answer.bound.hours_late,
    }
