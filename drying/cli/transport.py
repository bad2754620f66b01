"""Transport cases as CSV: where the water in each stands at each time."""

from __future__ import annotations

import csv
import re
from collections.abc import Iterator, Sequence
from typing import TextIO

import numpy as np

from drying.cli.segments import parse_segments
from drying.errors import DryingError, OutOfRangeError
from drying.materials import material
from drying.transport import DEFAULT_WINDING, Filament, Segment, as_it_warms, course, even_state, winding_of_mass

COLUMNS = ("case", "material", "form", "strand_diameter_mm", "start_moisture_pct", "segments", "time_h")
OPTIONAL = ("net_g", "start_temp_c")
COMPUTED = ("moisture_pct", "strand_temp_c")  # of a file that was made elsewhere: there to compare with, not read


_COLUMN_OF = {"temp_c": "segments", "rh_pct": "segments", "vent_m3_h": "segments", "duration_h": "segments"}


Row = tuple[int, dict[str, str]]


class BadRow(ValueError):  # noqa: N818  it names a row, and is caught where rows are read
    """A row that cannot be computed: line, column and reason."""

    def __init__(self, line: int, column: str, reason: str) -> None:
        super().__init__(f"line {line}, column {column}: {reason}")


def _number(row: Row, column: str) -> float:
    line, values = row
    try:
        return float(values[column])
    except (TypeError, ValueError):
        raise BadRow(line, column, f"“{values[column]}” is not a number.") from None


def _optional(row: Row, column: str) -> float | None:
    return _number(row, column) if (row[1].get(column) or "").strip() else None


def _body(row: Row) -> Filament:
    line, values = row
    if values["form"] not in ("wound", "loose"):
        raise BadRow(line, "form", f"“{values['form']}” is neither wound nor loose.")
    polymer, winding = material(values["material"]), None
    if values["form"] == "wound":
        net_g = _optional(row, "net_g")
        winding = DEFAULT_WINDING if net_g is None else winding_of_mass(net_g, polymer.density.value)
    return Filament(polymer, _number(row, "strand_diameter_mm"), winding)


def _check_time(row: Row, segments: Sequence[Segment]) -> float:
    time, total = _number(row, "time_h"), sum(s.duration_h for s in segments)
    if not 0.0 <= time <= total:
        raise OutOfRangeError("time_h", f"{time:g} h lies outside the segments, which last {total:g} h.")
    return time


def _groups(rows: Sequence[Row]) -> Iterator[list[Row]]:
    """Rows that differ in nothing but the time, so that each case is computed once."""
    groups: dict[tuple[str, ...], list[Row]] = {}
    for line, values in rows:
        key = tuple(values.get(c) or "" for c in (*COLUMNS[1:-1], *OPTIONAL))
        groups.setdefault(key, []).append((line, values))
    yield from groups.values()


def _solve(group: list[Row], complaints: list[str]) -> dict[int, float]:
    """Moisture by line number for rows of one case; what is wrong goes into `complaints`."""
    line, values = group[0]
    try:
        filament, segments = _body(group[0]), parse_segments(values["segments"])
        start_temp_c = _optional(group[0], "start_temp_c")
        met = segments if start_temp_c is None else as_it_warms(filament, segments, start_temp_c)
        start = even_state(filament, _number(group[0], "start_moisture_pct"), met[0].temp_c)
    except BadRow as bad:
        complaints.append(str(bad))
        return {}
    except DryingError as bad:
        name = "start_moisture_pct" if bad.name == "moisture_pct" else _COLUMN_OF.get(bad.name, bad.name)
        complaints.append(str(BadRow(line, name, str(bad))))
        return {}
    times: dict[int, float] = {}
    for row in group:
        try:
            times[row[0]] = _check_time(row, segments)
        except (BadRow, OutOfRangeError) as bad:
            complaints.append(str(bad if isinstance(bad, BadRow) else BadRow(row[0], "time_h", str(bad))))
    moisture = course(filament, start, met, np.array(list(times.values())))
    return dict(zip(times, moisture.tolist(), strict=True))


def transport(source: TextIO, out: TextIO, err: TextIO) -> int:
    """Read cases, print them with their moisture; 0, or 1 where a row was bad, or 2 where the file is."""
    reader = csv.DictReader(source, restval="")
    named = list(reader.fieldnames or ())
    missing = [c for c in COLUMNS if c not in named]
    unknown = [c for c in named if c not in (*COLUMNS, *OPTIONAL, *COMPUTED)]
    if missing or unknown:
        if missing:
            print(f"line 1: the columns {', '.join(missing)} are missing.", file=err)
        if unknown:
            known = ", ".join((*COLUMNS, *OPTIONAL))
            print(f"line 1: the columns {', '.join(unknown)} are not known; there are {known}.", file=err)
        return 2
    columns = [*COLUMNS, *(c for c in OPTIONAL if c in named)]
    rows = [(reader.line_num, values) for values in reader]
    complaints: list[str] = []
    solved: dict[int, float] = {}
    for group in _groups(rows):
        solved |= _solve(group, complaints)
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow([*columns, "moisture_pct"])
    for line, values in rows:
        if line in solved:
            writer.writerow([*(values[c] for c in columns), f"{solved[line]:.4f}"])
    for complaint in sorted(complaints, key=lambda text: int(re.findall(r"\d+", text)[0])):
        print(complaint, file=err)
    return 1 if complaints else 0
