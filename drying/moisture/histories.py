"""What a simulation takes and gives: the room's air, and moisture and air hour by hour."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, field

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
        at = hour - self.first
        return Quantity(_between(self.moisture_pct, at), _between(self.sd_pct, at))

    def next_at(self, hour: float) -> float:
        """What the grams that are printed next hold at an hour, % of dry mass; NaN where nothing is known."""
        return _between(self.next_pct, hour - self.first)


def _between(values: Array, at: float) -> float:
    """A row's value between two of its places, by a straight line; its ends' beyond them."""
    low = min(max(math.floor(at), 0), values.size - 1)
    share, here = at - low, float(values[low])
    if share <= 0.0 or low == values.size - 1:
        return here
    return here + share * (float(values[low + 1]) - here)


@dataclass(frozen=True)
class MoistureHistories:
    """Histories of spools, and the air in containers (activity 0..1, NaN before they were there), hour by hour from
    hour `first` on. They may be worked out to some hour only, NaN from there on: `further` then works out the rest.
    `digests`: one for each spool of its history, by the hour up to which it reaches.
    """

    spools: list[MoistureHistory]
    first: int
    activity: Array
    digests: dict[int, list[bytes]] = field(default_factory=dict, repr=False, compare=False)
    further: Callable[[], MoistureHistories] | None = field(default=None, repr=False, compare=False)

    def digest(self, spool: int, hour: int) -> bytes:
        """Of a spool's history, by the spool's number, up to some hour after this one: with the same digest it is the
        same history.
        """
        return self.digests[min((end for end in self.digests if end > hour), default=max(self.digests))][spool]
