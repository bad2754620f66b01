"""Logger files: what a table's columns mean is guessed and told, then the rows are read by that; bad ones are named."""

import csv
import io
import math
import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from datetime import UTC, datetime
from zoneinfo import ZoneInfo, available_timezones

from darre.common.errors import Refusal
from darre.common.upload import MOST_TABLE_BYTES
from darre.common.written_times import CLOCK, DATE, moment_of, order_of_dates

MOST_ROWS, MOST_COLUMNS = 400_000, 60
SAMPLE_ROWS = 200
LONGEST_CELL = 120  # of a cell that is looked into: a time or a number is shorter, and a head says what it is by then
DELIMITERS = (",", ";", "\t", "|")
ENCODINGS = ("utf-8-sig", "cp1252")

# What a column may be, the units it may come in, and each unit's factor and offset to ours.
UNITS: dict[str, dict[str, tuple[float, float]]] = {
    "temp_c": {"°C": (1.0, 0.0), "°F": (5.0 / 9.0, -160.0 / 9.0), "K": (1.0, -273.15)},
    "rh_pct": {"%": (1.0, 0.0), "0 to 1": (100.0, 0.0)},
    "mass_g": {"g": (1.0, 0.0), "kg": (1000.0, 0.0), "oz": (28.349523125, 0.0)},
    "energy_kwh": {"kWh": (1.0, 0.0), "Wh": (0.001, 0.0)},
}
TIME_COLUMNS = ("moment", "date", "clock")
MEANINGS = (*TIME_COLUMNS, *UNITS, "nothing")

_HEADS = (
    ("rh_pct", re.compile(r"humid|\brh\b|feuchte|hygro|r\.h", re.I)),
    ("temp_c", re.compile(r"temp|°\s?[cf]|\b[cf]elsius|fahrenheit", re.I)),
    ("mass_g", re.compile(r"mass|weight|gross|gewicht|\bgrams?\b", re.I)),
    ("energy_kwh", re.compile(r"energy|k?wh\b", re.I)),
    ("moment", re.compile(r"time.?stamp|date.*time|moment|epoch|unix", re.I)),
    ("date", re.compile(r"date|datum|day", re.I)),
    ("clock", re.compile(r"time|clock|uhr|zeit", re.I)),
)
_NUMBER = re.compile(r"[+-]?\d{1,15}(?:[.,]\d+)?(?:e[+-]?\d+)?", re.I)


@dataclass(frozen=True)
class Column:
    """A column of the file: its head, what it is taken for, and in which unit."""

    head: str
    meaning: str
    unit: str = ""


@dataclass(frozen=True)
class Layout:
    """How a file is read. `zone` counts where the times carry no offset of their own."""

    delimiter: str
    head_rows: int
    columns: tuple[Column, ...]
    time_format: str
    zone: str


@dataclass(frozen=True)
class Row:
    """A row that could be read: its line in the file, its moment, and its values in our units."""

    line: int
    at: datetime
    values: dict[str, float]


@dataclass(frozen=True)
class BadRow:
    """A row that is set aside, and why."""

    line: int
    why: str


def decoded(content: bytes) -> tuple[str, str]:
    """The file's text and the encoding it was in. Raises Refusal where it is no text, or too large."""
    if len(content) > MOST_TABLE_BYTES:
        raise Refusal("too_large", f"The file has over {MOST_TABLE_BYTES // 2**20} MB. Give it in parts.", "file", 413)
    if content[:2] in (b"\xff\xfe", b"\xfe\xff"):
        try:
            return content.decode("utf-16"), "utf-16"
        except UnicodeDecodeError:
            pass
    for encoding in ENCODINGS:
        try:
            text = content.decode(encoding)
        except UnicodeDecodeError:
            continue
        if "\x00" not in text:
            return text, encoding.removesuffix("-sig")
    raise Refusal("not_text", "This is no text table: export the logger's readings as CSV.", "file", 400)


def _cells(text: str, delimiter: str) -> Iterator[tuple[int, list[str]]]:
    reader = csv.reader(io.StringIO(text), delimiter=delimiter)
    try:
        for cells in reader:
            if any(cell.strip() for cell in cells):
                yield reader.line_num, [cell[:LONGEST_CELL].strip() for cell in cells]
    except csv.Error as broken:
        raise Refusal(
            "not_a_table", f"Line {reader.line_num} cannot be read as a table: {broken}.", "file", 400
        ) from None


