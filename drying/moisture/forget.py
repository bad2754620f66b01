"""How far back a history must be followed: an old fact that no longer tells costs nothing."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from drying.materials import held_pct
from drying.moisture.events import KnownMoisture, SpoolEvents
from drying.moisture.timeline import BLOCK_H
from drying.quantity import Quantity
from drying.transport.state import Filament

FORGET_H = 400 * 24  # a spool that stood open for so long holds what the air of the last months made of it
GRID_H = 30 * BLOCK_H  # where it begins anew: the same for months, so that what was computed can be kept
FORGOTTEN_ACTIVITY = 0.5  # where it begins then hardly matters


def as_needed(events: SpoolEvents, shown: int) -> SpoolEvents:
    """The same spool with the events that its moisture from hour `shown` on depends on.

    What was known of it last before then stands for all earlier, unless it shared a container meanwhile; and standing
    open makes it forget. Its stays and runs are kept.
    """
    told = [fact.hour for fact in events.known if fact.hour <= shown]
    if told and not _in_a_container(events, told[-1]):
        events = _from(events, told[-1])
    begin = (shown - FORGET_H) // GRID_H * GRID_H
    first = events.known[0].hour if events.known else begin
    if first >= begin or _in_a_container(events, shown):
        return events
    held = _usual_pct(events.filament)
    known = (KnownMoisture(begin, Quantity(held, held / 2.0)), *(f for f in events.known if f.hour > begin))
    return replace(_from(events, begin), known=known)


def _usual_pct(filament: Filament) -> float:
    return float(held_pct(filament.material, np.array(FORGOTTEN_ACTIVITY)))


def _from(events: SpoolEvents, hour: int) -> SpoolEvents:
    return replace(
        events,
        known=tuple(fact for fact in events.known if fact.hour >= hour),
        weighed=tuple(fact for fact in events.weighed if fact.hour >= hour),
        used=tuple(fact for fact in events.used if fact.hour >= hour),
    )


def _in_a_container(events: SpoolEvents, before: int) -> bool:
    return any(stay.place >= 0 and stay.since < before for stay in events.stays)


def first_hour(spools: Sequence[SpoolEvents], fills: Sequence[Sequence[int]], now: int) -> int:
    """From which hour on spools and containers are followed. `fills`: when each container was filled, in order of time:
    the last fill before anything is known of the spools still tells what its desiccant holds.
    """
    first = min((events.known[0].hour for events in spools if events.known), default=now)
    before = [[hour for hour in hours if hour < first] for hours in fills]
    return min([first, now, *(hours[-1] for hours in before if hours)]) // BLOCK_H * BLOCK_H
