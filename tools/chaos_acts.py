"""What a client of `make chaos` does: acts that store something that only they store, corrections, removals and ends of
what was stored, and how each is found again in the database.
"""

from __future__ import annotations

import itertools
import random
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from typing import NamedTuple
from uuid import uuid4

PLACE = 4  # the demo world's bin with a gasket

PAST_RUNS = "past runs from a table"
# How an acknowledged act is found again: a query that gives what only such acts stored.
FOUND_BY = {
    "weigh": "SELECT client_key FROM runs_weighing",
    "moisture": "SELECT moisture_pct FROM inventory_moisturereading",
    "printed": "SELECT mass_g FROM inventory_filamentuse",
    "air": "SELECT temp_c FROM places_roomreading",
    "place": "SELECT name FROM places_place",
    "stay": "SELECT since FROM places_stay",
    "fill": "SELECT dry_g FROM places_desiccantfill",
    "coil": "SELECT name FROM inventory_coil",
    "rim": "SELECT name FROM inventory_emptyspool",
    "spool": "SELECT name FROM inventory_spool",
    "scale": "SELECT name FROM equipment_scale",
    "dryer": "SELECT name FROM equipment_dryer",
    "material": "SELECT name FROM inventory_ownmaterial",
    "print": "SELECT name FROM diagnosis_print",
    "case": "SELECT title FROM diagnosis_case",
    "helper": "SELECT name FROM inventory_helper",
    "away": "SELECT note FROM inventory_homechange",
    "trial": "SELECT note FROM trials_trial",
    "run": "SELECT client_key FROM runs_run",
    "spools from a table": "SELECT purpose FROM inventory_spool",
    "weighings from a table": "SELECT note FROM runs_weighing",
    PAST_RUNS: "SELECT duration_h FROM runs_run",
    "weigh, corrected": "SELECT gross_g FROM runs_weighing",
    "run, other hours": "SELECT duration_h FROM runs_runevent",
    "run, an event": "SELECT minutes FROM runs_runevent",
    "fill, weighed": "SELECT mass_g FROM places_desiccantweighing",
    "case, own sign": "SELECT text FROM diagnosis_ownobservation",
    "run, ended": "SELECT client_key FROM runs_run WHERE ended_at IS NOT NULL",
    "trial, ended": "SELECT note FROM trials_trial WHERE closed_at IS NOT NULL",
    "spool, put away": "SELECT name FROM inventory_spool WHERE archived_at IS NOT NULL",
    "case, closed": "SELECT title FROM diagnosis_case WHERE NOT is_open",
}


def table_of(kind: str) -> str:
    """The table that acts of a kind are found in."""
    return FOUND_BY[kind].split(" FROM ")[1].split()[0]


FIRST = (*(kind for kind in FOUND_BY if "," not in kind), "run", "run", "weigh")  # the slow and the frequent one
NAMED: dict[str, tuple[str, str, dict[str, object]]] = {
    "place": ("places/", "name", {"kind": "shelf"}),
    "coil": ("spools/{spool}/coils/", "name", {"length_m": 5}),
    "rim": ("empty-spools/", "name", {"kind": "card"}),
    "spool": ("spools/", "name", {"material": "pla", "tare_method": "unknown", "empty_spool": 1, "place": 1}),
    "scale": ("scales/", "name", {"max_g": 500, "resolution_g": 0.1}),
    "dryer": ("dryers/", "name", {"kind": "heated_box", "min_c": 35, "max_c": 60}),
    "material": ("materials/", "name", {"base": "pla"}),
    "print": ("prints/", "name", {"mass_g": 1}),
    "case": ("cases/", "title", {}),
    "trial": ("trials/", "note", {"kind": "twin", "scale": 1, "temp_c": 60, "samples": [{"start_g": 20}]}),
    "helper": ("schedule/helpers/", "name", {"weekdays": "9-12"}),
    "away": (
        "schedule/changes/",
        "note",
        {"since": "2030-01-01T09:00:00Z", "until": "2030-01-01T18:00:00Z", "at_home": True},
    ),
}
"""Acts that are found again by a name of their own: their address, the name's field, and what else they say."""
PASTED: dict[str, tuple[str, str, str, dict[str, object]]] = {
    "spools from a table": ("spools/table/", "Name\tMaterial", "Table {n}\tpla", {"place": 1}),
    "weighings from a table": (
        "weighings/table/", "Spool\tDate\tWeight", "Gear stock\t{at}\t808.4", {"zone": "UTC", "scale": 2}
    ),
}  # fmt: skip
"""Acts that paste a table: their address, the columns, a row, and what else they say; the note is their own."""
HOSTILE = (
    ("print-files/?name=a.gcode", b"(" * 60_000 + b"\n" + b"G1 X1\n" * 50_000),
    ("cases/1/photos/?side=before&name=a.png", b"\x89PNG\r\n\x1a\n" + b"\0" * 200_000),
    ("print-files/?name=b.gcode", b"G" + b"9" * 60_000 + b"\n" + b"M104 Snan\n" * 9000),
)


