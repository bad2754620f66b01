"""What is believed of a run as its weigh-ins come in.

Three things are unknown: the start moisture, how fast this spool really dries against the forecast, and the floor (by
the spread of the isotherm). Each has a prior; the weigh-ins update them by Bayes' rule on a grid, which is laid anew
where the chances turn out to lie. The likelihood of the losses holds the scale's uncertainty, the tare's, what a card
body may have given off, and an allowance for a course of another shape than computed. Nothing is sampled, so the same
weigh-ins always give the same answer.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property, lru_cache
from itertools import product

import numpy as np
from scipy.special import chdtrc

from drying.arrays import Array
from drying.cache import Memo
from drying.dryers.setup import Load
from drying.errors import OutOfRangeError
from drying.materials.properties import Material
from drying.materials.sorption import floor_pct
from drying.planning.forecast import TORTUOSITY_SPREAD
from drying.runs.rate import UNKNOWN_RATE, Rate, rate_sigma
from drying.transport.solve import course as course_of
from drying.transport.state import Body, Segment, even_state
from drying.weighing.scale import Quantity, Tare, Weighing

# What was believed of the start may be plainly wrong: this share of the prior is spread over all the strand can hold.
STRAY_SHARE = 0.05
SHAPE_ERROR = 0.03  # engineering estimate: departure from the computed curve's shape, share of the loss, one sd
LEAST_FIT = 0.001  # weigh-ins less likely than this under every curve do not fit
LONGEST_H = 336.0  # courses are followed for two weeks: what takes longer is never

_STARTS, _RATES, _REACH, _NEGLIGIBLE = 51, 41, 3.5, 1e-6
_FLOOR_SIGMAS = np.linspace(-2.0, 2.0, 7)
_KNOTS = 193
_RATE_KNOTS, _RATE_KNOTS_CUBIC = 5, 3  # cubic isotherms cost ten times as much


@dataclass(frozen=True)
class Estimate:
    """Moisture in % of dry mass: mean, standard deviation and 5, 50, 95 % points of what is believed."""

    mean: float
    sd: float
    p05: float
    p50: float
    p95: float


@dataclass(frozen=True)
class HoursLeft:
    """5, 50 and 95 % points of the hours from now until the aim; None where the answer is never."""

    p05: float | None
    p50: float | None
    p95: float | None


@dataclass(frozen=True)
class TimedWeighing:
    """A weighing and when it was made, h after the start of heating."""

    time_h: float
    weighing: Weighing


@dataclass(frozen=True)
class RunSoFar:
    """A run as the scale has seen it: the load, the conditions since the start (the last go on), the aim in % of dry
    mass, tare, and the weigh-ins in order of time, of which the first is the weigh-in; and what was known of the rate.
    """

    load: Load
    segments: Sequence[Segment]
    aim_pct: float
    tare: Tare
    weighings: Sequence[TimedWeighing]
    rate: Rate = UNKNOWN_RATE

    def __post_init__(self) -> None:
        if not self.segments:
            raise OutOfRangeError("segments", "A run needs at least one stretch of conditions.")
        if any(w.time_h < self.weighings[0].time_h for w in self.weighings[1:]):
            raise OutOfRangeError("time_h", "A weighing comes before the weigh-in: put them in order of time.")

    @property
    def floor_pct(self) -> float:
        """Where the air of the last stretch ends the drying, % of dry mass."""
        last = self.segments[-1]
        return floor_pct(self.load.material, last.room, last.temp_c)

    @property
    def dry_g(self) -> float:
        """Mass of the dry strand by the weigh-in and what was believed of the start, g."""
        return (self.weighings[0].weighing.gross_g - self.tare.mass_g) / (1.0 + self.load.start.value / 100.0)

    def body_since_weigh_in(self, time_h: float) -> Quantity:
        """Water that the spool's own body gave off between the weigh-in and `time_h`, g."""
        return self.load.body.water_given_off_g(self.tare.mass_g, time_h - self.weighings[0].time_h)


def most_held_pct(material: Material) -> float:
    """The most water that the polymer could hold, the spread of its data included, % of dry mass."""
    return material.k1.value * material.k1.spread**2 + material.k3.value * material.k3.spread**2


