"""Pasted tables whose rows have a date: what their columns mean, how the dates are written, and the moment of a row."""

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime, time
from zoneinfo import ZoneInfo

from darre.common.pasted_table import LEFT_OUT, MOST_ROWS, LookedTable, Row, by_heads, read_rows, told_by
from darre.common.written_times import CLOCK, DATE, moment_of, order_of_dates

NOON = time(12)
"""Where a row says no clock time: at most half a day off."""


@dataclass(frozen=True)
class Guess:
    """What the columns are and how the dates are written, where that was put right; empty: it is guessed."""

    meanings: Sequence[str] = ()
    order: str = ""


@dataclass(frozen=True)
class LookedDates(LookedTable[Row]):
    """A table that was read, with how its dates are written."""

    order: str


@dataclass(frozen=True)
class DatedTable:
    """The heads, what each column is taken for, how the dates are written; and of each row its line and what it says,
    by meaning.
    """

    heads: tuple[str, ...]
    meanings: tuple[str, ...]
    order: str
    told: list[tuple[int, dict[str, str]]]


def read_dated(
    text: str, what: str, known: Sequence[tuple[str, re.Pattern[str]]], guess: Guess, most: int = MOST_ROWS
) -> DatedTable:
    """Read a table with a head row; `what` a row holds, `known` the heads of its columns.

    Raises Refusal where there is no table, or too much of it.
    """
    heads, lines = read_rows(text, what, most)
    meanings = tuple(guess.meanings)
    if len(meanings) != len(heads):
        meanings = _guessed(heads, [cells for _, cells in lines], known)
    told = [(line, told_by(cells, meanings)) for line, cells in lines]
    order = guess.order or order_of_dates([row.get("date", "") for _, row in told])
    return DatedTable(heads, meanings, order, told)


def _guessed(
    heads: Sequence[str], rows: Sequence[Sequence[str]], known: Sequence[tuple[str, re.Pattern[str]]]
) -> tuple[str, ...]:
    """By the heads; a column of dates is one whatever its head says."""
    found = by_heads(heads, known)
    for n in range(len(found)):
        cells = [row[n].strip() for row in rows if n < len(row) and row[n].strip()]
        if "date" not in found and cells and all(DATE.match(cell) for cell in cells):
            found[n] = "date"
    if "spool" not in found and LEFT_OUT in found:
        found[found.index(LEFT_OUT)] = "spool"
    return tuple(found)


class Moments:
    """The moments of rows, in the order of the table: where clocks are put back the row before tells which."""

    def __init__(self, zone: ZoneInfo, order: str) -> None:
        self.zone, self.order = zone, order
        self.before: datetime | None = None

    def of(self, told: Mapping[str, str]) -> datetime:
        """The moment of a row. Raises ValueError with a sentence where it has none."""
        date, clock = told.get("date", ""), told.get("clock", "")
        try:
            if not date:
                raise ValueError("its date is missing")
            at = moment_of(date, clock, self.order, self.zone, self.before, without=NOON)
        except ValueError as wrong:
            said = f"{wrong}."
            raise ValueError(said[:1].upper() + said[1:]) from None
        self.before = at if CLOCK.search(f"{date} {clock}") else None
        return at