NUMBERS = itertools.count(1)


class Mark(NamedTuple):
    """What one act alone stores, and by which query it is found."""

    kind: str
    what: str | float


@dataclass(frozen=True)
class Act:
    """A request, what is in the database after it (`come`), and what no longer is (`gone`)."""

    name: str
    method: str
    path: str
    body: dict[str, object]
    come: tuple[Mark, ...] = ()
    gone: tuple[Mark, ...] = ()


def first(kind: str, drawn: random.Random) -> Act:
    """An act that stores a record of its own."""
    path, body, what = _stored(kind, drawn)
    return Act(kind, "POST", path, body, come=(Mark(kind, what),))


def undone(act: Act, entry: int) -> Act:
    """An act taken back, by its entry in the history."""
    return Act("undone", "POST", f"history/{entry}/undo/", {}, come=act.gone, gone=act.come)


# Where a record is corrected and removed. What a correction says is what the first act said, with another mark.
RECORDS = {
    "weigh": "weighings/{pk}/",
    "moisture": "moisture-readings/{pk}/",
    "printed": "uses/{pk}/",
    "place": "places/{pk}/",
    "stay": "stays/{pk}/",
    "coil": "coils/{pk}/",
    "spool": "spools/{pk}/",
    "scale": "scales/{pk}/",
    "dryer": "dryers/{pk}/",
    "print": "prints/{pk}/",
    "case": "cases/{pk}/",
    "helper": "schedule/helpers/{pk}/",
    "away": "schedule/changes/{pk}/",
    "trial": "trials/{pk}/",
}
CORRECTED = ("moisture", "printed", "place", "stay", "coil", "spool", "dryer", "case", "helper")
REMOVED = tuple(kind for kind in RECORDS if kind != "spool")


def corrected(kind: str, pk: int, what: str | float, drawn: random.Random) -> Act:
    """A record of an acknowledged act, corrected."""
    _, body, other = _stored(kind, drawn)
    if kind == "stay":
        body = {"place": PLACE, "since": body["at"]}
    path, method = RECORDS[kind].format(pk=pk), "PATCH" if kind == "case" else "PUT"
    if kind == "case":
        del body["spool"]
    return Act(f"{kind}, corrected", method, path, body, come=(Mark(kind, other),), gone=(Mark(kind, what),))


def removed(kind: str, pk: int, what: str | float) -> Act:
    """A record of an acknowledged act, removed."""
    return Act(f"{kind}, removed", "DELETE", RECORDS[kind].format(pk=pk), {}, gone=(Mark(kind, what),))


def _changed(name: str, path: str, body: dict[str, object], what: str | float, method: str = "POST") -> Act:
    return Act(name, method, path, body, come=(Mark(name, what),))