def _number(text: str) -> float | None:
    bare = text.strip().replace("\u2212", "-").rstrip("%°CFgkWh ").strip()
    if not _NUMBER.fullmatch(bare):
        return None
    value = float(bare.replace(",", "."))
    return value if math.isfinite(value) else None


def _is_time(text: str) -> bool:
    return bool(DATE.match(text) or CLOCK.match(text))


def _is_body(cells: list[str]) -> bool:
    return any(map(_is_time, cells)) or sum(_number(c) is not None for c in cells) > 1


def _delimiter(text: str) -> str:
    lines = [line for line in text.splitlines()[:50] if line.strip()]

    def worth(delimiter: str) -> tuple[int, int]:
        counts = [line.count(delimiter) for line in lines]
        common = max(set(counts), key=counts.count) if counts else 0
        # A semicolon or tab beats commas that are decimals.
        return (counts.count(common) if common else 0, DELIMITERS.index(delimiter) if common else -1)

    return max(DELIMITERS, key=worth)


def _meaning(head: str, values: Sequence[str]) -> str:
    filled = [v for v in values if v]
    numbers = [n for n in map(_number, filled) if n is not None]
    dates = sum(bool(DATE.match(v)) for v in filled)
    if filled and dates > 0.8 * len(filled):
        return "moment" if any(CLOCK.search(v) for v in filled) else "date"
    if filled and sum(bool(CLOCK.fullmatch(v)) for v in filled) > 0.8 * len(filled):
        return "clock"
    if len(numbers) < 0.5 * max(len(filled), 1) or not numbers:
        return "nothing"
    if min(numbers) > 1e9:
        return "moment"
    found = next((meaning for meaning, words in _HEADS if words.search(head)), "nothing")
    return "nothing" if found in ("date", "clock") else found


