"""Reading runs: records turned into the core's plain values, and what the core says of them."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

import numpy as np
from django.db.models import OuterRef, Prefetch, QuerySet, Subquery
from django.http import Http404
from django.utils import timezone

from darre.runs.models import Dryer, EventKind, Run, RunEvent, Scale, Weighing
from darre.workshop.material_book import MaterialBook, material_book
from darre.workshop.models import Spool, Stay
from darre.workshop.selectors import (
    air_since,
    hours_between,
    last_mark,
    met_by_spool,
    preferences,
    present_stay,
    quantity,
    spools_with_story,
    tariff_of,
)
from drying.belief import Estimate, RunSoFar, TimedWeighing, believe
from drying.bodies import body_kind
from drying.coil import coil_mass_g
from drying.cost import mean_power_w
from drying.dial import ProbePair, dial_of
from drying.dryer import Dryer as CoreDryer
from drying.dryer import DryerKind, Metered, kinds_of_dryer
from drying.endpoint import Review, Verdict, WeighingPoint, judge, review
from drying.humid_air import RoomAir
from drying.load import Load, MakersSheet, Setup
from drying.materials import Material
from drying.memo import Memo
from drying.pauses import Pause, end_with_pauses_h, heated_h, segments_with_pauses, tidy
from drying.plan import Forecast, forecasts
from drying.rate import UNKNOWN_RATE, PastRun, Rate, rate_from
from drying.waterline import Known, Standing, moistures_now, new_spool_moisture, standing
from drying.weighing import NOTHING, Quantity, Tare, TareMethod
from drying.weighing import Scale as CoreScale
from drying.weighing import Weighing as CoreWeighing

CURVE_POINTS = 97
COURSE_POINTS = 41

# An ended run's verdict stands on its record alone: it is worked out once for each state of the record.
_VERDICTS: Memo[Verdict] = Memo(512)
_REVIEWS: Memo[Review] = Memo(64)
_FORECASTS: Memo[Forecast] = Memo(64)


def core_scale(scale: Scale) -> CoreScale:
    """A scale as the core takes it."""
    return CoreScale(scale.resolution_g, scale.repeatability_g, scale.drift_g)


def core_weighing(weighing: Weighing) -> CoreWeighing:
    """A weighing as the core takes it."""
    return CoreWeighing(weighing.gross_g, core_scale(weighing.scale), weighing.warm, weighing.surface_wet)


def dryers() -> QuerySet[Dryer]:
    """Dryers with their probe pairs, in a constant number of queries."""
    return Dryer.objects.prefetch_related("probes")


def core_dryer(dryer: Dryer) -> CoreDryer:
    """A dryer as the core takes it. Raises OutOfRangeError where its numbers make no sense."""
    kind = DryerKind(dryer.kind)
    metered = None
    if dryer.metered_kwh is not None and dryer.metered_h is not None and dryer.metered_air_c is not None:
        metered = Metered(dryer.metered_kwh, dryer.metered_h, dryer.metered_air_c)
    return CoreDryer(
        min_c=dryer.min_c,
        max_c=dryer.max_c,
        kind=kind,
        dial=dial_of(
            bed=kind is DryerKind.BED,
            levels=[(str(name), float(air_c)) for name, air_c in dryer.levels],
            pairs=[ProbePair(p.set_c, p.air_c, p.room_c) for p in dryer.probes.all()],
            offset_c=dryer.display_offset_c,
            display_sd_c=kinds_of_dryer()[kind].display_sd_c,
        ),
        hot_side_excess_c=dryer.hot_side_excess_c,
        timer_max_h=dryer.timer_max_h,
        timer_choices_h=tuple(dryer.timer_choices_h),
        vent_m3_h=dryer.vent_m3_h,
        swing_c=dryer.swing_c,
        warm_up_h=dryer.warm_up_h,
        heater_w=dryer.heater_w,
        metered=metered,
        fan=dryer.fan,
        slots=dryer.slots,
        max_diameter_mm=dryer.max_diameter_mm,
        max_width_mm=dryer.max_width_mm,
    )


def core_load(
    spool: Spool,
    polymer: Material,
    start: Quantity,
    net_g: float | None,
    form: str = "",
    rate: Rate = UNKNOWN_RATE,
) -> Load:
    """A spool as the core takes it for a run, in its own form or another."""
    sheet = None
    if spool.sheet_temp_c is not None and spool.sheet_hours is not None:
        sheet = MakersSheet(spool.sheet_temp_c, spool.sheet_hours, spool.sheet_only_if_opened)
    return Load(
        material=polymer,
        body=body_kind(spool.body.kind),
        strand_diameter_mm=spool.strand_diameter_mm,
        start=start,
        net_g=net_g,
        form=form or spool.form,
        hub_radius_mm=spool.body.hub_diameter_mm / 2.0,
        width_mm=spool.body.width_mm,
        diameter_mm=spool.body.outer_diameter_mm,
        sheet=sheet,
        rate=rate,
    )


def runs_with_weighings() -> QuerySet[Run]:
    """Runs with all that judging them needs, in a constant number of queries."""
    return Run.objects.select_related("spool__body", "dryer").prefetch_related(
        "dryer__probes",
        "events",
        Prefetch("weighings", Weighing.objects.select_related("scale").order_by("at", "id")),
    )


def pauses(run: Run, until: datetime) -> list[Pause]:
    """When the heat was off, h after the start; a pause that goes on lasts until `until`."""
    found, since = [], None
    for event in run.events.all():
        at = _hours(run.started_at, event.at)
        if event.kind == EventKind.POWER_CUT:
            found.append((at, at + (event.minutes or 0.0) / 60.0))
        elif event.kind == EventKind.PAUSED and since is None:
            since = at
        elif event.kind == EventKind.RESUMED and since is not None:
            found.append((since, at))
            since = None
    if since is not None:
        found.append((since, max(_hours(run.started_at, until), since)))
    return tidy(found)


def past_runs() -> list[PastRun]:
    """What every ended run told of its rate."""
    told = Run.objects.filter(told_log_rate__isnull=False, ended_at__isnull=False).select_related("spool")
    return [
        PastRun(run.spool.material, run.spool_id, run.dryer_id, run.told_log_rate, run.told_log_rate_sd)
        for run in told
        if run.told_log_rate is not None and run.told_log_rate_sd is not None
    ]


def learned_rate(spool: Spool, dryer_id: int, past: Sequence[PastRun] | None = None) -> Rate:
    """What ended runs (read now, where they are not given) teach of how fast this spool dries in this dryer."""
    return rate_from(past_runs() if past is None else past, spool.material, spool.pk, dryer_id)


def run_so_far(run: Run, polymer: Material, now: datetime) -> RunSoFar:
    """A run as the core judges it, from the facts that stand in its record."""
    weighings: Sequence[Weighing] = list(run.weighings.all())
    until = min(now, run.ended_at or now)
    tare_of: Weighing | Spool = weighings[0] if weighings else run.spool
    tare = Tare(tare_of.tare_g, tare_of.tare_sd_g, TareMethod(tare_of.tare_method))
    net_g = weighings[0].gross_g - tare.mass_g if weighings else None
    load = core_load(
        run.spool,
        polymer,
        Quantity(run.start_moisture_pct, run.start_sd_pct),
        net_g,
        run.form,
        Rate(run.rate_median, run.rate_sigma),
    )
    room = RoomAir(run.room_temp_c, run.room_rh_pct)
    return RunSoFar(
        load=load,
        segments=segments_with_pauses(
            core_dryer(run.dryer), load.material, room, run.temp_c, _hours(run.started_at, until), pauses(run, until)
        ),
        aim_pct=run.aim_pct,
        rate=Rate(run.rate_median, run.rate_sigma),
        tare=tare,
        weighings=[
            TimedWeighing(
                _hours(run.started_at, w.at), CoreWeighing(w.gross_g, core_scale(w.scale), w.warm, w.surface_wet)
            )
            for w in weighings
        ],
    )


def _curve_times(end_h: float, points: int) -> list[float]:
    """Times from 0 to `end_h`, close together at the start, where the curve is steep."""
    return [float(t) for t in end_h * np.linspace(0.0, 1.0, points) ** 2]


def _hours(start: datetime, end: datetime) -> float:
    return (end - start).total_seconds() / 3600.0


def judge_run(run: Run, polymer: Material, now: datetime) -> Verdict:
    """The core's verdict on a run at `now`, or at its end where that came first."""
    so_far, now_h = run_so_far(run, polymer, now), _hours(run.started_at, min(now, run.ended_at or now))
    if run.ended_at is None:
        return judge(so_far, now_h, run.duration_h)
    return _VERDICTS.get(repr((so_far, now_h)), lambda: judge(so_far, now_h, run.duration_h))


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

    @property
    def strand_g_per_m(self) -> float:
        """What a metre of its strand weighs, g."""
        return coil_mass_g(self.material, self.spool.strand_diameter_mm, 1.0).value


