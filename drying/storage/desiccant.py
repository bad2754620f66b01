"""Desiccants: what they hold at which humidity, how much of one a container needs, and how it is driven out again.

A desiccant has no drying power of its own: it holds so much at so much humidity, and a full one dries nothing.
"""

from __future__ import annotations

import tomllib
from dataclasses import dataclass
from enum import StrEnum
from functools import cache
from importlib import resources
from typing import Any

import numpy as np

from drying.air import ZERO_C_IN_K
from drying.arrays import Array
from drying.errors import OutOfRangeError, require_range

ISOTHERM_C = 25.0  # near which the isotherms were measured
GRID = np.linspace(0.0, 1.0, 101)  # activities at which isotherms are tabled


class DesiccantKind(StrEnum):
    """What a desiccant is."""

    SILICA_GEL = "silica_gel"
    ALUMINA = "alumina"
    SIEVE = "sieve"
    CLAY = "clay"


class Indicator(StrEnum):
    """How its state shows. Blue gel may hold cobalt salts."""

    NONE = "none"
    ORANGE = "orange"
    BLUE = "blue"
    CARD = "card"


class Pouch(StrEnum):
    """What it lies in."""

    BARE = "bare"
    CLOTH = "cloth_pouch"
    PLASTIC = "plastic_pouch"


@dataclass(frozen=True)
class Desiccant:
    """A kind of desiccant: water held, % of its dry mass, against relative humidity in %, and its regeneration: range
    of °C and hours, and the water that stays in it.
    """

    kind: DesiccantKind
    name: str
    rh_pct: tuple[float, ...]
    held: tuple[float, ...]
    regenerate_c: tuple[float, float]
    regenerate_h: tuple[float, float]
    left_pct: float
    source: str

    def held_pct(self, activity: float, temp_c: float = ISOTHERM_C) -> float:
        """Water held in equilibrium with air of this activity (0..1) at this temperature, % of the dry mass.

        The potential R·T·ln(1/a) at which a pore fills hangs little on the temperature (M. M. Dubinin, Chemical Reviews
        60, 1960, 235): warm beads hold less, at the same relative humidity too.
        """
        require_range("activity", activity, 0.0, 1.0, "")
        require_range("temp_c", temp_c, -40.0, 200.0, "°C")
        return float(self.held_in(np.array(activity), np.array(temp_c)))

    def activity_at(self, load_pct: float, temp_c: float = ISOTHERM_C) -> float:
        """Activity (0..1) of the air over a desiccant that holds `load_pct` at this temperature; 1 where it holds all
        it can.
        """
        require_range("load_pct", load_pct, 0.0, 1000.0, "%")
        require_range("temp_c", temp_c, -40.0, 200.0, "°C")
        return float(self.activity_over(np.array(load_pct), np.array(temp_c)))

    def held_in(self, activity: Array, temp_c: Array) -> Array:
        """`held_pct` for arrays and without bounds."""
        return np.asarray(np.interp(100.0 * activity ** _potential_ratio(temp_c), self.rh_pct, self.held))

    def activity_of_rh(self, rh_pct: Array, temp_c: float) -> Array:
        """The activities at this temperature at which it holds what it does at these humidities where its isotherm was
        measured, %.
        """
        return np.asarray((rh_pct / 100.0) ** (1.0 / _potential_ratio(np.array(temp_c))))

    def activity_over(self, load_pct: Array, temp_c: Array) -> Array:
        """`activity_at` for arrays and without bounds."""
        cool = np.interp(load_pct, self.held, self.rh_pct) / 100.0
        return np.asarray(cool ** (1.0 / _potential_ratio(temp_c)))

    @property
    def table(self) -> Array:
        """Water held at the activities of `GRID`, % of the dry mass."""
        return np.interp(100.0 * GRID, self.rh_pct, self.held)


def _potential_ratio(temp_c: Array) -> Array:
    return (temp_c + ZERO_C_IN_K) / (ISOTHERM_C + ZERO_C_IN_K)


@dataclass(frozen=True)
class Charge:
    """Desiccant as it lies in a dryer: its kind, dry mass in g, and the water in it, % of that."""

    kind: DesiccantKind
    dry_g: float
    load_pct: float

    def __post_init__(self) -> None:
        require_range("desiccant_g", self.dry_g, 0.1, 100000.0, "g")
        require_range("desiccant_load_pct", self.load_pct, 0.0, 100.0, "%")

    @property
    def sorbent(self) -> Desiccant:
        """Its kind, with its values."""
        return desiccant(self.kind)


@cache
def _table() -> dict[str, Any]:
    return tomllib.loads(resources.files(__package__).joinpath("data/desiccants.toml").read_text("utf-8"))


@cache
def desiccant(kind: DesiccantKind) -> Desiccant:
    """A kind of desiccant with its values."""
    raw = _table()[kind.value]
    low_c, high_c = raw["regenerate_c"]
    low_h, high_h = raw["regenerate_h"]
    return Desiccant(
        kind, raw["name"], tuple(raw["rh_pct"]), tuple(raw["held_pct"]), (low_c, high_c), (low_h, high_h),
        raw["left_pct"], raw["source"],
    )  # fmt: skip


def pouch_stands_c(pouch: Pouch) -> float:
    """How hot a pouch may be, °C."""
    return float(_table()["limits"][pouch.value])


@dataclass(frozen=True)
class Regeneration:
    """How to drive the water out: °C and hours, what limits the heat ("", or the indicator or pouch by name), and
    whether that is too cool for this desiccant, so that it must come out of its pouch or be replaced.
    """

    temp_c: float
    hours: float
    held_back_by: str
    too_cool: bool


def regeneration(kind: DesiccantKind, indicator: Indicator, pouch: Pouch) -> Regeneration:
    """How this desiccant is regenerated with this indicator in this pouch."""
    sorbent = desiccant(kind)
    caps = {indicator.value: float(_table()["limits"][indicator.value]), pouch.value: pouch_stands_c(pouch)}
    name = min(caps, key=lambda key: caps[key])
    low, high = sorbent.regenerate_c
    temp = min(high, caps[name])
    cooler = temp < low
    hours = sorbent.regenerate_h[1] if temp < high else sorbent.regenerate_h[0]
    return Regeneration(temp, hours, name if caps[name] < high else "", cooler)


def grams_to_last(
    kind: DesiccantKind, water_g_per_day: float, days: float, most_activity: float, given_up_g: float = 0.0
) -> float:
    """Dry desiccant in g, freshly regenerated, that keeps the air at or under `most_activity` (0..1) for so many days
    while `water_g_per_day` comes in, and takes up `given_up_g` that the spools hand over.

    Raises OutOfRangeError where this desiccant cannot hold such dry air at all.
    """
    require_range("days", days, 0.0, 3660.0, "d")
    require_range("water_g_per_day", water_g_per_day, -1e6, 1e6, "g/d")
    require_range("given_up_g", given_up_g, -1e6, 1e6, "g")
    sorbent = desiccant(kind)
    room = sorbent.held_pct(most_activity) - sorbent.left_pct
    if room <= 0.0:
        raise OutOfRangeError(
            "most_activity",
            f"{sorbent.name.capitalize()} as it comes out of the oven cannot hold air at {100 * most_activity:g} %.",
        )
    return (max(water_g_per_day, 0.0) * days + max(given_up_g, 0.0)) * 100.0 / room
