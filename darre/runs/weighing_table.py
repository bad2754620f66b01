"""Tables of weighings, as people keep them: a spool, a day, what the scale read. What the columns mean is guessed and
told, and what is wrong with a row is said beside it.
"""

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import datetime, time
from zoneinfo import ZoneInfo

from darre.common.errors import Spoken
from darre.common.pasted_table import LEFT_OUT, MASS_HEAD, by_heads, number_of, read_rows
from darre.common.written_times import CLOCK, DATE, moment_of, order_of_dates
from darre.inventory.models import Spool

NOON = time(12)
"""Where a row says no clock time: at most half a day off."""

MEANINGS = ("spool", "date", "clock", "gross_g", "note", LEFT_OUT)
LONGEST_NOTE, SHOWN = 200, 40
_HEADS = (
    ("date", re.compile(r"date|datum|\bday\b|when|moment|time.?stamp", re.I)),
    ("clock", re.compile(r"time|clock|hour|uhr|zeit", re.I)),
    ("gross_g", MASS_HEAD),
    ("spool", re.compile(r"spool|name|filament|label|\bid\b|no\.?$|rolle|spule", re.I)),
    ("note", re.compile(r"note|comment|remark|notiz", re.I)),
)


@dataclass(frozen=True)
class WeighingRow:
    """A row of the table: its line, what was read of it, and what is wrong with it (empty: nothing). `printed_g`: what
    must have been printed off since the row before, as water cannot explain the loss.
    """

    line: int
    name: str
    spool: Spool | None = None
    at: datetime | None = None
    gross_g: float | None = None
    note: str = ""
    printed_g: float = 0.0
    problem: str | Spoken = ""


@dataclass(frozen=True)
class WeighingTable:
    """A table that was read: the heads of its columns, what each is taken for, how its dates are written, its rows."""

    heads: tuple[str, ...]
    meanings: tuple[str, ...]
    order: str
    rows: tuple[WeighingRow, ...]

    @property
    def good(self) -> list[WeighingRow]:
        """The rows that can be added."""
        return [row for row in self.rows if not row.problem]


def read_weighings(text: str, zone: ZoneInfo, meanings: Sequence[str] = (), order: str = "") -> WeighingTable:
    """Read a table with a head row. `meanings`, `order`: what the columns are and how the dates are written, where the
    guess was put right. Raises Refusal where there is no table, or too much of it.
    """
    heads, lines = read_rows(text, "weighing")
    found = tuple(meanings) if len(meanings) == len(heads) else _guessed(heads, [cells for _, cells in lines])
    told = [{m: c.strip() for m, c in zip(found, cells, strict=False) if m != LEFT_OUT} for _, cells in lines]
    order = order or order_of_dates([row.get("date", "") for row in told])
    reader = _Reader(zone, order)
    rows = tuple(reader.row(line, row) for (line, _), row in zip(lines, told, strict=True))
    return WeighingTable(heads, found, order, rows)


def _guessed(heads: Sequence[str], rows: Sequence[Sequence[str]]) -> tuple[str, ...]:
    """By the heads; a column of dates is one whatever its head says."""
    found = by_heads(heads, _HEADS)
    for n in range(len(found)):
        cells = [row[n].strip() for row in rows if n < len(row) and row[n].strip()]
        if "date" not in found and cells and all(DATE.match(cell) for cell in cells):
            found[n] = "date"
    if "spool" not in found and LEFT_OUT in found:
        found[found.index(LEFT_OUT)] = "spool"
    return tuple(found)


class _Reader:
    def __init__(self, zone: ZoneInfo, order: str) -> None:
        self.zone, self.order = zone, order
        self.spools = {spool.name.casefold(): spool for spool in Spool.objects.select_related("empty_spool")}
        self.before: datetime | None = None

    def row(self, line: int, told: Mapping[str, str]) -> WeighingRow:
        """One row, with the first thing that is wrong with it."""
        name = told.get("spool", "")[:60]
        row = WeighingRow(line, name, self.spools.get(name.casefold()), note=told.get("note", "")[:LONGEST_NOTE])
        gross = number_of(told.get("gross_g", ""))
        try:
            row = replace(row, gross_g=gross, at=self._at(told))
        except ValueError as wrong:
            return replace(row, problem=f"{wrong}."[:1].upper() + f"{wrong}."[1:])
        return replace(row, problem=self._problem(row, told))

    def _at(self, told: Mapping[str, str]) -> datetime:
        date, clock = told.get("date", ""), told.get("clock", "")
        if not date:
            raise ValueError("its date is missing")
        at = moment_of(date, clock, self.order, self.zone, self.before, without=NOON)
        self.before = at if CLOCK.search(f"{date} {clock}") else None
        return at

    @staticmethod
    def _problem(row: WeighingRow, told: Mapping[str, str]) -> str:
        if not row.name:
            return "It names no spool."
        if row.spool is None:
            return f"There is no spool named {row.name[:SHOWN]}. Add it first, or correct the name."
        if row.gross_g is None:
            said = told.get("gross_g", "")[:SHOWN]
            return f"“{said}” is no mass." if said else "Its mass is missing."
        return ""
