"""The command line of the core: `python -m drying`."""

from __future__ import annotations

import io
import json
import sys
from collections.abc import Sequence
from importlib import import_module
from pathlib import Path
from typing import TextIO

from drying.cli.json_input import answers
from drying.cli.transport import transport
from drying.diagnosis.evidence_table import evidence_table
from drying.errors import OutOfRangeError

_OFFER = """python -m drying transport CASES.csv

  transport   reads a file with the columns case, material, form (wound or loose), strand_diameter_mm,
              start_moisture_pct, segments, time_h and prints the same rows with its own moisture_pct. Optional:
              net_g (mass of the strand wound; else the standard winding) and start_temp_c (how warm it went in; else
              it is as warm as the air at once). Columns moisture_pct and strand_temp_c may be there to compare with.
              Segments: 48h@45C in 21C/60% vent 0.05 (m³/h of room air) or vent free; several joined by ";".
              Bad rows are named with line and column and left out; then the exit status is 1.

python -m drying endpoint FILE.json

  endpoint    reads one run or a list of runs with material, form, strand_diameter_mm, tare_g, tare_sd_g,
              start_moisture_pct {mean, sd}, segments [{hours, temp_c, inlet_temp_c, inlet_rh_pct, vent_m3_h}],
              scale {resolution_g, repeatability_g}, weighings [{time_h, gross_g}], aim_pct, and optionally start_temp_c
              (how warm it went in; else as warm as the air at once); prints for each its state,
              moisture_now_pct and time_to_aim_h {p05, p50, p95} (hours from the last weighing; null: never), p_dry.
              Where the weighings do not tell (gained, not_water, no_fit) the three are null.

python -m drying evidence FILE.json

  evidence    reads one bad print or a list of them with material, moisture_pct {mean, sd} (or null) at the print, and
              observations {sign: true seen, false looked for and not seen}; prints for each p_water, the chance of
              each of the causes, and next: tests with the bits they tell and the minutes they take, best first.
              Signs: {signs}.

python -m drying schedule FILE.json

  schedule    reads one problem or a list of them, in hours from now: horizon_h, at_home [[from, to]], tariff
              [[from, to, price_per_kwh]], watch_h, dryers [{id, slots, timer_max_h or null, power_w}], jobs [{id,
              ready_by_h or null, options [{dryer, temp_c, hours}]}]; prints for each starts [{job, dryer, temp_c,
              start_h, end_h}], visits_h, late {job: hours}, cost, optimal, bound {jobs_late, hours_late}.

python -m drying trial FILE.json

  trial       reads one trial or a list of them, each with its kind: drying or uptake (a lot of coils), twin (a baked
              coil of a spool), sponge (dryer against dryer), swelling; prints estimates as {p05, p50, p95}.
"""
OFFER = _OFFER.replace("{signs}", ", ".join(evidence_table().signs))


JUDGES = {"endpoint": "run", "evidence": "case", "schedule": "schedule", "trial": "trial"}
"""Commands that take JSON, each with its module here, and what an entry is called in complaints."""


def judged(command: str, text: str, out: TextIO, err: TextIO) -> int:
    """Judge runs or cases and print what they amount to; 0, or 1 where one was bad, or 2 where the file is."""
    try:
        module = import_module(f"drying.cli.{command}")  # only its own: solvers take seconds to load
        found, complaints = answers(text, module.answer_of, JUDGES[command])
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
