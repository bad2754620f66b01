"""The database as a file: one server at a time, and what is wrong with it in a sentence before anything is touched."""

import fcntl
import os
import sqlite3
from collections.abc import Iterable
from contextlib import closing
from pathlib import Path

from django.db import DatabaseError, connection
from django.db.migrations.loader import MigrationLoader


class UnusableError(Exception):
    """This database cannot be worked with; the message says why and what to do."""


def lock(file: Path) -> int:
    """Take the database for this process, as long as it lives. Returns the lock's handle, which must stay open.

    Raises UnusableError where another server works with it.
    """
    handle = os.open(file.with_name(f"{file.name}.lock"), os.O_RDWR | os.O_CREAT, 0o600)
    try:
        fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError:
        os.close(handle)
        raise UnusableError(
            f"Another Darre is working with {file.name}. Stop that one, or open another database: "
            "DARRE_DB=other.sqlite3"
        ) from None
    return handle


def refuse_damaged(file: Path) -> None:
    """Raise UnusableError for a file that is no database, or is damaged or cut short."""
    if not file.exists() or file.stat().st_size == 0:
        return
    try:
        with closing(sqlite3.connect(f"file:{file}?mode=ro", uri=True)) as db:
            found = db.execute("PRAGMA quick_check(1)").fetchone()[0]
    except sqlite3.DatabaseError as error:
        found = str(error)
    if found != "ok":
        raise UnusableError(
            f"{file.name} is damaged or no database ({found.splitlines()[-1]}). Put a copy from your backup in its "
            "place, or move it away to begin anew. Nothing was changed."
        )


def unknown_migrations(applied: Iterable[tuple[str, str]]) -> list[str]:
    """The names of those, of our apps, that this version does not know: a newer one made them."""
    known = MigrationLoader(None, ignore_no_migrations=True).disk_migrations
    ours = {app for app, _ in known}
    return sorted(name for app, name in applied if app in ours and (app, name) not in known)


def refuse_newer() -> None:
    """Raise UnusableError for a database that a newer version has changed."""
    unknown = unknown_migrations(MigrationLoader(connection).applied_migrations)
    if unknown:
        raise UnusableError(
            f"This database was last opened by a newer Darre (it knows {unknown[0]}). Update Darre, or open another "
            "database. Nothing was changed."
        )


def is_behind() -> bool:
    """Whether this database is of an earlier version and will be changed; an empty one is not."""
    loader = MigrationLoader(connection)
    return bool(loader.applied_migrations) and any(key not in loader.applied_migrations for key in loader.graph.nodes)


def refuse_read_only(file: Path) -> None:
    """Raise UnusableError where nothing can be written."""
    try:
        with connection.cursor() as cursor:
            cursor.execute("BEGIN IMMEDIATE")
            cursor.execute("ROLLBACK")
    except DatabaseError as error:
        raise UnusableError(f"{file.name} cannot be written ({error}). See who owns the file and its folder.") from None
