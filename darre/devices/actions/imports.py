"""Taking a logger's file in: shown first, then stored once under the device's own times or as the room's air."""

import time
from dataclasses import dataclass
from datetime import timedelta
from zoneinfo import ZoneInfo

from django.db import transaction
from django.utils import timezone

from darre.common.errors import Refusal
from darre.devices.actions.ingest import BOUNDS, room_readings
from darre.devices.logger_file import BadRow, Layout, Row, decoded, guess, read, with_heads
from darre.devices.models import Device, Sample
from darre.history.recorder import history_entry

OLDEST = timedelta(days=3 * 365)
AHEAD = timedelta(minutes=1)


@dataclass(frozen=True)
class Looked:
    """What a file would give: how it is read, the rows that can be stored, and those set aside."""

    encoding: str
    layout: Layout
    rows: list[Row]
    bad: list[BadRow]


def look_into(content: bytes, zone: str, layout: Layout | None = None) -> Looked:
    """Read a file by a layout, or by the one it seems to have. Stores nothing. Raises Refusal."""
    text, encoding = decoded(content)
    layout = with_heads(text, layout) if layout else guess(text, zone)
    rows, bad = read(text, layout, BOUNDS)
    now = timezone.now()
    early, late = now - OLDEST, now + AHEAD
    zone_of_file = ZoneInfo(layout.zone)
    told = [
        BadRow(r.line, f"{r.at.astimezone(zone_of_file):%Y-%m-%d %H:%M} lies in the future")
        for r in rows
        if r.at > late
    ]
    told += [BadRow(r.line, f"{r.at:%Y-%m-%d} is older than three years") for r in rows if r.at < early]
    kept = [r for r in rows if early <= r.at <= late]
    return Looked(encoding, layout, kept, sorted([*bad, *told], key=lambda b: b.line))


@dataclass(frozen=True)
class Imported:
    """How many rows were stored, how many were there already, and the history entry that undoes the import."""

    stored: int
    known: int
    undo: int


@transaction.atomic
def import_rows(device: Device, name: str, looked: Looked) -> Imported:
    """Store the rows of a file as a device's readings; those of its times that are there already stay as they are."""
    if not looked.rows:
        raise Refusal("nothing_to_store", "No row of this file can be stored; see what is said of each.", "file", 400)
    device.refresh_from_db()  # the same file may be sent twice at once
    before = Sample.objects.filter(device=device).count()
    samples, key = [], time.time_ns()
    for row in looked.rows:
        own = round(row.at.timestamp() * 1000)
        samples.append(Sample(device=device, own_ms=own, at_ms=own, import_key=key, **row.values))
    with history_entry(
        "device.file_imported", f"Imported {len(samples)} rows of {name[:60]} for {device.name}"
    ) as entry:
        entry.create_rows(samples, key)
        entry.create_rows(room_readings(device, samples), key)
        entry.update(device, last_seen=max([looked.rows[-1].at, *([device.last_seen] if device.last_seen else [])]))
    stored = Sample.objects.filter(device=device).count() - before
    undo = entry.done().undo
    assert undo is not None
    return Imported(stored, len(samples) - stored, undo)
