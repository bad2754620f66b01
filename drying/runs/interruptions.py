"""Runs that were interrupted: what the dryer really did, stretch by stretch."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace

from drying.air import RoomAir
from drying.dryers import Dryer, Pause, tidy
from drying.materials import Material
from drying.transport import Segment

Heat = tuple[float, float]
"""From when on, h after the start, and the air at the spools, °C."""


def segments_of_run(
    dryer: Dryer,
    material: Material,
    room: RoomAir,
    heats: Sequence[Heat],
    until_h: float,
    pauses: Sequence[Pause] = (),
    warm_up_parts: int = 4,
) -> list[Segment]:
    """What the box did up to `until_h` as segments of transport: warm-up at the start and after each pause, the room's
    warmth in it; a change from one temperature to another takes no time.

    `heats`: the temperatures in order of time, the first from 0 h on.
    """
    found: list[Segment] = []
    at, last = 0.0, max(until_h, 0.01)
    for begin, end in [*tidy(pauses), (last, last)]:
        if begin >= last and at >= last:
            break
        stretches = _at_one_heat(heats, at, min(begin, last))
        for n, (air_c, hours) in enumerate(stretches):
            if n == 0:
                found += dryer.segments(material, room, air_c, hours, warm_up_parts)
            else:
                found.append(replace(dryer.segments(material, room, air_c, hours)[-1], duration_h=hours))
        off = min(end, last) - min(begin, last)
        if off > 0.0:
            found.append(Segment(off, room.temp_c, room, dryer.used("vent_m3_h")))
        at = min(end, last)
    return found


def _at_one_heat(heats: Sequence[Heat], begin: float, end: float) -> list[tuple[float, float]]:
    """The temperatures from `begin` to `end`, each with its hours."""
    ends = [*(since for since, _ in heats[1:]), math.inf]
    spans = [(air_c, min(until, end) - max(since, begin)) for (since, air_c), until in zip(heats, ends, strict=True)]
    return [(air_c, hours) for air_c, hours in spans if hours > 0.0]
