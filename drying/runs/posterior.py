"""What is expected of a run as its weighings come in.

Three things are unknown: the start moisture, how fast this spool really dries against the forecast, and the floor (by
the spread of the isotherm). Each has a prior; the weighings update them by Bayes' rule on a grid, which is laid anew
where the chances turn out to lie. The likelihood of the losses holds the scale's uncertainty, the tare's, what a card
body may have given off, and an allowance for a course of another shape than computed. Nothing is sampled, so the same
weighings always give the same answer.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property
from itertools import product

import numpy as np
from scipy.special import chdtrc

from drying.arrays import Array, weighted_points
from drying.cache import Cache
from drying.quantity import Quantity
from drying.runs.courses import _NEGLIGIBLE, _NO_CHANCE, _RATES, _REACH, _STARTS, Courses, log_chance_of_cells
from drying.runs.record import RunSoFar, TimedWeighing
from drying.transport import FLOOR_SIGMAS, SHAPE_ERROR, Lesson, Rate, cells

# What was expected of the start may be plainly wrong: this share of the prior is spread over all the strand can hold.
STRAY_SHARE = 0.05
LEAST_FIT = 0.001  # weighings less likely than this under every curve do not fit
_MOST_ESTIMATES = 2000  # of one posterior; a run is drawn at some forty times
_MOST_RATES = 8  # of one posterior by which single courses are looked up
LONGEST_H = 336.0  # courses are followed for two weeks: what takes longer is never
_NEVER_H = 1e6


@dataclass(frozen=True)
class Estimate:
    """Moisture in % of dry mass: mean, standard deviation and 5, 50, 95 % points of the posterior."""

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


def mean_and_sd(values: Array, chances: Array) -> Quantity:
    """Mean and standard deviation of values with their chances (which sum to one)."""
    mean = float(chances @ values)
    return Quantity(mean, math.sqrt(max(float(chances @ (values - mean) ** 2), 0.0)))


def summed_up(values: Array, chances: Array) -> Estimate:
    """Mean, sd and 5, 50, 95 % points of values with their chances (which sum to one)."""
    found = mean_and_sd(values, chances)
    return Estimate(found.value, found.uncertainty, *weighted_points(values, chances))


@dataclass(frozen=True)
class Posterior:
    """Chances over a grid of starts (% of dry mass), rates (against the computed), floors (% of dry mass) and shapes,
    in this order of axes. `fits` is False where nothing on it explains the weighings.
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

    @cached_property
    def _estimates(self) -> Cache[Estimate]:
        return Cache(_MOST_ESTIMATES)

    @cached_property
    def _means(self) -> Cache[Quantity]:
        return Cache(_MOST_ESTIMATES)

    @cached_property
    def _at_rates(self) -> Cache[Array]:
        return Cache(_MOST_RATES)

    @cached_property
    def next_weighs(self) -> Cache[float | None]:
        """When a weigh-in would tell most, by the hour and the planned end that it was sought for."""
        return Cache(_MOST_ESTIMATES)

    def estimate_at(self, time_h: float) -> Estimate:
        """Moisture after `time_h` with its 90 % interval. Kept, as a run that goes is looked at again and again."""
        return self._estimates.get(time_h, lambda: summed_up(self.moistures(time_h).ravel(), self.chances.ravel()))

    def moisture_at(self, time_h: float) -> Quantity:
        """Mean and standard deviation of the moisture after `time_h`, % of dry mass: `estimate_at` without its points,
        at a third of the cost. Kept as that is.
        """
        return self._means.get(time_h, lambda: mean_and_sd(self.moistures(time_h).ravel(), self.chances.ravel()))

    def chance_under(self, moisture_pct: float, time_h: float) -> float:
        """The chance that the moisture after `time_h` is at or under `moisture_pct`."""
        return min(float(self.chances[self.moistures(time_h) <= moisture_pct].sum()), 1.0)  # a sum may round up

    def losses_against(self, target: Array, since_h: float, times_h: Array) -> tuple[Array, Array]:
        """Variance of the loss between `since_h` and each of the times, (% of dry mass)², and its covariance with a
        target over the grid.

        Without a pause a loss is what lay above the floor by the change of its share, so that chances are summed over
        floors once, and by Henry's law over starts too.
        """
        target = target - float((self.chances * target).sum())
        if self.courses.interrupted:
            return self._losses_against_interrupted(target, since_h, times_h)
        above = np.subtract.outer(self.starts, self.floors)
        over = self.chances * above[:, None, :, None]
        squared = np.einsum("srfq,sf->srq", over, above)
        once, with_target = over.sum(axis=2), np.einsum("srfq,srfq->srq", over, target)
        weights = self.courses.weights(self.starts)
        if self.courses.starts.size == 1:
            weights, once, squared, with_target = (
                weights[:1], *(sums.sum(axis=0, keepdims=True) for sums in (once, squared, with_target))
            )  # fmt: skip
        here = _shares_at(self.courses, self.shares, np.append(times_h, since_h))
        less = np.einsum("sqv,vrt->tsrq", weights, here[..., -1:] - here[..., :-1])
        mean = np.einsum("tsrq,srq->t", less, once)
        variance = np.einsum("tsrq,srq->t", less**2, squared) - mean**2
        return variance, np.einsum("tsrq,srq->t", less, with_target)

    def _losses_against_interrupted(self, target: Array, since_h: float, times_h: Array) -> tuple[Array, Array]:
        """The same where the heat was off for a time: what is taken up meanwhile goes with the floor."""
        before, found = self.moistures(since_h), []
        for time_h in times_h:
            lost = before - self.moistures(float(time_h))
            lost = lost - float((self.chances * lost).sum())
            found.append((float((self.chances * lost**2).sum()), float((self.chances * lost * target).sum())))
        variance, shared = np.array(found).T
        return variance, shared

    @cached_property
    def hours_to_aim(self) -> Array:
        """When it first comes to the aim, h after the start, over the grid; infinite where it never does."""
        if self.courses.interrupted:
            return self._there_already(self._hours_to_aim_interrupted())
        aim = self.run.aim_pct
        with np.errstate(divide="ignore", invalid="ignore"):
            wanted = (self.floors - aim)[None, :] / np.subtract.outer(self.starts, self.floors)
        weights, times = self.courses.weights(self.starts), self.courses.times
        alike = self.courses.starts.size == 1  # by Henry's law one course serves every start
        found = np.empty((self.rates.size, self.courses.shapes, *wanted.shape))
        for column, shape in product(range(self.rates.size), range(self.courses.shapes)):
            rows = weights[:1, shape] if alike else weights[:, shape]
            courses = np.maximum.accumulate(-(rows @ self.shares[:, column, :]), axis=1)
            found[column, shape] = _reached_at(wanted.reshape(len(rows), -1), courses, times).reshape(wanted.shape)
        found[..., self.floors >= aim] = np.inf
        return self._there_already(np.moveaxis(found, (0, 1), (1, 3)))

    def _there_already(self, found: Array) -> Array:
        """The same with nothing to wait for where it began at the aim; strand that this air wets is not on its way."""
        there = np.logical_and.outer(self.starts <= self.run.aim_pct, self.floors <= self.run.aim_pct)
        return np.where(there[:, None, :, None], 0.0, found)

    def _hours_to_aim_interrupted(self) -> Array:
        """The same where the heat was off for a time: looked for along every course."""
        times, aim = self.courses.times, self.run.aim_pct
        found = np.full(self.chances.shape, np.inf)
        weights, above = self.courses.weights(self.starts), np.subtract.outer(self.starts, self.floors)
        for column, shape in product(range(self.rates.size), range(self.courses.shapes)):
            over = above[:, :, None] * (weights[:, shape] @ self.shares[:, column, :])[:, None, :]
            taken_up = _against(self.courses, self.floors)[:, None] * self.shares[-1, column]
            moisture = self.floors[:, None] + taken_up + over
            first = np.argmax(moisture <= aim, axis=2)
            here = np.take_along_axis(moisture, first[..., None], axis=2)[..., 0]
            before = np.take_along_axis(moisture, np.maximum(first - 1, 0)[..., None], axis=2)[..., 0]
            with np.errstate(divide="ignore", invalid="ignore"):
                on = np.clip((before - aim) / (before - here), 0.0, 1.0)
            at = times[np.maximum(first - 1, 0)] + on * (times[first] - times[np.maximum(first - 1, 0)])
            found[:, column, :, shape] = np.where(here <= aim, at, np.inf)
        return found

    def left(self, now_h: float) -> HoursLeft:
        """Hours from `now_h` until the aim, with the 90 % interval."""
        return HoursLeft(*(None if p > 2.0 * LONGEST_H else max(p - now_h, 0.0) for p in self._points_to_aim))

    @cached_property
    def _points_to_aim(self) -> tuple[float, float, float]:
        """5, 50 and 95 % points of the hours to the aim; where it never comes, past all hours."""
        to_aim = self.hours_to_aim
        return weighted_points(np.where(np.isinf(to_aim), _NEVER_H, to_aim).ravel(), self.chances.ravel())

    def course_from(self, start_pct: float, rate: float, time_h: float) -> float:
        """Moisture after `time_h` from a start, % of dry mass, at a rate against the computed one."""
        shares = self._at_rates.get(rate, lambda: self.courses.shares_at_rates(np.array([rate])))
        start, floor = np.array([start_pct]), np.array([self.run.floor_pct])
        return float(_moistures(self.courses, shares, start, floor, time_h)[0, 0, 0, 0])

    def forecast_pct(self, time_h: float) -> float:
        """Moisture after `time_h` as it was forecast before anything was weighed, % of dry mass."""
        return self.course_from(self.run.load.start.value, self.run.rate.median, time_h)

    @property
    def log_rate(self) -> Quantity:
        """Mean and standard deviation of the log of the rate."""
        of_rate, logs = self.chances.sum(axis=(0, 2, 3)), np.log(self.rates)
        mean = float(of_rate @ logs)
        return Quantity(mean, math.sqrt(max(float(of_rate @ (logs - mean) ** 2), 1e-12)))

    @property
    def lesson(self) -> Lesson:
        """What the weighings by themselves say of rate, floor and shape: what the run knows now, over every start,
        without what was known before.
        """
        log_chance, mean, spread = _of_cells(self.run.rate, self.courses)
        of_rates, logs = self.chances.sum(axis=0), np.log(self.rates)[:, None, None]
        found = np.maximum(of_rates.sum(axis=0), _NO_CHANCE)
        middle = (of_rates * logs).sum(axis=0) / found
        variance = np.maximum((of_rates * (logs - middle) ** 2).sum(axis=0) / found, _LEAST_VARIANCE)
        telling = variance < TELLING * spread**2
        curvature = np.where(telling, 1.0 / variance - 1.0 / spread**2, 0.0)
        slope = np.where(telling, middle / variance - mean / spread**2, 0.0)
        after = 1.0 / (curvature + 1.0 / spread**2)
        after_mean = after * (slope + mean / spread**2)
        gained = 0.5 * (np.log(after / spread**2) + after_mean**2 / after - (mean / spread) ** 2)
        level = np.log(found) - log_chance - gained
        level = np.maximum(level - level.max(), -_FAR)
        return Lesson(self.courses.shape_names, cells(level), cells(slope), cells(curvature))


