"""Is it done? What the weighings of a run amount to, when to stop, when to weigh next, and the plain rule beside it."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

import numpy as np

from drying.errors import require_range
from drying.materials import most_held_pct
from drying.quantity import COVERAGE, NOTHING, Quantity
from drying.runs.posterior import CourseCache, Estimate, HoursLeft, Posterior, update_posterior
from drying.runs.record import RunSoFar
from drying.weighing import Loss
from drying.weighing.loss import loss

P_DRY = 0.9
P_NEVER = 0.9  # from here on the floor is said to lie over the aim
NEAR_FLOOR_SHARE = 0.1  # of what there was above the floor: with less left a run goes nowhere any more
SOON_H, LEAST_AHEAD_H, FAR_H, TELLING_SHARE, CANDIDATES = 0.5, 1.0, 48.0, 0.8, 24
SOUGHT_ANEW_H = 0.05
STEADY_APART_H = 1.0  # the constant-mass rule wants two weighings at least so far apart


class RunState(StrEnum):
    """What the weighings of a run amount to."""

    NO_WEIGH_IN = "no_weigh_in"
    NO_WEIGH_OUT = "no_weigh_out"
    NO_FINDING = "no_finding"
    GAINED = "gained"
    BETWEEN_TURNS = "between_turns"
    NOT_WATER = "not_water"
    NO_FIT = "no_fit"
    FLAT = "flat"
    DRY = "dry"
    STALLED = "stalled"
    GOING = "going"


UNTOLD = (RunState.GAINED, RunState.BETWEEN_TURNS, RunState.NOT_WATER, RunState.NO_FIT)
"""States in which the weighings say nothing of the moisture: they carry none, no time to the aim, no chance of dry."""


LESS_SHARE = 0.7  # of the loss that was forecast
TEACHING = (RunState.DRY, RunState.GOING, RunState.STALLED)
"""States of an ended run whose weighings fit a course, so that they teach of its rate."""


@dataclass(frozen=True)
class ConstantMass:
    """The plain rule: the last change between two weighings at least an hour apart, g, and whether it is none that the
    scale could tell. What is steady may be dry, or as dry as this air allows.
    """

    change_g: Quantity
    hours: float
    steady: bool


@dataclass(frozen=True)
class Verdict:
    """What can honestly be said of a run now.

    `loss` is None before a second weighing. `start` and `moisture`: the posterior now of the start and of the
    present. `to_aim`: hours from now. `p_never`: the chance that the air's floor lies over the aim. `log_rate`: how
    fast it dries against the forecast. `spool_water_g`: water that the empty spool gave off, already
    taken out of the filament's loss; zero for plastic. `expected_g`: the loss that was forecast by the last weighing;
    `finer_by`: how many times finer a scale would have to be to tell it (1 and under: this one could).
    `wet_loss_g`: what one at its trouble threshold would have lost by the last weighing even if it dried slowly.
    `next_weigh_h`: when, h from the start, a weigh-in tells most.
    """

    state: RunState
    loss: Loss | None
    start: Estimate
    moisture: Estimate
    floor_pct: float
    p_dry: float
    p_never: float
    to_aim: HoursLeft
    log_rate: Quantity
    spool_water_g: Quantity
    expected_g: float
    finer_by: float
    wet_loss_g: float
    constant_mass: ConstantMass | None
    next_weigh_h: float | None

    @property
    def told(self) -> bool:
        """Whether the numbers may be shown. Where they may not, `moisture` is the forecast's, for the record alone."""
        return self.state not in UNTOLD

    @property
    def lost_less(self) -> bool:
        """Whether it is said to be dry though much less left than was forecast: it began drier, or the heat was off
        for hours and nobody knows. It holds in two of three runs whose heat was off and that were wrongly said to be
        dry, and in one of four that are (`tools/bench_endpoint.py`).
        """
        if self.state is not RunState.DRY or self.loss is None:
            return False
        return self.loss.filament_g.value < LESS_SHARE * self.expected_g

    @property
    def rate_factor(self) -> float:
        """How fast it dries against the forecast."""
        return math.exp(self.log_rate.value)


def constant_mass(run: RunSoFar) -> ConstantMass | None:
    """The plain constant-mass rule on the last two weighings far enough apart; None where there are none."""
    if len(run.weighings) < 2:
        return None
    last = run.weighings[-1]
    before = [w for w in run.weighings[:-1] if last.time_h - w.time_h >= STEADY_APART_H]
    if not before:
        return None
    other = before[-1]
    change = other.weighing.mass_g - last.weighing.mass_g
    u = math.hypot(other.weighing.uncertainty_g, last.weighing.uncertainty_g)
    return ConstantMass(Quantity(change, u), last.time_h - other.time_h, abs(change) < COVERAGE * u)


