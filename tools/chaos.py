"""Against a real server: kill -9 in the middle of sixteen clients' acts, with hostile uploads beside them. Then counts
what was lost, stored twice, or stored by half: `python -m tools.chaos KILLS`.
"""

from __future__ import annotations

import contextlib
import http.client
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
from collections.abc import Sequence
from contextlib import closing
from dataclasses import dataclass, field
from datetime import UTC, datetime
from pathlib import Path
from typing import Any
from uuid import UUID, uuid4

from tools.chaos_acts import FIRST, FOUND_BY, HOSTILE, Act, Mark, first, further, next_acts, table_of, undone
from tools.house import free_port, wait_until_up
from tools.install import BIN, ROOT, VAR, Stop

PORT, NAME, CLIENTS = 8659, "demo-chaos.sqlite3", 16
ADDRESS = f"http://127.0.0.1:{PORT}"


@dataclass
class Told:
    """What the server acknowledged: what must be there, what must not, and what may be either; and all its answers."""

    stands: set[Mark] = field(default_factory=set)
    gone: set[Mark] = field(default_factory=set)
    perhaps: Counter[Mark] = field(default_factory=Counter)
    acts: Counter[str] = field(default_factory=Counter)
    statuses: Counter[int] = field(default_factory=Counter)
    waiting: dict[str, Act] = field(default_factory=dict)
    """The outbox, by the acts' keys: sent, and no answer heard."""
    refused: set[str] = field(default_factory=set)
    again: int = 0
    turned: int = 0
    lock: threading.Lock = field(default_factory=threading.Lock)

    def sent(self, act: Act, key: str) -> None:
        with self.lock:
            self.perhaps.update(act.come + act.gone)
            self.waiting[key] = act

    def some_waiting(self, drawn: random.Random) -> tuple[Act, str] | None:
        """An act of the outbox; another client may take the same one, as another tab does."""
        with self.lock:
            key = drawn.choice(list(self.waiting)) if self.waiting else None
            return (self.waiting[key], key) if key else None

    def answered(self, act: Act, key: str, status: int) -> bool:
        """Take an answer down; whether the act was acknowledged. Where none came, nobody knows whether it stands."""
        with self.lock:
            self.statuses[status] += 1
            if status == 0:
                return False
            good, first_heard = status < 300, self.waiting.pop(key, None) is not None
            if first_heard:
                self.perhaps.subtract(act.come + act.gone)
                self.refused.update(() if good else (key,))
            elif good and key in self.refused:
                # Sent twice at once, refused and then done, as what stood in its way was gone: who came first is open.
                self.turned += 1
                self.perhaps.update(act.come + act.gone)
            elif good:
                self.again += 1  # sent twice at once, and acknowledged twice: something may have followed meanwhile
            if good and first_heard:
                self.acts[act.name] += 1
                self.stands.update(act.come)
                self.stands.difference_update(act.gone)
                self.gone.update(act.gone)
                self.gone.difference_update(act.come)
            return good


def send(method: str, path: str, body: bytes, **headers: str) -> tuple[int, dict[str, Any]]:
    """Send a request; its status, 0 where the server was gone, and what it answered."""
    request = urllib.request.Request(f"{ADDRESS}/api/{path}", body, headers, method=method)
    try:
        with urllib.request.urlopen(request, timeout=30) as answer:
            return int(answer.status), json.loads(answer.read() or b"{}")
    except urllib.error.HTTPError as error:
        with contextlib.suppress(OSError, http.client.HTTPException):  # the refusal itself may be cut short
            error.read()
        return error.code, {}
    except (OSError, ValueError, http.client.HTTPException):  # refused, reset, or cut short in the middle of its answer
        return 0, {}


def a_running_run() -> tuple[int, str] | None:
    """The number and key of a run that goes on, of the demo world or of a client."""
    with closing(sqlite3.connect(f"file:{VAR / NAME}?mode=ro", uri=True)) as db:
        found = db.execute("SELECT id, client_key FROM runs_run WHERE ended_at IS NULL ORDER BY random()").fetchone()
    return found and (found[0], found[1])


def made(entry: int, kind: str) -> int | None:
    """The number of the record that an act stored, from its entry in the history."""
    table = table_of(kind)
    with closing(sqlite3.connect(f"file:{VAR / NAME}?mode=ro", uri=True)) as db:
        changes = json.loads(db.execute("SELECT changes FROM history_historyentry WHERE id = ?", [entry]).fetchone()[0])
    of_it = (c["pk"] for c in changes if c["model"].replace(".", "_") == table and c["before"] is None)
    return next(of_it, None)