def lanes(now: datetime, only: Sequence[int] | None = None) -> list[Lane]:
    """Every spool's lane (or those of some), wettest against its own trouble mark first. Constant number of queries."""
    whole = Weighing.objects.filter(spool=OuterRef("pk"), at__lte=now, hangs=Weighing.Hangs.SPOOL)
    last = whole.order_by("-at", "-id")
    query = spools_with_story().annotate(last_gross_g=Subquery(last.values("gross_g")[:1]))
    spools = list(query if only is None else query.filter(pk__in=only))
    book = material_book()
    running = {r.spool_id: r for r in runs_with_weighings().filter(ended_at__isnull=True)}
    resting = _resting_moistures([s for s in spools if s.id not in running], book, now)
    found = []
    for spool in spools:
        run, polymer = running.get(spool.id), book[spool.material]
        moisture = resting[spool.id] if run is None else _drying_moisture(run, polymer, now)
        found.append(_lane(spool, polymer, run, moisture))
    return sorted(found, key=_wetness, reverse=True)


def _drying_moisture(run: Run, polymer: Material, now: datetime) -> Quantity:
    now_h = _hours(run.started_at, now)
    estimate: Estimate = believe(run_so_far(run, polymer, now), now_h).estimate_at(now_h)
    return Quantity(max(estimate.mean, 0.0), estimate.sd)


