"""The air that one of several spools in a box meets: the room's, and in it the water that the others give off.

All vapour leaves with the exchange flow Q, so for one spool it comes to the same whether the others stand beside it or
the room's air were so much wetter: a_in + (water of the others, g/h) / (Q·Cs(T)). With what the others give off taken
from the computed course of all together (see `shared_box`), one spool can be judged by itself.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from drying.air import RoomAir, vapour_concentration_g_m3
from drying.arrays import Array
from drying.dryers.changes import AT_ONCE_H, changes_h, pieces_of, segments_at, who_is_in
from drying.dryers.load import Load, common_rate, filament_at_rate
from drying.dryers.shared_box import SharedState, shared_course
from drying.transport import Filament, Segment, State, even_state, strand_density

FOLLOWED_H = 96.0  # from the last change on: what the others give off after that counts for nothing
PIECE_GROWTH = 1.4  # what they give off is taken as steady over pieces that grow so


@dataclass(frozen=True)
class Stay:
    """A load in the box from one hour to another, counted from the first that went in; `to_h` None: it stays."""

    load: Load
    from_h: float
    to_h: float | None = None


def air_beside(stays: Sequence[Stay], me: int, segments: Sequence[Segment]) -> list[Segment]:
    """The conditions of the load `me` from its own start on, the water of the others in the air that it is vented with.

    `segments`: what the box does from the first load's start on; the last goes on. What comes back ends with a stretch
    in the room's air alone, which goes on: where drying ends is not changed by what the others bring.
    """
    start = stays[me].from_h
    changes = changes_h(segments, stays)
    last = changes[-1] + FOLLOWED_H
    found: list[Segment] = []
    states: dict[int, State] = {}
    for begin, end, segment in zip(changes, [*changes[1:], last], segments_at(segments, changes), strict=True):
        here = who_is_in(stays, begin)
        for n in here:
            states.setdefault(n, even_state(stays[n].load.filament, stays[n].load.start.value))
        pieces = pieces_of(end - begin, PIECE_GROWTH)
        given = _given_off_g_h([stays[n].load for n in here], [states[n] for n in here], segment, pieces)
        states.update(zip(here, given.ends, strict=True))
        if begin >= start - AT_ONCE_H:
            others = [k for k, n in enumerate(here) if n != me]
            found += _raised(segment, pieces, given.g_h[others].sum(axis=0))
    return [*found, replace(segments[-1], duration_h=0.01, goes_on=True)]


@dataclass(frozen=True)
class _Given:
    """What each load gave off in each piece, g/h, shape (loads, pieces), and its state at the end."""

    g_h: Array
    ends: tuple[State, ...]


def _given_off_g_h(loads: Sequence[Load], states: Sequence[State], segment: Segment, pieces: Array) -> _Given:
    if not loads:
        return _Given(np.zeros((0, pieces.size)), ())
    common = common_rate(loads)
    filaments = [filament_at_rate(load.filament, load.rate.median / common) for load in loads]
    whole = replace(segment, duration_h=float(pieces[-1]) * common)
    times = np.append(0.0, pieces)
    moisture, end = shared_course(filaments, SharedState(tuple(states)), whole, times * common)
    moved = -np.diff(moisture, axis=1) / 100.0 / np.diff(times)
    dry_g = np.array([_dry_g(filament) for filament in filaments])
    return _Given(moved * dry_g[:, None], end.spools)


def _dry_g(filament: Filament) -> float:
    """Dry strand of a winding, g; a coil weighs grams and counts for nothing."""
    return 0.0 if filament.winding is None else 1000.0 * strand_density(filament) * filament.winding.volume_m3


def _raised(segment: Segment, pieces: Array, others_g_h: Array) -> list[Segment]:
    flow = (segment.vent_m3_h or 0.0) * vapour_concentration_g_m3(segment.temp_c, 100.0)
    found = list[Segment]()
    for hours, water in zip(np.diff(np.append(0.0, pieces)), others_g_h, strict=True):
        wetter = segment.activity + (float(water) / flow if flow > 0.0 else 0.0)
        room = RoomAir(segment.temp_c, 100.0 * min(max(wetter, 0.0), 1.0))
        found.append(replace(segment, duration_h=float(hours), room=room, goes_on=bool(found)))
    return found