def do(told: Told, act: Act, key: str | None = None) -> int | None:
    """Send an act, or by its key once more; where it was acknowledged, its entry in the history."""
    if key is None:
        key = str(uuid4())
        told.sent(act, key)
    headers = {"Content-Type": "application/json", "X-Darre-Act": key}
    status, answer = send(act.method, act.path, json.dumps(act.body).encode(), **headers)
    return answer.get("undo") if told.answered(act, key, status) else None


def client(told: Told, stop: threading.Event, seed: int, kinds: Sequence[str]) -> None:
    """Acts until told to stop; each client sends something hostile now and then. Two acts in five are followed by
    another on the same record, and one act in five is undone. What was sent and not answered is sent again.
    """
    drawn = random.Random(seed)
    while not stop.is_set():
        if drawn.random() < 0.04:
            path, content = drawn.choice(HOSTILE)
            told.statuses[send("PUT", path, content, **{"Content-Type": "application/octet-stream"})[0]] += 1
            continue
        if drawn.random() < 0.3 and (once_more := told.some_waiting(drawn)):
            do(told, *once_more)
            continue
        if drawn.random() < 0.04 and (going := a_running_run()):
            do(told, drawn.choice(further("run", *going)))
            continue
        act = first(drawn.choice(kinds), drawn)
        entry, mark = do(told, act), act.come[0]
        if entry is not None and drawn.random() < 0.4 and (pk := made(entry, mark.kind)) is not None:
            later = next_acts(mark, pk, drawn)
            if later:
                act = drawn.choice(later)
                entry = do(told, act)
        if entry is not None and drawn.random() < 0.2:
            do(told, undone(act, entry))


def empty_outbox(told: Told, waiting: list[tuple[str, Act]]) -> None:
    """All that waits, sent in its order: by two tabs at once, each with its own copy."""
    for key, act in waiting:
        do(told, act, key)


def serve(database: Path = VAR / NAME, port: int = PORT, **settings: str) -> subprocess.Popen[bytes]:
    """The server on what the last one left behind, whose port is free as soon as it is quite gone."""
    for _ in range(100):
        with contextlib.suppress(Stop):
            free_port(port)
            break
        time.sleep(0.1)
    env = {**os.environ, "DARRE_DB": str(database), **settings}
    command = [str(BIN / "python"), "-m", "darre.serve", "--port", str(port)]
    process = subprocess.Popen(command, cwd=ROOT, env=env, start_new_session=True, stdout=subprocess.DEVNULL)
    wait_until_up(process, f"http://127.0.0.1:{port}")
    return process


def kill(server: subprocess.Popen[bytes]) -> None:
    """As a power cut ends it."""
    os.killpg(server.pid, signal.SIGKILL)
    server.wait()


def demo_world(database: Path) -> None:
    """A demo world of its own in this file."""
    env = {**os.environ, "DARRE_DB": str(database)}
    subprocess.run(
        [str(BIN / "python"), "manage.py", "demo_world"], cwd=ROOT, env=env, check=True, stdout=subprocess.DEVNULL
    )


# A device is seen and its clock compared at each of its deliveries: noted by the server, no act of a person.
NO_ACTS = {("devices_device", "last_seen"), ("devices_device", "skew_ms")}


def _plain(value: object) -> object:
    """A value of the history, or a cell of the database, in one and the same way to write it."""
    if isinstance(value, list | dict):
        return json.dumps(value, sort_keys=True)
    if isinstance(value, str):
        with contextlib.suppress(ValueError):
            return json.dumps(json.loads(value), sort_keys=True) if value[:1] in '[{"' else UUID(value).hex
        with contextlib.suppress(ValueError):
            at = datetime.fromisoformat(value)
            return (at.astimezone(UTC).replace(tzinfo=None) if at.tzinfo else at).isoformat()
        return json.dumps(value) if value == "" else value
    return value


