"""Reading runs: records turned into the core's plain values, and what the core says of them."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

import numpy as np
from django.db.models import OuterRef, Prefetch, QuerySet, Subquery
from django.http import Http404

from darre.runs.models import Dryer, Run, Scale, Weighing
from darre.workshop.models import Spool, Stay
from darre.workshop.selectors import (
    air_since,
    hours_between,
    last_mark,
    met_by_spool,
    present_stay,
    quantity,
    room_now,
    spools_with_story,
)
from drying.bodies import body_kind
from drying.dryer import Dryer as CoreDryer
from drying.endpoint import Estimate, RunSoFar, TimedWeighing, Verdict, WeighingPoint, judge, review
from drying.humid_air import RoomAir
from drying.materials import Material, material
from drying.plan import (
    Choice,
    Forecast,
    Limit,
    Load,
    Ticket,
    broken_limits,
    choose,
    forecast,
    write_ticket,
)
from drying.sorption import floor_pct
from drying.waterline import Known, Standing, moistures_now, new_spool_moisture, standing
from drying.weighing import NOTHING, Quantity, Tare, TareMethod
from drying.weighing import Scale as CoreScale
from drying.weighing import Weighing as CoreWeighing

CURVE_POINTS = 97
COURSE_POINTS = 41
CURVE_BEYOND = 1.4  # the curve goes on past the planned hours, to show what more would bring


def core_scale(scale: Scale) -> CoreScale:
    """A scale as the core takes it."""
    return CoreScale(scale.resolution_g, scale.repeatability_g, scale.drift_g)


def core_dryer(dryer: Dryer) -> CoreDryer:
    """A dryer as the core takes it."""
    return CoreDryer(
        min_c=dryer.min_c,
        max_c=dryer.max_c,
        display_offset_c=dryer.display_offset_c,
        hot_side_excess_c=dryer.hot_side_excess_c,
        timer_max_h=dryer.timer_max_h,
        vent_m3_h=dryer.vent_m3_h,
        swing_c=dryer.swing_c,
        warm_up_h=dryer.warm_up_h,
    )


def core_load(spool: Spool, start: Quantity, net_g: float | None, form: str = "") -> Load:
    """A spool as the core takes it for a run, in its own form or another."""
    return Load(
        material=material(spool.material),
        body=body_kind(spool.body.kind),
        strand_diameter_mm=spool.strand_diameter_mm,
        start=start,
        net_g=net_g,
        form=form or spool.form,
        hub_radius_mm=spool.body.hub_diameter_mm / 2.0,
        width_mm=spool.body.width_mm,
    )


def runs_with_weighings() -> QuerySet[Run]:
    """Runs with all that judging them needs, in a constant number of queries."""
    return Run.objects.select_related("spool__body", "dryer").prefetch_related(
        Prefetch("weighings", Weighing.objects.select_related("scale").order_by("at", "id"))
    )


def run_so_far(run: Run) -> RunSoFar:
    """A run as the core judges it, from the facts that stand in its record."""
    weighings: Sequence[Weighing] = list(run.weighings.all())
    tare_of: Weighing | Spool = weighings[0] if weighings else run.spool
    tare = Tare(tare_of.tare_g, tare_of.tare_sd_g, TareMethod(tare_of.tare_method))
    net_g = weighings[0].gross_g - tare.mass_g if weighings else None
    load = core_load(run.spool, Quantity(run.start_moisture_pct, run.start_sd_pct), net_g, run.form)
    room = RoomAir(run.room_temp_c, run.room_rh_pct)
    return RunSoFar(
        load=load,
        dryer=core_dryer(run.dryer),
        room=room,
        air_c=run.temp_c,
        floor_pct=floor_pct(load.material, room, run.temp_c),
        aim_pct=run.aim_pct,
        tare=tare,
        weighings=[
            TimedWeighing(_hours(run.started_at, w.at), CoreWeighing(w.gross_g, core_scale(w.scale))) for w in weighings
        ],
    )


def _curve_times(end_h: float, points: int) -> list[float]:
    """Times from 0 to `end_h`, close together at the start, where the curve is steep."""
    return [float(t) for t in end_h * np.linspace(0.0, 1.0, points) ** 2]


def _hours(start: datetime, end: datetime) -> float:
    return (end - start).total_seconds() / 3600.0


def judge_run(run: Run, now: datetime) -> Verdict:
    """The core's verdict on a run at `now`, or at its end where that came first."""
    return judge(run_so_far(run), _hours(run.started_at, min(now, run.ended_at or now)))


@dataclass(frozen=True)
class Lane:
    """A spool on the rack: its waterline now, where it stands, the run it is in."""

    spool: Spool
    material: Material
    moisture: Quantity
    standing: Standing
    stay: Stay | None
    run: Run | None
    net_g: float | None


def lanes(now: datetime, only: int | None = None) -> list[Lane]:
    """Every spool's lane (or one spool's), wettest against its own trouble mark first. Constant number of queries."""
    last = Weighing.objects.filter(spool=OuterRef("pk"), at__lte=now).order_by("-at", "-id")
    query = spools_with_story().annotate(last_gross_g=Subquery(last.values("gross_g")[:1]))
    spools = list(query if only is None else query.filter(pk=only))
    running = {r.spool_id: r for r in runs_with_weighings().filter(ended_at__isnull=True)}
    resting = _resting_moistures([s for s in spools if s.id not in running], now)
    found = []
    for spool in spools:
        run = running.get(spool.id)
        moisture = resting[spool.id] if run is None else _drying_moisture(run, now)
        found.append(_lane(spool, run, moisture))
    return sorted(found, key=_wetness, reverse=True)


