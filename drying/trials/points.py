"""Estimates as their 5, 50 and 95 % points, and how they are got: a posterior of a few unknowns, without dice.

The top of the posterior and its curvature give a wide bell (multivariate Student) from which evenly spread points are
drawn and weighted by the posterior itself: importance sampling, deterministic.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from scipy.optimize import minimize
from scipy.special import gammaincinv, ndtr, ndtri

from drying.arrays import Array, weighted_points

SIGMAS = 1.6449  # to either side of the middle of a normal, between its 5 and 95 % points
FREEDOM, DRAWS, STARTS = 5.0, 4096, 512
SLOPE_STEP = 0.01  # of how far an unknown may go, to either side, for slopes and curvature
_BASES = (2, 3, 5, 7, 11, 13)


@dataclass(frozen=True)
class Points:
    """5, 50 and 95 % points."""

    p05: float
    p50: float
    p95: float

    @property
    def sd(self) -> float:
        """The standard deviation of a normal with these points."""
        return (self.p95 - self.p05) / (2.0 * SIGMAS)

    @property
    def log_sd(self) -> float:
        """The same of its logarithm, where all are positive."""
        return math.log(self.p95 / self.p05) / (2.0 * SIGMAS)


def normal_points(mean: float, sd: float) -> Points:
    """The points of a normal."""
    return Points(mean - SIGMAS * sd, mean, mean + SIGMAS * sd)


@dataclass(frozen=True)
class Posterior:
    """Draws of the unknowns, shape (draws, unknowns), their weights, and the unknowns at the top."""

    draws: Array
    weights: Array
    top: Array

    def points(self, of: Callable[[Array], Array]) -> Points:
        """The points of something that hangs on the unknowns."""
        some = self.weights > 0.0  # the farthest draws lie beyond all numbers
        return Points(*weighted_points(of(self.draws[some]), self.weights[some] / self.weights.sum()))


def posterior(misfit: Callable[[Array], Array], begin: Array, step: Array) -> Posterior:
    """The posterior whose negative log, for unknowns in rows of shape (many, unknowns), is `misfit`.

    `begin`: where the search sets out; `step`: about how far each unknown may go.
    """
    scale = np.asarray(step)

    def one(x: Array) -> float:
        return float(_told(misfit((begin + x * scale)[None, :]))[0])

    box = 2.0 * (2.0 * evenly(STARTS, begin.size) - 1.0)
    scan = _told(misfit(begin + box * scale))
    tries = [nearest_top(misfit, begin + box[k] * scale, step) for k in np.argsort(scan)[:2]]
    top = min(((found - begin) / scale for found in tries), key=one)
    spread = _spread(one, top)
    bell = ndtri(evenly(DRAWS, begin.size + 1))
    stretch = np.sqrt(FREEDOM / (2.0 * gammaincinv(FREEDOM / 2.0, _share(bell[:, -1]))))  # by a χ² of as many freedoms
    away = bell[:, :-1] * stretch[:, None]
    draws = begin + (top + away @ np.linalg.cholesky(spread).T) * scale
    with np.errstate(over="ignore", invalid="ignore"):  # the farthest lie beyond all numbers, and weigh nothing
        log_weight = -misfit(draws) + 0.5 * (FREEDOM + begin.size) * np.log1p((away**2).sum(axis=1) / FREEDOM)
    log_weight = np.where(np.isfinite(log_weight), log_weight, -np.inf)
    return Posterior(draws, np.exp(log_weight - log_weight.max()), begin + top * scale)


def _told(misfit: Array) -> Array:
    """A misfit with a number where it has none: unknowns that cannot be are the worst there are."""
    return np.nan_to_num(misfit, nan=1e30, posinf=1e30)


def nearest_top(misfit: Callable[[Array], Array], near: Array, step: Array) -> Array:
    """The top of a posterior that is reached uphill from these unknowns; arguments as for `posterior`. Value, slopes
    and curvature come from one call for many rows, which costs little more than for one.
    """
    scale, size = np.asarray(step), near.size
    away = SLOPE_STEP * np.eye(size)
    pairs = [(i, j) for i in range(size) for j in range(i)]
    corners = [s * away[i] + t * away[j] for i, j in pairs for s in (1, -1) for t in (1, -1)]
    around = np.concatenate([np.zeros((1, size)), away, -away, np.array(corners).reshape(-1, size)])

    @lru_cache(maxsize=2)
    def about(at: bytes) -> Array:
        """The misfit at a point, a step from it to either side of each unknown, and at the corners between two."""
        return _told(misfit(near + (np.frombuffer(at) + around) * scale))

    def one(x: Array) -> float:
        return float(about(x.tobytes())[0])

    def slope(x: Array) -> Array:
        up, down = about(x.tobytes())[1 : 1 + 2 * size].reshape(2, size)
        return np.asarray((up - down) / (2.0 * SLOPE_STEP))

    def curvature(x: Array) -> Array:
        values = about(x.tobytes())
        up, down = values[1 : 1 + 2 * size].reshape(2, size)
        found = np.diag((up + down - 2.0 * values[0]) / SLOPE_STEP**2)
        for (i, j), four in zip(pairs, values[1 + 2 * size :].reshape(-1, 4), strict=True):
            found[i, j] = found[j, i] = (four[0] - four[1] - four[2] + four[3]) / (4.0 * SLOPE_STEP**2)
        return found

    # A slope by differences is no better than this, and by far good enough for where draws are to lie.
    found = minimize(one, np.zeros(size), method="trust-exact", jac=slope, hess=curvature, options={"gtol": 1e-2})
    return np.asarray(near + found.x * scale)


def evenly(count: int, size: int) -> Array:
    """Points spread evenly over the unit cube, shape (count, size), none on its faces.

    The digits of the numbers from 1 on, mirrored at the point, to another prime base in each direction (Halton).
    """
    found = np.zeros((count, size))
    for column, base in zip(found.T, _BASES[:size], strict=True):
        left, place = np.arange(1, count + 1), 1.0
        while left.any():
            place /= base
            column += place * (left % base)
            left //= base
    return found


def _share(normal: Array) -> Array:
    return np.asarray(np.clip(ndtr(normal), 1e-9, 1.0 - 1e-9), dtype=np.float64)


def _spread(misfit: Callable[[Array], float], top: Array, least: float = 1e-4) -> Array:
    """Covariance by the curvature at the top, with steps that change the misfit by about a half."""
    size, here = top.size, misfit(top)
    steps = np.empty(size)
    for k in range(size):
        step = 0.05
        for _ in range(30):
            rise = misfit(top + step * np.eye(size)[k]) + misfit(top - step * np.eye(size)[k]) - 2.0 * here
            if rise > 2.0:
                step /= 2.0
            elif rise < 0.2 and step < 4.0:
                step *= 1.6
            else:
                break
        steps[k] = step
    curve = np.empty((size, size))
    for i in range(size):
        for j in range(i + 1):
            a, b = steps[i] * np.eye(size)[i], steps[j] * np.eye(size)[j]
            four = misfit(top + a + b) - misfit(top + a - b) - misfit(top - a + b) + misfit(top - a - b)
            curve[i, j] = curve[j, i] = four / (4.0 * steps[i] * steps[j])
    values, turn = np.linalg.eigh(curve)
    return np.asarray(turn @ np.diag(1.0 / np.maximum(values, least)) @ turn.T) + 1e-12 * np.eye(size)
