"""Lists of what empty spools weigh, as people share them: a make, its mass, what it is made of, its sizes. What the
columns mean is guessed and told, and what is wrong with a row is said beside it.
"""

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from darre.common.errors import Spoken
from darre.common.pasted_table import LEFT_OUT, MASS_HEAD, LookedTable, by_heads, number_of, read_rows, told_by
from darre.inventory.models import EmptySpool
from drying.errors import Amount
from drying.materials import empty_spool_kinds, usual_sizes_mm

LONGEST_NAME, SHOWN = 60, 40
USUAL_KIND, USUAL_NOMINAL_G = "polystyrene", 1000.0
SIZES = {"outer_diameter_mm": (30.0, 600.0), "width_mm": (5.0, 400.0), "hub_diameter_mm": (5.0, 400.0)}
LIMITS = {"listed_g": (5.0, 5000.0, "g"), **{name: (*limits, "mm") for name, limits in SIZES.items()}}
MEANINGS = ("name", "kind", *LIMITS, LEFT_OUT)
_HEADS = (
    ("listed_g", re.compile(rf"{MASS_HEAD.pattern}|empty|tare|leer|listed_g", re.I)),
    ("hub_diameter_mm", re.compile(r"hub|core|inner|inside|bore|kern", re.I)),
    ("width_mm", re.compile(r"width|wide|breadth|breite", re.I)),
    ("outer_diameter_mm", re.compile(r"outer|outside|flange|diam|ø|durchmesser", re.I)),
    ("kind", re.compile(r"kind|material|made of|plastic|\btype\b|stoff", re.I)),
    ("name", re.compile(r"name|make|spool|label|\bid\b|spule", re.I)),
)


@dataclass(frozen=True)
class EmptyRow:
    """A row of the list: its line, what was read of it, and what is wrong with it (empty: nothing). `known`: the make
    of this name that is there, `sizes`: those that the row gives.
    """

    line: int
    name: str
    kind: str = USUAL_KIND
    listed_g: float | None = None
    sizes: Mapping[str, float] = field(default_factory=dict)
    known: EmptySpool | None = None
    problem: str | Spoken = ""


EmptyTable = LookedTable[EmptyRow]


def read_empty_spools(text: str, meanings: Sequence[str] = ()) -> EmptyTable:
    """Read a list with a head row; `meanings`: what the columns are, where the guess was put right.

    Raises Refusal where there is no table, or too much of it.
    """
    heads, lines = read_rows(text, "empty spool")
    found = tuple(meanings) if len(meanings) == len(heads) else _guessed(heads)
    reader = _Reader()
    return EmptyTable(heads, found, tuple(reader.row(line, told_by(cells, found)) for line, cells in lines))


def _guessed(heads: Sequence[str]) -> tuple[str, ...]:
    found = by_heads(heads, _HEADS)
    if "name" not in found and LEFT_OUT in found:
        found[found.index(LEFT_OUT)] = "name"
    return tuple(found)


class _Reader:
    def __init__(self) -> None:
        self.known = {empty.name.casefold(): empty for empty in EmptySpool.objects.order_by("-pk")}
        self.kinds = {said.casefold(): key for key, kind in empty_spool_kinds().items() for said in (key, kind.name)}
        self.seen: set[str] = set()

    def row(self, line: int, told: Mapping[str, str]) -> EmptyRow:
        """One row, with the first thing that is wrong with it."""
        name = told.get("name", "")[:LONGEST_NAME]
        numbers, problem = _numbers(told)
        known = self.known.get(name.casefold())
        said = told.get("kind", "")
        kind = self.kinds.get(said.casefold(), "") if said else known.kind if known else USUAL_KIND
        row = EmptyRow(
            line, name, kind, numbers.get("listed_g"), {k: v for k, v in numbers.items() if k in SIZES}, known
        )
        problem = problem or self._problem(row, said)
        self.seen.add(name.casefold())
        return EmptyRow(row.line, row.name, row.kind, row.listed_g, row.sizes, row.known, problem)

    def _problem(self, row: EmptyRow, said: str) -> str | Spoken:
        if not row.name:
            return "It has no name."
        if row.name.casefold() in self.seen:
            return "Its name stands above already."
        if row.listed_g is None:
            return "Its mass is missing."
        if not row.kind:
            return f"“{said[:SHOWN]}” is nothing that spools are made of. Known: {_kinds()}."
        if row.known is not None and row.known.listed_g == row.listed_g:
            return "It is there already."
        sizes = sizes_of(row)
        if sizes["hub_diameter_mm"] >= sizes["outer_diameter_mm"]:
            return ("Its hub must be smaller than its flanges, ", Amount(round(sizes["outer_diameter_mm"]), "mm"), ".")
        return ""


def _kinds() -> str:
    return "; ".join(kind.name for kind in empty_spool_kinds().values())


def _numbers(told: Mapping[str, str]) -> tuple[dict[str, float], str | Spoken]:
    found: dict[str, float] = {}
    for name, (low, high, unit) in LIMITS.items():
        said = told.get(name, "")
        if not said:
            continue
        value = number_of(said)
        if value is None:
            return found, f"“{said[:SHOWN]}” is no number."
        if not low <= value <= high:
            ends = (Amount(low, unit), " to ", Amount(high, unit))
            return found, (Amount(value, unit), " is out of range: give ", *ends, ".")
        found[name] = value
    return found, ""


def sizes_of(row: EmptyRow) -> dict[str, float]:
    """The sizes that a row means: its own, else those of the make that is there, else the usual ones for 1 kg."""
    outer, hub, width = usual_sizes_mm(USUAL_NOMINAL_G)
    usual = {"outer_diameter_mm": outer, "hub_diameter_mm": hub, "width_mm": width}
    there = {} if row.known is None else {name: getattr(row.known, name) for name in SIZES}
    return {**usual, **there, **row.sizes}
