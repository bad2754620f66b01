"""Print files as they are sent: read in pieces, and never held whole."""

import contextlib
import json
import subprocess
import sys

from django.conf import settings
from django.http import HttpRequest

from darre.common.errors import Refusal
from darre.common.upload import length_of, pieces
from gcode.reader import GcodeReader, NotGcodeError, PrintFileSummary, ReadFile

MOST_GCODE_BYTES, MOST_PHOTO_BYTES = 300_000_000, 20_000_000
READ_HERE_BYTES = 1_000_000


def read_gcode(request: HttpRequest) -> ReadFile:
    """Read a sent print file as it comes; memory stays the same whatever its length. Refused where it is none.

    A long one is read by a process of its own, so that nobody else waits for it.
    """
    apart = length_of(request, MOST_GCODE_BYTES) > READ_HERE_BYTES
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
