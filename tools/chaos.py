"""Against a real server: kill -9 in the middle of sixteen clients' acts, with hostile uploads beside them. Then counts
what was lost, stored twice, or stored by half: `python -m tools.chaos KILLS`.
"""

from __future__ import annotations

import contextlib
import http.client
import itertools
import json
import os
import random
import signal
import sqlite3
import subprocess
import sys
import threading
import time
import urllib.error
import urllib.request
from collections import Counter
from contextlib import closing
from dataclasses import dataclass, field
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any
from uuid import uuid4

from tools.house import free_port, wait_until_up
from tools.install import BIN, ROOT, VAR, Stop

PORT, NAME, CLIENTS = 8659, "demo-chaos.sqlite3", 16
PLACE = 4  # the demo world's bin with a gasket
ADDRESS = f"http://127.0.0.1:{PORT}"
# How an acknowledged act is found again: the table, and the column that holds what only this act stored.
FOUND_IN = {
    "weigh": ("runs_weighing", "client_key"),
    "moisture": ("inventory_moisturereading", "moisture_pct"),
    "printed": ("inventory_filamentuse", "mass_g"),
    "air": ("places_roomreading", "temp_c"),
    "place": ("places_place", "name"),
    "stay": ("places_stay", "since"),
    "fill": ("places_desiccantfill", "dry_g"),
    "coil": ("inventory_coil", "name"),
    "rim": ("inventory_emptyspool", "name"),
    "spool": ("inventory_spool", "name"),
    "scale": ("equipment_scale", "name"),
    "dryer": ("equipment_dryer", "name"),
    "material": ("inventory_ownmaterial", "name"),
    "print": ("diagnosis_print", "name"),
    "case": ("diagnosis_case", "title"),
    "helper": ("inventory_helper", "name"),
    "away": ("inventory_homechange", "note"),
    "trial": ("trials_trial", "note"),
    "run": ("runs_run", "client_key"),
}
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
HOSTILE = (
    ("print-files/?name=a.gcode", b"(" * 60_000 + b"\n" + b"G1 X1\n" * 50_000),
    ("cases/1/photos/?side=before&name=a.png", b"\x89PNG\r\n\x1a\n" + b"\0" * 200_000),
    ("print-files/?name=b.gcode", b"G" + b"9" * 60_000 + b"\n" + b"M104 Snan\n" * 9000),
)


@dataclass
class Told:
    """What the server acknowledged, by kind of act; and what it answered otherwise."""

    acknowledged: dict[str, list[str | float]] = field(default_factory=lambda: {kind: [] for kind in FOUND_IN})
    taken_back: dict[str, set[str | float]] = field(default_factory=lambda: {kind: set() for kind in FOUND_IN})
    perhaps: set[str | float] = field(default_factory=set)
    statuses: Counter[int] = field(default_factory=Counter)
    lock: threading.Lock = field(default_factory=threading.Lock)

    def note(self, kind: str, what: str | float) -> None:
        with self.lock:
            self.acknowledged[kind].append(what)

    def answered(self, status: int) -> None:
        with self.lock:
            self.statuses[status] += 1


def send(method: str, path: str, body: bytes, kind: str = "application/json") -> tuple[int, dict[str, Any]]:
    """Send a request; its status, 0 where the server was gone, and what it answered."""
    request = urllib.request.Request(f"{ADDRESS}/api/{path}", body, {"Content-Type": kind}, method=method)
    try:
        with urllib.request.urlopen(request, timeout=30) as answer:
            return int(answer.status), json.loads(answer.read() or b"{}")
    except urllib.error.HTTPError as error:
        with contextlib.suppress(OSError, http.client.HTTPException):  # the refusal itself may be cut short
            error.read()
        return error.code, {}
    except (OSError, ValueError, http.client.HTTPException):  # refused, reset, or cut short in the middle of its answer
        return 0, {}


NUMBERS = itertools.count(1)


def act(kind: str, drawn: random.Random) -> tuple[str, dict[str, object], str | float]:
    """An act: its address, its body, and what only it stores."""
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
    path, named, body = NAMED[kind]
    whose = {"spool": spool} if kind in ("print", "case", "trial") else {}
    return path.format(spool=spool), body | whose | {named: f"Chaos {number}"}, f"Chaos {number}"


def take_back(told: Told, kind: str, what: str | float, answer: dict[str, Any]) -> None:
    """Undo an act that was just acknowledged. Where that is not acknowledged, it is not known whether it stands."""
    if not isinstance(answer.get("undo"), int):
        return
    with told.lock:
        told.perhaps.add(what)
    status, _ = send("POST", f"history/{answer['undo']}/undo/", b"{}")
    told.answered(status)
    with told.lock:
        if status != 0:
            told.perhaps.discard(what)
        if 200 <= status < 300:
            told.taken_back[kind].add(what)


