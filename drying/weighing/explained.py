"""What water can explain: between which masses a spool can lie now, by what it weighed before.

Everything that can come or go unasked is water: in the strand up to the most that the polymer holds, and in a card
spool's body. What lies beyond, at four standard uncertainties, was typed wrong, was another spool, or was printed.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from drying.materials import EmptySpoolKind, Material, most_held_pct
from drying.quantity import Quantity
from drying.weighing.scale import Weighing

SIGMAS = 4.0
DAMPEST = 0.8  # engineering estimate: the dampest air that a card body stands in
NEAR_SHARE = 0.3  # engineering estimate: of all that may be held, what comes or goes between two weighings


@dataclass(frozen=True)
class Explained:
    """Gross masses that water can explain, from `low_g` to `high_g`; `expected_g`: if no water moved; `near_g`: how far
    from there it usually lies. By that a reading tells whose it is.
    """

    low_g: float
    expected_g: float
    high_g: float
    near_g: float

    def covers(self, gross_g: float) -> bool:
        """Whether water can explain this reading."""
        return self.low_g <= gross_g <= self.high_g


def explained(
    material: Material,
    empty_spool: EmptySpoolKind | None,
    tare_g: float,
    last: Weighing,
    used: Quantity,
    uncertainty_g: float,
) -> Explained:
    """The masses that water can explain after the `last` weighing, with `used` grams printed since.

    `empty_spool`: what the body is made of; None for a coil, which has none. `uncertainty_g`: of the reading to come.
    """
    expected = last.mass_g - used.value
    strand = max(last.mass_g - tare_g, 0.0) * most_held_pct(material) / 100.0
    body = tare_g * empty_spool.held_pct(DAMPEST) / 100.0 if empty_spool else 0.0
    doubt = SIGMAS * math.hypot(last.uncertainty_g, uncertainty_g, used.uncertainty)
    water = strand + body
    return Explained(expected - water - doubt, expected, expected + water + doubt, NEAR_SHARE * water + doubt)
