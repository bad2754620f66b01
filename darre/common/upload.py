"""Files as they are sent: raw bodies, read in pieces, and named without harm."""

import re
import unicodedata
from collections.abc import Iterator

from django.http import HttpRequest
from drf_spectacular.types import OpenApiTypes

from darre.common.errors import Refusal

PIECE = 256 * 1024
MOST_TABLE_BYTES = 20 * 1024 * 1024
BINARY = {"application/octet-stream": OpenApiTypes.BINARY}
"""How the contract says that a body is a file's own bytes."""

_LONGEST_NAME = 120


def plain_name(name: str, otherwise: str) -> str:
    """A file's name to show: without folders, control characters and marks that turn the writing round. It is
    never used as a path.
    """
    last = re.split(r"[/\\]", unicodedata.normalize("NFC", name))[-1]
    kept = "".join(c for c in last if unicodedata.category(c)[0] != "C").strip(" .")
    return kept[:_LONGEST_NAME] or otherwise


def length_of(request: HttpRequest, most: int) -> int:
    """How long a sent file says that it is, bytes. Raises Refusal where it is empty or too long."""
    try:
        length = int(request.META.get("CONTENT_LENGTH") or 0)
    except ValueError:
        length = 0
    if length <= 0:
        raise Refusal("empty", "This file is empty. Choose another one.", "file", 400)
    if length > most:
        raise Refusal(
            "too_large",
            f"This file has {length / 1e6:.1f} MB; at most {most / 1e6:.0f} MB can be read. Nothing was kept.",
            "file",
            413,
        )
    return length


def pieces(request: HttpRequest, most: int) -> Iterator[bytes]:
    """The sent bytes, piece by piece. Refused where they are too many, or fewer than were announced."""
    left = length_of(request, most)
    while left > 0:
        try:
            piece = request.read(min(PIECE, left))
        except OSError:
            piece = b""
        if not piece:
            raise Refusal("cut_short", "The file broke off on the way. Nothing was kept; send it again.", "file", 400)
        left -= len(piece)
        yield piece
