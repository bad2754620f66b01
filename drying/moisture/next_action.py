"""What to do with a spool next, from its moisture history now and the hours to come where it stands."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from drying.arrays import Array
from drying.materials import Material, MoistureLevel, moisture_level

AHEAD_H = 168  # what comes after a week is no reason to act today


class Action(StrEnum):
    """The next act: nothing to mind; it is being dried; it can be printed; it must be put away or dried; it dries where
    it is.
    """

    NO_MATTER = "no_matter"
    DRYING = "drying"
    READY = "ready"
    PUT_AWAY = "put_away"
    DRIES_HERE = "dries_here"
    DRY = "dry"


@dataclass(frozen=True)
class NextAction:
    """An act. `within_h`: hours until it has lost its clean threshold, or until it gets there by itself;
    `over_trouble`: it is wet enough to show.
    """

    act: Action
    within_h: float | None = None
    over_trouble: bool = False

    @property
    def is_to_dry(self) -> bool:
        """True where heat would bring it to its clean threshold, at once or sooner than it gets there by itself."""
        return self.act in (Action.DRY, Action.DRIES_HERE)


def next_action(material: Material, moisture_pct: float, ahead_pct: Array, in_run: bool) -> NextAction:
    """The next act for a spool of `moisture_pct` now and `ahead_pct` at the end of each coming hour where it is, of
    which `AHEAD_H` count.
    """
    ahead_pct = ahead_pct[:AHEAD_H]
    stands = moisture_level(material, moisture_pct)
    if stands is MoistureLevel.NO_MATTER or material.clean is None:
        return NextAction(Action.NO_MATTER)
    if in_run:
        return NextAction(Action.DRYING)
    clean = material.clean.value
    if stands is MoistureLevel.CLEAN:
        over = np.flatnonzero(ahead_pct > clean)
        return NextAction(Action.PUT_AWAY, float(over[0])) if over.size else NextAction(Action.READY)
    under = np.flatnonzero(ahead_pct <= clean)
    trouble = stands is MoistureLevel.TROUBLE
    if under.size:
        return NextAction(Action.DRIES_HERE, float(under[0]) + 1.0, trouble)
    return NextAction(Action.DRY, None, trouble)
