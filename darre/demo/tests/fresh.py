"""The demo world for tests, with the numbers that it has in a new database, at the moment of its loading."""

import sqlite3
import time
from collections.abc import Iterator
from contextlib import closing, contextmanager
from dataclasses import dataclass
from datetime import datetime, timedelta, tzinfo
from pathlib import Path
from typing import Any
from unittest import TestCase, mock

from django.conf import settings
from django.db import connection, transaction
from django.db.migrations.loader import MigrationLoader
from django.db.migrations.recorder import MigrationRecorder
from django.test import TransactionTestCase
from django.utils import timezone

from darre.demo.load import load_demo_world as load


@dataclass(frozen=True)
class Snapshot:
    """All rows and photos of a world that was just loaded."""

    taken_at: float
    tables: dict[str, list[tuple[Any, ...]]]
    photos: dict[Path, bytes]


class Shelf:
    """The world as it was loaded first. Loading it anew takes seconds, putting it back a moment; and what was computed
    of it holds, as the clock is put back with it.
    """

    def __init__(self) -> None:
        self.snapshot: Snapshot | None = None
        self.lag = timedelta(0)


SHELF = Shelf()


class WorldClock(datetime):
    """Goes as the real one does, from the moment at which the world was loaded."""

    @classmethod
    def now(cls, tz: tzinfo | None = None) -> datetime:  # type: ignore[override]  # plain moments, as everywhere
        return datetime.now(tz) - SHELF.lag


def load_demo_world(case: TestCase | type[TestCase], now: datetime | None = None) -> None:
    """Have it alone in the database, as if nothing had ever been in it: spools, runs and dryers count from one. What a
    class or an earlier step of the test had stored is gone, whether the world is loaded or put back.

    Until the test (or, where a class is given, its tests) has ended, the app's clock goes on from when it was loaded.
    """
    clock = mock.patch.object(timezone, "datetime", WorldClock)
    if isinstance(case, type):
        case.enterClassContext(clock)
    else:
        case.enterContext(clock)
    SHELF.lag = timedelta(0)
    if now is None and SHELF.snapshot is not None:
        _put_back(SHELF.snapshot)
        SHELF.lag = timedelta(seconds=time.monotonic() - SHELF.snapshot.taken_at)
        return
    empty()
    load(now)
    if now is None:
        SHELF.snapshot = _taken()


class WorldInEveryTest(TransactionTestCase):
    """Loads the world before each test. As that is the whole database, it is emptied once, after the last: doing so
    after each took as long as loading.
    """

    def setUp(self) -> None:
        load_demo_world(self)

    def _fixture_teardown(self) -> None:
        """Leave it to the next test."""

    @classmethod
    def tearDownClass(cls) -> None:
        super().tearDownClass()
        empty()


def empty() -> None:
    """A workshop without records. Django's own way takes ten times as long, as it notes anew which models there are."""
    _put_back(_nothing())


@contextmanager
def world_at_hand() -> Iterator[None]:
    """Load the world ahead of the tests, and have it in the database for as long as this lasts: processes that part
    from this one afterwards put it back in a moment. The database is empty in the end.
    """
    with mock.patch.object(timezone, "datetime", WorldClock):
        load()
        SHELF.snapshot = _taken()
        yield
    empty()


def copy_database(file: Path) -> None:
    """The test's database, as it stands, as a file of its own: for a server or a command that is to find one."""
    connection.ensure_connection()
    recorder = MigrationRecorder(connection)
    if not recorder.applied_migrations():  # the tables of a test are made from the models
        for app, name in MigrationLoader(connection).disk_migrations:
            recorder.record_applied(app, name)
    with closing(sqlite3.connect(file)) as copy:
        connection.connection.backup(copy)


OF_MODELS = ("django_migrations", "django_content_type", "auth_permission")
"""Tables that say which models there are, and hold nothing of anyone's."""


def _tables() -> Iterator[str]:
    yield from (name for name in connection.introspection.table_names() if name not in OF_MODELS)
    yield "sqlite_sequence"


def _nothing() -> Snapshot:
    return Snapshot(0.0, {name: [] for name in _tables()}, {})


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
