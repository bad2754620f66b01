"""Reading runs: records turned into the core's plain values, and what the core says of them."""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime

import numpy as np
from django.db.models import TextField
from django.db.models.functions import Cast
from django.http import Http404
from django.utils import timezone

from darre.equipment.models import Dryer
from darre.inventory.material_book import MaterialBook, material_book
from darre.inventory.models import Spool
from darre.inventory.records import core_load
from darre.inventory.selectors import preferences, tariff_of
from darre.runs.apps import run_caches
from darre.runs.conditions import DesiccantInRun, conditions_met, desiccant_in, start_temp_c
from darre.runs.lessons import read_lesson
from darre.runs.models import Batch, Run, RunEvent, Weighing
from darre.runs.plausible import used_between
from darre.runs.records import (
    core_weighing,
    counted,
    dryer_then,
    hours_between,
    in_open_winding,
    is_paused,
    load_then,
    of_run,
    pauses,
    planned,
    planned_h,
    room_then,
    runs_with_weighings,
    temp_now_c,
)
from drying.dryers import Load, Setup, heated_h, mean_power_w
from drying.materials import Material
from drying.planning import Forecast, forecasts
from drying.quantity import NOTHING, Quantity
from drying.runs import (
    USUAL_WARMING,
    Estimate,
    NextGrams,
    PastRun,
    RunSoFar,
    TimedWeighing,
    Verdict,
    WeighingPoint,
    as_in_common_winding,
    judge,
    next_grams,
    rate_from,
    review,
    update_posterior,
)
from drying.transport import Lesson, Rate, strand_share
from drying.weighing import Tare, TareMethod
from drying.weighing import Weighing as CoreWeighing

CURVE_POINTS = 97
COURSE_POINTS = 41
BEYOND = 1.1
SHARE_AT_C = 60.0  # shares of runs are compared at one temperature; it hardly moves them


def past_runs(book: MaterialBook | None = None) -> list[PastRun]:
    """What every ended run taught about its rate; the materials are read where they are not given."""
    ended = Run.objects.filter(learned_log_rate__isnull=False, ended_at__isnull=False)
    ended = ended.defer("forecast", "rate_cells", "lesson", "batch__ticket").annotate(
        taught=Cast("lesson", TextField())
    )
    book = book or material_book()
    return [
        _past(run, run.taught, run.learned_log_rate, run.learned_log_rate_sd, book)
        for run in ended.select_related("spool__empty_spool", "batch")
        if run.learned_log_rate is not None and run.learned_log_rate_sd is not None
    ]


def _past(run: Run, taught: str, log_rate: float, uncertainty: float, book: MaterialBook) -> PastRun:
    share = share_of_strand(run.spool, book[run.spool.material], run.form, run.net_g)
    lesson, warming = read_lesson(taught)
    key = (run.spool.material, run.spool_id, run.batch.dryer_id)
    found = PastRun(*key, log_rate, uncertainty, share, lesson, warming)
    return as_in_common_winding(found) if in_open_winding(run) else found


def share_of_strand(spool: Spool, material: Material, form: str, net_g: float | None) -> float:
    """How much of a spool's drying time its strand takes; `form`: as the spool is, where it is empty."""
    load = core_load(spool, material, Quantity(0.1, 0.0), net_g, form)
    return strand_share(load.filament, SHARE_AT_C)


def learned_rate(spool: Spool, dryer_id: int, strand_share: float, past: Sequence[PastRun] | None = None) -> Rate:
    """What ended runs (read now, where they are not given) teach of how fast this spool dries in this dryer."""
    return rate_from(past_runs() if past is None else past, spool.material, spool.pk, dryer_id, strand_share)


def run_so_far(
    run: Run, book: MaterialBook, now: datetime, last: Weighing | None = None, printed: Quantity = NOTHING
) -> RunSoFar:
    """A run as the core judges it, from its record; `last`: one more weighing that is not stored yet, and what was
    printed before it.
    """
    weighings: Sequence[Weighing] = [*counted(run), *([last] if last and not last.doubtful else [])]
    tare_of: Weighing | Spool = weighings[0] if weighings else run.spool
    tare = Tare(tare_of.tare_g, tare_of.tare_sd_g, TareMethod(tare_of.tare_method))
    load = load_then(run, book, weighings[0].gross_g - tare.mass_g if weighings else run.net_g)
    return RunSoFar(
        load=load,
        segments=conditions_met(run, load, book, min(now, run.ended_at or now)),
        aim_pct=run.aim_pct,
        tare=tare,
        weighings=[
            TimedWeighing(
                hours_between(run.started_at, w.at),
                _with_prints(run.spool, weighings[0], w, printed if w is last else NOTHING),
            )
            for w in weighings
        ],
        rate=load.rate,
        start_temp_c=start_temp_c(run),
        fan=dryer_then(run.batch).fan,
        body_activity=run.body_activity,
        warming=_warming(run),
    )


