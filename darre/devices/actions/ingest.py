"""Taking readings in: each is stored once, what is wrong is set aside by name, the answer leaves after the commit.

Readings are a stream from devices, not acts of a person: they leave no line in the history.
"""

import json
import math
import threading
import time
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from datetime import UTC, datetime
from typing import Any

from django.db import transaction
from django.utils import timezone
from django.utils.dateparse import parse_datetime

from darre.common.errors import Refusal
from darre.common.tokens import hash_of
from darre.devices.models import Device, DeviceKind, Sample
from darre.places.models import Room, RoomReading

MOST_BYTES, MOST_READINGS, MOST_TOLD = 256 * 1024, 2000, 20
# °C, %, g, kWh: outside these no device of a workshop is right.
BOUNDS = {
    "temp_c": (-60.0, 300.0),
    "rh_pct": (0.0, 100.5),
    "mass_g": (-1000.0, 50000.0),
    "energy_kwh": (0.0, 1e7),
}
AHEAD_MS, JUMP_MS, OLDEST_MS = 60_000, 30_000, 3 * 365 * 86_400_000
BUCKET, REFILL_PER_S = 6000.0, 500.0
ROOM_EVERY_MS = 600_000


@dataclass
class Taken:
    """What became of a delivery: stored now, known from before, and what was refused (the first few told)."""

    stored: int = 0
    known: int = 0
    refused: int = 0
    told: list[dict[str, Any]] = field(default_factory=list)
    clock_off_s: float = 0.0

    def refuse(self, index: int, name: str, message: str) -> None:
        self.refused += 1
        if len(self.told) < MOST_TOLD:
            self.told.append({"index": index, "field": name, "message": message})


class _Buckets:
    """So many readings a second for each device, with a store for a burst. One server process: memory will do."""

    def __init__(self) -> None:
        self.lock = threading.Lock()
        self.level: dict[int, tuple[float, float]] = {}

    def take(self, device: int, count: int, now: float) -> float:
        """Take from a device's bucket; the seconds to wait where it does not hold so much, else 0."""
        with self.lock:
            level, since = self.level.get(device, (BUCKET, now))
            level = min(BUCKET, level + (now - since) * REFILL_PER_S)
            if count > level:
                self.level[device] = (level, now)
                return (count - level) / REFILL_PER_S
            self.level[device] = (level - count, now)
            return 0.0


buckets = _Buckets()


def device_of(token: str) -> Device:
    """The device that a token belongs to. Raises Refusal."""
    device = Device.objects.filter(token_hash=hash_of(token)).first() if token else None
    if device is None:
        raise Refusal("wrong_token", "No device has this token. Copy it anew from Kit.", status=401)
    return device


def parsed(empty_spool: bytes) -> tuple[list[Any], datetime | None]:
    """The readings of a delivery and when it was sent by the device's clock. Raises Refusal that says what to mend."""
    if len(empty_spool) > MOST_BYTES:
        raise Refusal("too_much", f"A delivery holds at most {MOST_BYTES} bytes: send fewer at a time.", status=413)
    try:
        asked = json.loads(empty_spool.decode("utf-8"), parse_constant=lambda name: name)
    except UnicodeDecodeError:
        raise Refusal("not_utf8", "The delivery is not UTF-8 text.", status=400) from None
    except (ValueError, RecursionError) as error:
        raise Refusal("not_json", f"The delivery is not whole JSON: {str(error)[:80]}.", status=400) from None
    rows = asked.get("readings") if isinstance(asked, Mapping) else None
    if not isinstance(rows, list):
        raise Refusal("no_readings", "Give an object with a list “readings”.", "readings", 400)
    if len(rows) > MOST_READINGS:
        raise Refusal("too_much", f"A delivery holds at most {MOST_READINGS} readings.", "readings", 413)
    sent = asked.get("sent_at")
    return rows, None if sent is None else _moment(sent)


def _moment(text: object) -> datetime:
    try:
        at = parse_datetime(text) if isinstance(text, str) else None
    except ValueError:
        at = None
    if at is None or timezone.is_naive(at):
        raise Refusal("not_a_moment", "Times need a date, a time and a zone offset.", "sent_at", 400)
    return at