def _unit(meaning: str, head: str, values: Sequence[str]) -> str:
    numbers = sorted(n for n in map(_number, values) if n is not None)
    middle = numbers[len(numbers) // 2] if numbers else 0.0
    if meaning == "temp_c":
        if re.search(r"°?\s*F\b|fahrenheit", head):
            return "°F"
        if re.search(r"kelvin|\bK\b", head) or middle > 230.0:
            return "K"
        return "°F" if not re.search(r"°?\s*C\b|celsius", head) and middle > 48.0 else "°C"
    if meaning == "rh_pct":
        return "0 to 1" if numbers and numbers[-1] <= 1.0 else "%"
    if meaning == "mass_g":
        named = re.search(r"\b(kg|oz|g)\b", head)
        return named.group(1) if named else "g"
    if meaning == "energy_kwh":
        return "Wh" if re.search(r"(?<!k)wh", head, re.I) else "kWh"
    return ""


def _time_format(values: Sequence[str]) -> str:
    numbers = [n for n in map(_number, values) if n is not None]
    if numbers and len(numbers) == len([v for v in values if v]):
        return "milliseconds" if numbers[0] > 1e11 else "seconds"
    return order_of_dates(values)


def guess(text: str, zone: str) -> Layout:
    """What a file seems to be. Raises Refusal where no column can be a time, or there is no table."""
    delimiter = _delimiter(text)
    rows = []
    for _, cells in _cells(text, delimiter):
        rows.append(cells)
        if len(rows) >= SAMPLE_ROWS:
            break
    empty_spool = next((n for n, r in enumerate(rows) if _is_body(r)), None)
    if empty_spool is None:
        raise Refusal("no_table", "No row of this file has a time and numbers in it.", "file", 400)
    width = min(max(len(r) for r in rows[empty_spool:]), MOST_COLUMNS)
    heads = rows[empty_spool - 1] if empty_spool else []
    columns = []
    for at in range(width):
        head = heads[at] if at < len(heads) else f"column {at + 1}"
        values = [r[at] for r in rows[empty_spool:] if at < len(r)]
        meaning = _meaning(head, values)
        columns.append(Column(head[:80], meaning, _unit(meaning, head, values)))
    columns = _once_each(columns)
    times = [at for at, c in enumerate(columns) if c.meaning in ("moment", "date")]
    stamps = [r[times[0]] for r in rows[empty_spool:] if times and times[0] < len(r)]
    return Layout(delimiter, empty_spool, tuple(columns), _time_format(stamps) if stamps else "iso", zone)


def _once_each(columns: list[Column]) -> list[Column]:
    """The first column of a meaning keeps it; the others are left out until the person says otherwise."""
    seen: set[str] = set()
    found = []
    for column in columns:
        taken = column.meaning in seen
        seen.add(column.meaning)
        found.append(replace(column, meaning="nothing", unit="") if taken else column)
    return found


def with_heads(text: str, layout: Layout) -> Layout:
    """The layout with its columns named by the file's own heads."""
    heads: list[str] = []
    for number, (_, cells) in enumerate(_cells(text, layout.delimiter)):
        if number >= layout.head_rows:
            break
        heads = cells
    names = [heads[at][:80] if at < len(heads) else f"column {at + 1}" for at in range(len(layout.columns))]
    columns = tuple(replace(c, head=name) for c, name in zip(layout.columns, names, strict=True))
    return replace(layout, columns=columns)


def check(layout: Layout) -> None:
    """Raise Refusal where a layout cannot be read by."""
    if layout.zone not in available_timezones():
        raise Refusal("unknown_zone", f"There is no time zone “{layout.zone}”; such as Europe/London.", "zone", 400)
    used = [c.meaning for c in layout.columns if c.meaning != "nothing"]
    double = next((m for m in used if used.count(m) > 1), None)
    if double:
        raise Refusal("double_column", f"Two columns are taken for {double}. Leave one out.", "columns", 400)
    if "moment" not in used and not {"date", "clock"} <= set(used):
        raise Refusal("no_time", "Say which column holds the time (or date and clock).", "columns", 400)
    if not set(used) & set(UNITS):
        raise Refusal("no_values", "Say which column holds temperature, humidity, mass or energy.", "columns", 400)
    for column in layout.columns:
        if column.meaning in UNITS and column.unit not in UNITS[column.meaning]:
            known = ", ".join(UNITS[column.meaning])
            raise Refusal("unknown_unit", f"“{column.head}” has no unit “{column.unit}”: {known}.", "columns", 400)


def _moment(cells: dict[str, str], layout: Layout, zone: ZoneInfo, before: datetime | None) -> datetime:
    stamp = cells.get("moment", "")
    if layout.time_format not in ("seconds", "milliseconds"):
        return moment_of(stamp or cells.get("date", ""), cells.get("clock", ""), layout.time_format, zone, before)
    number = _number(stamp)
    if number is None:
        raise ValueError(f"“{stamp[:30]}” is no time")
    try:
        return datetime.fromtimestamp(number / (1000.0 if layout.time_format == "milliseconds" else 1.0), UTC)
    except (OverflowError, OSError):
        raise ValueError(f"“{stamp[:30]}” is no time") from None


def read(text: str, layout: Layout, bounds: dict[str, tuple[float, float]]) -> tuple[list[Row], list[BadRow]]:
    """Rows in our units, and those set aside. `bounds`: what each value can be. Raises Refusal for a layout or a file
    that cannot be read at all.
    """
    check(layout)
    zone = ZoneInfo(layout.zone)
    good: list[Row] = []
    bad: list[BadRow] = []
    for number, (line, cells) in enumerate(_cells(text, layout.delimiter)):
        if number < layout.head_rows:
            continue
        if number >= MOST_ROWS:
            raise Refusal("too_long", f"The file has over {MOST_ROWS} rows. Give it in parts.", "file", 413)
        named = {c.meaning: cells[at] for at, c in enumerate(layout.columns) if at < len(cells)}
        try:
            at = _moment(named, layout, zone, good[-1].at if good else None)
            values = dict(_values(cells, layout, bounds))
        except ValueError as wrong:
            bad.append(BadRow(line, str(wrong)))
            continue
        if values:
            good.append(Row(line, at, values))
        else:
            bad.append(BadRow(line, "holds no value"))
    return good, bad


def _values(cells: list[str], layout: Layout, bounds: dict[str, tuple[float, float]]) -> Iterator[tuple[str, float]]:
    for at, column in enumerate(layout.columns):
        if column.meaning not in UNITS or at >= len(cells) or not cells[at]:
            continue
        number = _number(cells[at])
        if number is None:
            raise ValueError(f"{column.head}: “{cells[at][:30]}” is no number")
        factor, offset = UNITS[column.meaning][column.unit]
        value = number * factor + offset
        low, high = bounds[column.meaning]
        if not low <= value <= high:
            raise ValueError(f"{column.head}: {cells[at][:30]} {column.unit} lies outside {low:g} to {high:g}")
        yield column.meaning, value
