"""The schedule that is kept, as it stands now; and what another would come to."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta

from django.db.models import Exists, OuterRef

from darre.common.errors import Refusal
from darre.inventory.models import Helper, HomeChange
from darre.inventory.selectors import preferences, tariff_of
from darre.runs.models import Run
from darre.schedule.apps import schedule_caches
from darre.schedule.jobs import scene
from darre.schedule.models import Answer, PlannedStart, Wish
from darre.schedule.scene import Scene
from drying.errors import OutOfRangeError
from drying.planning.schedule import Answer as CoreAnswer
from drying.planning.schedule import (
    Bound,
    Option,
    Problem,
    Reason,
    Start,
    Why,
    answer_of,
    companions,
    home_needed,
    reasons,
    solve_together,
    with_another,
    with_home,
    with_later,
)

USUAL_HORIZON_H = 168.0
HORIZONS_H = (USUAL_HORIZON_H, 2.0 * USUAL_HORIZON_H)
PATIENCE_S = 1.8
WHAT_IF_PATIENCE_S = 0.5
LEAST_VISIT_H = 0.25
SLIPPED = timedelta(minutes=30)  # a start that much overdue has slipped
DAY_FROM_MIN, DAY_TO_MIN = 7 * 60, 23 * 60


@dataclass(frozen=True)
class Solved:
    """A problem with its answer."""

    scene: Scene
    problem: Problem
    answer: CoreAnswer


def worked_out(found: Scene, patience_s: float = PATIENCE_S) -> Solved:
    """The best schedule for a scene, begun from the one that is kept; further ahead where it does not fit into a week.

    Raises Refusal that names what fits nowhere.
    """
    last = kept(found, Answer.objects.filter(pk=1).first())
    before = last.answer.starts if last else ()
    for horizon_h in HORIZONS_H:
        problem = found.problem(horizon_h)
        try:
            return Solved(found, problem, _solved(found, problem, patience_s, before))
        except OutOfRangeError as refused:
            why = str(refused)
    for job, subject in found.subjects.items():
        why = why.replace(f"{job} ", f"{subject.lane.spool.name} ")
    raise Refusal("fits_nowhere", why, "wishes")


def _solved(found: Scene, problem: Problem, patience_s: float, before: Sequence[Start] = ()) -> CoreAnswer:
    """The best answer, sought from an earlier one on; all who ask for the same, at once or later, are given the one
    that was worked out.
    """
    key = (found.fingerprint, found.form, repr(problem), patience_s)
    return schedule_caches().answers.once(
        key, lambda: solve_together(problem, found.hours_of, patience_s, tuple(before))
    )


def kept(found: Scene, stored: Answer | None) -> Solved | None:
    """The starts that are kept, as an answer to what is wanted now; None where they answer it no longer: something that
    is wanted has no start, a start has slipped, or a spool went into a dryer since.
    """
    if stored is None:
        return None
    rows = {f"wish {row.wish_id}": row for row in PlannedStart.objects.select_related("dryer")}
    problem = found.problem(_horizon_h(found, list(rows.values())))
    starts = []
    for job in problem.jobs:
        if job.running:
            starts.append(Start(job.id, job.options[0], 0.0))
            continue
        row = rows.get(job.id)
        if row is None or row.starts_at < found.now - SLIPPED:
            return None
        starts.append(Start(job.id, Option(str(row.dryer_id), row.temp_c, row.hours), _start_h(found, row)))
    bound = Bound(stored.bound_jobs_late, stored.bound_hours_late)
    try:
        answer = answer_of(problem, starts, optimal=stored.optimal, bound=bound)
    except (ValueError, KeyError):  # nobody is there for it any more, or the dryer is out of service
        return None
    return Solved(found, problem, answer)


def _start_h(found: Scene, row: PlannedStart) -> float:
    return max(found.at_h(row.starts_at), 0.0)


def _horizon_h(found: Scene, rows: Sequence[PlannedStart]) -> float:
    last = max((_start_h(found, row) + row.hours for row in rows), default=0.0)
    return max(USUAL_HORIZON_H, last)


@dataclass(frozen=True)
class StartView:
    """A start with what is shown of it: its spool and the wish or run behind it, how it dries, hours late, and who
    shares its dryer.
    """

    job: str
    start: Start
    taken_out_h: float | None
    course: list[float]
    late_h: float
    beside: list[str]


def views(solved: Solved) -> list[StartView]:
    """What is shown of each start."""
    return [_view(solved, start) for start in solved.answer.starts]


def _view(solved: Solved, start: Start) -> StartView:
    found, option, beside = solved.scene, start.option, companions(start, solved.answer.starts)
    return StartView(
        job=start.job,
        start=start,
        taken_out_h=solved.problem.first_home(start.end_h),
        course=found.course((start.job, *beside), option.dryer, option.temp_c, option.hours),
        late_h=solved.answer.late.get(start.job, 0.0),
        beside=[found.subjects[job].lane.spool.name for job in beside],
    )


def why_late(solved: Solved) -> list[Reason]:
    """Why each late job is late."""
    return reasons(solved.problem, solved.answer)


@dataclass(frozen=True)
class WhatIf:
    """What could be different: the kind, the dryer there would be two of or the day that somebody would be at home."""

    kind: str
    dryer: int | None = None
    day: datetime | None = None


def what_ifs(solved: Solved, late: Sequence[Reason]) -> list[WhatIf]:
    """The changes that may help what is late: a second dryer like the one it waits for, somebody at home on the day
    before, coils in place of spools where it takes too long, a day later. None where nothing is late.
    """
    found: list[WhatIf] = []
    for reason in late:
        if reason.why is Why.TAKEN:
            found.append(WhatIf("another", dryer=int(reason.dryer)))
        if reason.why is Why.TOO_LONG:
            found.append(WhatIf("coils"))
        elif not _is_always_home(solved):
            found.append(WhatIf("home", day=_day_before_wanted(solved, reason.job)))
    return list(dict.fromkeys([*found, WhatIf("later")])) if found else []


def _is_always_home(solved: Solved) -> bool:
    return len(solved.problem.home) == 1


def _day_before_wanted(solved: Solved, job: str) -> datetime | None:
    due = solved.scene.subjects[job].due_at
    if due is None:
        return None
    local = max(due - timedelta(hours=12), solved.scene.now).astimezone(solved.scene.start.tzinfo)
    return local.replace(hour=0, minute=0, second=0, microsecond=0)


@dataclass(frozen=True)
class Compared:
    """The best schedule as things are, and the best with a change. `home`: when somebody would have to be there for
    that, who is not otherwise; empty where the change is another.
    """

    as_is: Solved
    changed: Solved
    home: Sequence[tuple[float, float]] = ()


def what_if(now: datetime, zone: str, change: WhatIf) -> Compared:
    """What a change would come to; both schedules with the same patience."""
    found = scene(now, zone)
    usual = worked_out(found, WHAT_IF_PATIENCE_S)
    if change.kind == "coils":
        return Compared(usual, worked_out(scene(now, zone, "loose"), WHAT_IF_PATIENCE_S))
    changed = _solved_as(usual, _changed(usual, change))
    return _with_least_home(usual, changed) if change.kind == "home" else Compared(usual, changed)


def came_to(solved: Solved) -> dict[str, float]:
    """What an answer comes to, by which it is compared with another."""
    answer = solved.answer
    return {
        "jobs_late": len(answer.late),
        "hours_late": sum(answer.late.values()),
        "visits": len(answer.visits_h),
        "cost": answer.cost,
    }


def _solved_as(usual: Solved, problem: Problem) -> Solved:
    return Solved(usual.scene, problem, _solved(usual.scene, problem, WHAT_IF_PATIENCE_S))


def _with_least_home(usual: Solved, all_day: Solved) -> Compared:
    """The same with as little of the day as will do: where one of the moments that it takes is enough, that one."""
    needed = [(begin, max(end, begin + LEAST_VISIT_H)) for begin, end in home_needed(usual.problem, all_day.answer)]
    for some in [[one] for one in needed] if len(needed) > 1 else []:
        found = _solved_as(usual, with_home(usual.problem, some))
        if found.answer.rank[:2] <= all_day.answer.rank[:2]:
            return Compared(usual, found, some)
    return Compared(usual, all_day, needed)


def _changed(usual: Solved, change: WhatIf) -> Problem:
    if change.kind == "another" and change.dryer is not None and str(change.dryer) in usual.problem.by_id:
        return with_another(usual.problem, str(change.dryer))
    if change.kind == "home" and change.day is not None:
        day = change.day.astimezone(usual.scene.start.tzinfo)
        span = [usual.scene.at_h(day + timedelta(minutes=m)) for m in (DAY_FROM_MIN, DAY_TO_MIN)]
        return with_home(usual.problem, [(max(span[0], 0.0), max(span[1], 0.0))])
    if change.kind == "later":
        return with_later(usual.problem, list(usual.answer.late), 24.0)
    raise Refusal("invalid", "Say what is to be different: another, home, later or coils.", "kind", 400)


@dataclass(frozen=True)
class Schedule:
    """All that the screen shows. Without a `solved` nothing is worked out yet, or it holds no longer; `stale`: another
    answer might be right now.
    """

    scene: Scene
    stored: Answer | None
    solved: Solved | None
    stale: bool
    helpers: list[Helper]
    changes: list[HomeChange]

    @property
    def wishes(self) -> list[Wish]:
        """All that is wanted."""
        mine = [s.wish for s in self.scene.subjects.values() if s.wish is not None]
        return sorted([*mine, *self.scene.ready, *self.scene.nowhere], key=lambda wish: wish.pk)


def schedule(now: datetime, zone: str) -> Schedule:
    """The schedule as it stands."""
    found = scene(now, zone)
    stored = Answer.objects.filter(pk=1).first()
    solved = kept(found, stored)
    return Schedule(
        scene=found,
        stored=stored,
        solved=solved,
        stale=bool(found.jobs) and (solved is None or stored is None or stored.worked_out_from != found.fingerprint),
        helpers=list(Helper.objects.all()),
        changes=list(HomeChange.objects.filter(until__gte=now)),
    )


def next_starts(now: datetime) -> list[PlannedStart]:
    """What the schedule that is kept has loaded within a day, in order, in one query; what runs already aside."""
    soon = PlannedStart.objects.filter(starts_at__gte=now - SLIPPED, starts_at__lte=now + timedelta(days=1))
    running = Run.objects.filter(spool=OuterRef("wish__spool"), coil=None, ended_at=None)
    return list(soon.exclude(Exists(running)).select_related("wish__spool", "dryer").order_by("starts_at", "id"))


def currency() -> str:
    """What money is counted in; empty where no price is known."""
    mine = preferences()
    return mine.currency if tariff_of(mine) is not None else ""