def _resting_moistures(spools: list[Spool], book: MaterialBook, now: datetime) -> dict[int, Quantity]:
    """Moisture now of spools that are in no run, from their last marks and the air they met since, by spool."""
    marks = {s.id: last_mark(s, now) for s in spools}
    starts = [mark.at for mark in marks.values() if mark]
    start = min(starts, default=now)
    temps, activity = hours_between(air_since(start, now), start, now)
    known = [
        Known(
            body=core_load(s, book[s.material], NOTHING, _net_g(s)).strand,
            moisture=quantity(mark) if mark else new_spool_moisture(book[s.material]),
            activity=met_by_spool(s.stays.all(), activity, mark.at if mark else now, now),
        )
        for s, mark in ((s, marks[s.id]) for s in spools)
    ]
    return dict(zip((s.id for s in spools), moistures_now(known, temps), strict=True))


def _net_g(spool: Spool) -> float | None:
    """Mass of strand at the last weighing, g; reads what `lanes` fetched."""
    gross: float | None = getattr(spool, "last_gross_g", None)
    return None if gross is None else gross - spool.tare_g


def _lane(spool: Spool, polymer: Material, run: Run | None, moisture: Quantity) -> Lane:
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
    found = lanes(now, only=[spool_id])
    if not found:
        raise Http404
    return found[0]