def _ms(at: datetime) -> int:
    return round(at.timestamp() * 1000)


class _BadReading(Exception):  # noqa: N818  it is set aside, and told by its place
    def __init__(self, name: str, message: str) -> None:
        super().__init__(message)
        self.name = name


def _value(row: Mapping[str, Any], name: str) -> float | None:
    value = row.get(name)
    if value is None:
        return None
    if isinstance(value, bool) or not isinstance(value, int | float) or not math.isfinite(value):
        raise _BadReading(name, "is not a number")
    low, high = BOUNDS[name]
    if not low <= value <= high:
        raise _BadReading(name, f"lies outside {low:g} to {high:g}")
    return float(value)


def _sample(device: Device, row: object, now_ms: int) -> Sample:
    if not isinstance(row, Mapping):
        raise _BadReading("readings", "a reading is an object")
    try:
        own = _ms(_moment(row.get("at")))
    except Refusal as refused:
        raise _BadReading("at", refused.message) from None
    at = own + device.skew_ms
    if not now_ms - OLDEST_MS <= at <= now_ms + AHEAD_MS:
        raise _BadReading("at", "lies in the future" if at > now_ms else "is older than three years")
    values = {name: _value(row, name) for name in BOUNDS}
    if all(value is None for value in values.values()):
        raise _BadReading("readings", f"holds none of {', '.join(BOUNDS)}")
    return Sample(device=device, own_ms=own, at_ms=at, **values)


def _set_clock(device: Device, sent: datetime | None, now: datetime) -> None:
    """Follow a clock that is off. It is set once and again only after a jump, so that a reading sent twice lands on the
    same moment.
    """
    if sent is None:
        return
    skew = _ms(now) - _ms(sent)
    if abs(skew - device.skew_ms) > JUMP_MS:
        device.skew_ms = skew


def room_readings(device: Device, samples: Iterable[Sample]) -> list[RoomReading]:
    """What a logger that hangs in the room saw is the room's air, one reading in ten minutes."""
    room = Room.objects.first()
    if device.kind != DeviceKind.LOGGER or device.dryer_id or device.place_id or room is None:
        return []
    seen: dict[int, RoomReading] = {}
    for sample in samples:
        if sample.temp_c is None or sample.rh_pct is None or not -40.0 <= sample.temp_c <= 80.0:
            continue
        slot = sample.at_ms // ROOM_EVERY_MS * ROOM_EVERY_MS
        at = datetime.fromtimestamp(slot / 1000.0, UTC)
        rh_pct, key = device.true_rh_pct(sample.rh_pct), sample.import_key
        seen.setdefault(slot, RoomReading(room=room, at=at, temp_c=sample.temp_c, rh_pct=rh_pct, import_key=key))
    return list(seen.values())


def take_in(device: Device, empty_spool: bytes) -> Taken:
    """Store a delivery. Raises Refusal for one that cannot be read, is too large, or comes too fast."""
    rows, sent = parsed(empty_spool)
    wait = buckets.take(device.pk, max(len(rows), 1), time.monotonic())
    if wait > 0.0:
        seconds = math.ceil(wait)
        raise Refusal(
            "too_fast", f"Too many readings at once: wait {seconds} s.", status=429, extra={"retry_after_s": seconds}
        )
    now, taken = timezone.now(), Taken()
    _set_clock(device, sent, now)
    taken.clock_off_s = device.skew_ms / 1000.0
    fresh: dict[int, Sample] = {}
    for index, row in enumerate(rows):
        try:
            sample = _sample(device, row, _ms(now))
        except _BadReading as bad:
            taken.refuse(index, bad.name, str(bad))
        else:
            fresh[sample.own_ms] = sample
    with transaction.atomic():
        known = set(device.samples.filter(own_ms__in=list(fresh)).values_list("own_ms", flat=True))
        new = [sample for own, sample in fresh.items() if own not in known]
        Sample.objects.bulk_create(new)
        RoomReading.objects.bulk_create(room_readings(device, new), ignore_conflicts=True, batch_size=500)
        device.last_seen = now
        device.save(update_fields=["last_seen", "skew_ms"])
    taken.stored = len(new)
    taken.known = len(rows) - taken.refused - taken.stored
    return taken
