"""Card bodies in keeping: the water that an empty spool of card takes up and gives off beside its strand's.

A body follows the air about it along its own isotherm, in some two hours. In a closed container that is a store that
may be larger than the strand's: 180 g of card hold 5 g in air of 10 %, 13 g at 50 %.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np

from drying.arrays import Array
from drying.materials import EmptySpoolKind, as_cool
from drying.materials.empty_spools import EMPTY_SPOOL_TIME_H
from drying.storage.desiccant import GRID

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
def card_table(kind: EmptySpoolKind) -> Array:
    """Water that an empty spool holds at the activities of `GRID`, % of its dry mass."""
    return np.array([kind.held_pct(float(activity)) for activity in GRID])
