"""Empty spools: the heat they stand and the water they hold themselves. Values from `data/empty_spools.toml`."""

from __future__ import annotations

import math
import tomllib
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache
from importlib import resources

import numpy as np

from drying.air import GAS_CONSTANT, ZERO_C_IN_K
from drying.errors import UnknownMaterialError
from drying.quantity import ByCause

EMPTY_SPOOL_TIME_H = 2.0  # engineering estimate: card follows the air within one to three hours
ISOTHERM_SPREAD = 1.25  # one sigma of a log-normal
TIME_SPREAD = 1.5

ISOTHERM_C = 23.0
BINDING_KJ_MOL = 6.0  # beyond that of water itself

Air = tuple[float, float]
"""A stretch of air: h, and its water activity (0..1) as `as_cool` has it."""


def as_cool(activity: float, temp_c: float) -> float:
    """The activity at the isotherms' temperature at which a body holds what it does at this one and `temp_c`: warm card
    lets go of water in air of the same humidity.

    By the heat that binds it (Clausius and Clapeyron). The Wood Handbook's isotherms ask for 4 to 10 kJ/mol between 45
    and 80 °C and 3 to 50 % relative humidity, least where there is most water.
    """
    apart = 1.0 / (temp_c + ZERO_C_IN_K) - 1.0 / (ISOTHERM_C + ZERO_C_IN_K)
    return min(activity * math.exp(BINDING_KJ_MOL * 1000.0 / GAS_CONSTANT * apart), 1.0)


@dataclass(frozen=True)
class EmptySpoolKind:
    """What a empty spool is made of.

    `sag_c`: temperature in °C from which it sags, None where it stands any drying heat. `isotherm`: the water that the
    body itself holds, % of its mass, at relative humidities in %; empty for plastics, which hold too little to matter.
    """

    id: str
    name: str
    sag_c: float | None
    isotherm: tuple[tuple[float, float], ...] = ()

    def held_pct(self, activity: float) -> float:
        """Water that the body holds in the end in air of this activity (0..1), % of its mass."""
        if not self.isotherm:
            return 0.0
        humidity, held = np.array(self.isotherm).T
        return float(np.interp(100.0 * activity, humidity, held))

    def activity_after(self, from_activity: float, to_activity: float, hours: float) -> float:
        """The activity that a body is at after so many hours of air of another one: it follows along its isotherm."""
        begin, end = self.held_pct(from_activity), self.held_pct(to_activity)
        held = end + (begin - end) * math.exp(-max(hours, 0.0) / EMPTY_SPOOL_TIME_H)
        humidity, water = np.array(self.isotherm).T
        return float(np.interp(held, water, humidity)) / 100.0

    def water_given_off_g(self, body_mass_g: float, from_activity: float, air: Sequence[Air]) -> ByCause:
        """Water, g, that a body of this mass has given off on its way through stretches of air, having stood in air of
        `from_activity`; its errors by the isotherm and by the pace. Negative where it took some up.

        It goes along its isotherm towards that of each air, and never below: a second run the same day finds little.
        """
        if not self.isotherm:
            return ByCause(0.0, (0.0, 0.0))
        fast, middle, slow = (
            self._given_off(body_mass_g, from_activity, air, EMPTY_SPOOL_TIME_H * factor) for factor in _TIMES
        )
        return ByCause(middle, (middle * math.log(ISOTHERM_SPREAD), (fast - slow) / 2.0))

    def _given_off(self, body_mass_g: float, from_activity: float, air: Sequence[Air], constant_h: float) -> float:
        begin = held = self.held_pct(from_activity)
        for hours, activity in air:
            end = self.held_pct(activity)
            held = end + (held - end) * math.exp(-max(hours, 0.0) / constant_h)
        return body_mass_g / 100.0 * (begin - held)


_TIMES = (1.0 / TIME_SPREAD, 1.0, TIME_SPREAD)


@cache
def empty_spool_kinds() -> dict[str, EmptySpoolKind]:
    """Every kind of body by id."""
    table = tomllib.loads(resources.files(__package__).joinpath("data/empty_spools.toml").read_text("utf-8"))
    return {
        key: EmptySpoolKind(key, raw["name"], raw.get("sag_c"), tuple((x, y) for x, y in raw.get("isotherm", ())))
        for key, raw in table.items()
    }


def empty_spool_kind(kind_id: str) -> EmptySpoolKind:
    """The kind with this id. Raises UnknownMaterialError, which lists the known ids."""
    try:
        return empty_spool_kinds()[kind_id]
    except KeyError:
        known = ", ".join(empty_spool_kinds())
        raise UnknownMaterialError("empty_spool_kind", f"There is no body kind '{kind_id}'. Known: {known}.") from None


_COMMON_G, _COMMON_MM = 1000.0, (200.0, 90.0, 60.0)  # of an empty spool: what it is for, and its sizes


def usual_sizes_mm(nominal_g: float) -> tuple[float, float, float]:
    """Outer and hub diameter and width, mm, of an empty spool that is sold with so much filament, g: those of a common
    one for 1 kg, of which larger and smaller ones keep the proportions (engineering estimate).
    """
    scale = (nominal_g / _COMMON_G) ** (1.0 / 3.0)
    outer, hub, width = _COMMON_MM
    return outer * scale, hub * scale, width * scale


def full_g(outer_mm: float, hub_mm: float, width_mm: float) -> float:
    """What an empty spool of these sizes, mm, is sold with, g: by the room between its flanges, beside that of a common
    one for 1 kg (engineering estimate). It is the way back from `usual_sizes_mm`.
    """
    return _COMMON_G * _room(outer_mm, hub_mm, width_mm) / _room(*_COMMON_MM)


def _room(outer_mm: float, hub_mm: float, width_mm: float) -> float:
    return (outer_mm**2 - hub_mm**2) * width_mm
