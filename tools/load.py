"""Measure a full workshop in use: ten readers, four loggers and a move every ten seconds, 150 spools with a year behind
them. How long answers take, what fails, what is lost, and what memory it takes: `python -m tools.load SECONDS`.
"""

from __future__ import annotations

import itertools
import json
import os
import random
import sqlite3
import subprocess
import sys
import threading
import time
import urllib.error
import urllib.request
from collections import defaultdict
from collections.abc import Callable
from dataclasses import dataclass, field
from datetime import UTC, datetime
from pathlib import Path

import numpy as np

from tools.bench_ingest import ADDRESS, DELIVERIES_PER_S, DEVICES, PORT, READINGS, Sender
from tools.bench_rack import SPOOLS, fill
from tools.house import free_port, server, wait_until_up
from tools.install import VAR, say
from tools.measured import note

NAME = "bench-load.sqlite3"
HEADERS = {"Content-Type": "application/json", "Origin": ADDRESS, "Sec-Fetch-Site": "same-origin"}
READERS, MOVE_EVERY_S, PAUSE_S = 10, 10.0, 1.0
DISTURBED = 0.05  # of the processors, taken by the host: what is measured meanwhile says little about Darre
GOALS_MS = {"rack after a start": 1000, "rack": 500, "storage": 800, "spool page": 800, "move": 200, "delivery": 200}


@dataclass
class Seen:
    """What was asked and how it was answered."""

    took_ms: dict[str, list[float]] = field(default_factory=lambda: defaultdict(list))
    failed: list[str] = field(default_factory=list)
    lock: threading.Lock = field(default_factory=threading.Lock)

    def ask(self, what: str, path: str, body: object = None) -> None:
        """One request, timed."""
        data = None if body is None else json.dumps(body).encode()
        asked = urllib.request.Request(ADDRESS + path, data, HEADERS)
        start = time.perf_counter()
        try:
            with urllib.request.urlopen(asked, timeout=120) as answer:
                answer.read()
        except (urllib.error.URLError, OSError) as error:
            with self.lock:
                self.failed.append(f"{what}: {error}")
            return
        with self.lock:
            self.took_ms[what].append(1000.0 * (time.perf_counter() - start))


def set_up() -> list[str]:
    """The full workshop in a file of its own, with four loggers; their tokens."""
    for path in VAR.glob(f"{NAME}*"):
        path.unlink()
    os.environ["DARRE_DB"] = str(VAR / NAME)
    os.environ["DJANGO_SETTINGS_MODULE"] = "darre.settings"
    import django

    django.setup()
    from django.core.management import call_command
    from django.db import connections

    from darre.devices.actions.devices import add_device
    from darre.devices.models import DeviceKind
    from darre.equipment.actions.dryers import add_dryer
    from darre.equipment.models import Dryer

    call_command("migrate", verbosity=0)
    fill()
    dryer = add_dryer(Dryer(name="Box", kind="heated_box", min_c=35, max_c=70, slots=2), []).record
    tokens = [add_device(f"Load {n}", DeviceKind.LOGGER, dryer)[1] for n in range(DEVICES)]
    connections.close_all()
    return tokens


def read(seen: Seen, which: int, stop: threading.Event) -> None:
    """A person who looks around: the rack, storage, a spool, again and again with a breath between."""
    drawn = random.Random(which)
    for turn in itertools.count():
        spool = drawn.randint(1, SPOOLS)
        what, path = (
            ("rack", "/api/rack/?span=week"),
            ("storage", "/api/storage/"),
            ("spool page", f"/api/spools/{spool}/page/"),
        )[(turn + which) % 3]
        seen.ask(what, path)
        if stop.wait(PAUSE_S):
            return


def move(seen: Seen, stop: threading.Event) -> None:
    """Somebody who puts spools elsewhere."""
    drawn = random.Random(0)
    while not stop.wait(MOVE_EVERY_S):
        seen.ask("move", "/api/stays/", {"spools": [drawn.randint(1, SPOOLS)], "place": drawn.randint(1, 13)})


def memory_mb(pid: int) -> float:
    """What the server and its workers hold, MB; pages that several of them share count once."""
    kilobytes, family = 0.0, {pid}
    for folder in sorted(Path("/proc").glob("[0-9]*"), key=lambda path: int(path.name)):
        try:
            parent = int((folder / "stat").read_text().rsplit(")", 1)[1].split()[1])
            if int(folder.name) not in family and parent not in family:
                continue
            rollup = (folder / "smaps_rollup").read_text()
        except OSError:
            continue
        family.add(int(folder.name))
        kilobytes += float(next(line for line in rollup.splitlines() if line.startswith("Pss:")).split()[1])
    return kilobytes / 1024.0


def busy() -> tuple[float, float]:
    """Processor time of this machine so far, in ticks: all of it, and what the host took for others."""
    ticks = [float(word) for word in Path("/proc/stat").read_text().split("\n", 1)[0].split()[1:9]]
    return sum(ticks), ticks[7]


