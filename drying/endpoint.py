"""Is it done? What the weigh-ins of a run say about the moisture now.

Two things are unknown when a run starts: the start moisture, and how fast this spool really dries against the
forecast. Both get a prior and are updated by Bayes' rule on a grid, which is laid anew where the chances
turn out to lie. The likelihood of the losses holds the scale's uncertainty, what a card body may have given off, and
an allowance for a course of another shape than computed. Nothing is sampled, so the same weigh-ins always give the same
answer.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

import numpy as np
from scipy.special import chdtrc

from drying.arrays import Array
from drying.dryer import Dryer
from drying.errors import OutOfRangeError, require_range
from drying.humid_air import RoomAir
from drying.load import Load
from drying.materials import Material
from drying.transport import course as course_of
from drying.water_state import even_state
from drying.weighing import NOTHING, Loss, Quantity, Tare, Weighing, loss

P_DRY = 0.9

# Rate against the forecast, common to strand and pack: median and sigma of a log-normal. The sigma joins the spread of
# the diffusivity with that of the winding (engineering estimates in `materials.toml` and `bands`).
RATE_MEDIAN, RATE_SIGMA = 1.0, 0.55

# What was believed of the start may be plainly wrong: this share of the prior is spread over all the strand can hold.
STRAY_SHARE = 0.05
SHAPE_ERROR = 0.015  # engineering estimate: departure from the computed curve's shape, share of the loss, one sd
LEAST_FIT = 0.001  # weigh-ins less likely than this under every curve do not fit

_START_POINTS, _RATE_POINTS, _REACH, _NEGLIGIBLE = 81, 61, 4.0, 1e-6


class RunState(StrEnum):
    """What the weigh-ins of a run amount to."""

    NO_WEIGH_IN = "no_weigh_in"
    NO_WEIGH_OUT = "no_weigh_out"
    NO_FINDING = "no_finding"
    GAINED = "gained"
    NOT_WATER = "not_water"
    NO_FIT = "no_fit"
    DRY = "dry"
    GOING = "going"


@dataclass(frozen=True)
class Estimate:
    """Moisture in % of dry mass: mean, standard deviation and 5, 50, 95 % points of what is believed."""

    mean: float
    sd: float
    p05: float
    p50: float
    p95: float


@dataclass(frozen=True)
class TimedWeighing:
    """A weighing and when it was made, h after the start of heating."""

    time_h: float
    weighing: Weighing


@dataclass(frozen=True)
class RunSoFar:
    """A run as the scale has seen it: the load, dryer and room, air at the spool in °C, the floor of that air and the
    aim in % of dry mass, tare, and the weigh-ins in order of time; the first is the weigh-in.
    """

    load: Load
    dryer: Dryer
    room: RoomAir
    air_c: float
    floor_pct: float
    aim_pct: float
    tare: Tare
    weighings: Sequence[TimedWeighing]


@dataclass(frozen=True)
class Verdict:
    """What can honestly be said of a run now.

    `loss` is None before a second weighing. `start` and `moisture`: what is believed now of the start and of the
    present. `rate_factor`: how fast it dries against the forecast. `body_g`: water that the spool's own body is
    thought to have given off, already taken out of the strand's loss; zero for plastic.
    """

    state: RunState
    loss: Loss | None
    start: Estimate
    moisture: Estimate
    p_dry: float
    rate_factor: float
    body_g: Quantity


def _estimate(values: Array, chances: Array) -> Estimate:
    mean = float(chances @ values)
    order = np.argsort(values)
    cumulative = np.cumsum(chances[order]) - 0.5 * chances[order]
    points = np.interp([0.05, 0.5, 0.95], cumulative, values[order])
    sd = math.sqrt(max(float(chances @ (values - mean) ** 2), 0.0))
    return Estimate(mean, sd, float(points[0]), float(points[1]), float(points[2]))


class _Curve:
    """The computed course of a run as the share of the start that still lies above the floor, over time.

    Exact for any start by Henry's law; for a cubic isotherm it is the course from the start as first believed. A rate
    other than one stretches time.
    """

    def __init__(self, run: RunSoFar, longest_h: float) -> None:
        load, self.floor = run.load, run.floor_pct
        self.knots = max(longest_h, 1e-3) * np.linspace(0.0, 1.0, 241) ** 3
        above = load.start.value - self.floor
        start = load.start.value if abs(above) > 0.02 * _most_held_pct(load.material) else self.floor + 0.1
        segments = run.dryer.segments(load.material, run.room, run.air_c, float(self.knots[-1]))
        moisture = course_of(load.strand, even_state(load.strand, start), segments, self.knots)
        self.left = (moisture - self.floor) / (start - self.floor)

    def moisture(self, starts: Array, rates: Array, time_h: float) -> Array:
        """Moisture, % of dry mass, after `time_h` for every pair of start and rate; shape (starts, rates)."""
        left = np.interp(np.cbrt(rates * time_h), np.cbrt(self.knots), self.left)
        return np.asarray(self.floor + np.multiply.outer(starts - self.floor, left))


@dataclass(frozen=True)
class Belief:
    """What is believed of a run: `chances[i, j]` that it started at `starts[i]` (% of dry mass) and dries at
    `rates[j]` times the computed rate. `fits` is False where no such pair explains the weigh-ins.
    """

    curve: _Curve
    starts: Array
    rates: Array
    chances: Array
    fits: bool

    def estimate_at(self, time_h: float) -> Estimate:
        """Moisture after `time_h` with its 90 % interval."""
        return _estimate(self.curve.moisture(self.starts, self.rates, time_h).ravel(), self.chances.ravel())

    def chance_under(self, moisture_pct: float, time_h: float) -> float:
        """The chance that the moisture after `time_h` is at or under `moisture_pct`."""
        return float(self.chances[self.curve.moisture(self.starts, self.rates, time_h) <= moisture_pct].sum())


def _log_prior(run: RunSoFar, starts: Array, rates: Array) -> Array:
    start = run.load.start
    sd, most = max(start.uncertainty, 1e-6), _most_held_pct(run.load.material)
    believed = np.exp(-0.5 * ((starts - start.value) / sd) ** 2) / (sd * math.sqrt(2.0 * math.pi))
    of_start = np.log((1.0 - STRAY_SHARE) * believed + STRAY_SHARE / most)
    return np.asarray(np.add.outer(of_start, -0.5 * (np.log(rates / RATE_MEDIAN) / RATE_SIGMA) ** 2))


def _most_held_pct(material: Material) -> float:
    """The most water that the polymer could hold, the spread of its data included, % of dry mass."""
    return material.k1.value * material.k1.spread**2 + material.k3.value * material.k3.spread**2


def _misfit(run: RunSoFar, curve: _Curve, starts: Array, rates: Array) -> Array:
    """Chi-square of the losses seen against those of every pair, all counted from the first weighing, whose error
    they share; shape (starts, rates).
    """
    first, *rest = run.weighings
    dry_g = (first.weighing.gross_g - run.tare.mass_g) / (1.0 + run.load.start.value / 100.0)
    seen = np.array([first.weighing.gross_g - w.weighing.gross_g for w in rest])
    bodies = [_body_since_weigh_in(run, w.time_h) for w in rest]
    body_mean, body_sd = np.array([b.value for b in bodies]), np.array([b.uncertainty for b in bodies])
    at_first = curve.moisture(starts, rates, first.time_h)
    misses = np.stack([dry_g / 100.0 * (at_first - curve.moisture(starts, rates, w.time_h)) for w in rest])
    misses = misses - (seen - body_mean)[:, None, None]
    own = [
        w.weighing.scale.uncertainty_g**2 + (SHAPE_ERROR * loss_g) ** 2 for w, loss_g in zip(rest, seen, strict=True)
    ]
    shared = first.weighing.scale.uncertainty_g**2 + np.multiply.outer(body_sd, body_sd)
    return np.asarray(np.einsum("iab,ij,jab->ab", misses, np.linalg.inv(np.diag(own) + shared), misses))


def _body_since_weigh_in(run: RunSoFar, time_h: float) -> Quantity:
    """Water that the spool's own body gave off between the weigh-in and `time_h`."""
    return run.load.body.water_given_off_g(run.tare.mass_g, time_h - run.weighings[0].time_h)


