"""The air of boxes through a step of time: where its water goes to and comes from, but for what dries in it.

Numbers of the boxes are (boxes,).
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import ClassVar, Protocol

import numpy as np

from drying.arrays import Array


def possible(activity: Array) -> Array:
    """Air can be neither drier than dry nor damper than full."""
    return np.minimum(np.maximum(activity, 0.0), 1.0)


class Air(Protocol):
    """Where water of the air in boxes goes and comes from, but for their windings; numbers of boxes, (boxes,)."""

    @property
    def straight(self) -> bool:
        """Whether `rest` hangs on no activity."""

    def rest(self, hours: float, activity: Array) -> tuple[Array, Array]:
        """What it gives in a step to dry air, kg, and how much less for each unit of activity, by the tangent at this
        one.
        """

    def activity(self, given: Array, less: Array) -> Array:
        """The activity at which it has room for what is given to dry air, and less for each unit, 0 to 1."""

    def after(self, lost_kg: Callable[[], Array], hours: float, activity: Array) -> Air:
        """The same after a step in which the windings lost so much."""


@dataclass(frozen=True)
class Flow:
    """What the exchange flow of each box brings and carries, shape (boxes,): kg an hour for a unit of activity, and the
    activity of what comes in.
    """

    kg_h: Array
    incoming: Array
    straight: ClassVar = True

    def rest(self, hours: float, activity: Array) -> tuple[Array, Array]:
        """See `Air`."""
        return self.kg_h * hours * self.incoming, self.kg_h * hours

    def activity(self, given: Array, less: Array) -> Array:
        """See `Air`."""
        return possible(given / less)

    def after(self, lost_kg: Callable[[], Array], hours: float, activity: Array) -> Flow:
        """See `Air`."""
        return self
