"""What a simulation takes and gives: the room's air, and moisture and air hour by hour."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from drying.arrays import Array
from drying.quantity import Quantity


@dataclass(frozen=True)
class Room:
    """The room's air from hour `first` on: °C and activity (0..1) in each hour."""

    first: int
    temp_c: Array
    activity: Array

    @property
    def end(self) -> int:
        """The hour after the last."""
        return self.first + self.temp_c.size


@dataclass(frozen=True)
class MoistureHistory:
    """Moisture from hour `first` on, one value an hour, in % of dry mass with its standard uncertainty; `next_pct`:
    what the grams that are printed next hold.
    """

    first: int
    moisture_pct: Array
    sd_pct: Array
    next_pct: Array

    def at(self, hour: float) -> Quantity:
        """The value at an hour, between hours by a straight line; NaN where nothing is known."""
        steps = np.arange(self.moisture_pct.size)
        return Quantity(
            float(np.interp(hour - self.first, steps, self.moisture_pct)),
            float(np.interp(hour - self.first, steps, self.sd_pct)),
        )

    def next_at(self, hour: float) -> float:
        """What the grams that are printed next hold at an hour, % of dry mass; NaN where nothing is known."""
        return float(np.interp(hour - self.first, np.arange(self.next_pct.size), self.next_pct))


@dataclass(frozen=True)
class MoistureHistories:
    """Histories of spools, and the air in containers (activity 0..1, NaN before they were there), hour by hour from
    hour `first` on.
    """

    spools: list[MoistureHistory]
    first: int
    activity: Array
