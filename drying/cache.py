"""Results of pure functions, kept by what they were computed from, so that the same question costs nothing again."""

from __future__ import annotations

import hashlib
import threading
from collections import Counter, OrderedDict
from collections.abc import Callable, Iterable, Iterator, Sequence
from contextlib import contextmanager
from typing import Generic, TypeVar

Key = TypeVar("Key")
Result = TypeVar("Result")


def digest(*parts: bytes | str) -> bytes:
    """Fingerprint of parts in their order; their lengths keep ("ab", "c") apart from ("a", "bc")."""
    found = hashlib.blake2b(digest_size=16)
    for part in parts:
        raw = part.encode() if isinstance(part, str) else part
        found.update(len(raw).to_bytes(4, "little"))
        found.update(raw)
    return found.digest()


class Turns:
    """One at a time for each key: who comes meanwhile with the same key waits. Nothing stays of a key nobody holds."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._turns: dict[object, threading.Lock] = {}
        self._here: Counter[object] = Counter()

    @contextmanager
    def of(self, key: object) -> Iterator[None]:
        """Wait for the turn of a key and hold it meanwhile."""
        with self._lock:
            turn = self._turns.setdefault(key, threading.Lock())
            self._here[key] += 1
        try:
            with turn:
                yield
        finally:
            with self._lock:
                self._here[key] -= 1
                if not self._here[key]:
                    del self._here[key], self._turns[key]


def _one(result: object) -> int:
    return 1


class Cache(Generic[Result]):
    """The last results, by key, that weigh `size` together at most: by `weigh`, else as many as that. Safe between
    threads; two that ask at once may both compute.
    """

    def __init__(self, size: int, weigh: Callable[[Result], int] = _one) -> None:
        self._size, self._weigh, self._weight = size, weigh, 0
        self._kept: OrderedDict[object, Result] = OrderedDict()
        self._lock = threading.Lock()
        self._turns = Turns()

    def get(self, key: object, make: Callable[[], Result]) -> Result:
        """The result for `key`, made where it is not there yet."""
        found = self.peek(key)
        if found is not None:
            return found
        made = make()
        self.put(key, made)
        return made

    def get_each(self, keys: Sequence[Key], make: Callable[[list[Key]], Iterable[Result]]) -> list[Result]:
        """The results for several keys; those that are not there yet are made together."""
        known = [(key, self.peek(key)) for key in dict.fromkeys(keys)]
        found = {key: result for key, result in known if result is not None}
        fresh = [key for key, result in known if result is None]
        for key, result in zip(fresh, make(fresh) if fresh else (), strict=True):
            self.put(key, result)
            found[key] = result
        return [found[key] for key in keys]

    def once(self, key: object, make: Callable[[], Result]) -> Result:
        """As `get`, but where several ask at once for the same that is not there, one makes it and the others wait."""
        with self._turns.of(key):
            return self.get(key, make)

    def peek(self, key: object) -> Result | None:
        """The result for `key` where it is there."""
        with self._lock:
            if key not in self._kept:
                return None
            self._kept.move_to_end(key)
            return self._kept[key]

    def items(self) -> list[tuple[object, Result]]:
        """All that is kept, by key; what was asked for longest ago first."""
        with self._lock:
            return list(self._kept.items())

    def put(self, key: object, result: Result) -> None:
        """Keep a result."""
        weight = self._weigh(result)
        with self._lock:
            if key in self._kept:
                self._weight -= self._weigh(self._kept.pop(key))
            self._kept[key] = result
            self._weight += weight
            while self._weight > self._size:
                self._weight -= self._weigh(self._kept.popitem(last=False)[1])
