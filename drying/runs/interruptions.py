"""Runs that were interrupted: what the dryer really did, stretch by stretch."""

from __future__ import annotations

from collections.abc import Sequence

from drying.air import RoomAir
from drying.dryers import Dryer
from drying.errors import OutOfRangeError
from drying.materials import Material
from drying.transport import Segment

Pause = tuple[float, float]


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


def segments_with_pauses(
    dryer: Dryer, material: Material, room: RoomAir, air_c: float, until_h: float, pauses: Sequence[Pause]
) -> list[Segment]:
    """A run at `air_c` up to `until_h` as segments of transport: warm-up after each pause, the room's warmth in it."""
    found: list[Segment] = []
    at, last = 0.0, max(until_h, 0.01)
    for begin, end in [*tidy(pauses), (last, last)]:
        if begin >= last and at >= last:
            break
        on = min(begin, last) - at
        if on > 0.0:
            found += dryer.segments(material, room, air_c, on)
        off = min(end, last) - min(begin, last)
        if off > 0.0:
            found.append(Segment(off, room.temp_c, room, dryer.used("vent_m3_h")))
        at = min(end, last)
    return found
