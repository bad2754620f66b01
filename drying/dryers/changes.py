"""When what is in a box, or what it does, changes abruptly; between changes it is followed in pieces that grow."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from typing import Protocol

import numpy as np

from drying.arrays import Array
from drying.transport import Segment

FIRST_PIECE_H = 0.25
AT_ONCE_H = 1e-6  # hours are differences of moments: the same one comes out a last digit apart


class InBox(Protocol):
    """What is in a box from one hour to another; `to_h` None: it stays."""

    @property
    def from_h(self) -> float:
        """When it comes, h."""

    @property
    def to_h(self) -> float | None:
        """When it goes, h."""


def changes_h(segments: Sequence[Segment], there: Sequence[InBox], more: Iterable[float] = ()) -> list[float]:
    """The hours at which a segment of a box ends (its last goes on), or somebody comes or goes, and more; those that
    come at once are one.
    """
    ends = np.cumsum([segment.duration_h for segment in segments])[:-1].tolist()
    gone = [one.to_h for one in there if one.to_h is not None]
    found = [0.0]
    for hour in sorted({*ends, *gone, *(one.from_h for one in there), *more}):
        if hour - found[-1] > AT_ONCE_H:
            found.append(hour)
    return found


def who_is_in(there: Sequence[InBox], time_h: float) -> list[int]:
    """Which are in the box just after an hour."""
    after = time_h + AT_ONCE_H
    return [n for n, one in enumerate(there) if one.from_h <= after and (one.to_h is None or after < one.to_h)]


def segments_at(segments: Sequence[Segment], times_h: Sequence[float]) -> list[Segment]:
    """What a box does just after some hours; its last segment goes on."""
    ends = np.cumsum([segment.duration_h for segment in segments])[:-1]
    return [segments[n] for n in np.searchsorted(ends, np.array(times_h) + AT_ONCE_H, side="right")]


def pieces_of(span_h: float, growth: float) -> Array:
    """Ends of the pieces of a stretch without a change, h from its beginning; each is `growth` times the one before."""
    count = math.ceil(math.log(max(span_h / FIRST_PIECE_H, 1.0), growth))
    return np.array([*(FIRST_PIECE_H * growth**k for k in range(count)), span_h])