def summed_up(values: Array, chances: Array) -> Estimate:
    """Mean, sd and 5, 50, 95 % points of values with their chances (which sum to one)."""
    mean = float(chances @ values)
    p05, p50, p95 = _points(values, chances)
    return Estimate(mean, math.sqrt(max(float(chances @ (values - mean) ** 2), 0.0)), p05, p50, p95)


def _points(values: Array, chances: Array) -> tuple[float, float, float]:
    order = np.argsort(values)
    cumulative = np.cumsum(chances[order]) - 0.5 * chances[order]
    low, middle, high = np.interp([0.05, 0.5, 0.95], cumulative, values[order])
    return float(low), float(middle), float(high)


def _lasting(segments: Sequence[Segment], hours: float) -> list[Segment]:
    """The segments with the last one drawn out, so that they last for `hours`."""
    *before, last = segments
    rest = hours - sum(s.duration_h for s in before)
    return [*before, replace(last, duration_h=max(last.duration_h, rest))]


class Courses:
    """Computed courses as the share of the start that still lies above the floor, over real time: for the load as it is
    thought to be, for other starts, and for strand and pack faster or slower against each other (the shape).

    By Henry's law the share is the same from every start. A rate other than one stretches all times, but not the
    clock's: courses are computed for a few rates, so that warm-up and pauses stand where they were.
    """

    def __init__(self, run: RunSoFar, until_h: float) -> None:
        load, self.floor = run.load, run.floor_pct
        self.times = until_h * np.linspace(0.0, 1.0, _KNOTS) ** 3
        middle = math.log(run.rate.median)
        knots = _RATE_KNOTS if load.material.k3.value == 0.0 else _RATE_KNOTS_CUBIC
        self.log_rates = middle + run.rate.sigma * np.linspace(-_REACH, _REACH, knots)
        self.starts = self._starts(load)
        bodies, apart = _of_other_shape(load.strand)
        self.shapes = 1 + len(bodies)
        mid = float(self.starts[self.starts.size // 2])
        pairs = [(load.strand, float(s)) for s in self.starts] + [(body, mid) for body in bodies]
        self.shares = np.array([[self._share(run, b, s, math.exp(r)) for r in self.log_rates] for b, s in pairs])
        slower = self._at_one_pace()
        strand_share = 1.0 if not bodies else (1.0 - (slower[1] - slower[0]) / (2.0 * apart)) / 2.0
        known = run.rate.sigma / UNKNOWN_RATE.sigma
        self.sigma = known * rate_sigma(load.material, run.segments[-1].temp_c, min(max(strand_share, 0.0), 1.0))

    def _starts(self, load: Load) -> Array:
        apart = 0.02 * most_held_pct(load.material)
        middle = load.start.value if abs(load.start.value - self.floor) > apart else self.floor + apart
        if load.material.k3.value == 0.0:
            return np.array([middle])
        reach = 2.0 * load.start.uncertainty
        low, high = max(middle - reach, self.floor + apart), min(middle + reach, most_held_pct(load.material))
        return np.array([min(low, 0.9 * middle), middle, max(high, 1.1 * middle)])

    def _share(self, run: RunSoFar, body: Body, start: float, rate: float) -> Array:
        """At `self.times` times the rate of its column: stretched time."""
        stretched = [replace(s, duration_h=s.duration_h * rate) for s in run.segments]
        times = self.times * rate
        moisture = course_of(body, even_state(body, start), _lasting(stretched, float(times[-1])), times)
        return np.asarray((moisture - self.floor) / (start - self.floor))

    def _at_one_pace(self) -> list[float]:
        """Bring the other shapes to half of their loss when the load as it is thought to be comes there, so that a
        shape is not a rate; the logs of how much slower each was.
        """
        own, middle = self.starts.size, self.starts.size // 2
        found = []
        for row in range(own, self.shares.shape[0]):
            logs = []
            for knot in range(self.log_rates.size):
                here, base = self.shares[row, knot], self.shares[middle, knot]
                ours, theirs = (float(np.interp(-0.5, -np.minimum.accumulate(x), self.times)) for x in (base, here))
                stretch = max(theirs, 1e-6) / max(ours, 1e-6)
                self.shares[row, knot] = np.interp(np.cbrt(self.times * stretch), np.cbrt(self.times), here)
                logs.append(math.log(stretch))
            found.append(float(np.mean(logs)))
        return found

    def shares_at_rates(self, rates: Array) -> Array:
        """Share above the floor over `self.times`; shape (courses, rates, times)."""
        found = np.empty((self.shares.shape[0], rates.size, self.times.size))
        for column, log in enumerate(np.log(rates)):
            at = int(np.clip(np.searchsorted(self.log_rates, log) - 1, 0, self.log_rates.size - 2))
            for row in range(self.shares.shape[0]):
                found[row, column] = self._blend(row, at, float(log))
        return found

    def _blend(self, row: int, at: int, log: float) -> Array:
        def stretched(knot: int) -> Array:
            wanted = self.times * math.exp(log - self.log_rates[knot])
            return np.asarray(np.interp(np.cbrt(wanted), np.cbrt(self.times), self.shares[row, knot]))

        low, high = self.log_rates[at], self.log_rates[at + 1]
        share = min(max((log - low) / (high - low), 0.0), 1.0)
        return np.asarray((1.0 - share) * stretched(at) + share * stretched(at + 1))

    def weights(self, starts: Array) -> Array:
        """How the computed courses add up to that of each start and shape; shape (starts, shapes, courses)."""
        own = self.starts.size
        found = np.zeros((starts.size, self.shapes, self.shares.shape[0]))
        hats = [np.interp(starts, self.starts, row) for row in np.eye(own)] if own > 1 else [np.ones(starts.size)]
        found[:, :, :own] = np.stack(hats, axis=1)[:, None, :]
        for shape in range(1, self.shapes):
            found[:, shape, own + shape - 1] += 1.0
            found[:, shape, own // 2] -= 1.0
        return found

    @property
    def shape_chances(self) -> Array:
        """Chances of the shapes: a normal, by the three points of Gauss and Hermite."""
        return np.array([2.0 / 3.0, 1.0 / 6.0, 1.0 / 6.0]) if self.shapes == 3 else np.ones(1)


def _of_other_shape(body: Body) -> tuple[list[Body], float]:
    """The winding with its strand slow and its gaps fast, and the other way round, and by how much (log); a loose coil
    has but one shape.
    """
    if body.pack is None:
        return [], 0.0
    apart = math.sqrt(3.0) * math.hypot(math.log(body.material.d23.spread), math.log(TORTUOSITY_SPREAD)) / 2.0
    found = []
    for sign in (-1.0, 1.0):
        d23 = replace(body.material.d23, value=body.material.d23.value * math.exp(sign * apart))
        tortuosity = max(1.0, body.pack.tortuosity * math.exp(sign * apart))
        found.append(
            replace(
                body,
                material=_kept(replace(body.material, d23=d23)),
                pack=replace(body.pack, tortuosity=tortuosity),
            )
        )
    return found, apart


@lru_cache(maxsize=64)
def _kept(material: Material) -> Material:
    """The one material of these values: solutions are kept by it."""
    return material


@dataclass(frozen=True)
class Belief:
    """Chances over a grid of starts (% of dry mass), rates (against the computed), floors (% of dry mass) and shapes,
    in this order of axes. `fits` is False where nothing on it explains the weigh-ins.
    """

    run: RunSoFar
    courses: Courses
    starts: Array
    rates: Array
    floors: Array
    chances: Array
    fits: bool
    shares: Array = field(repr=False)

    def moistures(self, time_h: float) -> Array:
        """Moisture, % of dry mass, after `time_h` over the grid."""
        return _moistures(self.courses, self.shares, self.starts, self.floors, time_h)

    def estimate_at(self, time_h: float) -> Estimate:
        """Moisture after `time_h` with its 90 % interval."""
        return summed_up(self.moistures(time_h).ravel(), self.chances.ravel())

    def chance_under(self, moisture_pct: float, time_h: float) -> float:
        """The chance that the moisture after `time_h` is at or under `moisture_pct`."""
        return float(self.chances[self.moistures(time_h) <= moisture_pct].sum())

    @cached_property
    def hours_to_aim(self) -> Array:
        """When it first comes to the aim, h after the start, over the grid; infinite where it never does."""
        moisture_pct = self.run.aim_pct
        above = np.subtract.outer(self.starts, self.floors)
        with np.errstate(divide="ignore", invalid="ignore"):
            wanted = (moisture_pct - self.floors)[None, :] / above
        found = np.full(self.chances.shape, np.inf)
        weights, times = self.courses.weights(self.starts), self.courses.times
        alike = self.courses.starts.size == 1  # by Henry's law one course serves every start
        for column, shape in product(range(self.rates.size), range(self.courses.shapes)):
            rows = weights[:1, shape] if alike else weights[:, shape]
            for row, course in enumerate(np.minimum.accumulate(rows @ self.shares[:, column, :], axis=1)):
                here = slice(None) if alike else row
                at = np.interp(-wanted[here], -course, times)
                reached = (wanted[here] >= course[-1]) & (self.floors < moisture_pct)
                found[here, column, :, shape] = np.where(reached, at, np.inf)
        found[self.starts <= moisture_pct] = 0.0
        return found

    def left(self, now_h: float) -> HoursLeft:
        """Hours from `now_h` until the aim, with the 90 % interval."""
        left = np.maximum(self.hours_to_aim - now_h, 0.0)
        far = 1e6
        points = _points(np.where(np.isinf(left), far, left).ravel(), self.chances.ravel())
        return HoursLeft(*(None if p > LONGEST_H * 2 else p for p in points))

    def forecast_pct(self, time_h: float) -> float:
        """Moisture after `time_h` as it was forecast before anything was weighed, % of dry mass."""
        run, courses = self.run, self.courses
        shares = courses.shares_at_rates(np.array([run.rate.median]))
        start, floor = np.array([run.load.start.value]), np.array([run.floor_pct])
        return float(_moistures(courses, shares, start, floor, time_h)[0, 0, 0, 0])

    @property
    def log_rate(self) -> Quantity:
        """Mean and standard deviation of the log of the rate."""
        of_rate, logs = self.chances.sum(axis=(0, 2, 3)), np.log(self.rates)
        mean = float(of_rate @ logs)
        return Quantity(mean, math.sqrt(max(float(of_rate @ (logs - mean) ** 2), 1e-12)))


def _moistures(courses: Courses, shares: Array, starts: Array, floors: Array, time_h: float) -> Array:
    at = np.clip(np.searchsorted(courses.times, time_h), 1, courses.times.size - 1)
    before, after = courses.times[at - 1], courses.times[at]
    on = min(max((time_h - before) / (after - before), 0.0), 1.0)
    here = (1.0 - on) * shares[:, :, at - 1] + on * shares[:, :, at]
    share = np.einsum("sqv,vr->srq", courses.weights(starts), here)
    above = np.subtract.outer(starts, floors)
    return np.asarray(floors[None, None, :, None] + above[:, None, :, None] * share[:, :, None, :])


def _log_prior(run: RunSoFar, courses: Courses, starts: Array, rates: Array) -> Array:
    start = run.load.start
    sd, most = max(start.uncertainty, 1e-6), most_held_pct(run.load.material)
    believed = np.exp(-0.5 * ((starts - start.value) / sd) ** 2) / (sd * math.sqrt(2.0 * math.pi))
    of_start = np.log((1.0 - STRAY_SHARE) * believed + STRAY_SHARE / most)
    of_rate = -0.5 * (np.log(rates / run.rate.median) / courses.sigma) ** 2
    of_floor = -0.5 * _FLOOR_SIGMAS**2
    of_shape = np.log(courses.shape_chances)
    return np.asarray(of_start[:, None, None, None] + of_rate[:, None, None] + of_floor[:, None] + of_shape)


def _misfit(run: RunSoFar, courses: Courses, shares: Array, starts: Array, floors: Array) -> Array:
    """Chi-square of the losses seen against those over the grid, all counted from the first weighing, whose error they
    share.
    """
    first, *rest = run.weighings
    seen = np.array([first.weighing.gross_g - w.weighing.gross_g for w in rest])
    bodies = [run.body_since_weigh_in(w.time_h) for w in rest]
    body_mean, body_sd = np.array([b.value for b in bodies]), np.array([b.uncertainty for b in bodies])

    def at(time_h: float) -> Array:
        return _moistures(courses, shares, starts, floors, time_h)

    misses = np.stack([run.dry_g / 100.0 * (at(first.time_h) - at(w.time_h)) for w in rest])
    misses -= (seen - body_mean)[:, None, None, None, None]
    strand = seen - body_mean
    own = [w.weighing.uncertainty_g**2 for w in rest]
    # The tare makes every loss a little larger or smaller in percent; the shape's error grows with the loss.
    tare = strand * run.tare.uncertainty_g / max(run.dry_g, 1.0)
    shape = SHAPE_ERROR * strand
    apart = np.abs(np.subtract.outer(_log_times(rest), _log_times(rest)))
    shared = (
        first.weighing.uncertainty_g**2
        + np.multiply.outer(body_sd, body_sd)
        + np.multiply.outer(tare, tare)
        + np.multiply.outer(shape, shape) * np.exp(-apart)
    )
    return np.asarray(np.einsum("iabcd,ij,jabcd->abcd", misses, np.linalg.inv(np.diag(own) + shared), misses))


def _log_times(weighings: Sequence[TimedWeighing]) -> Array:
    return np.log([max(w.time_h, 0.1) for w in weighings])


def _span(axis: Array, chances: Array) -> tuple[float, float]:
    """The part of an axis outside which the chances are negligible, one step wider at each end."""
    held = np.flatnonzero(chances > _NEGLIGIBLE * chances.max())
    return float(axis[max(held[0] - 1, 0)]), float(axis[min(held[-1] + 1, axis.size - 1)])


_COURSES: Memo[Courses] = Memo(64)


def _courses(run: RunSoFar, until_h: float) -> Courses:
    """The courses of a run, kept while it goes on: how long its last conditions have lasted does not matter."""
    *before, last = run.segments
    return _COURSES.get(
        repr((run.load, run.rate, before, replace(last, duration_h=0.0), until_h)), lambda: Courses(run, until_h)
    )


def believe(run: RunSoFar, until_h: float) -> Belief:
    """Update what was believed at the start with the weigh-ins; good for moistures up to `until_h` after the start."""
    start = run.load.start
    courses = _courses(run, max([until_h, LONGEST_H, *(w.time_h for w in run.weighings)]))
    floors = run.floor_pct * run.load.material.k1.spread**_FLOOR_SIGMAS
    near = start.value + np.linspace(-_REACH, _REACH, _STARTS) * max(start.uncertainty, 1e-6)
    wide = np.linspace(0.0, most_held_pct(run.load.material), _STARTS)
    starts = np.unique(np.concatenate([near[near >= 0.0], wide]))
    rates = run.rate.median * np.exp(courses.sigma * np.linspace(-_REACH, _REACH, _RATES))
    first = _weigh_up(run, courses, starts, rates, floors)
    low, high = _span(starts, first.chances.max(axis=(1, 2, 3)))
    slow, fast = _span(rates, first.chances.max(axis=(0, 2, 3)))
    starts, rates = np.linspace(low, high, _STARTS), np.geomspace(slow, fast, _RATES)
    return _weigh_up(run, courses, starts, rates, floors)


def _weigh_up(run: RunSoFar, courses: Courses, starts: Array, rates: Array, floors: Array) -> Belief:
    log_chances, fits = _log_prior(run, courses, starts, rates), True
    shares = courses.shares_at_rates(rates)
    if len(run.weighings) > 1:
        misfit = _misfit(run, courses, shares, starts, floors)
        fits = bool(chdtrc(len(run.weighings) - 1, misfit.min()) >= LEAST_FIT)
        log_chances = log_chances - 0.5 * misfit
    chances = np.exp(log_chances - log_chances.max())
    return Belief(run, courses, starts, rates, floors, chances / chances.sum(), fits, shares)
