"""Backups in their folder: which there are, which stay, and putting one back."""

import os
import shutil
import sqlite3
import zipfile
from collections.abc import Iterable
from contextlib import closing, suppress
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from pathlib import Path
from tempfile import TemporaryDirectory

from django.conf import settings

from darre.backup.archive import DATABASE, make_backup, read_manifest, unpacked
from darre.common.database_file import UnusableError

DAYS, WEEKS, MONTHS = 7, 5, 12
STAMP = "darre-%Y%m%d-%H%M%S.zip"
EVERY = timedelta(hours=24)


@dataclass(frozen=True)
class Backup:
    """A backup in the folder."""

    file: Path
    made_at: datetime
    size_bytes: int


def database_file() -> Path:
    """The database that is in use."""
    return Path(str(settings.DATABASES["default"]["NAME"]))


def folder_of(database: Path) -> Path:
    """Where the backups of a database are: beside it, under its name."""
    return database.parent / "backups" / database.stem


def backups(database: Path) -> list[Backup]:
    """Those there are, the newest first. Files of other names are none."""
    found = []
    for file in folder_of(database).glob("darre-*.zip"):
        try:
            made_at = datetime.strptime(file.name, STAMP).replace(tzinfo=UTC)
        except ValueError:
            continue
        found.append(Backup(file, made_at, file.stat().st_size))
    return sorted(found, key=lambda backup: backup.made_at, reverse=True)


def which_stay(made: Iterable[datetime]) -> set[datetime]:
    """The newest of each of the last seven days that have one, of the last five weeks and of the last twelve months."""
    newest_first = sorted(made, reverse=True)
    stay: set[datetime] = set(newest_first[:1])
    for most, period in ((DAYS, _day), (WEEKS, _week), (MONTHS, _month)):
        seen: dict[object, datetime] = {}
        for at in newest_first:
            seen.setdefault(period(at), at)
        stay.update(list(seen.values())[:most])
    return stay


def _day(at: datetime) -> object:
    return at.date()


def _week(at: datetime) -> object:
    return at.isocalendar()[:2]


def _month(at: datetime) -> object:
    return (at.year, at.month)


def back_up(database: Path, now: datetime) -> Backup:
    """Make a backup now, and let those go that the rule does not keep."""
    folder = folder_of(database)
    try:
        file = make_backup(database, Path(settings.PHOTO_DIR), folder, now.astimezone(UTC))
    except (UnusableError, OSError):
        if folder.is_dir() and not any(folder.iterdir()):
            folder.rmdir()
        raise
    there = backups(database)
    stay = which_stay(backup.made_at for backup in there)
    for backup in there:
        if backup.made_at not in stay and backup.file != file:
            backup.file.unlink(missing_ok=True)
    return next(backup for backup in backups(database) if backup.file == file)


def is_due(database: Path, now: datetime) -> bool:
    """Whether a day has gone by since the last one."""
    there = backups(database)
    return database.exists() and (not there or now - there[0].made_at >= EVERY)


def restore(file: Path, database: Path, now: datetime) -> Path | None:
    """Put a backup in the place of a database that nobody works with; where the old one is kept, None where there was
    none. Photos are added to those that are there. At every moment one of the two stands there whole: the new one takes
    the place of the old in one step.

    Raises UnusableError where it is no backup, damaged, or of a newer version: then nothing was changed.
    """
    photos = Path(settings.PHOTO_DIR)
    database.parent.mkdir(parents=True, exist_ok=True)
    try:
        with zipfile.ZipFile(file) as archive, TemporaryDirectory(dir=database.parent) as made:
            unpacked(archive, read_manifest(archive), Path(made))
            _sign_out_everyone(Path(made) / DATABASE)
            photos.mkdir(parents=True, exist_ok=True)
            for photo in (Path(made) / "photos").iterdir():
                photo.replace(photos / photo.name)
            kept = _kept_beside(database, now)
            (Path(made) / DATABASE).replace(database)
    except (zipfile.BadZipFile, EOFError) as error:
        raise UnusableError(f"{file.name} is no backup of Darre, or it is damaged ({error}).") from None
    except FileNotFoundError:
        raise UnusableError(f"There is no file {file}.") from None
    except OSError as error:
        raise UnusableError(f"{file.name} was not put back: {error.strerror or error}.") from None
    return kept


def _sign_out_everyone(database: Path) -> None:
    """A session that was ended after the backup was made is not to live again."""
    with closing(sqlite3.connect(database)) as db:
        if db.execute("SELECT 1 FROM sqlite_master WHERE name = 'django_session'").fetchone():
            db.execute("DELETE FROM django_session")
            db.commit()


def _kept_beside(database: Path, now: datetime) -> Path | None:
    """The database once more, under another name; None where there is none. Its write-ahead log is gone from beside it
    then, as what takes its place must not be read with that.
    """
    if not database.exists() or database.stat().st_size == 0:  # nothing was ever in it
        return None
    with suppress(sqlite3.DatabaseError), closing(sqlite3.connect(database)) as db:  # a damaged one is kept as it is
        db.execute("PRAGMA wal_checkpoint(TRUNCATE)")
    kept = database.with_name(f"kept-{database.stem}-{now:%Y%m%d-%H%M%S}.sqlite3")
    for suffix in ("", "-wal", "-shm"):
        part = database.with_name(database.name + suffix)
        if part.exists():
            _same_file(part, kept.with_name(kept.name + suffix))
    for suffix in ("-wal", "-shm"):
        database.with_name(database.name + suffix).unlink(missing_ok=True)
    return kept


def _same_file(file: Path, other: Path) -> None:
    other.unlink(missing_ok=True)
    try:
        os.link(file, other)
    except OSError:  # a disk that knows no second names
        shutil.copyfile(file, other)
