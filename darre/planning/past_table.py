"""Tables of past runs, as people keep them: a spool, a dryer, a day, degrees, hours, the masses before and after. What
the columns mean is guessed and told, and what is wrong with a row is said beside it.
"""

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import datetime, timedelta
from zoneinfo import ZoneInfo

from darre.common.dated_table import Guess, LookedDates, Moments, read_dated
from darre.common.errors import Spoken
from darre.common.pasted_table import LEFT_OUT, number_of
from darre.equipment.models import Dryer
from darre.inventory.models import Spool
from drying.errors import Amount

MEANINGS = ("spool", "dryer", "date", "clock", "temp_c", "hours", "before_g", "after_g", LEFT_OUT)
SHOWN = 40
MOST_RUNS = 200  # each is judged by itself, which takes the best part of a second
LEAST_C, MOST_C, MOST_HOURS = 25.0, 200.0, 400.0
_MASS = r"(weigh|mass|gram|\bg\b|\(g\))"
_HEADS = (
    (
        "before_g",
        re.compile(rf"\bbefore\b|vorher|\b(start|initial|first|wet)\b.*{_MASS}|{_MASS}.*\b(start|in)\b", re.I),
    ),
    ("after_g", re.compile(rf"\bafter\b|nachher|\b(end|final|last|dry)\b.*{_MASS}|{_MASS}.*\b(end|out)\b", re.I)),
    ("temp_c", re.compile(r"temp|°|degree|celsius|fahrenheit|grad", re.I)),
    ("hours", re.compile(r"hour|duration|how long|(dry|heat)\w* time|\bh\b|stunden|dauer", re.I)),
    ("dryer", re.compile(r"dryer|oven|machine|trockner|\bbox\b", re.I)),
    ("date", re.compile(r"date|datum|\bday\b|when|moment|time.?stamp|\bstart", re.I)),
    ("clock", re.compile(r"time|clock|uhr|zeit", re.I)),
    ("spool", re.compile(r"spool|name|filament|label|\bid\b|no\.?$|rolle|spule", re.I)),
)
_DEGREES = re.compile(r"([+-]?\d{1,4}(?:[.,]\d+)?)\s*°?\s*([cf])?", re.I)
_FAHRENHEIT = re.compile(r"fahrenheit|°\s*f\b|\(f\)", re.I)
_HOURS = re.compile(r"(\d{1,4}(?:[.,]\d+)?)\s*(h|hrs?|hours?|min|minutes?|d|days?)?", re.I)
_H_MM = re.compile(r"(\d{1,3})\s*[:h]\s*([0-5]\d)", re.I)
_PER_HOUR = {"m": 1 / 60, "d": 24.0}


@dataclass(frozen=True)
class PastRow:
    """A row of the table: its line, what was read of it, and what is wrong with it (empty: nothing). Without a dryer of
    its own it means the one that is said for all. `printed_g`: what must have been printed off since the spool was
    weighed last.
    """

    line: int
    name: str
    spool: Spool | None = None
    dryer: Dryer | None = None
    at: datetime | None = None
    temp_c: float | None = None
    hours: float | None = None
    before_g: float | None = None
    after_g: float | None = None
    printed_g: float = 0.0
    problem: str | Spoken = ""

    @property
    def ends(self) -> datetime | None:
        """When it was taken out."""
        return None if self.at is None or self.hours is None else self.at + timedelta(hours=self.hours)


@dataclass(frozen=True)
class PastTable(LookedDates[PastRow]):
    """A table of past runs that was read."""

    @property
    def masses(self) -> list[float]:
        """All that a scale read."""
        return [mass for row in self.good for mass in (row.before_g, row.after_g) if mass is not None]


