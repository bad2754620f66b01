"""A backup that is to be put back from the page: looked at now, and put in place when the server begins anew, as nobody
works with the database then.
"""

import shutil
import zipfile
from datetime import datetime
from pathlib import Path
from tempfile import TemporaryDirectory

from darre.backup.archive import read_manifest, unpacked
from darre.backup.keeping import restore
from darre.common.database_file import UnusableError


def staged_file(database: Path) -> Path:
    """Where a backup waits for the next start."""
    return database.with_name(f"{database.name}.restore.zip")


def stage(source: Path, database: Path) -> None:
    """Look at a backup as closely as putting it back does, and have it wait for the next start.

    Raises UnusableError where it is none, damaged, or of a newer version, OSError where the disk is full: then nothing
    waits.
    """
    try:
        with zipfile.ZipFile(source) as archive, TemporaryDirectory(dir=database.parent) as made:
            unpacked(archive, read_manifest(archive), Path(made))
    except (zipfile.BadZipFile, EOFError) as error:
        raise UnusableError(f"This is no backup of Darre, or it is damaged ({error}).") from None
    part = database.with_name(f"{database.name}.restore.part")
    shutil.copyfile(source, part)
    part.chmod(0o600)
    part.replace(staged_file(database))


def put_back_staged(database: Path, now: datetime) -> Path | None:
    """Put a backup that waits in place; where the old database is kept, None where nothing waited. One that turned out
    not to be usable is let go, and the database stays as it is: then it raises UnusableError.
    """
    file = staged_file(database)
    if not file.exists():
        return None
    try:
        return restore(file, database, now)
    finally:
        file.unlink(missing_ok=True)