@dataclass
class Minutes:
    """What was answered in each half minute, and what share of the processors the host took for others."""

    took: Callable[[], dict[str, list[float]]]
    stolen: list[float] = field(default_factory=list)
    rows: list[dict[str, list[float]]] = field(default_factory=list)

    def __post_init__(self) -> None:
        self.before, self.counts = busy(), {what: len(every) for what, every in self.took().items()}

    def end_one(self) -> None:
        """A half minute is over."""
        now, took = busy(), self.took()
        self.stolen.append((now[1] - self.before[1]) / max(now[0] - self.before[0], 1.0))
        self.rows.append({what: every[self.counts.get(what, 0) :] for what, every in took.items()})
        self.before, self.counts = now, {what: len(every) for what, every in took.items()}

    def undisturbed(self) -> dict[str, list[float]]:
        """All that was answered while the host took less than a twentieth."""
        found: dict[str, list[float]] = defaultdict(list)
        for stolen, row in zip(self.stolen, self.rows, strict=True):
            if stolen < DISTURBED:
                for what, every in row.items():
                    found[what] += every
        return found


def stored() -> int:
    """How many readings of the loggers are in the database."""
    with sqlite3.connect(VAR / NAME) as db:
        return int(db.execute("SELECT COUNT(*) FROM devices_sample").fetchone()[0])


def main() -> None:
    seconds = float(sys.argv[1]) if len(sys.argv) > 1 else 600.0
    tokens = set_up()
    seen, stop, memory = Seen(), threading.Event(), []
    senders = [Sender(token) for token in tokens]
    process = started(seen, "rack, all computed")
    process.terminate()
    process.wait()
    process = started(seen, "rack after a start")
    try:
        begin = datetime.now(UTC)
        threads = [threading.Thread(target=read, args=(seen, n, stop)) for n in range(READERS)]
        threads.append(threading.Thread(target=move, args=(seen, stop)))
        threads += [threading.Thread(target=sender.run, args=(begin, seconds, stop)) for sender in senders]
        for thread in threads:
            thread.start()
        minutes = Minutes(lambda: all_took(seen, senders))
        for _ in range(int(seconds / 30.0)):
            time.sleep(30.0)
            memory.append(memory_mb(process.pid))
            minutes.end_one()
            stolen = f"{100 * minutes.stolen[-1]:.0f} % of the processors taken by the host"
            rest = f"{memory[-1]:.0f} MB, {len(seen.failed)} failed, {stolen}"
            say(f"{len(memory) / 2:.1f} min: p95 {p95s(minutes.rows[-1])}; {rest}")
        stop.set()
        for thread in threads:
            thread.join()
        found = stored()
    finally:
        process.terminate()
        process.wait()
    report(seen, senders, memory, found, seconds)
    quiet = sum(stolen < DISTURBED for stolen in minutes.stolen)
    print(f"in the {quiet} of {len(minutes.stolen)} half minutes undisturbed: p95 {p95s(minutes.undisturbed())}")


def p95s(took: dict[str, list[float]]) -> str:
    """The 95th percentile of every kind of answer, ms."""
    return ", ".join(f"{what} {np.percentile(every, 95):.0f} ms" for what, every in took.items() if every)


def all_took(seen: Seen, senders: list[Sender]) -> dict[str, list[float]]:
    """Milliseconds of every answer so far, by what was asked."""
    with seen.lock:
        took = {what: list(every) for what, every in seen.took_ms.items()}
    return took | {"delivery": [ms for sender in senders for ms in sender.took_ms]}


def started(seen: Seen, first: str) -> subprocess.Popen[bytes]:
    """The server, and how long its first rack page takes, asked for as soon as it is up."""
    free_port(PORT)
    process = server(NAME, PORT, demo=False, started=time.time())
    wait_until_up(process, ADDRESS)
    seen.ask(first, "/api/rack/?span=week")
    return process


def report(seen: Seen, senders: list[Sender], memory: list[float], found: int, seconds: float) -> None:
    """The table."""
    took = all_took(seen, senders)
    print(f"{'':>20}{'count':>8}{'p50':>9}{'p95':>9}{'most':>9}   goal p95, ms")
    for what, every in took.items():
        p50, p95 = np.percentile(every, [50, 95])
        print(f"{what:>20}{len(every):>8}{p50:>9.0f}{p95:>9.0f}{max(every):>9.0f}   {GOALS_MS.get(what, '')}")
        note(f"load: {what}, p95", p95, "ms", at_most=GOALS_MS.get(what))
    acknowledged = sum(sender.acknowledged for sender in senders)
    asked = int(seconds * DELIVERIES_PER_S) * DEVICES
    print(f"readings acknowledged {acknowledged} of {asked * READINGS}; on the disk {found}")
    print(f"failed: {len(seen.failed) + sum(sender.failed for sender in senders)} {seen.failed[:3]}")
    flat = memory[3:] or memory
    note("load: memory after the second minute, most", max(flat), "MB", at_most=500.0)
    note("load: readings acknowledged and not on the disk", acknowledged - found, "", at_most=0.0)
    print(f"memory: {min(flat):.0f} to {max(flat):.0f} MB after the second minute (goal: flat, under 500)")


if __name__ == "__main__":
    main()
