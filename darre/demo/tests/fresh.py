"""The demo world for tests, with the numbers that it has in a new database."""

import time
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import datetime, timedelta
from functools import cache
from pathlib import Path
from typing import Any

from django.apps import apps
from django.conf import settings
from django.db import connection, transaction
from django.db.models import DateTimeField

from darre.demo.load import load_demo_world as load

FRESH_S = 40.0  # the world's times hang on now; so much older it may be


@dataclass(frozen=True)
class Snapshot:
    """All rows and photos of a world that was just loaded."""

    taken_at: float
    tables: dict[str, list[tuple[Any, ...]]]
    photos: dict[Path, bytes]


class Shelf:
    """The last snapshot. Loading the world anew takes seconds, moving its times on and putting it back a moment."""

    def __init__(self) -> None:
        self.snapshot: Snapshot | None = None

    def fresh(self) -> Snapshot | None:
        """The snapshot as if it had been loaded within the last moments: what was computed of it holds as long."""
        kept = self.snapshot
        if kept is not None and time.monotonic() - kept.taken_at > FRESH_S:
            gone = timedelta(seconds=time.monotonic() - kept.taken_at)
            moved = {name: _shifted(name, rows, gone) for name, rows in kept.tables.items()}
            self.snapshot = Snapshot(time.monotonic(), moved, kept.photos)
        return self.snapshot


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


@cache
def _columns_of_time() -> dict[str, dict[str, bool]]:
    """The columns of each table that hold a moment: as text (False) or in ms since 1970 (True)."""
    found: dict[str, dict[str, bool]] = {}
    for model in apps.get_models():
        for field in model._meta.concrete_fields:
            column = str(field.column)
            if isinstance(field, DateTimeField) or column.endswith("_ms"):
                found.setdefault(model._meta.db_table, {})[column] = not isinstance(field, DateTimeField)
    return found


def _later(value: Any, gone: timedelta, *, in_ms: bool) -> Any:
    if value is None:
        return None
    if in_ms:
        return value + round(gone.total_seconds() * 1000)
    return str(datetime.fromisoformat(value) + gone) if isinstance(value, str) else value + gone


def _shifted(name: str, rows: list[tuple[Any, ...]], gone: timedelta) -> list[tuple[Any, ...]]:
    """Rows as if the world had been loaded now: the world's times hang on the moment of loading."""
    with connection.cursor() as cursor:
        cursor.execute(f'PRAGMA table_info("{name}")')
        columns = [row[1] for row in cursor.fetchall()]
    at = {columns.index(column): in_ms for column, in_ms in _columns_of_time().get(name, {}).items()}
    if not at:
        return rows
    return [tuple(_later(v, gone, in_ms=at[n]) if n in at else v for n, v in enumerate(row)) for row in rows]


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
