"""What to do with a spool next, from its moisture history now and the hours to come where it stands."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from drying.arrays import Array
from drying.materials import Material, MoistureLevel, moisture_level

NEXT_ACT_H = 168  # what comes after a week is no reason to act today


class Action(StrEnum):
    """The next act: nothing to mind; it is being dried; it can be printed; it must be put away or dried; it dries where
    it is; only its outer turns are damp, and what lies under them is not.
    """

    NO_MATTER = "no_matter"
    DRYING = "drying"
    READY = "ready"
    PUT_AWAY = "put_away"
    DRIES_HERE = "dries_here"
    DRY = "dry"
    OUTER_DAMP = "outer_damp"


@dataclass(frozen=True)
class NextAction:
    """An act. `within_h`: hours until the next grams have lost their clean threshold, or until it gets there by itself;
    `over_trouble`: it is wet enough to show.
    """

    act: Action
    within_h: float | None = None
    over_trouble: bool = False

    @property
    def is_to_dry(self) -> bool:
        """True where heat would bring it to its clean threshold, at once or sooner than it gets there by itself."""
        return self.act in (Action.DRY, Action.DRIES_HERE)


@dataclass(frozen=True)
class Ahead:
    """A spool now (first value) and at the end of each coming hour where it is: its mean moisture and what the grams
    that are printed next hold, % of dry mass, arrays of one length.
    """

    moisture_pct: Array
    next_pct: Array


def next_action(material: Material, ahead: Ahead, in_run: bool) -> NextAction:
    """The next act for a spool, by the coming `NEXT_ACT_H` hours: the next grams decide whether it can be printed,
    the whole of it whether it is to be dried.
    """
    moisture, next_pct = ahead.moisture_pct[: NEXT_ACT_H + 1], ahead.next_pct[: NEXT_ACT_H + 1]
    stands = moisture_level(material, float(moisture[0]))
    if stands is MoistureLevel.NO_MATTER or material.clean is None:
        return NextAction(Action.NO_MATTER)
    if in_run:
        return NextAction(Action.DRYING)
    clean = material.clean.value
    trouble = moisture_level(material, float(next_pct[0])) is MoistureLevel.TROUBLE
    if stands is not MoistureLevel.CLEAN:
        under = np.flatnonzero(moisture[1:] <= clean)
        by_itself = float(under[0]) + 1.0 if under.size else None
        return NextAction(Action.DRY if by_itself is None else Action.DRIES_HERE, by_itself, trouble)
    if next_pct[0] > clean:
        under = np.flatnonzero(next_pct[1:] <= clean)
        return NextAction(Action.OUTER_DAMP, float(under[0]) + 1.0 if under.size else None, trouble)
    over = np.flatnonzero(next_pct[1:] > clean)
    return NextAction(Action.PUT_AWAY, float(over[0])) if over.size else NextAction(Action.READY)
