"""How far a computed drying course may be off: the spread of the drying rate, the winding and the shape."""

from __future__ import annotations

import math
from dataclasses import dataclass

from drying.air import GAS_CONSTANT, ZERO_C_IN_K
from drying.materials import REFERENCE_TEMP_K, Material
from drying.transport.learned import RateCells

# Standard deviations of the parts: engineering estimates, for a common material and winding; `rate_sigma` has the rest.
MATERIAL_SD, SPOOL_SD, DRYER_SD, RUN_SD = 0.32, 0.20, 0.20, 0.15


RATE_SIGMA = math.sqrt(MATERIAL_SD**2 + SPOOL_SD**2 + DRYER_SD**2 + RUN_SD**2)  # 0.45


@dataclass(frozen=True)
class Rate:
    """Rate against the forecast, common to strand and pack: median and sigma of a log-normal. `cells`: the same with
    the floor and the shape of the course, where earlier runs tell of them too.
    """

    median: float = 1.0
    sigma: float = RATE_SIGMA
    cells: RateCells | None = None


UNKNOWN_RATE = Rate()

# More doubt of the log rate where every turn is taken to lie free, one sd; engineering estimate: air finds the easy
# ways through, and heat comes late to the middle.
OPEN_SD = 0.35


def in_open_winding(rate: Rate) -> Rate:
    """A rate against what is computed of a common winding, as one against that of turns which all lie free."""
    return Rate(rate.median, math.hypot(rate.sigma, OPEN_SD))


def in_common_winding(rate: Rate) -> Rate:
    """The way back of `in_open_winding`."""
    return Rate(rate.median, math.sqrt(max(rate.sigma**2 - OPEN_SD**2, 0.0)))


def rate_sigma(material: Material, temp_c: float, strand_share: float) -> float:
    """Spread of the log rate of a run of which nothing was learned, from the spreads of what it is computed with.

    `strand_share`: how much of the time the strand itself takes (0..1); the winding takes the rest.
    """
    from_23 = abs(1.0 / (temp_c + ZERO_C_IN_K) - 1.0 / REFERENCE_TEMP_K) / GAS_CONSTANT
    warmth = material.ea.spread * 1000.0 * from_23
    strand = math.hypot(math.log(material.d23.spread), warmth)
    winding = math.hypot(math.log(TORTUOSITY_SPREAD), math.log(material.k1.spread))
    return math.sqrt((strand_share * strand) ** 2 + ((1.0 - strand_share) * winding) ** 2 + DRYER_SD**2 + RUN_SD**2)


TORTUOSITY_SPREAD = 1.4  # engineering estimate, one sigma of a log-normal: windings differ in order and tension


SHAPE_ERROR = 0.03  # engineering estimate: departure from the computed curve's shape, share of the loss, one sd
