"""The demo world for tests, with the numbers that it has in a new database."""

import time
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path
from typing import Any

from django.conf import settings
from django.db import connection, transaction

from darre.demo.load import load_demo_world as load

FRESH_S = 45.0  # the world's times hang on now; so much older it may be


@dataclass(frozen=True)
class Snapshot:
    """All rows and photos of a world that was just loaded."""

    taken_at: float
    tables: dict[str, list[tuple[Any, ...]]]
    photos: dict[Path, bytes]


class Shelf:
    """The last snapshot, where it is fresh enough. Loading the world anew takes seconds, putting it back a moment."""

    def __init__(self) -> None:
        self.snapshot: Snapshot | None = None

    def fresh(self) -> Snapshot | None:
        kept = self.snapshot
        return kept if kept and time.monotonic() - kept.taken_at < FRESH_S else None


SHELF = Shelf()


def load_demo_world(now: datetime | None = None) -> None:
    """Load it into an empty database as if nothing had ever been in it: spools, runs and dryers count from one."""
    if now is None and (snapshot := SHELF.fresh()):
        _put_back(snapshot)
        return
    with connection.cursor() as cursor:
        cursor.execute("DELETE FROM sqlite_sequence")
    load(now)
    if now is None:
        SHELF.snapshot = _taken()


def _tables() -> Iterator[str]:
    yield from (name for name in connection.introspection.table_names() if name != "django_migrations")
    yield "sqlite_sequence"


def _photos() -> Path:
    return Path(settings.PHOTO_DIR)


def _taken() -> Snapshot:
    with connection.cursor() as cursor:
        tables = {}
        for name in _tables():
            cursor.execute(f'SELECT * FROM "{name}"')
            tables[name] = cursor.fetchall()
    photos = {path.relative_to(_photos()): path.read_bytes() for path in _photos().rglob("*") if path.is_file()}
    return Snapshot(time.monotonic(), tables, photos)


def _put_back(snapshot: Snapshot) -> None:
    """Every row and photo as it was; foreign keys are looked at once all rows are there."""
    with transaction.atomic(), connection.cursor() as cursor:
        cursor.execute("PRAGMA defer_foreign_keys = ON")
        for name, rows in snapshot.tables.items():
            cursor.execute(f'DELETE FROM "{name}"')
            if rows:
                marks = ", ".join(["%s"] * len(rows[0]))
                cursor.executemany(f'INSERT INTO "{name}" VALUES ({marks})', rows)
    for path, content in snapshot.photos.items():
        target = _photos() / path
        target.parent.mkdir(parents=True, exist_ok=True)
        target.write_bytes(content)
