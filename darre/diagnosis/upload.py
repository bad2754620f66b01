"""Files as they are sent: read in pieces, never held whole where they may be large, and named without harm."""

import contextlib
import json
import re
import subprocess
import sys
import unicodedata
from collections.abc import Iterator

from django.conf import settings
from django.http import HttpRequest

from darre.common.errors import Refusal
from gcode.reader import GcodeReader, NotGcodeError, PrintFileSummary, ReadFile

PIECE = 256 * 1024
MOST_GCODE_BYTES, MOST_PHOTO_BYTES = 300_000_000, 20_000_000
READ_HERE_BYTES = 1_000_000
_LONGEST_NAME = 120


def plain_name(name: str, otherwise: str) -> str:
    """A file's name to show: without folders, control characters and thresholds that turn the writing round. It is
    never used as a path.
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
            f"This file has {length / 1e6:.1f} MB; at most {most / 1e6:.0f} MB can be read. Nothing was kept.",
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
    """Read a sent print file as it comes; memory stays the same whatever its length. Refused where it is none.

    A long one is read by a process of its own, so that nobody else waits for it.
    """
    apart = _length(request, MOST_GCODE_BYTES) > READ_HERE_BYTES
    try:
        return _read_apart(request) if apart else _read_here(request)
    except NotGcodeError as wrong:
        raise Refusal("not_gcode", f"{wrong} Nothing was kept.", "file", 400) from None


def _read_here(request: HttpRequest) -> ReadFile:
    reader = GcodeReader()
    for piece in pieces(request, MOST_GCODE_BYTES):
        reader.feed(piece)
    return reader.finish()


def _read_apart(request: HttpRequest) -> ReadFile:
    command = [sys.executable, "-m", "gcode.reader"]
    with subprocess.Popen(command, cwd=settings.BASE_DIR, stdin=subprocess.PIPE, stdout=subprocess.PIPE) as reader:
        assert reader.stdin is not None
        assert reader.stdout is not None
        try:
            for piece in pieces(request, MOST_GCODE_BYTES):
                reader.stdin.write(piece)
        except BrokenPipeError:
            pass  # it has refused the file already, and says why
        except BaseException:
            reader.kill()
            raise
        with contextlib.suppress(BrokenPipeError):
            reader.stdin.close()
        answer = json.loads(reader.stdout.read())
    if "refused" in answer:
        raise NotGcodeError(answer["refused"])
    return ReadFile(**{**answer, "summary": PrintFileSummary(**answer["summary"])})
