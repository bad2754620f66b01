"""The desk at which whole answers are worked out, one at a time."""

import heapq
import itertools
import threading
from collections.abc import Iterator
from contextlib import contextmanager


class Desk:
    """Lets in one at a time. Of those who wait the lowest rank goes next, and among equals whoever came first."""

    def __init__(self) -> None:
        self._changed, self._taken = threading.Condition(), False
        self._waiting: list[tuple[int, int]] = []
        self._numbers = itertools.count()

    @property
    def waiting(self) -> int:
        """How many wait for it now."""
        return len(self._waiting)

    @contextmanager
    def turn(self, rank: int) -> Iterator[None]:
        """Wait for one's turn, and have the desk to oneself."""
        with self._changed:
            own = rank, next(self._numbers)
            heapq.heappush(self._waiting, own)
            self._changed.wait_for(lambda: not self._taken and self._waiting[0] == own)
            heapq.heappop(self._waiting)
            self._taken = True
        try:
            yield
        finally:
            with self._changed:
                self._taken = False
                self._changed.notify_all()
