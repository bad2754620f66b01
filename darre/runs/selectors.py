"""Reading runs: records turned into the core's plain values, and what the core says of them."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

import numpy as np
from django.http import Http404
from django.utils import timezone

from darre.equipment.records import core_dryer
from darre.inventory.material_book import material_book
from darre.inventory.models import Spool
from darre.inventory.records import core_load
from darre.inventory.selectors import preferences, tariff_of
from darre.runs.apps import run_caches
from darre.runs.models import EventKind, Run, RunEvent, Weighing
from darre.runs.records import core_weighing, hours_between, pauses, runs_with_weighings
from drying.air import RoomAir
from drying.dryers import Load, Setup, mean_power_w
from drying.materials import Material
from drying.planning import Forecast, forecasts
from drying.quantity import Quantity
from drying.runs import (
    Estimate,
    PastRun,
    RunSoFar,
    TimedWeighing,
    Verdict,
    WeighingPoint,
    end_with_pauses_h,
    heated_h,
    judge,
    rate_from,
    review,
    segments_with_pauses,
)
from drying.transport import Rate
from drying.weighing import Tare, TareMethod

CURVE_POINTS = 97
COURSE_POINTS = 41


def past_runs() -> list[PastRun]:
    """What every ended run taught about its rate."""
    ended = Run.objects.filter(learned_log_rate__isnull=False, ended_at__isnull=False).select_related("spool")
    return [
        PastRun(run.spool.material, run.spool_id, run.dryer_id, run.learned_log_rate, run.learned_log_rate_sd)
        for run in ended
        if run.learned_log_rate is not None and run.learned_log_rate_sd is not None
    ]


def learned_rate(spool: Spool, dryer_id: int, past: Sequence[PastRun] | None = None) -> Rate:
    """What ended runs (read now, where they are not given) teach of how fast this spool dries in this dryer."""
    return rate_from(past_runs() if past is None else past, spool.material, spool.pk, dryer_id)


def run_so_far(run: Run, polymer: Material, now: datetime, last: Weighing | None = None) -> RunSoFar:
    """A run as the core judges it, from its record; `last`: one more weighing that is not stored yet."""
    weighings: Sequence[Weighing] = [*run.weighings.all(), *([last] if last else [])]
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
            core_dryer(run.dryer),
            load.material,
            room,
            run.temp_c,
            hours_between(run.started_at, until),
            pauses(run, until),
        ),
        aim_pct=run.aim_pct,
        rate=Rate(run.rate_median, run.rate_sigma),
        tare=tare,
        weighings=[TimedWeighing(hours_between(run.started_at, w.at), core_weighing(w)) for w in weighings],
    )


def _curve_times(end_h: float, points: int) -> list[float]:
    """Times from 0 to `end_h`, close together at the start, where the curve is steep."""
    return [float(t) for t in end_h * np.linspace(0.0, 1.0, points) ** 2]


def judge_run(run: Run, polymer: Material, now: datetime, last: Weighing | None = None) -> Verdict:
    """The core's verdict on a run at `now`, or at its end where that came first."""
    now_h = hours_between(run.started_at, min(now, run.ended_at or now))
    so_far = run_so_far(run, polymer, now, last)
    if run.ended_at is None:
        return judge(so_far, now_h, run.duration_h, run_caches().courses)
    return run_caches().verdicts.get(
        repr((so_far, now_h)), lambda: judge(so_far, now_h, run.duration_h, run_caches().courses)
    )


@dataclass(frozen=True)
class Seen:
    """A weighing of a run with its point on the run's chart."""

    weighing: Weighing
    point: WeighingPoint


@dataclass(frozen=True)
class CoursePoint:
    """What is expected of a run's moisture at a time, h after the start."""

    time_h: float
    estimate: Estimate


@dataclass(frozen=True)
class RunSheet:
    """What the Run room shows: the record, the core's verdict, the forecast it set out with, and the course that the
    weighings make out.
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
    now_h = hours_between(run.started_at, min(now, run.ended_at or now))
    shown_h = max(end_h * 1.1, now_h * 1.05)
    course_h = _curve_times(shown_h, COURSE_POINTS)
    if run.ended_at is None:
        found = review(so_far, now_h, course_h, end_h, run_caches().courses)
    else:
        key = repr((so_far, now_h, end_h, shown_h))
        found = run_caches().reviews.get(key, lambda: review(so_far, now_h, course_h, end_h, run_caches().courses))
    return RunSheet(
        run=run,
        so_far=so_far,
        verdict=found.verdict,
        forecast=forecast_of(run, so_far.load, shown_h),
        course=[CoursePoint(t, e) for t, e in zip(course_h, found.course, strict=True)],
        seen=[Seen(w, p) for w, p in zip(run.weighings.all(), found.points, strict=True)],
        now_h=now_h,
        end_h=end_h,
        heated_h=heated_h(off, now_h),
        paused=_is_paused(run),
        events=list(run.events.all()),
        spent=spent_on(run, heated_h(off, now_h)),
    )


def forecast_of(run: Run, load: Load, shown_h: float) -> Forecast:
    """What was forecast for a run before anything was weighed."""
    setup = Setup((load,), core_dryer(run.dryer), RoomAir(run.room_temp_c, run.room_rh_pct))
    return run_caches().forecasts.get(
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