_LEAST_VARIANCE = 1e-6
TELLING = 0.98  # of the variance before: with more left the weighings say nothing of the rate
_FAR = 50.0  # a log chance so far down is none


def _reached_at(wanted: Array, courses: Array, times: Array) -> Array:
    """When courses that only rise, (courses, times), come to values, (courses, values); infinite where they do not."""
    # Each is lifted above the one before it, so that all are looked up at one go.
    lift = (1.0 + float(np.ptp(courses))) * np.arange(len(courses))[:, None]
    within = np.clip(wanted, courses[:, :1], courses[:, -1:]) + lift
    found = np.interp(within, (courses + lift).ravel(), np.tile(times, len(courses)))
    return np.where(wanted > courses[:, -1:], np.inf, found)


def _shares_at(courses: Courses, shares: Array, time_h: float | Array) -> Array:
    """Shares above the floor of the computed courses, (courses, rates) at one time, (courses, rates, times) at many."""
    times = courses.times
    at = np.clip(np.searchsorted(times, time_h), 1, times.size - 1)
    on = np.clip((time_h - times[at - 1]) / (times[at] - times[at - 1]), 0.0, 1.0)
    return np.asarray((1.0 - on) * shares[:, :, at - 1] + on * shares[:, :, at])


def _moistures(courses: Courses, shares: Array, starts: Array, floors: Array, time_h: float) -> Array:
    here = _shares_at(courses, shares, time_h)
    share = np.einsum("sqv,vr->srq", courses.weights(starts), here)
    above = np.subtract.outer(starts, floors)
    found = floors[None, None, :, None] + above[:, None, :, None] * share[:, :, None, :]
    if courses.interrupted:  # what is taken up while the heat is off goes with the isotherm, as the floor does
        found = found + here[-1][None, :, None, None] * _against(courses, floors)[None, None, :, None]
    return np.asarray(found)


