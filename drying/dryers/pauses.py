"""Stretches without heat by a run's clock, in h after its start."""

from __future__ import annotations

from collections.abc import Sequence

from drying.errors import OutOfRangeError

Pause = tuple[float, float]
"""From when to when, h after the start."""


def tidy(pauses: Sequence[Pause]) -> list[Pause]:
    """Pauses as (from, to) in h after the start, in order, those that touch joined, empty ones left out.

    Raises OutOfRangeError where one ends before it begins.
    """
    found: list[Pause] = []
    for begin, end in sorted(pauses):
        if end < begin:
            raise OutOfRangeError("pause", f"A pause from {begin:g} h cannot end at {end:g} h.")
        if found and begin <= found[-1][1]:
            found[-1] = (found[-1][0], max(found[-1][1], end))
        elif end > begin:
            found.append((max(begin, 0.0), end))
    return found


def heated_h(pauses: Sequence[Pause], until_h: float) -> float:
    """Hours of heat up to `until_h` after the start."""
    return until_h - sum(min(end, until_h) - min(begin, until_h) for begin, end in tidy(pauses))


def end_with_pauses_h(pauses: Sequence[Pause], duration_h: float) -> float:
    """When a run of so many hours of heat ends, h after the start."""
    end = duration_h
    for begin, stop in tidy(pauses):
        if begin >= end:
            break
        end += stop - begin
    return end
