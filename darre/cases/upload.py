"""Files as they are sent: read in pieces, never held whole where they may be large, and named without harm."""

import re
import unicodedata
from collections.abc import Iterator

from django.http import HttpRequest

from darre.common.errors import Refusal
from drying.errors import OutOfRangeError
from drying.gcode import GcodeReader, ReadFile

PIECE = 256 * 1024
MOST_GCODE_BYTES, MOST_PHOTO_BYTES = 300_000_000, 20_000_000
_LONGEST_NAME = 120


def plain_name(name: str, otherwise: str) -> str:
    """A file's name to show: without folders, control characters and marks that turn the writing round. It is never
    used as a path.
    """
    last = re.split(r"[/\\]", unicodedata.normalize("NFC", name))[-1]
    kept = "".join(c for c in last if unicodedata.category(c)[0] != "C").strip(" .")
    return kept[:_LONGEST_NAME] or otherwise


def _length(request: HttpRequest, most: int) -> int:
    try:
        length = int(request.META.get("CONTENT_LENGTH") or 0)
    except ValueError:
        length = 0
    if length <= 0:
        raise Refusal("empty", "This file is empty. Choose another one.", "file", 400)
    if length > most:
        raise Refusal(
            "too_large",
            f"This file has {length / 1e6:.0f} MB; at most {most / 1e6:.0f} MB can be read. Nothing was kept.",
            "file",
            413,
        )
    return length


def pieces(request: HttpRequest, most: int) -> Iterator[bytes]:
    """The sent bytes, piece by piece. Refused where they are too many, or fewer than were announced."""
    left = _length(request, most)
    while left > 0:
        try:
            piece = request.read(min(PIECE, left))
        except OSError:
            piece = b""
        if not piece:
            raise Refusal("cut_short", "The file broke off on the way. Nothing was kept; send it again.", "file", 400)
        left -= len(piece)
        yield piece


def read_gcode(request: HttpRequest) -> ReadFile:
    """Read a sent print file as it comes; memory stays the same whatever its length. Refused where it is none."""
    reader = GcodeReader()
    try:
        for piece in pieces(request, MOST_GCODE_BYTES):
            reader.feed(piece)
        return reader.finish()
    except OutOfRangeError as wrong:
        raise Refusal("not_gcode", f"{wrong} Nothing was kept.", "file", 400) from None
