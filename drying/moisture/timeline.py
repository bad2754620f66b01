"""Where a spool is in which hours, its events by block, and where two timelines first differ."""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Sequence
from dataclasses import dataclass
from typing import TypeVar

import numpy as np

from drying.cache import digest
from drying.moisture.events import (
    DesiccantFilled,
    FilamentUsed,
    KnownMoisture,
    SpoolEvents,
    SpoolWeighed,
)
from drying.storage import AWAY, OPEN

BLOCK_H = 72


class Pieces:
    """Where a spool is from when on, for quick answers about a stretch: stays in order of time, runs laid over them."""

    def __init__(self, first: int, events: SpoolEvents) -> None:
        cuts: dict[int, int] = {first: OPEN}
        for stay in events.stays:
            cuts[max(stay.since, first)] = stay.place
            if stay.until is not None:
                cuts[max(stay.until, first)] = OPEN
        for begin, end in events.away:
            after = max((hour for hour in cuts if hour <= end), default=first)
            place = cuts[after]
            cuts = {hour: cut for hour, cut in cuts.items() if not begin <= hour < end}
            cuts[max(begin, first)], cuts[max(end, first)] = AWAY, place
        self.starts = sorted(cuts)
        self.places = [cuts[hour] for hour in self.starts]

    def row(self, begin: int, end: int) -> np.ndarray:
        """Where it is in each hour of a stretch."""
        found = np.full(end - begin, OPEN)
        for since, place in self.between(begin, end):
            found[since - begin :] = place
        return found

    @property
    def rows(self) -> list[tuple[int, int]]:
        """All pieces."""
        return list(zip(self.starts, self.places, strict=True))

    def between(self, begin: int, end: int) -> list[tuple[int, int]]:
        """Pieces as (from when, where), the first from `begin` on."""
        low, high = bisect_right(self.starts, begin) - 1, bisect_left(self.starts, end)
        return [(max(s, begin), p) for s, p in zip(self.starts[low:high], self.places[low:high], strict=True)]


SpoolEvent = KnownMoisture | SpoolWeighed | FilamentUsed


Event = TypeVar("Event", SpoolEvent, DesiccantFilled)


def events_of(events: SpoolEvents) -> list[SpoolEvent]:
    """At one hour: what was printed, then what is known by itself, then the weighing that goes with it."""
    return [*events.used, *events.known, *events.weighed]


def hour_of_event(event: SpoolEvent | DesiccantFilled) -> int:
    """Hour of the axis in which a recorded event falls."""
    return event.hour


def by_block(events: Sequence[Event]) -> dict[int, list[Event]]:
    """Facts by the block they fall into, in order of time."""
    found: dict[int, list[Event]] = {}
    for event in sorted(events, key=hour_of_event):
        found.setdefault(event.hour // BLOCK_H, []).append(event)
    return found


def material_numbers(events: SpoolEvents) -> str:
    """The material's numbers that a moisture history stands on."""
    material = events.filament.material
    return repr(
        (
            material.density.value,
            material.k1.value,
            material.k1.spread,
            material.k3.value,
            material.d23.value,
            material.ea.value,
        )
    )


def in_order(events: dict[int, list[Event]]) -> list[tuple[int, object]]:
    """Events of all blocks as rows of hour and event, in order of time."""
    return [(event.hour, event) for block in sorted(events) for event in events[block]]


def first_unlike(old: Sequence[tuple[int, object]], new: Sequence[tuple[int, object]], end: int) -> int:
    """The hour of the first of two lists' rows that differ."""
    if old == new:
        return end
    for before, after in zip(old, new, strict=False):
        if before != after:
            return min(before[0], after[0])
    return (old if len(old) > len(new) else new)[min(len(old), len(new))][0]


@dataclass(frozen=True)
class Prepared:
    """A spool's events, prepared for quick answers about a stretch: by block, with where it is and a digest of
    what it is.
    """

    events: dict[int, list[SpoolEvent]]
    pieces: Pieces
    digest: bytes


def prepared_for(spool: SpoolEvents, first: int) -> Prepared:
    """A spool's events for answers from hour `first` on."""
    what = repr((spool.filament.winding, spool.filament.strand_diameter_mm, spool.dry_g, spool.body))
    return Prepared(by_block(events_of(spool)), Pieces(first, spool), digest(what, material_numbers(spool)))
