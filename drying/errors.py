"""What the core says when it is given something it cannot compute with."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Amount:
    """A number with its unit inside a sentence; apart from the text, so that a screen can show it in other units.

    `difference`: a step between two temperatures and no temperature itself.
    """

    value: float
    unit: str
    difference: bool = False

    def __str__(self) -> str:
        return f"{self.value:g} {self.unit}".rstrip()


Sentence = tuple[str | Amount, ...]


class DryingError(ValueError):
    """Base of every refusal of the core. `name` is the argument at fault, `parts` make up the sentence."""

    def __init__(self, name: str, *parts: str | Amount) -> None:
        super().__init__("".join(map(str, parts)))
        self.name = name
        self.parts: Sentence = parts


class OutOfRangeError(DryingError):
    """A value lies outside the range in which the computation holds."""


class UnknownMaterialError(DryingError):
    """No material has this id."""


def require_range(name: str, value: float, low: float, high: float, unit: str, *, difference: bool = False) -> float:
    """Return `value` unchanged when low <= value <= high.

    Raises OutOfRangeError, which names the value and the range; a NaN is outside every range.
    """
    if not low <= value <= high:
        given, least, most = (Amount(v, unit, difference) for v in (value, low, high))
        raise OutOfRangeError(name, f"{name} is ", given, "; it must lie between ", least, " and ", most, ".")
    return value
