"""Photos on the disk: made anew from what was sent, without place, device or time in them, under names of their own.

What is stored is never what came in: a photo is decoded, turned upright, brought to a size, and written as JPEG, so
that nothing hidden in a file is kept or given out again.
"""

import hashlib
import io
import os
import tempfile
import threading
import warnings
from dataclasses import dataclass
from pathlib import Path

from django.conf import settings
from PIL import Image, ImageOps, UnidentifiedImageError

from darre.common.errors import Refusal

FORMATS = ("JPEG", "PNG", "WEBP")
MOST_PIXELS = 50_000_000
LONG_SIDE, SMALL_SIDE = 2400, 480


@dataclass(frozen=True)
class StoredPhoto:
    """A photo in the store: its name there, and its size in pixels."""

    file: str
    width: int
    height: int


def photo_path(file: str, small: bool = False) -> Path:
    """Where a stored photo lies. `file` comes from the store alone."""
    folder: Path = settings.PHOTO_DIR
    return folder / f"{file}{'_small' if small else ''}.jpg"


def _opened(content: bytes) -> Image.Image:
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("error", Image.DecompressionBombWarning)
            photo = Image.open(io.BytesIO(content), formats=FORMATS)
    except UnidentifiedImageError:
        raise Refusal(
            "not_a_photo", "This is not a JPEG, PNG or WebP photo. Save it as one of these.", "file", 400
        ) from None
    except (Image.DecompressionBombError, Image.DecompressionBombWarning):
        raise _too_many_pixels() from None
    except Exception:
        raise _broken() from None
    if photo.width * photo.height > MOST_PIXELS:
        raise _too_many_pixels()
    return photo


def _too_many_pixels() -> Refusal:
    return Refusal(
        "too_many_pixels",
        f"Over {MOST_PIXELS // 10**6} million pixels are too many. Send a smaller photo.",
        "file",
        400,
    )


def _broken() -> Refusal:
    return Refusal("broken_photo", "This photo is damaged or broken off. Nothing was kept.", "file", 400)


LET_GO = threading.Lock()
"""Held while a file that is there is found again, and while one is swept."""
ONE_AT_A_TIME = threading.Lock()
"""A large photo takes hundreds of megabytes while it is decoded: several at once could take all there is."""


def store_photo(content: bytes) -> StoredPhoto:
    """Store a photo and its small picture, the same one once. Refused where it is none, damaged, or huge."""
    with ONE_AT_A_TIME:
        return _store(_opened(content))


def _store(photo: Image.Image) -> StoredPhoto:
    try:
        photo.draft("RGB", (LONG_SIDE, LONG_SIDE))  # a large JPEG is decoded small at once
        whole = photo if photo.mode in ("RGB", "RGBA", "L") else photo.convert("RGBA")
        whole.thumbnail((LONG_SIDE, LONG_SIDE))  # before anything else makes a copy of it
        with_alpha = ImageOps.exif_transpose(whole).convert("RGBA")
        plain = Image.new("RGB", with_alpha.size, "white")
        plain.paste(with_alpha, mask=with_alpha.getchannel("A"))
    except Exception:
        raise _broken() from None
    full = _jpeg(plain)
    small = plain.copy()
    small.thumbnail((SMALL_SIDE, SMALL_SIDE))
    file = hashlib.sha256(full).hexdigest()[:40]
    settings.PHOTO_DIR.mkdir(mode=0o700, parents=True, exist_ok=True)
    _write(photo_path(file), full)
    _write(photo_path(file, small=True), _jpeg(small))
    return StoredPhoto(file, plain.width, plain.height)


def take_over(file: str, content: bytes) -> None:
    """Store a photo that another workshop stored under this name, as it is, and a small picture of it. Refused where it
    is another than its name says, or none.
    """
    if hashlib.sha256(content).hexdigest()[:40] != file:
        raise _broken()
    with ONE_AT_A_TIME:
        photo = _opened(content)
        try:
            small = photo.convert("RGB")
        except Exception:
            raise _broken() from None
    small.thumbnail((SMALL_SIDE, SMALL_SIDE))
    settings.PHOTO_DIR.mkdir(mode=0o700, parents=True, exist_ok=True)
    _write(photo_path(file), content)
    _write(photo_path(file, small=True), _jpeg(small))


def _jpeg(photo: Image.Image) -> bytes:
    out = io.BytesIO()
    photo.save(out, "JPEG", quality=88, optimize=True)
    return out.getvalue()


def _write(path: Path, content: bytes) -> None:
    """Whole or not at all, and on the disk before any record names it: a reader never meets half a file, two who store
    the same photo at once do no harm, and one that a power cut left empty is written anew.
    """
    with LET_GO:
        if path.exists() and path.stat().st_size == len(content):
            os.utime(path)
            return
    with tempfile.NamedTemporaryFile(dir=path.parent, suffix=".part", delete=False) as part:
        part.write(content)
        part.flush()
        os.fsync(part.fileno())
    Path(part.name).replace(path)
    folder = os.open(path.parent, os.O_RDONLY)
    try:
        os.fsync(folder)
    finally:
        os.close(folder)
