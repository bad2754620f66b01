"""How long answers took, for `make fuzz`: none may take longer than `MOST_S`. In `make test` no clock is looked at."""

import os
import time
from collections.abc import Iterator
from contextlib import contextmanager

MOST_S = 2.0
MEASURED = "FUZZ_CASES" in os.environ


class Slowest:
    """Counts answers, keeps those over the limit, and says so."""

    def __init__(self) -> None:
        self.count, self.longest, self.over = 0, (0.0, ""), list[tuple[float, str]]()

    @contextmanager
    def answer(self, asked: str) -> Iterator[None]:
        """Around one request."""
        begin = time.perf_counter()
        yield
        took = time.perf_counter() - begin
        self.count += 1
        self.longest = max(self.longest, (took, asked))
        if took > MOST_S:
            self.over.append((took, asked))

    def told(self) -> str:
        """The longest, and how many were over the limit."""
        seconds, asked = self.longest
        over = "".join(f"\n  {s:.1f} s: {a}" for s, a in sorted(self.over, reverse=True)[:20])
        return f"{self.count} answers, {len(self.over)} over {MOST_S:g} s; the longest {seconds:.2f} s: {asked}{over}"
