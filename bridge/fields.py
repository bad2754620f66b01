"""From a message to a reading: which of its values is what, and in which unit."""

from __future__ import annotations

import json
import math
import re
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, field

LARGEST_BYTES, DEEPEST, MOST_VALUES = 65536, 6, 200
GUESSES: Mapping[str, re.Pattern[str]] = {
    "temp_c": re.compile(r"(^|[._-])t(emp(erature)?)?([._-]?c)?$", re.IGNORECASE),
    "rh_pct": re.compile(r"(^|[._-])(rh|hum(idity)?|rel(ative)?_?hum(idity)?)([._-]?pct)?$", re.IGNORECASE),
    "mass_g": re.compile(r"(^|[._-])(mass|weight|gross|grams?)([._-]?g)?$", re.IGNORECASE),
    "energy_kwh": re.compile(r"(^|[._-])(energy|kwh|total_?kwh)$", re.IGNORECASE),
}
"""What a value is taken for by its name, where the person says nothing of it."""

_UNITS: Mapping[str, Mapping[str, Callable[[float], float]]] = {
    "temp_c": {"C": float, "F": lambda t: (t - 32.0) / 1.8, "K": lambda t: t - 273.15},
    "rh_pct": {"%": float, "share": lambda share: 100.0 * share},
    "mass_g": {"g": float, "kg": lambda m: 1000.0 * m, "mg": lambda m: m / 1000.0,
               "oz": lambda m: 28.349523125 * m, "lb": lambda m: 453.59237 * m},
    "energy_kwh": {"kWh": float, "Wh": lambda e: e / 1000.0},
}  # fmt: skip


class MappingError(ValueError):
    """What is said of a topic's fields cannot be followed."""


def convert(name: str, value: float, unit: str | None) -> float:
    """A value in the unit that Darre keeps: °C, %, g, kWh. Raises MappingError for a unit that is none of it."""
    ways = _UNITS[name]
    if unit is None:
        return float(value)
    if unit not in ways:
        raise MappingError(f"{name} is given in {unit}; known are {', '.join(ways)}.")
    return ways[unit](value)


def _numbers(value: object, path: str = "", depth: int = 0) -> Iterator[tuple[str, float]]:
    if isinstance(value, bool) or depth > DEEPEST:
        return
    if isinstance(value, int | float):
        try:
            number = float(value)
        except OverflowError:
            return
        if math.isfinite(number):
            yield path, number
    elif isinstance(value, str):
        yield from _numbers(_number(value), path, depth)
    elif isinstance(value, dict):
        for key, inner in value.items():
            yield from _numbers(inner, f"{path}.{key}" if path else str(key), depth + 1)


def _number(text: str) -> float | None:
    try:
        return float(text.strip().replace(",", ".")) if len(text) < 40 else None
    except ValueError:
        return None


def values_in(message: bytes) -> dict[str, float]:
    """Every number of a message by its path, "climate.temperature"; a bare number has the path "". What is neither
    JSON nor a number, too long or too deep holds none.
    """
    if len(message) > LARGEST_BYTES:
        return {}
    try:
        read = json.loads(message)
    except (ValueError, RecursionError):
        try:
            read = message.decode("utf-8")
        except UnicodeDecodeError:
            return {}
    found: dict[str, float] = {}
    for path, number in _numbers(read):
        found[path] = number
        if len(found) >= MOST_VALUES:
            break
    return found


@dataclass(frozen=True)
class FieldMap:
    """Which path of a message is which value of a reading, and in which unit. Empty: guessed by the names."""

    paths: Mapping[str, str] = field(default_factory=dict)
    units: Mapping[str, str] = field(default_factory=dict)

    def __post_init__(self) -> None:
        for name in (*self.paths, *self.units):
            if name not in _UNITS:
                raise MappingError(f"{name} is no value of a reading; known are {', '.join(_UNITS)}.")
        for name, unit in self.units.items():
            convert(name, 0.0, unit)

    def found(self, values: Mapping[str, float]) -> dict[str, str]:
        """The path of each value of a reading that the message holds."""
        if self.paths:
            return {name: path for name, path in self.paths.items() if path in values}
        guessed: dict[str, str] = {}
        for name, pattern in GUESSES.items():
            if path := next((path for path in values if pattern.search(path)), None):
                guessed[name] = path
        return guessed

    def reading(self, message: bytes) -> dict[str, float]:
        """The values of a reading; none where the message holds nothing that is known."""
        values = values_in(message)
        return {
            name: round(convert(name, values[path], self.units.get(name)), 6)
            for name, path in self.found(values).items()
        }