def _warming(run: Run) -> Quantity:
    if run.warming_log is None or run.warming_log_sd is None:
        return USUAL_WARMING
    return Quantity(run.warming_log, run.warming_log_sd)


def _with_prints(spool: Spool, first: Weighing, weighing: Weighing, more: Quantity) -> CoreWeighing:
    """A weighing with what was printed off the spool since the first added to it again: the rest of a loss is water."""
    found = core_weighing(weighing)
    if weighing.weighed_object == Weighing.Object.COIL:
        return found
    used = used_between(spool.uses.all(), first.at, weighing.at)
    sd_g = math.hypot(used.uncertainty, more.uncertainty)
    return replace(found, gross_g=found.gross_g + used.value + more.value, printed_sd_g=sd_g)


def _shown_h(planned_h: float, end_h: float, now_h: float) -> float:
    """How far a run is drawn: a tenth beyond the hours of heat that were planned, as its forecast is; where a pause
    moves its end, or it goes on, a tenth more, as often as is needed.

    In such steps, since whatever is drawn anew is worked out anew, and an open page asks every few seconds.
    """
    wanted = max(end_h, 1.02 * now_h / BEYOND) / planned_h
    return planned_h * BEYOND ** (1 + max(math.ceil(math.log(max(wanted, 1.0), BEYOND) - 1e-9), 0))


def _curve_times(end_h: float, points: int) -> list[float]:
    """Times from 0 to `end_h`, close together at the start, where the curve is steep."""
    return [float(t) for t in end_h * np.linspace(0.0, 1.0, points) ** 2]


def lesson_by(run: Run, so_far: RunSoFar, now: datetime) -> Lesson:
    """What the weighings of a run by themselves say of rate, floor and shape."""
    now_h = hours_between(run.started_at, min(now, run.ended_at or now))
    return update_posterior(so_far, now_h, run_caches().courses).lesson


def judge_run(
    run: Run, book: MaterialBook, now: datetime, last: Weighing | None = None, printed: Quantity = NOTHING
) -> Verdict:
    """The core's verdict on a run at `now`, or at its end where that came first."""
    now_h = hours_between(run.started_at, min(now, run.ended_at or now))
    so_far, plan, courses = run_so_far(run, book, now, last, printed), planned(run, now), run_caches().courses
    if run.ended_at is None:
        return judge(so_far, now_h, plan, courses)
    return run_caches().verdicts.get(repr((so_far, now_h, plan)), lambda: judge(so_far, now_h, plan, courses))


@dataclass(frozen=True)
class Seen:
    """A weighing of a run with its point on the run's chart; a doubtful one has none."""

    weighing: Weighing
    point: WeighingPoint | None


def weighings_of(spool: Spool) -> list[Seen]:
    """Every weighing of a spool and of its coils, in runs and out of them."""
    return [Seen(weighing, None) for weighing in spool.weighings.select_related("scale", "coil").order_by("at", "id")]


@dataclass(frozen=True)
class CoursePoint:
    """What is expected of a run's moisture at a time, h after the start."""

    time_h: float
    estimate: Estimate


@dataclass(frozen=True)
class RunSheet:
    """What the Run room shows: the record, the core's verdict, the forecast it set out with, and the course that the
    weighings make out. `planned_h`: hours of heat; `beside`: the other runs of its batch; `spent`: on the whole box.
    """

    run: Run
    so_far: RunSoFar
    verdict: Verdict
    forecast: Forecast
    course: list[CoursePoint]
    seen: list[Seen]
    now_h: float
    end_h: float
    planned_h: float
    heated_h: float
    paused: bool
    temp_now_c: float
    events: list[RunEvent]
    beside: list[Run]
    spent: "Spent"
    next_grams: NextGrams | None
    desiccant: DesiccantInRun | None


