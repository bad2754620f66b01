"""How fast a spool dries against the forecast, and what earlier runs teach about the next.

The log of the rate is thought of as a sum of four parts: the material's data, this spool (its winding), this dryer
(its flow, its layers), and the single run. An ended run tells the sum; runs that share a part tell of each other (best
linear prediction under a normal model; G. K. Robinson, Statistical Science 6, 1991).
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from drying.transport import DRYER_SD, MATERIAL_SD, RATE_SIGMA, RUN_SD, SPOOL_SD, UNKNOWN_RATE, Rate


@dataclass(frozen=True)
class PastRun:
    """What an ended run shows by itself: the log of its rate, with a standard uncertainty, and what it shares."""

    material: str
    spool: int
    dryer: int
    log_rate: float
    uncertainty: float


def rate_by_data_alone(before: Rate, after_log: float, after_sd: float) -> tuple[float, float] | None:
    """What the weighings by themselves say about the log rate: the posterior with the prior taken out. None where
    they say next to nothing.
    """
    precision = 1.0 / after_sd**2 - 1.0 / before.sigma**2
    if precision < 0.2 / before.sigma**2:
        return None
    mean = (after_log / after_sd**2 - math.log(before.median) / before.sigma**2) / precision
    return mean, 1.0 / math.sqrt(precision)


def rate_from(past: Sequence[PastRun], material: str, spool: int, dryer: int) -> Rate:
    """What earlier runs teach of the rate of a run of this spool of this material in this dryer."""
    if not past:
        return UNKNOWN_RATE
    keys = [(run.material, run.spool, run.dryer) for run in past]
    parts = (MATERIAL_SD**2, SPOOL_SD**2, DRYER_SD**2)

    def shared(one: tuple[str, int, int], other: tuple[str, int, int]) -> float:
        return sum(var for var, a, b in zip(parts, one, other, strict=True) if a == b)

    among = np.array([[shared(a, b) for b in keys] for a in keys])
    noise = np.diag([RUN_SD**2 + run.uncertainty**2 for run in past])
    to_new = np.array([shared((material, spool, dryer), key) for key in keys])
    weights = np.linalg.solve(among + noise, to_new)
    mean = float(weights @ np.array([run.log_rate for run in past]))
    variance = max(RATE_SIGMA**2 - float(weights @ to_new), RUN_SD**2)
    return Rate(math.exp(mean), math.sqrt(variance))
