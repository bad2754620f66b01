"""Tables of weighings, as people keep them: a spool, a day, what the scale read. What the columns mean is guessed and
told, and what is wrong with a row is said beside it.
"""

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from zoneinfo import ZoneInfo

from darre.common.dated_table import Guess, LookedDates, Moments, read_dated
from darre.common.errors import Spoken
from darre.common.pasted_table import LEFT_OUT, MASS_HEAD, number_of
from darre.inventory.models import Spool

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


WeighingTable = LookedDates[WeighingRow]


def read_weighings(text: str, zone: ZoneInfo, meanings: Sequence[str] = (), order: str = "") -> WeighingTable:
    """Read a table with a head row. `meanings`, `order`: what the columns are and how the dates are written, where the
    guess was put right. Raises Refusal where there is no table, or too much of it.
    """
    found = read_dated(text, "weighing", _HEADS, Guess(meanings, order))
    reader = _Reader(Moments(zone, found.order))
    rows = tuple(reader.row(line, told) for line, told in found.told)
    return WeighingTable(found.heads, found.meanings, rows, found.order)


class _Reader:
    def __init__(self, moments: Moments) -> None:
        self.moments = moments
        self.spools = {spool.name.casefold(): spool for spool in Spool.objects.select_related("empty_spool")}

    def row(self, line: int, told: Mapping[str, str]) -> WeighingRow:
        """One row, with the first thing that is wrong with it."""
        name = told.get("spool", "")[:60]
        row = WeighingRow(line, name, self.spools.get(name.casefold()), note=told.get("note", "")[:LONGEST_NOTE])
        gross = number_of(told.get("gross_g", ""))
        try:
            row = replace(row, gross_g=gross, at=self.moments.of(told))
        except ValueError as wrong:
            return replace(row, problem=str(wrong))
        return replace(row, problem=self._problem(row, told))

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
