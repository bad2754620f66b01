"""Memory of the process, as far as the C library lets us have a say."""

import ctypes
import threading
import time
from contextlib import suppress

M_ARENA_MAX = -8  # of mallopt(3)
EVERY_S = 20.0  # giving back takes some milliseconds


def share_memory() -> None:
    """Have all threads take memory from two pools, as far as the C library knows of pools: with one for each thread
    what a page took for a moment stays taken in all of them.
    """
    with suppress(OSError, AttributeError):
        ctypes.CDLL(None).mallopt(M_ARENA_MAX, 2)


class GivingBack:
    """Gives memory that was taken for a moment back to the system, now and then: the C library keeps it otherwise."""

    def __init__(self) -> None:
        self._last, self._turn = time.monotonic(), threading.Lock()

    def now_and_then(self) -> bool:
        """Give back what is free where that is due; whether it was."""
        with self._turn:
            if time.monotonic() - self._last < EVERY_S:
                return False
            self._last = time.monotonic()
        with suppress(OSError, AttributeError):
            ctypes.CDLL(None).malloc_trim(0)
        return True
