"""The same from several threads at the same moment, as several people do it."""

import threading
from collections.abc import Callable
from typing import TypeVar

from django.db import connection

Found = TypeVar("Found")


def at_once(act: Callable[[], Found], times: int) -> list[Found]:
    """Run `act` in so many threads, all begun at once; what each returned, in the order in which they ended."""
    gate, found = threading.Barrier(times), []

    def one() -> None:
        gate.wait()
        try:
            found.append(act())
        finally:
            connection.close()

    threads = [threading.Thread(target=one) for _ in range(times)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    return found
