"""Sending readings by Darre's ingest address: what was not taken is sent again, each reading is stored once."""

from __future__ import annotations

import json
import threading
import urllib.error
import urllib.request
from collections import deque
from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import UTC, datetime
from itertools import islice

MOST_WAITING, MOST_AT_ONCE, EVERY_S = 20_000, 500, 1.0
AGAIN = (0, 429, 500, 503)
"""Not reached, too much at once, not now: sent again."""


def deliver(address: str, token: str, rows: list[dict[str, object]]) -> int:
    """Send readings; the HTTP status, or 0 where the app is not there."""
    body = json.dumps({"sent_at": datetime.now(UTC).isoformat(), "readings": rows}).encode()
    request = urllib.request.Request(
        f"{address}/api/ingest/", body, {"Authorization": f"Bearer {token}", "Content-Type": "application/json"}
    )
    try:
        with urllib.request.urlopen(request, timeout=5) as answer:
            return int(answer.status)
    except urllib.error.HTTPError as refused:
        return refused.code
    except (urllib.error.URLError, TimeoutError, ConnectionError):
        return 0


@dataclass
class Outbox:
    """What waits to be sent, by the device's token. Full, the oldest reading goes."""

    address: str
    waiting: dict[str, deque[dict[str, object]]] = field(default_factory=dict)
    unknown: set[str] = field(default_factory=set)
    """Tokens that Darre does not know any more."""
    lock: threading.Lock = field(default_factory=threading.Lock)

    def put(self, token: str, values: Mapping[str, float]) -> None:
        """A reading of a device, as it is now."""
        row: dict[str, object] = {"at": datetime.now(UTC).isoformat(), **values}
        with self.lock:
            self.waiting.setdefault(token, deque(maxlen=MOST_WAITING)).append(row)

    def send(self) -> int:
        """Send what waits, some of each device; how many readings were taken or set aside for good."""
        sent = 0
        with self.lock:
            batches = {t: list(islice(rows, MOST_AT_ONCE)) for t, rows in self.waiting.items() if rows}
        for token, rows in batches.items():
            status = deliver(self.address, token, rows)
            if status in AGAIN:
                continue
            if status == 401:
                self.unknown.add(token)
            done = {id(row) for row in rows}
            with self.lock:  # a full outbox may have let some go meanwhile
                left = (row for row in self.waiting[token] if id(row) not in done)
                self.waiting[token] = deque(left, maxlen=MOST_WAITING)
            sent += len(rows)
        return sent

    def keep_sending(self, stop: threading.Event) -> None:
        """Until told to stop, and once more then."""
        while not stop.wait(EVERY_S):
            self.send()
        self.send()