def client(told: Told, stop: threading.Event, seed: int) -> None:
    """Acts until told to stop; each client sends something hostile now and then."""
    drawn = random.Random(seed)
    while not stop.is_set():
        if drawn.random() < 0.04:
            path, content = drawn.choice(HOSTILE)
            told.answered(send("PUT", path, content, "application/octet-stream")[0])
            continue
        kind = drawn.choice(list(FOUND_IN))
        path, body, what = act(kind, drawn)
        status, answer = send("POST", path, json.dumps(body).encode())
        told.answered(status)
        if 200 <= status < 300:
            told.note(kind, what)
            if drawn.random() < 0.2:
                take_back(told, kind, what, answer)


def serve() -> subprocess.Popen[bytes]:
    """The server on what the last one left behind, whose port is free as soon as it is quite gone."""
    for _ in range(100):
        with contextlib.suppress(Stop):
            free_port(PORT)
            break
        time.sleep(0.1)
    env = {**os.environ, "DARRE_DB": str(VAR / NAME)}
    command = [str(BIN / "python"), "-m", "darre.serve", "--port", str(PORT)]
    process = subprocess.Popen(command, cwd=ROOT, env=env, start_new_session=True, stdout=subprocess.DEVNULL)
    wait_until_up(process, ADDRESS)
    return process


def counted(told: Told) -> Counter[str]:
    """How many acknowledged acts are lost or stored twice, and how many entries of the history hold by half."""
    found: Counter[str] = Counter(acts=sum(map(len, told.acknowledged.values())))
    with closing(sqlite3.connect(VAR / NAME)) as db:
        assert db.execute("PRAGMA integrity_check").fetchone()[0] == "ok"
        for kind, acknowledged in told.acknowledged.items():
            table, column = FOUND_IN[kind]
            stored = Counter(row[0] for row in db.execute(f"SELECT {column} FROM {table}"))
            stand = [w for w in acknowledged if w not in told.taken_back[kind] and w not in told.perhaps]
            found["lost"] += sum(stored[what] == 0 for what in stand)
            found["twice"] += sum(stored[what] > 1 for what in acknowledged)
            found["undone"] += len(told.taken_back[kind])
            found["there"] += sum(stored[what] > 0 for what in told.taken_back[kind])
            found["kinds"] += bool(acknowledged)
        for (changes,) in db.execute("SELECT changes FROM history_historyentry WHERE undone_at IS NULL"):
            for change in json.loads(changes):
                table = change["model"].replace(".", "_")
                if change["before"] is None and change["after"] is not None and change["pk"] is not None:
                    held = db.execute(f"SELECT count(*) FROM {table} WHERE id = ?", [change["pk"]]).fetchone()[0]
                    found["half"] += held == 0
        written = db.execute("SELECT count(*) FROM runs_weighing WHERE gross_g = 2000").fetchone()[0]
        noted = db.execute("SELECT count(*) FROM history_historyentry WHERE kind = 'weighing.kept'").fetchone()[0]
        found["half"] += max(0, written - noted)
    return found


def chaos(kills: int, seed: int = 14) -> Counter[str]:
    """Kill the server that often in the middle of its work; what is then missing, double or half."""
    drawn, told = random.Random(seed), Told()
    for path in VAR.glob(f"{NAME}*"):
        path.unlink()
    env = {**os.environ, "DARRE_DB": str(VAR / NAME)}
    subprocess.run([str(BIN / "python"), "manage.py", "demo_world"], cwd=ROOT, env=env, check=True, capture_output=True)
    for kill in range(kills):
        server, stop = serve(), threading.Event()
        clients = [
            threading.Thread(target=client, args=(told, stop, seed * 1000 + kill * 50 + n)) for n in range(CLIENTS)
        ]
        for one in clients:
            one.start()
        time.sleep(drawn.uniform(0.2, 1.5))
        os.killpg(server.pid, signal.SIGKILL)
        server.wait()
        stop.set()
        for one in clients:
            one.join()
    found = counted(told)
    found["kills"] = kills
    found["faults"] = sum(count for status, count in told.statuses.items() if status >= 500)
    return found


WRONG = (("lost", "lost"), ("twice", "stored twice"), ("half", "by half"), ("there", "undone but there"),
         ("faults", "answers of 5xx"))  # fmt: skip


def main() -> int:
    """Print the table; 1 where anything was lost, double, half, or a fault of the server."""
    found = chaos(int(sys.argv[1]) if len(sys.argv) > 1 else 200)
    print(f"{'kill -9':>24} {found['kills']:>8}")
    for name, words in (("acts", "acknowledged acts"), ("kinds", "of so many kinds"), ("undone", "of them undone"),
                        *WRONG):  # fmt: skip
        print(f"{words:>24} {found[name]:>8}{'   (goal 0)' if (name, words) in WRONG else ''}")
    Path(VAR / NAME).unlink(missing_ok=True)
    return int(any(found[name] for name, _ in WRONG))


if __name__ == "__main__":
    sys.exit(main())
