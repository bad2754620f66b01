"""A person's own values beside the built-in ones, and materials of their own: the built-in row stays to go back to."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Any

from drying.errors import Amount, OutOfRangeError, require_range
from drying.materials.properties import Material, Programme, Property

OWN_SOURCE = "Your own value."
# What can be of a strand for printing; bounds keep slips of the finger out, not rare polymers.
BOUNDS: dict[str, tuple[float, float]] = {
    "density": (300.0, 5000.0),
    "k1": (0.001, 50.0),
    "k3": (0.0, 100.0),
    "d23": (1e-16, 1e-9),
    "ea": (5.0, 150.0),
    "tg": (-150.0, 400.0),
    "soft": (35.0, 400.0),
    "fuse": (40.0, 400.0),
    "clean": (0.001, 50.0),
    "trouble": (0.002, 60.0),
    "brittle": (0.002, 60.0),
    "soaked": (0.001, 100.0),
}
PROGRAMME_NAMES = ("gentle", "usual", "brisk", "own")
_BY_FACTOR_LEAST, _BY_FACTOR_MOST = 1.0, 10.0


@dataclass(frozen=True)
class OwnValue:
    """One own value: a property by its name with its spread (None: as the built-in row has it), and a note on where it
    comes from.
    """

    name: str
    value: float
    spread: float | None = None
    note: str = ""


@dataclass(frozen=True)
class OwnProgramme:
    """An own temperature in °C and hours for a method, or the person's own programme ("own")."""

    name: str
    temp_c: float
    duration_h: float


def _property(base: Property | None, own: OwnValue, like: Property | None) -> Property:
    if own.name not in BOUNDS:
        raise OutOfRangeError("name", f"There is no property '{own.name}'. Known: {', '.join(BOUNDS)}.")
    shape = base or like
    assert shape is not None
    low, high = BOUNDS[own.name]
    require_range(own.name, own.value, low, high, shape.unit)
    if own.spread is not None:
        least, most = (_BY_FACTOR_LEAST, _BY_FACTOR_MOST) if shape.spread_kind == "factor" else (0.0, high - low)
        require_range("spread", own.spread, least, most, "times" if shape.spread_kind == "factor" else shape.unit)
    source = f"{OWN_SOURCE} {own.note}".strip()
    return replace(shape, value=own.value, spread=shape.spread if own.spread is None else own.spread, source=source)


def _require_order(changed: Material) -> Material:
    """Refuse thresholds and temperatures that are out of order: every answer would be nonsense."""
    if (changed.clean is None) != (changed.trouble is None):
        raise OutOfRangeError("trouble", "Give both: the clean threshold and the trouble threshold.")
    if changed.clean and changed.trouble and not changed.clean.value < changed.trouble.value:
        raise OutOfRangeError(
            "clean",
            f"The clean threshold must lie below the trouble threshold, {changed.trouble.value:g} %. Change both.",
        )
    if not changed.soft.value < changed.fuse.value:
        raise OutOfRangeError(
            "soft",
            "The filament must soften below ",
            Amount(changed.fuse.value, "°C"),
            ", where its turns stick together. Change both.",
        )
    return changed


@lru_cache(maxsize=256)
def _changed(base: Material, values: tuple[OwnValue, ...], programmes: tuple[OwnProgramme, ...]) -> Material:
    changes: dict[str, Any] = {}
    like = {
        "clean": base.soft,
        "trouble": base.soft,
        "brittle": base.k1,
        "soaked": base.k1,
    }  # where the built-in row has no threshold, its shape comes from here
    for own in values:
        found = _property(getattr(base, own.name, None), own, like.get(own.name))
        if getattr(base, own.name) is None:
            usual = own.value * 0.4 if found.spread_kind == "plus_minus" else 1.4
            found = replace(found, unit="%", spread=usual if own.spread is None else own.spread)
        changes[own.name] = found
    runs = dict(base.programmes)
    for method in programmes:
        if method.name not in PROGRAMME_NAMES:
            raise OutOfRangeError("name", f"There is no method '{method.name}'. Known: {', '.join(PROGRAMME_NAMES)}.")
        require_range("temp_c", method.temp_c, 20.0, 200.0, "°C")
        require_range("duration_h", method.duration_h, 0.25, 400.0, "h")
        runs[method.name] = Programme(method.temp_c, method.duration_h)
    return _require_order(replace(base, programmes=runs, **changes))


def with_own(base: Material, values: Sequence[OwnValue], programmes: Sequence[OwnProgramme] = ()) -> Material:
    """The material with own values over its built-in ones; the same object for the same values, as solutions are kept
    by it. Raises OutOfRangeError for a value that no filament has, and for thresholds or temperatures out of order.
    """
    if not values and not programmes:
        return base
    for own in values:
        require_range(own.name, own.value, -math.inf, math.inf, "")  # no NaN: it would not equal itself in the cache
    return _changed(base, tuple(values), tuple(programmes))


@lru_cache(maxsize=256)
def new_material(material_id: str, name: str, short: str, base: Material) -> Material:
    """An own material that starts with the values of another."""
    return replace(base, id=material_id, name=name, short=short, notes=(f"Your own material, begun from {base.name}.",))
