"""What a scale writes on its port: a mass, its unit, and whether it is steady, in a form that is guessed from the
lines themselves.
"""

from __future__ import annotations

import re
from collections import deque
from dataclasses import dataclass, field

from bridge.fields import convert

LONGEST_LINE, STEADY_LINES = 120, 3
_MASS = re.compile(
    r"(?P<sign>[-+−]?)\s*(?P<number>(?<![\d.])\d{1,7}(?:[.,]\d{1,6})?)\s*(?P<unit>kg|mg|g|oz|lb)?(?![\w.])",
    re.IGNORECASE,
)
# Marks that scales put before or behind a mass. They count once they come and go: a word in every line says nothing.
_STEADY = re.compile(r"(?:^|[\s,;])(ST|STABLE|S)(?=[\s,;]|$)|\*", re.IGNORECASE)
_MOVING = re.compile(r"(?:^|[\s,;])(US|UNSTABLE|D|DYN)(?=[\s,;]|$)|[?~]", re.IGNORECASE)


@dataclass(frozen=True)
class Seen:
    """A mass, g, and whether it holds still."""

    mass_g: float
    steady: bool


@dataclass
class LineReader:
    """Reads a scale's lines. `unit`: what the scale shows, where its lines do not say; g otherwise."""

    unit: str | None = None
    _marks: set[str] = field(default_factory=set)
    _last: deque[float] = field(default_factory=lambda: deque(maxlen=STEADY_LINES))

    def read(self, line: bytes) -> Seen | None:
        """The mass of a line; None where there is none, or more than one that could be meant."""
        if len(line) > LONGEST_LINE:
            return None
        text = line.decode("ascii", "replace").strip()
        masses = list(_MASS.finditer(text))
        with_unit = [mass for mass in masses if mass["unit"]]
        chosen = with_unit or masses
        if len(chosen) != 1:
            return None
        mass = chosen[0]
        unit = (mass["unit"] or self.unit or "g").lower()
        value = float(mass["number"].replace(",", ".")) * (-1.0 if mass["sign"] in ("-", "−") else 1.0)
        grams = round(convert("mass_g", value, unit), 6)
        rest = f"{text[: mass.start()]} {text[mass.end() :]}"
        return Seen(grams, self._is_steady(rest, grams))

    def _is_steady(self, rest: str, grams: float) -> bool:
        """By the scale's own marks where they come and go; else when the last lines say the same."""
        moving, steady = bool(_MOVING.search(rest)), bool(_STEADY.search(rest))
        self._marks.add("moving" if moving else "steady" if steady else "")
        self._last.append(grams)
        if len(self._marks) > 1:
            return not moving and (steady or "steady" not in self._marks)
        return len(self._last) == STEADY_LINES and len(set(self._last)) == 1
