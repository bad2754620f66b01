"""Results of pure functions, kept by what they were computed from, so that the same question costs nothing again."""

from __future__ import annotations

import hashlib
import threading
from collections import OrderedDict
from collections.abc import Callable
from typing import Generic, TypeVar

Result = TypeVar("Result")


def digest(*parts: bytes | str) -> bytes:
    """Fingerprint of parts in their order; their lengths keep ("ab", "c") apart from ("a", "bc")."""
    found = hashlib.blake2b(digest_size=16)
    for part in parts:
        raw = part.encode() if isinstance(part, str) else part
        found.update(len(raw).to_bytes(4, "little"))
        found.update(raw)
    return found.digest()


class Cache(Generic[Result]):
    """The last `size` results, by key. Safe between threads; two that ask at once may both compute."""

    def __init__(self, size: int) -> None:
        self._size = size
        self._kept: OrderedDict[object, Result] = OrderedDict()
        self._lock = threading.Lock()
        self._turns: dict[object, threading.Lock] = {}

    def get(self, key: object, make: Callable[[], Result]) -> Result:
        """The result for `key`, made where it is not there yet."""
        found = self.peek(key)
        if found is not None:
            return found
        made = make()
        self.put(key, made)
        return made

    def once(self, key: object, make: Callable[[], Result]) -> Result:
        """As `get`, but where several ask at once for the same that is not there, one makes it and the others wait."""
        with self._lock:
            turn = self._turns.setdefault(key, threading.Lock())
        try:
            with turn:
                return self.get(key, make)
        finally:
            with self._lock:
                if self._turns.get(key) is turn and not turn.locked():
                    del self._turns[key]

    def peek(self, key: object) -> Result | None:
        """The result for `key` where it is there."""
        with self._lock:
            if key not in self._kept:
                return None
            self._kept.move_to_end(key)
            return self._kept[key]

    def put(self, key: object, result: Result) -> None:
        """Keep a result."""
        with self._lock:
            self._kept[key] = result
            while len(self._kept) > self._size:
                self._kept.popitem(last=False)
