"""Memory of the process, as far as the C library lets us have a say."""

import ctypes
import gc
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


def collect_later() -> None:
    """Look for no dead reference cycles until `collect_rarely`: while all is loaded there are none to speak of, and to
    look for them is an eighth of the time.
    """
    gc.disable()


COLLECTED_AFTER = (50_000, 20)  # of the younger generations
NEVER = 1_000_000  # what grew old is looked through by `GivingBack` alone


def collect_rarely(old_after: int = NEVER) -> None:
    """Look for dead reference cycles less often, and never among what the server began with: a look through all took
    130 ms, in which every page stood still, with each fourth move of a spool among 150. Records that were read for a
    page are such cycles, and have grown old by the time that the next ones take their place. `old_after`: after how
    many collections of the middle generation what grew old is looked through too, in a process without `GivingBack`.
    """
    gc.collect()
    gc.freeze()
    gc.enable()
    gc.set_threshold(*COLLECTED_AFTER, old_after)


class GivingBack:
    """Gives back to the system, now and then, what memory dead reference cycles still hold, and what was taken for a
    moment: the C library keeps it otherwise.
    """

    def __init__(self) -> None:
        self._last, self._turn = time.monotonic(), threading.Lock()

    def now_and_then(self) -> bool:
        """Give back what is free where that is due; whether it was."""
        with self._turn:
            if time.monotonic() - self._last < EVERY_S:
                return False
            self._last = time.monotonic()
        gc.collect()
        with suppress(OSError, AttributeError):
            ctypes.CDLL(None).malloc_trim(0)
        return True