def halves(db: sqlite3.Connection) -> list[str]:
    """Records that are not as the entries of the history left them, or of which none tells: acts that hold by half."""
    left: dict[tuple[str, int], dict[str, object] | None] = {}
    for (changes,) in db.execute("SELECT changes FROM history_historyentry ORDER BY id"):
        for change in json.loads(changes):
            if change["pk"] is not None:
                left[change["model"].replace(".", "_"), change["pk"]] = change["after"]
    wrong = []
    for (table, pk), values in left.items():
        rows = db.execute(f"SELECT * FROM {table} WHERE id = ?", [pk])
        names, row = [column[0] for column in rows.description], rows.fetchone()
        if (row is None) != (values is None):
            wrong.append(f"{table} {pk}: {'lost' if row is None else 'still there'}")
        elif row is not None and values is not None:
            there = dict(zip(names, row, strict=True))
            wrong += [
                f"{table} {pk} {name}: {there[name]!r}, not {value!r}"
                for name, value in values.items()
                if (table, name) not in NO_ACTS and _plain(there[name]) != _plain(value)
            ]
    for table in set(map(table_of, FOUND_BY)):
        own = " WHERE import_key IS NULL" if table == "places_roomreading" else ""  # rows of a file have one entry
        ids = {row[0] for row in db.execute(f"SELECT id FROM {table}{own}")}
        wrong += [f"{table} {pk}: no entry" for pk in ids if left.get((table, pk)) is None]
    return wrong


def counted(told: Told) -> Counter[str]:
    """How many acknowledged acts are lost or stored twice, how many that were undone or removed are there, and how many
    records are not as the history left them.
    """
    found: Counter[str] = Counter(acts=told.acts.total(), kinds=len(told.acts), undone=told.acts["undone"])
    found["again"], found["turned"], found["open"] = told.again, told.turned, len(told.waiting)
    for word in ("corrected", "removed", "ended"):
        found[word] = sum(count for name, count in told.acts.items() if name.endswith(word))
    with closing(sqlite3.connect(VAR / NAME)) as db:
        assert db.execute("PRAGMA integrity_check").fetchone()[0] == "ok"
        stored = {kind: Counter(row[0] for row in db.execute(query)) for kind, query in FOUND_BY.items()}
        open_ = {mark for mark, count in told.perhaps.items() if count}
        lost = [mark for mark in told.stands - open_ if stored[mark.kind][mark.what] == 0]
        found["lost"] = len(lost)
        found["twice"] = sum(stored[mark.kind][mark.what] > 1 for mark in told.stands)
        found["there"] = sum(stored[mark.kind][mark.what] > 0 for mark in told.gone - open_)
        halved = halves(db)
        found["half"] = len(halved)
    for line in (*halved[:20], *lost[:20]):
        print(line)
    return found


def chaos(kills: int, seed: int = 14) -> Counter[str]:
    """Kill the server that often in the middle of its work; what is then missing, double or half."""
    drawn, told = random.Random(seed), Told()
    for path in VAR.glob(f"{NAME}*"):
        path.unlink()
    demo_world(VAR / NAME)
    for killed in range(kills):
        server, stop = serve(), threading.Event()
        crowd = killed % 4 > 0
        kinds = [kind for kind in FIRST if kind != "run"] if crowd else FIRST  # a run takes its time to be planned
        clients = [
            threading.Thread(target=client, args=(told, stop, seed * 1000 + killed * 50 + n, kinds))
            for n in range(CLIENTS if crowd else CLIENTS // 8)
        ]
        for one in clients:
            one.start()
        time.sleep(drawn.uniform(0.2, 1.5) if crowd else drawn.uniform(3, 8))
        kill(server)
        stop.set()
        for one in clients:
            one.join()
    server = serve()
    tabs = [threading.Thread(target=empty_outbox, args=(told, list(told.waiting.items()))) for _ in range(2)]
    for tab in tabs:
        tab.start()
    for tab in tabs:
        tab.join()
    kill(server)
    found = counted(told)
    found["kills"] = kills
    found["faults"] = sum(count for status, count in told.statuses.items() if status >= 500)
    return found


WRONG = (("lost", "lost"), ("twice", "stored twice"), ("half", "by half"), ("there", "undone or removed but there"),
         ("faults", "answers of 5xx"))  # fmt: skip


def main() -> int:
    """Print the table; 1 where anything was lost, double, half, or a fault of the server."""
    found = chaos(int(sys.argv[1]) if len(sys.argv) > 1 else 200)
    print(f"{'kill -9':>24} {found['kills']:>8}")
    for name, words in (("acts", "acknowledged acts"), ("kinds", "of so many kinds"), ("corrected", "corrections"),
                        ("removed", "removals"), ("ended", "runs and trials ended"), ("undone", "undone"),
                        ("again", "acknowledged twice"), ("turned", "refused, then done"), ("open", "never answered"),
                        *WRONG):  # fmt: skip
        print(f"{words:>24} {found[name]:>8}{'   (goal 0)' if (name, words) in WRONG else ''}")
    Path(VAR / NAME).unlink(missing_ok=True)
    return int(any(found[name] for name, _ in WRONG))


if __name__ == "__main__":
    sys.exit(main())
