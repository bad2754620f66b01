"""Measure the address for readings: four devices at 200 readings a second beside an open page, and kill -9."""

from __future__ import annotations

import json
import os
import signal
import sqlite3
import threading
import time
import urllib.error
import urllib.request
from dataclasses import dataclass, field
from datetime import UTC, datetime, timedelta
from pathlib import Path

import numpy as np

from tools.house import free_port, server, wait_until_up
from tools.install import VAR

PORT, NAME = 8653, "demo-bench-ingest.sqlite3"
ADDRESS = f"http://127.0.0.1:{PORT}"
DEVICES, DELIVERIES_PER_S, READINGS, SECONDS, KILL_AFTER_S = 4, 5, 10, 60, 5
PAGE = ("/api/lanes/", "/api/runs/3/air/", "/api/room/", "/api/runs/?running=true")


def set_up() -> list[str]:
    """A fresh demo world with four loggers in it; their tokens."""
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
    from darre.equipment.models import Dryer

    call_command("demo_world", verbosity=0)
    tokens = [add_device(f"Bench {n}", DeviceKind.LOGGER, Dryer.objects.first())[1] for n in range(DEVICES)]
    connections.close_all()
    return tokens


@dataclass
class Sender:
    """One device: sends at its rate until told to stop, and counts what was acknowledged."""

    token: str
    acknowledged: int = 0
    failed: int = 0
    took_ms: list[float] = field(default_factory=list)

    def run(self, begin: datetime, seconds: float, stop: threading.Event) -> None:
        start = time.monotonic()
        for turn in range(int(seconds * DELIVERIES_PER_S)):
            wait = start + turn / DELIVERIES_PER_S - time.monotonic()
            if stop.wait(max(wait, 0.0)):
                return
            at = begin + timedelta(seconds=turn / DELIVERIES_PER_S)
            rows = [
                {"at": (at + timedelta(milliseconds=20 * n)).isoformat(), "temp_c": 60.0, "rh_pct": 9.5}
                for n in range(READINGS)
            ]
            self.deliver(json.dumps({"readings": rows}).encode())

    def deliver(self, body: bytes) -> None:
        headers = {"Authorization": f"Bearer {self.token}", "Content-Type": "application/json"}
        asked = time.perf_counter()
        try:
            with urllib.request.urlopen(
                urllib.request.Request(f"{ADDRESS}/api/ingest/", body, headers), timeout=10
            ) as answer:
                self.acknowledged += int(json.load(answer)["stored"])
        except (OSError, ValueError):
            self.failed += 1
            return
        self.took_ms.append(1000.0 * (time.perf_counter() - asked))


def page_asks(stop: threading.Event, took_ms: list[float]) -> None:
    """What an open page asks for, twice a second."""
    turn = 0
    while not stop.wait(0.5):
        asked = time.perf_counter()
        with urllib.request.urlopen(ADDRESS + PAGE[turn % len(PAGE)], timeout=10) as answer:
            answer.read()
        took_ms.append(1000.0 * (time.perf_counter() - asked))
        turn += 1


def stored(path: Path) -> int:
    with sqlite3.connect(path) as database:
        found = database.execute(
            "SELECT count(*) FROM devices_sample JOIN devices_device d ON d.id = device_id WHERE d.name LIKE 'Bench _'"
        )
        return int(found.fetchone()[0])


def send_all(senders: list[Sender], begin: datetime, seconds: float, stop: threading.Event) -> list[threading.Thread]:
    threads = [threading.Thread(target=sender.run, args=(begin, seconds, stop)) for sender in senders]
    for thread in threads:
        thread.start()
    return threads


def told(times: list[float]) -> str:
    middle, late = np.percentile(times, (50, 95))
    return f"median {middle:.0f} ms, p95 {late:.0f} ms, worst {max(times):.0f} ms ({len(times)})"


def main() -> None:
    senders = [Sender(token) for token in set_up()]
    free_port(PORT)
    process = server(NAME, PORT, demo=False, started=time.time())
    try:
        wait_until_up(process, ADDRESS)
        stop, page_ms = threading.Event(), list[float]()
        page = threading.Thread(target=page_asks, args=(stop, page_ms))
        page.start()
        began = datetime.now(UTC) - timedelta(hours=2)
        for thread in send_all(senders, began, SECONDS, stop):
            thread.join()
        stop.set()
        page.join()
        sent = DEVICES * SECONDS * DELIVERIES_PER_S * READINGS
        counted = sum(sender.acknowledged for sender in senders)
        print(f"\nIngest: {DEVICES} devices, {sent} readings in {SECONDS} s beside an open page")
        print(f"  acknowledged {counted}, on the disk {stored(VAR / NAME)}, refused or lost {sent - counted}")
        print(f"  a delivery of {READINGS}: {told([t for sender in senders for t in sender.took_ms])}")
        print(f"  the page's requests meanwhile: {told(page_ms)}")

        stop = threading.Event()
        threads = send_all(senders, began + timedelta(hours=1), SECONDS, stop)
        time.sleep(KILL_AFTER_S)
        children = Path(f"/proc/{process.pid}/task/{process.pid}/children").read_text().split()
        for pid in (*map(int, children), process.pid):  # whoever answers, and who started it
            os.kill(pid, signal.SIGKILL)
        stop.set()
        for thread in threads:
            thread.join()
        counted, kept = sum(sender.acknowledged for sender in senders), stored(VAR / NAME)
        print(
            f"  kill -9 after {KILL_AFTER_S} s more: acknowledged {counted}, on the disk {kept}, "
            f"lost {max(counted - kept, 0)}"
        )
    finally:
        process.kill()
        process.wait()


if __name__ == "__main__":
    main()
