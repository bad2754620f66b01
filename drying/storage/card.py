"""Card bodies in keeping: the water that an empty spool of card takes up and gives off beside its strand's.

A body follows the air about it along its own isotherm, in some two hours. In a closed container that is a store that
may be larger than the strand's: 180 g of card hold 5 g in air of 10 %, 13 g at 50 %.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np

from drying.arrays import Array
from drying.materials import EmptySpoolKind, as_cool
from drying.materials.empty_spools import EMPTY_SPOOL_TIME_H
from drying.storage.desiccant import GRID, WaterTables

PACE = 1.0 - math.exp(-1.0 / EMPTY_SPOOL_TIME_H)  # of its way that a body goes in an hour
_LITTLE = 1e-3


@dataclass(frozen=True, slots=True)  # many thousands are kept
class CardBody:
    """An empty spool that holds water itself: its dry mass, g, and the water in it, % of that."""

    kind: EmptySpoolKind
    mass_g: float
    held_pct: float

    @property
    def water_g(self) -> float:
        """Water in it, g."""
        return self.mass_g * self.held_pct / 100.0


def in_air_of(body: CardBody | None, activity: float) -> CardBody | None:
    """A body that has come to rest in air of this activity (0..1)."""
    return None if body is None else replace(body, held_pct=body.kind.held_pct(activity))


@lru_cache(maxsize=1024)
def warmth_factor(temp_c: float) -> float:
    """How many times as damp air as cool as the isotherm's the air at this temperature counts for, see `as_cool`."""
    return as_cool(_LITTLE, temp_c) / _LITTLE


@lru_cache(maxsize=16)
def _table(kind: EmptySpoolKind) -> Array:
    return np.array([kind.held_pct(float(activity)) for activity in GRID])


class Cards:
    """The bodies of some spools side by side; those of plastic hold nothing."""

    def __init__(self, bodies: Sequence[CardBody | None]) -> None:
        self.bodies, self.some = bodies, any(body is not None for body in bodies)
        self.grams = np.array([0.0 if body is None else body.mass_g / 100.0 for body in bodies])
        table = np.zeros((len(bodies), GRID.size))
        for row, body in enumerate(bodies):
            if body is not None:
                table[row] = _table(body.kind)
        self._tables = WaterTables(table)
        self.held = np.array([0.0 if body is None else body.held_pct for body in bodies])

    def taken_up(self, activity: Array) -> tuple[Array, Array]:
        """Water, g, that each takes up in an hour in air of its activity, and how that rises with it."""
        target, slope = self._tables.at(activity)
        return PACE * self.grams * (target - self.held), PACE * self.grams * slope

    def follow(self, activity: Array, away: Array) -> None:
        """An hour in air of its activity for each, but for those that are away."""
        target, _ = self._tables.at(activity)
        self.held = np.where(away, self.held, self.held + PACE * (target - self.held))

    def stand(self) -> list[CardBody | None]:
        """How each stands now."""
        now = zip(self.bodies, self.held.tolist(), strict=True)
        return [None if body is None else replace(body, held_pct=held) for body, held in now]