def load_now(spool_id: int, now: datetime) -> Load:
    """A spool as the core takes it for a run that starts at `now`."""
    lane = lane_of(spool_id, now)
    return core_load(lane.spool, lane.material, lane.moisture, lane.net_g)


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
    end_h: float
    heated_h: float
    paused: bool
    events: list[RunEvent]
    spent: "Spent"


def run_sheet(run: Run, now: datetime) -> RunSheet:
    """A run with its verdict now, its forecast from the start, and its weighings as points."""
    so_far = run_so_far(run, material_book()[run.spool.material], now)
    off = pauses(run, min(now, run.ended_at or now))
    end_h = end_with_pauses_h(off, run.duration_h)
    now_h = _hours(run.started_at, min(now, run.ended_at or now))
    shown_h = max(end_h * 1.1, now_h * 1.05)
    course_h = _curve_times(shown_h, COURSE_POINTS)
    if run.ended_at is None:
        found = review(so_far, now_h, course_h, end_h)
    else:
        key = repr((so_far, now_h, end_h, shown_h))
        found = _REVIEWS.get(key, lambda: review(so_far, now_h, course_h, end_h))
    return RunSheet(
        run=run,
        so_far=so_far,
        verdict=found.verdict,
        forecast=_forecast_of(run, so_far.load, shown_h),
        course=[CoursePoint(t, e) for t, e in zip(course_h, found.course, strict=True)],
        seen=[Seen(w, p) for w, p in zip(run.weighings.all(), found.points, strict=True)],
        now_h=now_h,
        end_h=end_h,
        heated_h=heated_h(off, now_h),
        paused=_is_paused(run),
        events=list(run.events.all()),
        spent=spent_on(run, heated_h(off, now_h)),
    )


def _forecast_of(run: Run, load: Load, shown_h: float) -> Forecast:
    """What was forecast for a run before anything was weighed."""
    setup = Setup((load,), core_dryer(run.dryer), RoomAir(run.room_temp_c, run.room_rh_pct))
    return _FORECASTS.get(
        repr((setup, run.temp_c, shown_h)),
        lambda: forecasts(setup, run.temp_c, _curve_times(shown_h, CURVE_POINTS))[0],
    )


def _is_paused(run: Run) -> bool:
    last = [e.kind for e in run.events.all() if e.kind in (EventKind.PAUSED, EventKind.RESUMED)]
    return run.ended_at is None and bool(last) and last[-1] == EventKind.PAUSED


@dataclass(frozen=True)
class Spent:
    """Energy that a run took so far, kWh, and whether a meter says so; its price where a tariff is known."""

    energy_kwh: Quantity
    metered: bool
    amount: float | None
    currency: str


def spent_on(run: Run, heated: float) -> Spent:
    """What a run drew until now: by the meter's two readings, else by the dryer's mean power."""
    power = mean_power_w(core_dryer(run.dryer), run.room_temp_c, run.temp_c)
    metered = run.energy_start_kwh is not None and run.energy_end_kwh is not None
    energy = Quantity(power.value * heated / 1000.0, power.uncertainty * heated / 1000.0)
    if run.energy_start_kwh is not None and run.energy_end_kwh is not None:
        energy = Quantity(run.energy_end_kwh - run.energy_start_kwh, 0.01)
    mine = preferences()
    tariff = tariff_of(mine)
    local = timezone.localtime(run.started_at)
    minute = local.hour * 60 + local.minute
    amount = None if tariff is None else tariff.price(energy.value, minute, max(heated, 0.01))
    return Spent(energy, metered, amount, mine.currency)


def get_run(run_id: int) -> Run:
    """One run with its weighings. Raises Http404."""
    run = runs_with_weighings().filter(pk=run_id).first()
    if run is None:
        raise Http404
    return run