def _against(courses: Courses, floors: Array) -> Array:
    """Floors against the one that was computed with."""
    return floors / courses.floor if courses.floor > 0.0 else np.ones(floors.size)


def _of_cells(rate: Rate, courses: Courses) -> tuple[Array, Array, Array]:
    """What is known of each floor and shape before the run: log chance, and mean and sd of the log rate there."""
    log_chance = log_chance_of_cells(courses.shapes)
    if rate.cells is None:
        like = np.ones_like(log_chance)
        return log_chance, math.log(rate.median) * like, courses.sigma * like
    level, mean, sd = rate.cells.at(courses.shape_names)
    return log_chance + level, mean, sd * courses.sigma / rate.sigma


def _log_prior(run: RunSoFar, courses: Courses, starts: Array, rates: Array) -> Array:
    start = run.load.start
    sd, most = max(start.uncertainty, 1e-6), run.load.most_pct
    expected = np.exp(-0.5 * ((starts - start.value) / sd) ** 2) / (sd * math.sqrt(2.0 * math.pi))
    of_start = np.log((1.0 - STRAY_SHARE) * expected + STRAY_SHARE / most)
    log_chance, mean, spread = _of_cells(run.rate, courses)
    of_rate = -0.5 * ((np.log(rates)[:, None, None] - mean) / spread) ** 2 - np.log(spread)
    return np.asarray(of_start[:, None, None, None] + of_rate + log_chance)


