"""A scale on a serial port of its own, a pseudo-terminal: `python -m standins.port WORLD.json` prints where."""

from __future__ import annotations

import contextlib
import json
import os
import sys
import time
import tty
from collections.abc import Iterable
from datetime import UTC, datetime
from pathlib import Path

from standins.sending import World, readings

EVERY_S = 0.5
SETTLING = 2
"""Lines before a mass holds still."""


def opened() -> tuple[int, str]:
    """The scale's own end, and the path by which a program opens the other one."""
    own, other = os.openpty()
    tty.setraw(other)
    return own, os.ttyname(other)


def lines(masses: Iterable[float]) -> Iterable[bytes]:
    """What the scale writes: each mass unsteady first, then steady."""
    for mass in masses:
        for n in range(SETTLING + 1):
            mark = "ok" if n == SETTLING else "~ "
            yield f"{mark} {mass + 0.3 * (SETTLING - n):9.1f} g\r\n".encode()


def run(world: World, own: int) -> None:
    """Be the scale until stopped."""
    start = datetime.fromisoformat(world.started_at)
    while True:
        hour = (datetime.now(UTC) - start).total_seconds() / 3600.0
        [seen] = readings(world, "scale", [hour], seed=int(hour * 3600))
        for line in lines([seen["mass_g"]]):
            os.write(own, line)
            time.sleep(EVERY_S)


if __name__ == "__main__":
    told = json.loads(Path(sys.argv[1]).read_text("utf-8"))
    end, path = opened()
    print(path, flush=True)  # noqa: T201
    with contextlib.suppress(KeyboardInterrupt):
        run(World(**told["world"]), end)
