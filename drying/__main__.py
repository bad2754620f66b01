"""The command line of the core: `python -m drying`."""

from __future__ import annotations

import csv
import io
import json
import re
import sys
from collections.abc import Iterator, Sequence
from pathlib import Path
from typing import TextIO

import numpy as np

from drying.cli import endpoint as endpoint_file
from drying.cli import evidence as evidence_file
from drying.cli.json_input import answers
from drying.cli.segments import parse_segments
from drying.diagnosis.evidence_table import evidence_table
from drying.errors import DryingError, OutOfRangeError
from drying.materials.properties import material
from drying.transport.solve import course
from drying.transport.state import Body, Segment, even_state
from drying.transport.winding import DEFAULT_PACK

_OFFER = """python -m drying transport CASES.csv

  transport   reads a file with the columns case, material, form (wound or loose), strand_diameter_mm,
              start_moisture_pct, segments, time_h and prints the same rows with its own moisture_pct.
              Segments: 48h@45C in 21C/60% vent 0.05 (m³/h of room air) or vent free; several joined by ";".
              Bad rows are named with line and column and left out; then the exit status is 1.

python -m drying endpoint FILE.json

  endpoint    reads one run or a list of runs with material, form, strand_diameter_mm, tare_g, tare_sd_g,
              start_moisture_pct {mean, sd}, segments [{hours, temp_c, inlet_temp_c, inlet_rh_pct, vent_m3_h}],
              scale {resolution_g, repeatability_g}, weighings [{time_h, gross_g}], aim_pct; prints for each its state,
              moisture_now_pct and time_to_aim_h {p05, p50, p95} (hours from the last weighing; null: never), p_dry.

python -m drying evidence FILE.json

  evidence    reads one bad print or a list of them with material, moisture_pct {mean, sd} (or null) at the print, and
              observations {sign: true seen, false looked for and not seen}; prints for each p_water, the chance of
              each of the causes, and next: tests with the bits they tell and the minutes they take, best first.
              Signs: {signs}.
"""
OFFER = _OFFER.replace("{signs}", ", ".join(evidence_table().signs))
COLUMNS = ("case", "material", "form", "strand_diameter_mm", "start_moisture_pct", "segments", "time_h")
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


def _body(row: Row) -> Body:
    line, values = row
    packs = {"wound": DEFAULT_PACK, "loose": None}
    if values["form"] not in packs:
        raise BadRow(line, "form", f"“{values['form']}” is neither wound nor loose.")
    return Body(material(values["material"]), _number(row, "strand_diameter_mm"), packs[values["form"]])


def _check_time(row: Row, segments: Sequence[Segment]) -> float:
    time, total = _number(row, "time_h"), sum(s.duration_h for s in segments)
    if not 0.0 <= time <= total:
        raise OutOfRangeError("time_h", f"{time:g} h lies outside the segments, which last {total:g} h.")
    return time


def _groups(rows: Sequence[Row]) -> Iterator[list[Row]]:
    """Rows that differ in nothing but the time, so that each case is computed once."""
    groups: dict[tuple[str, ...], list[Row]] = {}
    for line, values in rows:
        key = tuple(values[c] or "" for c in COLUMNS[1:-1])
        groups.setdefault(key, []).append((line, values))
    yield from groups.values()


def _solve(group: list[Row], complaints: list[str]) -> dict[int, float]:
    """Moisture by line number for rows of one case; what is wrong goes into `complaints`."""
    line, values = group[0]
    try:
        body, segments = _body(group[0]), parse_segments(values["segments"])
        start = even_state(body, _number(group[0], "start_moisture_pct"), segments[0].temp_c)
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
    moisture = course(body, start, segments, np.array(list(times.values())))
    return dict(zip(times, moisture.tolist(), strict=True))


def transport(source: TextIO, out: TextIO, err: TextIO) -> int:
    """Read cases, print them with their moisture; 0, or 1 where a row was bad, or 2 where the file is."""
    reader = csv.DictReader(source, restval="")
    missing = [c for c in COLUMNS if c not in (reader.fieldnames or ())]
    if missing:
        print(f"line 1: the columns {', '.join(missing)} are missing.", file=err)
        return 2
    rows = [(reader.line_num, values) for values in reader]
    complaints: list[str] = []
    solved: dict[int, float] = {}
    for group in _groups(rows):
        solved |= _solve(group, complaints)
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow([*COLUMNS, "moisture_pct"])
    for line, values in rows:
        if line in solved:
            writer.writerow([*(values[c] for c in COLUMNS), f"{solved[line]:.4f}"])
    for complaint in sorted(complaints, key=lambda text: int(re.findall(r"\d+", text)[0])):
        print(complaint, file=err)
    return 1 if complaints else 0


JUDGES = {"endpoint": (endpoint_file.answer_of, "run"), "evidence": (evidence_file.answer_of, "case")}


def judged(command: str, text: str, out: TextIO, err: TextIO) -> int:
    """Judge runs or cases and print what they amount to; 0, or 1 where one was bad, or 2 where the file is."""
    try:
        found, complaints = answers(text, *JUDGES[command])
    except OutOfRangeError as wrong:
        print(wrong, file=err)
        return 2
    print(json.dumps(found, indent=2), file=out)
    for complaint in complaints:
        print(complaint, file=err)
    return 1 if complaints else 0


def main(words: Sequence[str]) -> int:
    """Run a command; without one, say what there is."""
    if not words:
        print(OFFER, end="")  # noqa: T201
        return 0
    if words[0] not in ("transport", *JUDGES) or len(words) != 2:
        print(OFFER, end="", file=sys.stderr)  # noqa: T201
        return 2
    try:
        text = Path(words[1]).read_text("utf-8-sig")
    except (OSError, UnicodeDecodeError) as error:
        print(f"{words[1]} cannot be read: {error}.", file=sys.stderr)  # noqa: T201
        return 2
    if words[0] in JUDGES:
        return judged(words[0], text, sys.stdout, sys.stderr)
    return transport(io.StringIO(text, newline=""), sys.stdout, sys.stderr)


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