def read_past_runs(text: str, zone: ZoneInfo, meanings: Sequence[str] = (), order: str = "") -> PastTable:
    """Read a table with a head row. `meanings`, `order`: what the columns are and how the dates are written, where the
    guess was put right. Raises Refusal where there is no table, or too much of it.
    """
    found = read_dated(text, "run", _HEADS, Guess(meanings, order), MOST_RUNS)
    fahrenheit = any(m == "temp_c" and _FAHRENHEIT.search(h) for m, h in zip(found.meanings, found.heads, strict=True))
    reader = _Reader(Moments(zone, found.order), fahrenheit=fahrenheit)
    rows = tuple(reader.row(line, told) for line, told in found.told)
    return PastTable(found.heads, found.meanings, rows, found.order)


def degrees_of(text: str, *, fahrenheit: bool) -> float | None:
    """°C of "65", "65 °C" or "150 F"; `fahrenheit`: what a number alone means. None where it is none."""
    match = _DEGREES.fullmatch(text.strip())
    if match is None:
        return None
    number, unit = float(match[1].replace(",", ".")), (match[2] or ("f" if fahrenheit else "c")).lower()
    return round((number - 32.0) / 1.8, 1) if unit == "f" else number


def hours_of(text: str) -> float | None:
    """Hours of "8", "8.5 h", "8:30", "8h30", "90 min" or "2 days". None where it is none."""
    text = text.strip()
    if match := _H_MM.fullmatch(text):
        return int(match[1]) + int(match[2]) / 60
    match = _HOURS.fullmatch(text)
    return None if match is None else float(match[1].replace(",", ".")) * _PER_HOUR.get((match[2] or "h")[0].lower(), 1)


class _Reader:
    def __init__(self, moments: Moments, *, fahrenheit: bool) -> None:
        self.moments, self.fahrenheit = moments, fahrenheit
        self.spools = {spool.name.casefold(): spool for spool in Spool.objects.select_related("empty_spool")}
        self.dryers = {dryer.name.casefold(): dryer for dryer in Dryer.objects.all()}

    def row(self, line: int, told: Mapping[str, str]) -> PastRow:
        """One row, with the first thing that is wrong with it."""
        name, dryer = told.get("spool", "")[:60], told.get("dryer", "")
        row = PastRow(
            line,
            name,
            self.spools.get(name.casefold()),
            self.dryers.get(dryer.casefold()),
            temp_c=degrees_of(told.get("temp_c", ""), fahrenheit=self.fahrenheit),
            hours=hours_of(told.get("hours", "")),
            before_g=number_of(told.get("before_g", "")),
            after_g=number_of(told.get("after_g", "")),
        )
        try:
            row = replace(row, at=self.moments.of(told))
        except ValueError as wrong:
            return replace(row, problem=str(wrong))
        return replace(row, problem=self._of_names(row, dryer) or _of_numbers(row, told))

    @staticmethod
    def _of_names(row: PastRow, dryer: str) -> str:
        if not row.name:
            return "It names no spool."
        if row.spool is None:
            return f"There is no spool named {row.name[:SHOWN]}. Add it first, or correct the name."
        if dryer and row.dryer is None:
            return f"There is no dryer named {dryer[:SHOWN]}. Add it in Kit first, or correct the name."
        return ""


_NUMBERS = (
    ("temp_c", "Its temperature is missing.", "temperature"),
    ("hours", "Its hours are missing.", "number of hours"),
    ("before_g", "", "mass"),
    ("after_g", "", "mass"),
)


def _of_numbers(row: PastRow, told: Mapping[str, str]) -> str | Spoken:
    for name, missing, what in _NUMBERS:
        if getattr(row, name) is None:
            said = told.get(name, "")[:SHOWN]
            if said:
                return f"“{said}” is no {what}."
            if missing:
                return missing
    assert row.temp_c is not None
    assert row.hours is not None
    if not LEAST_C <= row.temp_c <= MOST_C:
        set_to, least, most = (Amount(x, "°C") for x in (row.temp_c, LEAST_C, MOST_C))
        return ("A dryer is not set to ", set_to, ": give ", least, " to ", most, ".")
    if not 0.0 < row.hours <= MOST_HOURS:
        return f"Give its hours: more than 0, at most {MOST_HOURS:g}."
    if row.before_g is None and row.after_g is not None:
        return "Its mass after tells nothing without the one before. Add that, or leave both out."
    return ""
