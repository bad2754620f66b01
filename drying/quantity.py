"""A value with its standard uncertainty."""

from __future__ import annotations

import math
from dataclasses import dataclass

COVERAGE = 2.0  # a loss is a finding from this many standard uncertainties on; about 95 %


@dataclass(frozen=True, slots=True)  # many thousands are kept
class Quantity:
    """A value with its standard uncertainty, in one unit."""

    value: float
    uncertainty: float

    @property
    def plus_minus(self) -> float:
        """What stands after the ± on the screen: two standard uncertainties, about 95 %."""
        return COVERAGE * self.uncertainty


NOTHING = Quantity(0.0, 0.0)


@dataclass(frozen=True, slots=True)
class ByCause:
    """A value whose errors have causes that know nothing of one another. `errors`: what one standard deviation of each
    adds to it, with its sign: two values of the same causes err together, each in its own measure.
    """

    value: float
    errors: tuple[float, ...]

    @property
    def quantity(self) -> Quantity:
        """The value with its standard uncertainty."""
        return Quantity(self.value, math.hypot(*self.errors))