def _expected_loss_g(run: RunSoFar, posterior: Posterior) -> float:
    """The loss that was forecast between weigh-in and last weighing, before anything was weighed, g."""
    first, last = run.weighings[0].time_h, run.weighings[-1].time_h
    return run.dry_g / 100.0 * (posterior.forecast_pct(first) - posterior.forecast_pct(last))


def _wet_loss_g(run: RunSoFar, posterior: Posterior) -> float:
    """What a spool at its trouble threshold would have lost between weigh-in and last weighing, g, even if it dried
    slowly; 0 for a material without such a threshold.
    """
    trouble = run.load.material.trouble
    if trouble is None or trouble.value <= run.floor_pct:
        return 0.0
    slow = run.rate.median * math.exp(-run.rate.sigma)
    first, last = (posterior.course_from(trouble.value, slow, run.weighings[n].time_h) for n in (0, -1))
    return run.dry_g / 100.0 * (first - last)


def _next_weigh_h(run: RunSoFar, posterior: Posterior, now_h: float, planned_h: float) -> float | None:
    """When the next weigh-in leaves least doubt of the end, see `_most_telling_h`. None without a weigh-in. It is
    sought anew every few minutes: an open page asks more often, and is told the same hour meanwhile.
    """
    if not run.weighings:
        return None
    now_h, end_h = (math.floor(h / SOUGHT_ANEW_H) * SOUGHT_ANEW_H for h in (now_h, planned_h))
    at = now_h, max(end_h, SOUGHT_ANEW_H) if planned_h > 0.0 else 0.0
    return posterior.next_weighs.get(at, lambda: _most_telling_h(run, posterior, *at))


def _most_telling_h(run: RunSoFar, posterior: Posterior, now_h: float, planned_h: float) -> float | None:
    """By linear regression of the hours to the aim on the loss to come; the earliest weigh-in that brings most of what
    can be had.
    """
    last_h, scale = run.weighings[-1].time_h, run.weighings[-1].weighing.scale
    to_aim, left = posterior.hours_to_aim, posterior.left(now_h).p50
    # One that comes after the likely end helps nobody to stop in time.
    end = now_h + max(LEAST_AHEAD_H, FAR_H if left is None else min(left, FAR_H))
    end = min(end, max(planned_h, now_h + LEAST_AHEAD_H)) if planned_h > 0.0 else end
    first = max(now_h, last_h) + SOON_H
    if end <= first:
        return None
    candidates = np.linspace(first, end, CANDIDATES)
    variance, shared = posterior.losses_against(np.minimum(to_aim, 2.0 * end), last_h, candidates)
    unsure = 2.0 * (100.0 * scale.uncertainty_g / run.dry_g) ** 2
    gains = shared**2 / (variance + unsure)
    best = float(gains.max())
    return None if best <= 0.0 else float(candidates[np.argmax(gains >= TELLING_SHARE * best)])


def _state(run: RunSoFar, seen: Loss, verdict: Verdict, posterior: Posterior) -> RunState:
    if not seen.finding:
        # Where a wet spool would have lost more than the scale can miss, no loss is a finding: it was dry already, as
        # far as this air goes. A flat line of three points may say that it is dry.
        if verdict.wet_loss_g < seen.detectable_g:
            return RunState.NO_FINDING
        return RunState.DRY if len(run.weighings) > 2 and verdict.p_dry >= P_DRY else RunState.FLAT
    if seen.filament_g.value < 0.0:
        return RunState.GAINED
    if seen.dry_basis_pct.value - 2.0 * seen.dry_basis_pct.uncertainty > most_held_pct(run.load.material):
        return RunState.BETWEEN_TURNS if run.load.soaked else RunState.NOT_WATER
    if not posterior.fits:
        return RunState.NO_FIT
    if verdict.p_dry >= P_DRY:
        return RunState.DRY
    near = verdict.moisture.p50 - verdict.floor_pct <= NEAR_FLOOR_SHARE * abs(verdict.start.p50 - verdict.floor_pct)
    return RunState.STALLED if verdict.p_never >= P_NEVER and near else RunState.GOING


@dataclass(frozen=True)
class Planned:
    """What the ticket of a run said: when it ends and when to weigh, h after the start."""

    end_h: float = 0.0
    weigh_at_h: tuple[float, ...] = ()

    def next_weigh_h(self, now_h: float) -> float | None:
        """The next weighing of the ticket; None where it had none left."""
        return next((h for h in self.weigh_at_h if h > now_h), None)


UNPLANNED = Planned()