def _span(axis: Array, chances: Array) -> tuple[float, float]:
    """The part of an axis outside which the chances are negligible, one step wider at each end."""
    held = np.flatnonzero(chances > _NEGLIGIBLE * chances.max())
    return float(axis[max(held[0] - 1, 0)]), float(axis[min(held[-1] + 1, axis.size - 1)])


def believe(run: RunSoFar, until_h: float) -> Belief:
    """Update what was believed at the start with the weigh-ins; good for moistures up to `until_h` after the start.

    Raises OutOfRangeError where a weighing comes before the first.
    """
    if any(w.time_h < run.weighings[0].time_h for w in run.weighings[1:]):
        raise OutOfRangeError("time_h", "A weighing comes before the weigh-in: put them in order of time.")
    start = run.load.start
    longest = max([until_h, *(w.time_h for w in run.weighings)])
    curve = _Curve(run, longest * RATE_MEDIAN * math.exp(RATE_SIGMA * _REACH))
    near = start.value + np.linspace(-_REACH, _REACH, _START_POINTS) * max(start.uncertainty, 1e-6)
    wide = np.linspace(0.0, _most_held_pct(run.load.material), _START_POINTS)
    starts = np.unique(np.concatenate([near[near >= 0.0], wide]))
    rates = RATE_MEDIAN * np.exp(RATE_SIGMA * np.linspace(-_REACH, _REACH, _RATE_POINTS))
    chances, fits = _weigh_up(run, curve, starts, rates)
    low, high = _span(starts, chances.max(axis=1))
    starts = np.linspace(low, high, _START_POINTS)
    slow, fast = _span(rates, chances.max(axis=0))
    rates = np.geomspace(slow, fast, _RATE_POINTS)
    chances, fits = _weigh_up(run, curve, starts, rates)
    return Belief(curve, starts, rates, chances / chances.sum(), fits)


