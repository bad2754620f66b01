"""Measure the readers of foreign bytes on the worst that could be sent: twice as much may take twice as long."""

from __future__ import annotations

import contextlib
import os
import time
from collections.abc import Callable

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "darre.settings")
import django

django.setup()

from darre.common.errors import Refusal  # noqa: E402  the settings come first
from darre.devices.actions.ingest import BOUNDS  # noqa: E402
from darre.devices.logger_file import decoded, guess, read  # noqa: E402
from gcode.reader import GcodeReader, NotGcodeError  # noqa: E402

MB, SIZES = 1_000_000, (1, 2, 4)
PRINTS = b"G1 X1 F1200\nG1 X9 E3\n"


def gcode(line: bytes) -> Callable[[int], None]:
    """Reads a print file that is made of such lines."""

    def run(size_mb: int) -> None:
        reader = GcodeReader()
        reader.feed(PRINTS + (line + b"\n") * (size_mb * MB // len(line)))
        with contextlib.suppress(NotGcodeError):
            reader.finish()

    return run


def table(head: str, row: str) -> Callable[[int], None]:
    """Reads a logger's file that has such a head and such rows."""

    def run(size_mb: int) -> None:
        text, _ = decoded(f"when,{head},temp\n{(row + chr(10)) * (size_mb * MB // len(row))}".encode())
        with contextlib.suppress(Refusal):
            read(text, guess(text, "UTC"), BOUNDS)

    return run


HOSTILE = {
    "print file: open brackets": gcode(b"(" * 60_000),
    "print file: brackets and comments": gcode(b"(;" * 30_000),
    "print file: words run together": gcode(b"G1 " + b"X1" * 20_000),
    "print file: endless numbers": gcode(b"G1 X" + b"9" * 60_000),
    "print file: usual moves": gcode(b"G1 X10.2 Y3.4 E0.12 F1800"),
    "logger: long head": table("date" * 25_000, "2026-03-05 10:00,20,50"),
    "logger: long cells": table("rh", "2026-03-05 10:00," + "9" * 2000 + ",20"),
    "logger: many columns": table("," * 3000, "2026-03-05 10:00" + ",1" * 3000),
    "logger: usual rows": table("rh", "2026-03-05 10:00,20,50"),
}


def main() -> None:
    """Print seconds for each size, and how many times as long four times as much takes (4 is a straight line)."""
    print(f"{'hostile input':>36}" + "".join(f"{size:>7} MB" for size in SIZES) + "   4 MB / 1 MB")
    for name, run in HOSTILE.items():
        took = []
        for size in SIZES:
            start = time.perf_counter()
            run(size)
            took.append(time.perf_counter() - start)
        print(f"{name:>36}" + "".join(f"{seconds:>9.2f}s" for seconds in took) + f"{took[-1] / took[0]:>12.1f}")


if __name__ == "__main__":
    main()