def _drying_moisture(run: Run, now: datetime) -> Quantity:
    estimate: Estimate = judge_run(run, now).moisture
    return Quantity(max(estimate.mean, 0.0), estimate.sd)


def _resting_moistures(spools: list[Spool], now: datetime) -> dict[int, Quantity]:
    """Moisture now of spools that are in no run, from their last marks and the air they met since, by spool."""
    marks = {s.id: last_mark(s, now) for s in spools}
    starts = [mark.at for mark in marks.values() if mark]
    start = min(starts, default=now)
    temps, activity = hours_between(air_since(start, now), start, now)
    known = [
        Known(
            body=core_load(s, NOTHING, _net_g(s)).strand,
            moisture=quantity(mark) if mark else new_spool_moisture(material(s.material)),
            activity=met_by_spool(s.stays.all(), activity, mark.at if mark else now, now),
        )
        for s, mark in ((s, marks[s.id]) for s in spools)
    ]
    return dict(zip((s.id for s in spools), moistures_now(known, temps), strict=True))


def _net_g(spool: Spool) -> float | None:
    """Mass of strand at the last weighing, g; reads what `lanes` fetched."""
    gross: float | None = getattr(spool, "last_gross_g", None)
    return None if gross is None else gross - spool.tare_g


def _lane(spool: Spool, run: Run | None, moisture: Quantity) -> Lane:
    polymer = material(spool.material)
    return Lane(
        spool=spool,
        material=polymer,
        moisture=moisture,
        standing=standing(polymer, moisture.value),
        stay=present_stay(spool),
        run=run,
        net_g=_net_g(spool),
    )


def _wetness(lane: Lane) -> float:
    return lane.moisture.value / lane.material.trouble.value if lane.material.trouble else -1.0


def lane_of(spool_id: int, now: datetime) -> Lane:
    """One spool's lane. Raises Http404 where there is no such spool."""
    found = lanes(now, only=spool_id)
    if not found:
        raise Http404
    return found[0]


def load_now(spool_id: int, now: datetime) -> Load:
    """A spool as the core takes it for a run that starts at `now`."""
    lane = lane_of(spool_id, now)
    return core_load(lane.spool, lane.moisture, lane.net_g)


@dataclass(frozen=True)
class Plan:
    """What Plan shows for one spool, dryer and choice."""

    lane: Lane
    dryer: Dryer
    form: str
    choice: Choice
    ticket: Ticket
    curve: Forecast
    broken: tuple[Limit, ...]
    busy_with: list[Run]


@dataclass(frozen=True)
class Wanted:
    """What a plan is asked for; each of temperature, hours and form may be left to school and spool."""

    school: str
    temp_c: float | None = None
    duration_h: float | None = None
    form: str = ""


def plan_run(lane: Lane, dryer: Dryer, wanted: Wanted, now: datetime) -> Plan:
    """A run by a school, or at a temperature and hours of the person's own.

    Raises OutOfRangeError as the core's `choose` and `write_ticket` do.
    """
    load = core_load(lane.spool, lane.moisture, lane.net_g, wanted.form)
    heater, room = core_dryer(dryer), room_now(now)
    by_school = choose(wanted.school, load, heater)
    choice = Choice(
        temp_c=by_school.temp_c if wanted.temp_c is None else wanted.temp_c,
        duration_h=by_school.duration_h if wanted.duration_h is None else wanted.duration_h,
        held_by=by_school.held_by if wanted.temp_c is None else None,
    )
    ticket = write_ticket(load, dryer.kind, heater, room.air, choice)
    times = _curve_times(choice.duration_h * CURVE_BEYOND, CURVE_POINTS)
    return Plan(
        lane=lane,
        dryer=dryer,
        form=load.form,
        choice=choice,
        ticket=ticket,
        curve=forecast(load, heater, room.air, choice.temp_c, times),
        broken=broken_limits(load, heater, choice.temp_c),
        busy_with=list(Run.objects.filter(dryer=dryer, ended_at__isnull=True).select_related("spool")),
    )


@dataclass(frozen=True)
class Seen:
    """A weighing of a run with its point on the run's chart."""

    weighing: Weighing
    point: WeighingPoint


@dataclass(frozen=True)
class CoursePoint:
    """What is believed of a run's moisture at a time, h after the start."""

    time_h: float
    estimate: Estimate


@dataclass(frozen=True)
class RunSheet:
    """What the Run room shows: the record, the core's verdict, the forecast it set out with, and the course that the
    weigh-ins make out.
    """

    run: Run
    so_far: RunSoFar
    verdict: Verdict
    forecast: Forecast
    course: list[CoursePoint]
    seen: list[Seen]
    now_h: float


def run_sheet(run: Run, now: datetime) -> RunSheet:
    """A run with its verdict now, its forecast from the start, and its weighings as points."""
    so_far = run_so_far(run)
    now_h = _hours(run.started_at, min(now, run.ended_at or now))
    shown_h = max(run.duration_h * 1.1, now_h * 1.05)
    course_h = _curve_times(shown_h, COURSE_POINTS)
    found = review(so_far, now_h, course_h)
    return RunSheet(
        run=run,
        so_far=so_far,
        verdict=found.verdict,
        forecast=forecast(so_far.load, so_far.dryer, so_far.room, run.temp_c, _curve_times(shown_h, CURVE_POINTS)),
        course=[CoursePoint(t, e) for t, e in zip(course_h, found.course, strict=True)],
        seen=[Seen(w, p) for w, p in zip(run.weighings.all(), found.points, strict=True)],
        now_h=now_h,
    )


def get_run(run_id: int) -> Run:
    """One run with its weighings. Raises Http404."""
    run = runs_with_weighings().filter(pk=run_id).first()
    if run is None:
        raise Http404
    return run