def run_sheet(run: Run, now: datetime) -> RunSheet:
    """A run with its verdict now, its forecast from the start, and its weighings as points."""
    book, courses = material_book(), run_caches().courses
    so_far, plan = run_so_far(run, book, now), planned(run, now)
    off = of_run(run, pauses(run.batch, min(now, run.ended_at or now)))
    now_h = hours_between(run.started_at, min(now, run.ended_at or now))
    shown_h = _shown_h(planned_h(run), plan.end_h, now_h)
    course_h = _curve_times(shown_h, COURSE_POINTS)
    if run.ended_at is None:
        found = review(so_far, now_h, course_h, plan, courses)
    else:
        key = repr((so_far, now_h, plan, shown_h))
        found = run_caches().reviews.get(key, lambda: review(so_far, now_h, course_h, plan, courses))
    points = iter(found.points)
    return RunSheet(
        run=run,
        so_far=so_far,
        verdict=found.verdict,
        forecast=forecast_of(run, so_far.load, shown_h),
        course=[CoursePoint(t, e) for t, e in zip(course_h, found.course, strict=True)],
        seen=[Seen(w, None if w.doubtful else next(points)) for w in run.weighings.all()],
        now_h=now_h,
        end_h=plan.end_h,
        planned_h=planned_h(run),
        heated_h=heated_h(off, now_h),
        paused=run.ended_at is None and is_paused(run.batch),
        temp_now_c=temp_now_c(run.batch),
        events=list(run.batch.events.all()),
        beside=[other for other in run.batch.runs.all() if other.pk != run.pk],
        spent=spent_on(run.batch, now),
        next_grams=next_grams(so_far, now_h, found.verdict.moisture)
        if run.ended_at is None and found.verdict.told
        else None,
        desiccant=desiccant_in(run, book, now),
    )


def forecast_of(run: Run, load: Load, shown_h: float) -> Forecast:
    """What was forecast for a run before anything was weighed: as its plan said, or where it came without one,
    computed.
    """
    if run.forecast:
        told = run.forecast
        time_h, *curves = (np.array(told[name]) for name in ("time_h", "moisture_pct", "low_pct", "high_pct"))
        return Forecast(time_h, curves[0], curves[1], curves[2], told["floor_pct"], told["basis"])
    setup = Setup((load,), dryer_then(run.batch), room_then(run.batch))
    return run_caches().forecasts.get(
        repr((setup, run.batch.temp_c, shown_h)),
        lambda: forecasts(setup, run.batch.temp_c, _curve_times(shown_h, CURVE_POINTS))[0],
    )


@dataclass(frozen=True)
class Spent:
    """Energy that a run took so far, kWh, and whether a meter says so; its price where a tariff is known."""

    energy_kwh: Quantity
    metered: bool
    amount: float | None
    currency: str


def spent_on(batch: Batch, now: datetime) -> Spent:
    """What a box drew until now, for all that is in it: by the meter's two readings, else by the dryer's mean power."""
    ends = [run.ended_at for run in batch.runs.all()]
    last = now if None in ends else max((end for end in ends if end is not None), default=now)
    heated = heated_h(pauses(batch, min(now, last)), hours_between(batch.started_at, min(now, last)))
    power = mean_power_w(dryer_then(batch), batch.room_temp_c, batch.temp_c)
    metered = batch.energy_start_kwh is not None and batch.energy_end_kwh is not None
    energy = Quantity(power.value * heated / 1000.0, power.uncertainty * heated / 1000.0)
    if batch.energy_start_kwh is not None and batch.energy_end_kwh is not None:
        energy = Quantity(batch.energy_end_kwh - batch.energy_start_kwh, 0.01)
    mine = preferences()
    tariff = tariff_of(mine)
    local = timezone.localtime(batch.started_at)
    minute = local.hour * 60 + local.minute
    amount = None if tariff is None else tariff.price(energy.value, minute, max(heated, 0.01))
    return Spent(energy, metered, amount, mine.currency)


def running_in(dryer: Dryer) -> list[Run]:
    """The runs that go on in a dryer, the first that went in first."""
    found = Run.objects.filter(batch__dryer=dryer, ended_at__isnull=True)
    return list(found.select_related("spool", "batch").prefetch_related("batch__events").order_by("started_at", "id"))


def get_run(run_id: int) -> Run:
    """One run with its weighings. Raises Http404."""
    run = runs_with_weighings().filter(pk=run_id).first()
    if run is None:
        raise Http404
    return run
