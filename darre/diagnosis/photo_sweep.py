"""Photos that no record names any more are swept, once undoing their removal is long out of mind."""

from datetime import datetime, timedelta
from pathlib import Path

from django.conf import settings

from darre.diagnosis.models import Photo
from darre.diagnosis.photo_store import LET_GO, photo_path
from darre.history.models import HistoryEntry

KEPT_DAYS = 90
"""How long a photo stays after its last record went. Undone after that, the record comes back without its picture."""


def sweep_photos(now: datetime) -> int:
    """Let the photos go that nothing has named for so long; how many. Backups made before still hold them."""
    since = now - timedelta(days=KEPT_DAYS)
    folder: Path = settings.PHOTO_DIR
    stored = {path.stem.removesuffix("_small") for path in folder.glob("*.jpg") if _is_older(path, since)}
    for half in folder.glob("*.part"):  # what a power cut left of one that was being stored
        if _is_older(half, since):
            half.unlink(missing_ok=True)
    swept = 0
    for file in sorted(stored - set(Photo.objects.values_list("file", flat=True))):
        if not HistoryEntry.objects.filter(at__gte=since, changes__icontains=file).exists():
            swept += _let_go(file, since)
    return swept


def _is_older(path: Path, since: datetime) -> bool:
    return path.stat().st_mtime < since.timestamp()


def _let_go(file: str, since: datetime) -> bool:
    """Somebody may store the same photo again at this moment: what is stored is fresh, and stays."""
    with LET_GO:
        paths = [path for path in (photo_path(file), photo_path(file, small=True)) if path.exists()]
        old = all(_is_older(path, since) for path in paths)
        for path in paths if old else ():
            path.unlink()
    return old