def _misfit(run: RunSoFar, courses: Courses, shares: Array, starts: Array, floors: Array) -> Array:
    """Chi-square of the losses seen against those over the grid, all counted from the first weighing, whose error they
    share.
    """
    first, *rest = run.weighings
    seen = np.array([first.weighing.mass_g - w.weighing.mass_g for w in rest])
    bodies = [run.beside_strand_g(w.time_h) for w in rest]
    body_mean, body_errors = np.array([b.value for b in bodies]), np.array([b.errors for b in bodies])

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
        + body_errors @ body_errors.T
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


class CourseCache:
    """Courses by the run they belong to, and what weighings made of them; whoever judges a run again and again owns one
    and hands it in. `size`: of so many runs; posteriors are large, and kept of a quarter as many.
    """

    def __init__(self, size: int) -> None:
        self.courses: Cache[Courses] = Cache(size)
        self.posteriors: Cache[Posterior] = Cache(max(size // 4, 1))


def _courses(run: RunSoFar, until_h: float, kept: CourseCache) -> Courses:
    """The courses of a run. How long its last conditions have lasted does not matter, so they hold while it goes on."""
    *before, last = run.segments
    return kept.courses.get(
        repr((run.load, run.rate, before, replace(last, duration_h=0.0), until_h)), lambda: Courses(run, until_h)
    )


def update_posterior(run: RunSoFar, until_h: float, courses: CourseCache | None = None) -> Posterior:
    """Update the prior with the weighings; good for moistures up to `until_h` after the start.

    `courses`: what earlier calls computed, to be reused.
    """
    kept = CourseCache(1) if courses is None else courses
    followed_h = max([until_h, LONGEST_H, *(w.time_h for w in run.weighings)])
    return kept.posteriors.get(repr((run, followed_h)), lambda: _updated(run, _courses(run, followed_h, kept)))


def _updated(run: RunSoFar, found: Courses) -> Posterior:
    start = run.load.start
    floors = run.floor_pct * run.load.material.k1.spread**FLOOR_SIGMAS
    near = start.value + np.linspace(-_REACH, _REACH, _STARTS) * max(start.uncertainty, 1e-6)
    wide = np.linspace(0.0, run.load.most_pct, _STARTS)
    starts = np.unique(np.concatenate([near[near >= 0.0], wide]))
    rates = run.rate.median * np.exp(found.sigma * np.linspace(-_REACH, _REACH, _RATES))
    first = _weigh_up(run, found, starts, rates, floors)
    low, high = _span(starts, first.chances.max(axis=(1, 2, 3)))
    slow, fast = _span(rates, first.chances.max(axis=(0, 2, 3)))
    starts, rates = np.linspace(low, high, _STARTS), np.geomspace(slow, fast, _RATES)
    return _weigh_up(run, found, starts, rates, floors)


def _weigh_up(run: RunSoFar, courses: Courses, starts: Array, rates: Array, floors: Array) -> Posterior:
    log_chances, fits = _log_prior(run, courses, starts, rates), True
    shares = courses.shares_at_rates(rates)
    if len(run.weighings) > 1:
        misfit = _misfit(run, courses, shares, starts, floors)
        fits = bool(chdtrc(len(run.weighings) - 1, misfit.min()) >= LEAST_FIT)
        log_chances = log_chances - 0.5 * misfit
    chances = np.exp(log_chances - log_chances.max())
    return Posterior(run, courses, starts, rates, floors, chances / chances.sum(), fits, shares)
