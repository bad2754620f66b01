"""What the core says when it is given something it cannot compute with."""

from __future__ import annotations


class DryingError(ValueError):
    """Base of every refusal of the core. `name` is the argument that is at fault."""

    def __init__(self, name: str, message: str) -> None:
        super().__init__(message)
        self.name = name


class OutOfRangeError(DryingError):
    """A value lies outside the range in which the computation holds."""


class UnknownMaterialError(DryingError):
    """No material has this id."""


def require_range(name: str, value: float, low: float, high: float, unit: str) -> float:
    """Return `value` unchanged when low <= value <= high.

    Raises OutOfRangeError, which names the value and the range; a NaN is outside every range.
    """
    if not low <= value <= high:
        raise OutOfRangeError(name, f"{name} is {value:g} {unit}; it must lie between {low:g} and {high:g} {unit}.")
    return value
