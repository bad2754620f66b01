"""A backup is one zip file: the database as SQLite's own online backup gives it, the photos, and a manifest that names
every file with its size and digest, the format, and the migrations that the database has had.

Nothing of it is trusted before it was looked at: names, sizes, digests, the database itself, and whether this version
knows all of its migrations.
"""

import hashlib
import json
import os
import re
import sqlite3
import tempfile
import zipfile
from contextlib import closing
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path
from typing import Any, BinaryIO

from darre.common.database_file import UnusableError, unknown_migrations

FORMAT = 1
MANIFEST, DATABASE = "manifest.json", "darre.sqlite3"
NAME = "darre-{:%Y%m%d-%H%M%S}.zip"
PHOTO_NAME = re.compile(r"photos/[0-9a-f]{40}(_small)?\.jpg")
MOST_FILES, MOST_BYTES = 200_000, 200 * 2**30
MANIFEST_BYTES = 64 * 2**20
PIECE = 2**20


@dataclass(frozen=True)
class Manifest:
    """What is in a backup: when it was made, the sizes and digests of its files, and the database's migrations."""

    made_at: datetime
    files: dict[str, tuple[int, str]]
    migrations: list[str]


def make_backup(database: Path, photos: Path, folder: Path, now: datetime) -> Path:
    """Write a backup of a database, which may be in use, and of the photos. It is whole and on the disk, or not there.

    Raises UnusableError where the database is damaged, OSError where the disk is full.
    """
    folder.mkdir(parents=True, exist_ok=True, mode=0o700)
    with tempfile.TemporaryDirectory(dir=folder) as made:
        copy = Path(made) / DATABASE
        migrations = _copied(database, copy)
        files = {DATABASE: copy} | {f"photos/{path.name}": path for path in sorted(photos.glob("*.jpg"))}
        part = Path(made) / "backup.part"
        with zipfile.ZipFile(part, "w", allowZip64=True) as archive:
            told = {name: _added(archive, name, path) for name, path in files.items()}
            manifest = {
                "format": FORMAT,
                "made_at": now.astimezone(UTC).isoformat(),
                "files": {name: {"bytes": size, "sha256": digest} for name, (size, digest) in told.items()},
                "migrations": [f"{app}.{name}" for app, name in migrations],
            }
            archive.writestr(MANIFEST, json.dumps(manifest), zipfile.ZIP_DEFLATED)
        part.chmod(0o600)
        _synced(part)
        target = folder / NAME.format(now)
        part.rename(target)
    return target


def _copied(database: Path, copy: Path) -> list[tuple[str, str]]:
    """Copy a database that may be written to meanwhile; its migrations."""
    with closing(sqlite3.connect(f"file:{database}?mode=ro", uri=True)) as source, closing(sqlite3.connect(copy)) as to:
        source.backup(to)
        found = to.execute("PRAGMA quick_check(1)").fetchone()[0]
        if found != "ok":
            raise UnusableError(f"{database.name} is damaged ({found}): no backup was made of it.")
        try:
            return _migrations(to)
        except sqlite3.DatabaseError:
            raise UnusableError(f"{database.name} is no database of Darre: no backup was made of it.") from None


def _migrations(db: sqlite3.Connection) -> list[tuple[str, str]]:
    return [(str(app), str(name)) for app, name in db.execute("SELECT app, name FROM django_migrations ORDER BY id")]


def _added(archive: zipfile.ZipFile, name: str, path: Path) -> tuple[int, str]:
    info = zipfile.ZipInfo(name)
    info.compress_type = zipfile.ZIP_DEFLATED if name == DATABASE else zipfile.ZIP_STORED  # photos are small already
    digest, size = hashlib.sha256(), 0
    with path.open("rb") as source, archive.open(info, "w", force_zip64=True) as target:
        while piece := source.read(PIECE):
            digest.update(piece)
            size += len(piece)
            target.write(piece)
    return size, digest.hexdigest()


def _synced(path: Path) -> None:
    with path.open("rb") as file:
        os.fsync(file.fileno())


def read_manifest(archive: zipfile.ZipFile) -> Manifest:
    """What a backup says of itself. Raises UnusableError where it is none, or says what cannot be."""
    try:
        info = archive.getinfo(MANIFEST)
        if info.file_size > MANIFEST_BYTES:
            raise ValueError("its list is too long")
        told: dict[str, Any] = json.loads(archive.read(MANIFEST))
        if told["format"] != FORMAT:
            raise UnusableError("This backup was made by a newer Darre. Update Darre, then put it back.")
        files = {str(name): (int(f["bytes"]), str(f["sha256"])) for name, f in told["files"].items()}
        found = Manifest(datetime.fromisoformat(told["made_at"]), files, [str(m) for m in told["migrations"]])
    except (KeyError, ValueError, TypeError, AttributeError, zipfile.BadZipFile) as error:
        raise UnusableError(f"This is no backup of Darre, or it is damaged ({error}).") from None
    _refuse_names(archive, found)
    return found


def _refuse_names(archive: zipfile.ZipFile, told: Manifest) -> None:
    """Only what the manifest names, under names that a backup has, in the sizes that it says."""
    if len(told.files) > MOST_FILES or sum(size for size, _ in told.files.values()) > MOST_BYTES:
        raise UnusableError("This backup says that it holds more than any workshop has. It was not touched.")
    names = [info.filename for info in archive.infolist() if info.filename != MANIFEST]
    strange = [name for name in names if name != DATABASE and not PHOTO_NAME.fullmatch(name)]
    if strange or DATABASE not in names or sorted(names) != sorted(told.files):
        what = strange[0][:60] if strange else "its files are not those of its list"
        raise UnusableError(f"This is no backup of Darre, or it is damaged ({what}).")


def unpacked(archive: zipfile.ZipFile, told: Manifest, into: Path) -> None:
    """Write a backup's files into a folder, each looked at by size and digest, and the database as a whole.

    Raises UnusableError where anything is not as the manifest says, or a newer version made it.
    """
    (into / "photos").mkdir(parents=True, exist_ok=True)
    for name, (size, digest) in told.files.items():
        with archive.open(name) as source, (into / name).open("wb") as target:
            if _piped(source, target, size) != digest:
                raise UnusableError(f"This backup is damaged: {name} is not what it was. Nothing was changed.")
    with closing(sqlite3.connect(f"file:{into / DATABASE}?mode=ro", uri=True)) as db:
        try:
            found, migrations = db.execute("PRAGMA quick_check(1)").fetchone()[0], _migrations(db)
        except sqlite3.DatabaseError as error:
            found, migrations = str(error), []
    if found != "ok":
        raise UnusableError(f"This backup's database is damaged ({found}). Nothing was changed.")
    unknown = unknown_migrations(migrations)
    if unknown:
        raise UnusableError(
            f"This backup was made by a newer Darre (it knows {unknown[0]}). Update Darre, then put it back. "
            "Nothing was changed."
        )


def _piped(source: Any, target: BinaryIO, size: int) -> str:
    """Copy no more than `size` bytes; the digest of what came, empty where it was more or less."""
    digest, left = hashlib.sha256(), size
    while piece := source.read(min(PIECE, left + 1)):
        left -= len(piece)
        if left < 0:
            return ""
        digest.update(piece)
        target.write(piece)
    target.flush()
    os.fsync(target.fileno())
    return digest.hexdigest() if left == 0 else ""