def judge(run: RunSoFar, now_h: float, planned: Planned = UNPLANNED, courses: CourseCache | None = None) -> Verdict:
    """What the weighings say at `now_h` (h after the start): loss, moisture now, hours to the aim, the chance that it
    is dry. Until a second weighing tells more, the next one is that of the ticket.

    A loss within the scale's error is no finding, neither zero nor success. With fewer than two weighings the answer
    is the forecast alone. Raises OutOfRangeError for a negative time.
    """
    require_range("now_h", now_h, 0.0, 1e5, "h")
    kept = CourseCache(1) if courses is None else courses
    return _verdict(run, update_posterior(run, now_h, kept), now_h, planned, kept)


def _verdict(run: RunSoFar, posterior: Posterior, now_h: float, planned: Planned, courses: CourseCache) -> Verdict:
    weighed = len(run.weighings) > 1
    moisture = posterior.estimate_at(now_h)
    seen, body, expected = None, NOTHING, 0.0
    if weighed:
        body = run.beside_strand_g(run.weighings[-1].time_h).quantity
        first, last = run.weighings[0].weighing, run.weighings[-1].weighing
        seen = loss(first, last, run.tare, max(moisture.mean, 0.0), body)
        expected = _expected_loss_g(run, posterior)
    of_floor = posterior.chances.sum(axis=(0, 1, 3))
    closed = run.segments[-1].vent_m3_h == 0.0  # nothing leaves: it stays as it is
    told = None if weighed else planned.next_weigh_h(now_h)
    next_weigh_h = told if told is not None else _next_weigh_h(run, posterior, now_h, planned.end_h)
    verdict = Verdict(
        state=RunState.NO_WEIGH_OUT if run.weighings else RunState.NO_WEIGH_IN,
        loss=seen,
        start=posterior.estimate_at(0.0),
        moisture=moisture,
        floor_pct=moisture.p50 if closed else float(of_floor @ posterior.floors),
        p_dry=posterior.chance_under(run.aim_pct, now_h),
        p_never=1.0 - posterior.chance_under(run.aim_pct, now_h)
        if closed
        else float(of_floor[posterior.floors >= run.aim_pct].sum()),
        to_aim=posterior.left(now_h),
        log_rate=posterior.log_rate,
        spool_water_g=body,
        expected_g=expected,
        wet_loss_g=_wet_loss_g(run, posterior) if weighed else 0.0,
        finer_by=0.0 if seen is None else seen.detectable_g / max(expected, 1e-3),
        constant_mass=constant_mass(run),
        next_weigh_h=next_weigh_h,
    )
    if seen is None:
        return verdict
    state = _state(run, seen, verdict, posterior)
    return replace(verdict, state=state) if state not in UNTOLD else _untold(run, verdict, state, now_h, courses)


def _untold(run: RunSoFar, verdict: Verdict, state: RunState, now_h: float, courses: CourseCache) -> Verdict:
    """A verdict without what its weighings cannot tell: the moisture as it was forecast before they were made."""
    forecast = update_posterior(replace(run, weighings=run.weighings[:1]), now_h, courses)
    return replace(
        verdict,
        state=state,
        start=forecast.estimate_at(0.0),
        moisture=forecast.estimate_at(now_h),
        p_dry=0.0,
        p_never=0.0,
        to_aim=HoursLeft(None, None, None),
    )


@dataclass(frozen=True)
class WeighingPoint:
    """A weighing as a point on the moisture's course: h after the start, % of dry mass, standard uncertainty."""

    time_h: float
    moisture_pct: float
    uncertainty_pct: float


def _points(run: RunSoFar, posterior: Posterior) -> list[WeighingPoint]:
    """What was still in the strand at each weighing: the start as it is expected now, less the loss up to then."""
    if not run.weighings:
        return []
    first, *rest = run.weighings
    start = posterior.estimate_at(first.time_h)
    points = [WeighingPoint(first.time_h, start.mean, start.sd)]
    for w in rest:
        body = run.beside_strand_g(w.time_h).quantity
        lost = loss(first.weighing, w.weighing, run.tare, spool_water_g=body).dry_basis_pct
        points.append(WeighingPoint(w.time_h, start.mean - lost.value, lost.uncertainty))
    return points


@dataclass(frozen=True)
class Review:
    """A run as a whole: the verdict now, its weighings as points, and the moisture over time as it is expected now."""

    verdict: Verdict
    points: list[WeighingPoint]
    course: list[Estimate]


def review(
    run: RunSoFar,
    now_h: float,
    time_h: Sequence[float],
    planned: Planned = UNPLANNED,
    courses: CourseCache | None = None,
) -> Review:
    """Judge a run and follow it over the times in h, from one update of the posterior."""
    kept, until_h = CourseCache(1) if courses is None else courses, max([now_h, *time_h])
    posterior = update_posterior(run, until_h, kept)
    verdict = _verdict(run, posterior, now_h, planned, kept)
    shown = posterior if verdict.told else update_posterior(replace(run, weighings=run.weighings[:1]), until_h, kept)
    return Review(verdict, _points(run, shown), [shown.estimate_at(float(t)) for t in time_h])
