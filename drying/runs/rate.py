"""How fast a spool dries against the forecast, and what earlier runs teach about the next.

The log of the rate is thought of as a sum of four parts: the material's data, this spool (its winding), this dryer
(its flow, its layers), and the single run. An ended run tells the sum; runs that share a part tell of each other (best
linear prediction under a normal model; G. K. Robinson, Statistical Science 6, 1991).

Strand and winding are learned apart. A coil tells of the strand alone, and a wound spool's time hangs on its strand for
a share only: what they have in common counts for that share, so a coil never moves a spool's log rate by more than the
share of its own. Of a spool's winding a coil tells nothing.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from drying.transport import (
    DRYER_SD,
    MATERIAL_SD,
    OPEN_SD,
    RATE_SIGMA,
    RUN_SD,
    SPOOL_SD,
    UNKNOWN_RATE,
    Rate,
)


@dataclass(frozen=True)
class PastRun:
    """What an ended run shows by itself: the log of its rate, with a standard uncertainty, and what it shares.
    `strand_share`: how much of its time the strand took, 1 for a coil.
    """

    material: str
    spool: int
    dryer: int
    log_rate: float
    uncertainty: float
    strand_share: float


def _alike(one: float, other: float) -> float:
    """How far two runs hang on the same way out, 0..1, by their strand shares: 1 for equal ones, a coil and a wound
    spool by the spool's share.
    """
    return one * other + math.sqrt((1.0 - one**2) * (1.0 - other**2))


def as_in_common_winding(past: PastRun) -> PastRun:
    """A run in which every turn dried as if it lay free, as it tells of runs where that is not so: of its strand."""
    return replace(past, uncertainty=math.hypot(past.uncertainty, OPEN_SD), strand_share=1.0)


def rate_by_data_alone(before: Rate, after_log: float, after_sd: float) -> tuple[float, float] | None:
    """What the weighings by themselves say about the log rate: the posterior with the prior taken out. None where
    they say next to nothing.
    """
    precision = 1.0 / after_sd**2 - 1.0 / before.sigma**2
    if precision < 0.2 / before.sigma**2:
        return None
    mean = (after_log / after_sd**2 - math.log(before.median) / before.sigma**2) / precision
    return mean, 1.0 / math.sqrt(precision)


_Key = tuple[str, int, int, float]


def _shared(one: _Key, other: _Key) -> float:
    """Variance that two runs have in common."""
    alike = _alike(one[3], other[3])
    of_strand = MATERIAL_SD**2 * (one[0] == other[0]) + DRYER_SD**2 * (one[2] == other[2])
    same_kind = (one[3] == 1.0) == (other[3] == 1.0)
    return alike * of_strand + SPOOL_SD**2 * (one[1] == other[1] and same_kind)


def rate_from(past: Sequence[PastRun], material: str, spool: int, dryer: int, strand_share: float) -> Rate:
    """What earlier runs teach of the rate of a run of this spool of this material in this dryer; `strand_share`: how
    much of its time the strand will take, 1 for a coil.
    """
    if not past:
        return UNKNOWN_RATE
    keys = [(run.material, run.spool, run.dryer, run.strand_share) for run in past]
    new = (material, spool, dryer, strand_share)
    among = np.array([[_shared(a, b) for b in keys] for a in keys])
    noise = np.diag([RUN_SD**2 + run.uncertainty**2 for run in past])
    to_new = np.array([_shared(new, key) for key in keys])
    weights = np.linalg.solve(among + noise, to_new)
    mean = float(weights @ np.array([run.log_rate for run in past]))
    variance = max(RATE_SIGMA**2 - float(weights @ to_new), RUN_SD**2)
    return Rate(math.exp(mean), math.sqrt(variance))