def _weigh_up(run: RunSoFar, curve: _Curve, starts: Array, rates: Array) -> tuple[Array, bool]:
    """Chances (not yet summing to one) on a grid, and whether anything on it fits the weigh-ins."""
    log_chances, fits = _log_prior(run, starts, rates), True
    if len(run.weighings) > 1:
        misfit = _misfit(run, curve, starts, rates)
        fits = bool(chdtrc(len(run.weighings) - 1, misfit.min()) >= LEAST_FIT)
        log_chances = log_chances - 0.5 * misfit
    return np.exp(log_chances - log_chances.max()), fits


def _state(material: Material, seen: Loss, belief: Belief, p_dry: float) -> RunState:
    if not seen.finding:
        return RunState.NO_FINDING
    if seen.strand_g.value < 0.0:
        return RunState.GAINED
    if seen.dry_basis_pct.value - 2.0 * seen.dry_basis_pct.uncertainty > _most_held_pct(material):
        return RunState.NOT_WATER
    if not belief.fits:
        return RunState.NO_FIT
    return RunState.DRY if p_dry >= P_DRY else RunState.GOING


def judge(run: RunSoFar, now_h: float) -> Verdict:
    """What the weigh-ins say at `now_h` (h after the start): loss, moisture now, and the chance that it is dry.

    A loss within the scale's error is no finding, neither zero nor success. With fewer than two weighings the answer
    is the forecast alone. Raises OutOfRangeError for a negative time or weighings out of order.
    """
    require_range("now_h", now_h, 0.0, 1e5, "h")
    return _verdict(run, believe(run, now_h), now_h)


def _verdict(run: RunSoFar, belief: Belief, now_h: float) -> Verdict:
    start, moisture = belief.estimate_at(0.0), belief.estimate_at(now_h)
    p_dry = belief.chance_under(run.aim_pct, now_h)
    rate = float(np.exp(belief.chances.sum(axis=0) @ np.log(belief.rates)))
    if len(run.weighings) < 2:
        state = RunState.NO_WEIGH_OUT if run.weighings else RunState.NO_WEIGH_IN
        return Verdict(state, None, start, moisture, p_dry, rate, NOTHING)
    body = _body_since_weigh_in(run, run.weighings[-1].time_h)
    first, last = run.weighings[0].weighing, run.weighings[-1].weighing
    seen = loss(first, last, run.tare, max(moisture.mean, 0.0), body)
    return Verdict(_state(run.load.material, seen, belief, p_dry), seen, start, moisture, p_dry, rate, body)


@dataclass(frozen=True)
class WeighingPoint:
    """A weighing as a point on the moisture's course: h after the start, % of dry mass, standard uncertainty."""

    time_h: float
    moisture_pct: float
    uncertainty_pct: float


def _points(run: RunSoFar, belief: Belief) -> list[WeighingPoint]:
    """What was still in the strand at each weighing: the start as it is believed now, less the loss up to then."""
    if not run.weighings:
        return []
    first, *rest = run.weighings
    start = belief.estimate_at(first.time_h)
    points = [WeighingPoint(first.time_h, start.mean, start.sd)]
    for w in rest:
        lost = loss(first.weighing, w.weighing, run.tare, body_g=_body_since_weigh_in(run, w.time_h)).dry_basis_pct
        points.append(WeighingPoint(w.time_h, start.mean - lost.value, lost.uncertainty))
    return points


@dataclass(frozen=True)
class Review:
    """A run as a whole: the verdict now, its weighings as points, and the moisture over time as it is believed now."""

    verdict: Verdict
    points: list[WeighingPoint]
    course: list[Estimate]


def review(run: RunSoFar, now_h: float, time_h: Sequence[float]) -> Review:
    """Judge a run and follow it over the times in h, from one update of what is believed."""
    belief = believe(run, max([now_h, *time_h]))
    course = [belief.estimate_at(float(t)) for t in time_h]
    return Review(_verdict(run, belief, now_h), _points(run, belief), course)
