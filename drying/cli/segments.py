"""Segments as text: `48h@45C in 21C/60% vent 0.05`, `vent free`; several joined by `;`."""

from __future__ import annotations

import re

from drying.air import RoomAir
from drying.errors import OutOfRangeError
from drying.transport import Segment

_NUMBER = r"([+-]?\d+(?:\.\d+)?(?:[eE][+-]?\d+)?)"
_SEGMENT = re.compile(
    rf"\s*{_NUMBER}\s*h\s*@\s*{_NUMBER}\s*C\s+in\s+{_NUMBER}\s*C\s*/\s*{_NUMBER}\s*%\s+vent\s+(free|{_NUMBER[1:-1]})\s*"
)


def parse_segments(text: str) -> list[Segment]:
    """The segments that a text describes: hours, temperature of the strand, room air, exchange flow (m³/h) or `free`.

    Raises OutOfRangeError for an empty text, one that does not read as a segment (it is quoted), and values out of
    range.
    """
    if not text.strip():
        raise OutOfRangeError(
            "segments", "There are no segments: give at least one, like 48h@45C in 21C/60% vent free."
        )
    found = []
    for part in text.split(";"):
        match = _SEGMENT.fullmatch(part)
        if match is None:
            raise OutOfRangeError(
                "segments",
                f"“{part.strip()}” is not a segment; write it like 48h@45C in 21C/60% vent 0.05 or vent free.",
            )
        hours, temp, room_temp, humidity, vent = match.groups()
        room = RoomAir(float(room_temp), float(humidity))
        found.append(Segment(float(hours), float(temp), room, None if vent == "free" else float(vent)))
    return found
