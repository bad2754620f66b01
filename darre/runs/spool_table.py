"""Tables of spools, as people keep them: what the columns mean is guessed and told, each row is read by that, and what
is wrong with a row is said beside it.
"""

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from darre.common.pasted_table import LEFT_OUT, MASS_HEAD, LookedTable, by_heads, number_of, read_rows, told_by
from darre.inventory.material_book import MaterialBook
from darre.inventory.models import Spool
from darre.places.models import Place
from drying.materials import most_held_pct
from drying.weighing import NOMINAL_SIZES_G

LONGEST = {"name": 60, "colour": 40, "maker": 60, "purpose": 120}
NUMBERS = {
    "gross_g": (0.1, 20_000.0, "g"),
    "tare_g": (0.1, 5_000.0, "g"),
    "nominal_g": (*NOMINAL_SIZES_G, "g"),
    "moisture_pct": (0.0, 50.0, "%"),
    "diameter_mm": (0.5, 5.0, "mm"),
}
MEANINGS = ("name", "material", "maker", "colour", "purpose", "place", *NUMBERS, LEFT_OUT)

_HEADS = (
    ("tare_g", re.compile(r"\btare\b|empty|spool weight|spool mass|\bcore\b|leer", re.I)),
    ("nominal_g", re.compile(r"nominal|label|sold|net new|capacity", re.I)),
    ("gross_g", MASS_HEAD),
    ("moisture_pct", re.compile(r"moist|water|humid|feucht", re.I)),
    ("diameter_mm", re.compile(r"diam|\bmm\b|ø", re.I)),
    ("material", re.compile(r"material|polymer|plastic|\btype\b|filament type", re.I)),
    ("maker", re.compile(r"maker|brand|manufact|vendor|supplier|hersteller", re.I)),
    ("colour", re.compile(r"colou?r|farbe", re.I)),
    ("place", re.compile(r"place|where|location|shelf|box|bin|ort", re.I)),
    ("purpose", re.compile(r"purpose|\bfor\b|use|note|comment|zweck", re.I)),
    ("name", re.compile(r"name|spool|label|\bid\b|no\.?$|filament", re.I)),
)


@dataclass(frozen=True)
class SpoolRow:
    """A row of the table: its line, what was read of it, and what is wrong with it (empty: nothing)."""

    line: int
    name: str
    material: str
    maker: str = ""
    colour: str = ""
    purpose: str = ""
    place: Place | None = None
    numbers: Mapping[str, float] = field(default_factory=dict)
    problem: str = ""


SpoolTable = LookedTable[SpoolRow]


def read_table(text: str, book: MaterialBook, meanings: Sequence[str] = ()) -> SpoolTable:
    """Read a table with a head row; `meanings`: what the columns are, where the guess was put right.

    Raises Refusal where there is no table, or too much of it.
    """
    heads, rows = read_rows(text, "spool")
    found = tuple(meanings) if len(meanings) == len(heads) else guessed(heads)
    reader = _Reader(book, found)
    return SpoolTable(heads, found, tuple(reader.row(line, cells) for line, cells in rows))


def guessed(heads: Sequence[str]) -> tuple[str, ...]:
    """What each column is by its head; each meaning once, the first that fits."""
    found = by_heads(heads, _HEADS)
    if "name" not in found and "nothing" in found:
        found[found.index("nothing")] = "name"
    return tuple(found)


class _Reader:
    """Reads rows; names that came before are known."""

    def __init__(self, book: MaterialBook, meanings: Sequence[str]) -> None:
        self.meanings = meanings
        self.book = book
        self.materials = _material_names(book)
        self.places = {place.name.casefold(): place for place in Place.objects.all()}
        self.names = {name.casefold() for name in Spool.objects.values_list("name", flat=True)}

    def row(self, line: int, cells: Sequence[str]) -> SpoolRow:
        """One row, with the first thing that is wrong with it."""
        texts = {meaning: cell for meaning, cell in told_by(cells, self.meanings).items() if cell}
        told = {name: texts.get(name, "")[:most] for name, most in LONGEST.items()}
        numbers, problem = self._numbers(texts)
        material = self.materials.get(texts.get("material", "").casefold(), "")
        place = self.places.get(texts.get("place", "").casefold())
        problem = problem or self._problem(texts, told["name"], material, numbers)
        if not problem:
            self.names.add(told["name"].casefold())
        return SpoolRow(
            line, told["name"], material, told["maker"], told["colour"], told["purpose"], place, numbers, problem
        )

    def _problem(self, texts: Mapping[str, str], name: str, material: str, numbers: Mapping[str, float]) -> str:
        if not name:
            return "It has no name."
        if name.casefold() in self.names:
            return f"There is a spool named {name} already."
        if not material:
            said = texts.get("material", "")[:40]
            return f"“{said}” is no material that is known here." if said else "Its material is missing."
        if texts.get("place") and texts["place"].casefold() not in self.places:
            return f"There is no place named {texts['place'][:40]}. Add it in Storage first, or correct the name."
        gross, tare = numbers.get("gross_g"), numbers.get("tare_g")
        if gross is not None and tare is not None and gross <= tare:
            return "It weighs less than it does empty."
        most = most_held_pct(self.book[material])
        if numbers.get("moisture_pct", 0.0) > most:
            return f"{self.book[material].name} can hold at most {most:.2g} % water."
        return ""

    def _numbers(self, texts: Mapping[str, str]) -> tuple[dict[str, float], str]:
        found: dict[str, float] = {}
        for name, (low, high, unit) in NUMBERS.items():
            if name not in texts:
                continue
            value = number_of(texts[name])
            if value is None:
                return found, f"“{texts[name][:40]}” is no number."
            if not low <= value <= high:
                return found, f"{value:g} {unit} is out of range: from {low:g} to {high:g} {unit}."
            found[name] = value
        return found, ""


def _material_names(book: MaterialBook) -> dict[str, str]:
    """Every name that a material goes by, to its key."""
    found: dict[str, str] = {}
    for key, entry in book.entries.items():
        for name in (key, entry.now.name, entry.now.short):
            found.setdefault(name.casefold(), key)
    return found
