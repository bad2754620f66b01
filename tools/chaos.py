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
from uuid import uuid4

from tools.house import free_port, wait_until_up
from tools.install import BIN, ROOT, VAR, Stop

PORT, NAME, CLIENTS = 8659, "demo-chaos.sqlite3", 16
ADDRESS = f"http://127.0.0.1:{PORT}"
# How an acknowledged act is found again: the table, and the column that holds what only this act stored.
FOUND_IN = {
    "weigh": ("runs_weighing", "client_key"),
    "moisture": ("inventory_moisturereading", "moisture_pct"),
    "printed": ("inventory_filamentuse", "mass_g"),
    "air": ("places_roomreading", "temp_c"),
    "place": ("places_place", "name"),
}
HOSTILE = (
    ("print-files/?name=a.gcode", b"(" * 60_000 + b"\n" + b"G1 X1\n" * 50_000),
    ("cases/1/photos/?side=before&name=a.png", b"\x89PNG\r\n\x1a\n" + b"\0" * 200_000),
    ("print-files/?name=b.gcode", b"G" + b"9" * 60_000 + b"\n" + b"M104 Snan\n" * 9000),
)


@dataclass
class Told:
    """What the server acknowledged, by kind of act; and what it answered otherwise."""

    acknowledged: dict[str, list[str | float]] = field(default_factory=lambda: {kind: [] for kind in FOUND_IN})
    statuses: Counter[int] = field(default_factory=Counter)
    lock: threading.Lock = field(default_factory=threading.Lock)

    def note(self, kind: str, what: str | float) -> None:
        with self.lock:
            self.acknowledged[kind].append(what)

    def answered(self, status: int) -> None:
        with self.lock:
            self.statuses[status] += 1


def send(method: str, path: str, body: bytes, kind: str = "application/json") -> int:
    """Send a request; its status, 0 where the server was gone."""
    request = urllib.request.Request(f"{ADDRESS}/api/{path}", body, {"Content-Type": kind}, method=method)
    try:
        with urllib.request.urlopen(request, timeout=30) as answer:
            answer.read()
            return int(answer.status)
    except urllib.error.HTTPError as error:
        with contextlib.suppress(OSError, http.client.HTTPException):  # the refusal itself may be cut short
            error.read()
        return error.code
    except (OSError, ValueError, http.client.HTTPException):  # refused, reset, or cut short in the middle of its answer
        return 0


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
    return "places/", {"name": f"Chaos {number}", "kind": "shelf"}, f"Chaos {number}"


def client(told: Told, stop: threading.Event, seed: int) -> None:
    """Acts until told to stop; each client sends something hostile now and then."""
    drawn = random.Random(seed)
    while not stop.is_set():
        if drawn.random() < 0.04:
            path, content = drawn.choice(HOSTILE)
            told.answered(send("PUT", path, content, "application/octet-stream"))
            continue
        kind = drawn.choice(list(FOUND_IN))
        path, body, what = act(kind, drawn)
        status = send("POST", path, json.dumps(body).encode())
        told.answered(status)
        if 200 <= status < 300:
            told.note(kind, what)


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
            found["lost"] += sum(stored[what] == 0 for what in acknowledged)
            found["twice"] += sum(stored[what] > 1 for what in acknowledged)
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


def main() -> int:
    """Print the table; 1 where anything was lost, double, half, or a fault of the server."""
    found = chaos(int(sys.argv[1]) if len(sys.argv) > 1 else 200)
    print(f"{'kill -9':>24} {found['kills']:>8}")
    for name, words in (("acts", "acknowledged acts"), ("lost", "lost"), ("twice", "stored twice"), ("half", "by half"),
                        ("faults", "answers of 5xx")):  # fmt: skip
        print(f"{words:>24} {found[name]:>8}{'' if name == 'acts' else '   (goal 0)'}")
    Path(VAR / NAME).unlink(missing_ok=True)
    return int(any(found[name] for name in ("lost", "twice", "half", "faults")))


if __name__ == "__main__":
    sys.exit(main())
