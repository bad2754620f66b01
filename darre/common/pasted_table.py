"""Tables as people paste them out of a spreadsheet: their rows, what their heads say, and their numbers."""

import csv
import io
import re
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Generic, Protocol, TypeVar

from darre.common.errors import Refusal

MOST_ROWS, MOST_COLUMNS, MOST_TEXT, LONGEST_HEAD = 2000, 40, 2_000_000, 60
DELIMITERS = ("\t", ";", ",", "|")
LEFT_OUT = "nothing"
"""What a column is that means nothing."""


class _Judged(Protocol):
    """A row with what is wrong with it; empty: nothing."""

    @property
    def problem(self) -> object: ...


Row = TypeVar("Row", bound=_Judged)


@dataclass(frozen=True)
class LookedTable(Generic[Row]):
    """A table that was read: the heads of its columns, what each is taken for, and its rows."""

    heads: tuple[str, ...]
    meanings: tuple[str, ...]
    rows: tuple[Row, ...]

    @property
    def good(self) -> list[Row]:
        """The rows that can be added."""
        return [row for row in self.rows if not row.problem]


_NUMBER = re.compile(r"([+-]?\d{1,9}(?:[.,]\d+)?)\s*(kg|g|%|mm|lb|oz)?", re.I)
_TO_G = {"kg": 1000.0, "oz": 28.349523125, "lb": 453.59237}


MASS_HEAD = re.compile(r"gross|weigh|\bmass\b|scale|\bgrams?\b|gewicht|brutto", re.I)
"""The head of a column that holds what a scale read."""


def read_rows(text: str, what: str, most: int = MOST_ROWS) -> tuple[tuple[str, ...], list[tuple[int, list[str]]]]:
    """The heads of the columns, and the rows that hold anything, with their lines. `what` a row holds, in one word.

    Raises Refusal where there is no table, or too much of it.
    """
    if len(text) > MOST_TEXT:
        raise Refusal("too_long", "This table is longer than 2 MB. Add it in parts.", "text", 413)
    lines = _cells(text)
    if len(lines) < 2:
        raise Refusal("no_table", f"Needed: a head row and at least one {what} below it.", "text", 400)
    if len(lines) > most + 1:
        raise Refusal("too_long", f"Add at most {most} {what}s at once.", "text", 400)
    heads = tuple(head.strip()[:LONGEST_HEAD] for head in lines[0][1][:MOST_COLUMNS])
    return heads, lines[1:]


def _cells(text: str) -> list[tuple[int, list[str]]]:
    text = text.lstrip("\ufeff")
    first = text.split("\n", 1)[0]
    delimiter = max(DELIMITERS, key=first.count)  # a table pasted from a spreadsheet has tabs
    rows = csv.reader(io.StringIO(text), delimiter=delimiter)
    try:
        return [(rows.line_num, row) for row in rows if any(cell.strip() for cell in row)]
    except csv.Error as error:
        raise Refusal("no_table", f"This cannot be read as a table: {error}.", "text", 400) from None


def by_heads(heads: Sequence[str], known: Sequence[tuple[str, re.Pattern[str]]]) -> list[str]:
    """What each column is by its head; each meaning once, the first that fits."""
    found, taken = [], set()
    for head in heads:
        meaning = next((m for m, pattern in known if m not in taken and pattern.search(head)), LEFT_OUT)
        taken.add(meaning)
        found.append(meaning)
    return found


def number_of(text: str) -> float | None:
    """A number as it is typed, with a comma or a point; a mass in kg, oz or lb becomes g. None where it is none."""
    match = _NUMBER.fullmatch(text.strip())
    return None if match is None else float(match[1].replace(",", ".")) * _TO_G.get((match[2] or "").lower(), 1.0)


def told_by(cells: Sequence[str], meanings: Sequence[str]) -> dict[str, str]:
    """What a row says, by meaning; without what its columns leave out."""
    return {m: cell.strip() for m, cell in zip(meanings, cells, strict=False) if m != LEFT_OUT}
