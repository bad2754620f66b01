"""What goes together."""

from __future__ import annotations

from collections.abc import Hashable, Iterable


def alike(keys: Iterable[Hashable]) -> list[list[int]]:
    """Which of several keys are the same: the places of each, in the order in which they first come."""
    found: dict[Hashable, list[int]] = {}
    for n, key in enumerate(keys):
        found.setdefault(key, []).append(n)
    return list(found.values())
