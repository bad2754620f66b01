"""Runs as JSON for the command line: what the weighings of each amount to."""

from __future__ import annotations

import json
from collections.abc import Mapping
from typing import Any

from drying.air import RoomAir
from drying.cli.json_input import number, optional_number, part, require_known, rows
from drying.dryers import Load
from drying.errors import OutOfRangeError
from drying.materials import empty_spool_kind, material
from drying.quantity import Quantity
from drying.runs import RunSoFar, RunState, TimedWeighing, judge
from drying.transport import Segment
from drying.weighing import Scale, Tare, TareMethod, Weighing

_RUN = (
    "material", "form", "strand_diameter_mm", "tare_g", "tare_sd_g", "start_moisture_pct", "segments", "scale",
    "weighings", "aim_pct", "start_temp_c",
)  # fmt: skip
_UNJUDGED = (RunState.NO_WEIGH_IN, RunState.NO_WEIGH_OUT)


def _segment(mapping: Mapping[str, Any]) -> Segment:
    require_known(mapping, ("hours", "temp_c", "inlet_temp_c", "inlet_rh_pct", "vent_m3_h"), "a segment")
    room = RoomAir(number(mapping, "inlet_temp_c"), number(mapping, "inlet_rh_pct"))
    return Segment(number(mapping, "hours"), number(mapping, "temp_c"), room, optional_number(mapping, "vent_m3_h"))


def run_of(mapping: Mapping[str, Any]) -> RunSoFar:
    """A run out of its JSON. Raises DryingError that names what is missing or wrong."""
    require_known(mapping, _RUN, "the run")
    for name, keys in (("scale", ("resolution_g", "repeatability_g")), ("start_moisture_pct", ("mean", "sd"))):
        require_known(part(mapping, name), keys, f"“{name}”")
    form = part(mapping, "form")
    if form not in ("wound", "loose"):
        raise OutOfRangeError("form", f"“form” is {json.dumps(form)}: it is wound or loose.")
    scale = Scale(*(number(part(mapping, "scale"), name) for name in ("resolution_g", "repeatability_g")))
    tare = Tare(number(mapping, "tare_g"), number(mapping, "tare_sd_g"), TareMethod.MEASURED)
    for weighing in rows(mapping, "weighings"):
        require_known(weighing, ("time_h", "gross_g"), "a weighing")
    weighings = [
        TimedWeighing(number(w, "time_h"), Weighing(number(w, "gross_g"), scale)) for w in rows(mapping, "weighings")
    ]
    start = part(mapping, "start_moisture_pct")
    net = weighings[0].weighing.gross_g - tare.mass_g if weighings else None
    if net is not None and net <= 0.0:
        raise OutOfRangeError("weighings", "The first weighing is not over the tare: one of the two is wrong.")
    load = Load(
        material=material(part(mapping, "material")),
        empty_spool=empty_spool_kind("abs"),  # its mass is the tare; card spools are not covered here
        strand_diameter_mm=number(mapping, "strand_diameter_mm"),
        start=Quantity(number(start, "mean"), number(start, "sd")),
        net_g=net,
        form=form,
    )
    return RunSoFar(
        load,
        [_segment(s) for s in rows(mapping, "segments")],
        number(mapping, "aim_pct"),
        tare,
        weighings,
        start_temp_c=optional_number(mapping, "start_temp_c"),
    )


def answer_of(mapping: Mapping[str, Any]) -> dict[str, Any]:
    """State, moisture at the last weighing, hours from then until the aim, and the chance that it is there already."""
    run = run_of(mapping)
    now = run.weighings[-1].time_h if run.weighings else 0.0
    found = judge(run, now)
    moisture, left = found.moisture, found.to_aim
    state = (RunState.NO_FINDING if found.state in _UNJUDGED else found.state).value
    if not found.told:
        return {"state": state, "moisture_now_pct": None, "time_to_aim_h": None, "p_dry": None}
    return {
        "state": state,
        "moisture_now_pct": {k: round(getattr(moisture, k), 4) for k in ("p05", "p50", "p95")},
        "time_to_aim_h": {
            k: None if (h := getattr(left, k)) is None else round(h, 3) for k in ("p05", "p50", "p95")
        },
        "p_dry": round(found.p_dry, 4),
    }  # fmt: skip
