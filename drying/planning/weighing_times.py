"""When to weigh: the times at which the scale tells most of where a run will end.

Two things are unknown of a run, its start moisture and its rate (see `endpoint`). Each weigh-in gives one equation with
the scale's uncertainty. Of all pairs of times the one is taken that leaves the least variance of the moisture at the
planned end: a c-optimal design of a Bayesian linear model (K. Chaloner, I. Verdinelli, Statistical Science 10, 1995).
"""

from __future__ import annotations

import math
from itertools import combinations

import numpy as np

from drying.arrays import Array
from drying.dryers import Load
from drying.transport import RATE_SIGMA, SHAPE_ERROR

USUAL_SCALE_G = 0.1  # standard uncertainty of a weigh-in on a bench scale, with what the handling adds

FIRST_SHARE, LAST_SHARE, CANDIDATES = 0.08, 0.85, 12
LEAST_CHANGE_PCT = 1e-6
LEAST_H = 0.75  # sooner the box has hardly got warm, and opening it costs more than is learned


def variances_at_end(load: Load, time_h: Array, moisture_pct: Array, duration_h: float, choices: Array) -> Array:
    """Variance of the moisture at the end of the run, (% of dry mass)², once it has been weighed at the times in h of
    each choice, shape (choices, times).

    `moisture_pct` is the computed course at `time_h`, which must reach `duration_h`.
    """
    every = np.append(choices, duration_h)
    moisture = np.interp(every, time_h, moisture_pct)
    per_log_rate = every * np.interp(every, time_h, np.gradient(moisture_pct, time_h))
    start, rest = float(moisture_pct[0]), float(moisture_pct[-1])
    # By Henry's law what is over the level that it comes to rest at scales, on the way down as on the way up.
    per_start = (moisture - rest) / (start - rest) if abs(start - rest) > LEAST_CHANGE_PCT else np.zeros_like(moisture)
    rows = np.stack([1.0 - per_start[:-1], -per_log_rate[:-1]], axis=-1).reshape(*choices.shape, 2)
    losses = (start - moisture[:-1]).reshape(choices.shape)
    u_pct = 100.0 * math.sqrt(2.0) * USUAL_SCALE_G / load.assumed_dry_g
    prior = np.diag([max(load.start.uncertainty, 1e-3) ** 2, RATE_SIGMA**2])
    noise = (u_pct**2 + (SHAPE_ERROR * losses) ** 2)[:, :, None] * np.eye(choices.shape[1])
    told = rows @ prior
    gain = told.swapaxes(1, 2) @ np.linalg.inv(told @ rows.swapaxes(1, 2) + noise)
    end = np.array([per_start[-1], per_log_rate[-1]])
    return np.asarray((prior - gain @ told) @ end @ end)


def best_times_h(load: Load, time_h: Array, moisture_pct: Array, duration_h: float) -> tuple[float, ...]:
    """One or two times in h, beside the end, at which a weigh-in tells most, from the computed course.

    Empty for runs too short for one. `time_h` must reach `duration_h`.
    """
    first, last = max(LEAST_H, FIRST_SHARE * duration_h), LAST_SHARE * duration_h
    if last < first:
        return ()
    candidates = [float(t) for t in np.linspace(first, last, CANDIDATES)]
    pairs = [(a, b) for a, b in combinations(candidates, 2) if b - a >= LEAST_H]
    choices: list[tuple[float, ...]] = list(pairs) or [(t,) for t in candidates]
    return choices[int(np.argmin(variances_at_end(load, time_h, moisture_pct, duration_h, np.array(choices))))]