def further(kind: str, pk: int, what: str | float) -> list[Act]:
    """What else can be done with a record: ended, put away, added to."""
    number = next(NUMBERS)
    if kind == "weigh":
        gross = round(300 + number / 10, 1)  # as finely as the scale shows
        body = {
            "scale": 2,
            "gross_g": gross,
            "doubtful": True,
            "client_key": str(uuid4()),
            "at": datetime.now(UTC).isoformat(),
        }
        return [_changed("weigh, corrected", f"weighings/{pk}/", body, gross, "PUT")]
    if kind == "run":
        hours, minutes = 4 + number / 1e4, 1 + number / 1e4
        return [
            _changed("run, other hours", f"runs/{pk}/change/", {"duration_h": hours}, hours),
            _changed("run, an event", f"runs/{pk}/events/", {"kind": "power_cut", "minutes": minutes}, minutes),
            _changed("run, ended", f"runs/{pk}/end/", {}, what),
        ]
    if kind == "fill":
        mass = 60 + number / 1e4
        return [_changed("fill, weighed", f"fills/{pk}/weighings/", {"mass_g": mass}, mass)]
    if kind == "case":
        sign = f"Chaos {number}"
        return [
            _changed("case, own sign", f"cases/{pk}/own/", {"text": sign, "times": 2}, sign),
            _changed("case, closed", f"cases/{pk}/verdict/", {"kind": "no_finding"}, what),
        ]
    if kind == "trial":
        return [_changed("trial, ended", f"trials/{pk}/end/", {}, what)]
    if kind == "spool":
        return [_changed("spool, put away", f"spools/{pk}/archive/", {}, what)]
    return []


def next_acts(mark: Mark, pk: int, drawn: random.Random) -> list[Act]:
    """All that can be done with the record of an acknowledged act."""
    acts = further(mark.kind, pk, mark.what)
    if mark.kind in CORRECTED:
        acts.append(corrected(mark.kind, pk, mark.what, drawn))
    if mark.kind in REMOVED:
        acts.append(removed(mark.kind, pk, mark.what))
    return acts


def _stored(kind: str, drawn: random.Random) -> tuple[str, dict[str, object], str | float]:
    """An address, a body, and what only it stores."""
    number, spool = next(NUMBERS), drawn.randint(1, 11)
    at = (datetime.now(UTC) - timedelta(seconds=drawn.randint(1, 3000), microseconds=number)).isoformat()
    if kind == "weigh":
        key = uuid4()
        return (
            "weighings/",
            {"spool": spool, "scale": 3, "gross_g": 2000, "client_key": str(key), "doubtful": True},
            key.hex,
        )
    if kind == "moisture":
        return (
            f"spools/{spool}/moisture/",
            {"moisture_pct": number / 1e6, "plus_minus_pct": 0.1, "at": at},
            number / 1e6,
        )
    if kind == "printed":
        return f"spools/{spool}/uses/", {"mass_g": 1 + number / 1e6, "at": at}, 1 + number / 1e6
    if kind == "air":
        return "room/readings/", {"temp_c": 10 + number / 1e6, "rh_pct": 50, "at": at}, 10 + number / 1e6
    if kind == "fill":
        return f"places/{PLACE}/fills/", {"kind": "silica_gel", "dry_g": 50 + number / 1e4}, 50 + number / 1e4
    if kind == "stay":
        since = datetime.now(UTC) - timedelta(microseconds=number)
        return "stays/", {"spools": [spool], "place": PLACE, "at": since.isoformat()}, f"{since:%Y-%m-%d %H:%M:%S.%f}"
    if kind == "run":
        key = uuid4()
        body = {"spool": spool, "dryer": drawn.randint(1, 3), "temp_c": 50, "duration_h": 4, "client_key": str(key),
                "override_reason": "to see what holds"}  # fmt: skip
        return "plan/start/", body, key.hex
    if kind in PASTED or kind == PAST_RUNS:
        return _pasted(kind, number, at)
    path, named, body = NAMED[kind]
    whose = {"spool": spool} if kind in ("print", "case", "trial") else {}
    return path.format(spool=spool), body | whose | {named: f"Chaos {number}"}, f"Chaos {number}"


def _pasted(kind: str, number: int, at: str) -> tuple[str, dict[str, object], str | float]:
    """A table of one row."""
    if kind == PAST_RUNS:
        hours, begun = 0.1 + number / 1e6, datetime.now(UTC) - timedelta(hours=0.2 * number + 1)
        text = f"Spool\tStart\tTemp\tHours\nGear stock\t{begun:%Y-%m-%d %H:%M:%S}\t60\t{hours:.6f}\n"
        return "runs/table/", {"text": text, "zone": "UTC", "scale": 2, "dryer": 2}, round(hours, 6)
    path, columns, row, more = PASTED[kind]
    text = f"{columns}\tNote\n{row.format(n=number, at=at[:19])}\tChaos {number}\n"
    return path, {"text": text, **more}, f"Chaos {number}"
