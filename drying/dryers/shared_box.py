"""Several spools in one box: they share its exchange flow, so the wet one slows the others.

What all spools give off in a step must be what the exchange flow carries away (see `together`). Steps lie at fixed
times after the moment the conditions began, and what lies between is interpolated, as in `cubic`.

The same load in several boxes, such as at each temperature of a map, is stepped side by side: numbers of the boxes run
along the first axis, those of the spools along the second.
"""

from __future__ import annotations

import copy
from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cache

import numpy as np
import numpy.typing as npt

from drying.air import RoomAir
from drying.arrays import Array
from drying.cache import Cache
from drying.dryers.together import Together
from drying.errors import OutOfRangeError
from drying.transport import (
    Filament,
    Knots,
    Segment,
    Slots,
    State,
    advance,
    after_segment,
    are_enough,
    at_temperature,
    four_knots,
    grid,
    knots_h,
    mean_moisture_pct,
)

FIRST_STEP_H, LONGEST_SHARE = 0.04, 0.25
_KEPT_BYTES = 16 * 2**20


@dataclass(frozen=True)
class SharedState:
    """The states of all spools in a box. `since`: where the present conditions began, and how far they have run, so
    that it does not matter in how many parts a segment is asked for.
    """

    spools: tuple[State, ...]
    since: tuple[tuple[State, ...], Segment] | None = None


def _resumed(segment: Segment, state: SharedState) -> tuple[tuple[State, ...], float]:
    if state.since is not None:
        begin, so_far = state.since
        if so_far.is_like(segment):
            return begin, so_far.duration_h
    return state.spools, 0.0


class _Run:
    """Boxes with the same wound spools as far as they have been followed: knots in h from the beginning of their
    conditions, where the water is at each, and the boxes' activities in the step to each but the first.
    """

    def __init__(
        self, filaments: Sequence[Filament], starts: Sequence[Sequence[State]], segments: Sequence[Segment]
    ) -> None:
        self.filaments, self.together = filaments, Together(filaments, segments)
        self.knot_h, self.course = np.zeros(1), self.together.begun(starts)
        gas, strand = self.together.arrays(self.course, 0)
        mass = np.stack([grid(f.winding).mass for f in filaments if f.winding is not None])
        slots = Slots([(filament, segment.temp_c) for segment in segments for filament in filaments])
        self.held = Knots(slots, np.tile(mass, (len(segments), 1)), slots.water(gas), gas, strand)

    def to(self, hours: float) -> _Run:
        """The same until there are knots enough for so many hours."""
        knots = knots_h(FIRST_STEP_H, LONGEST_SHARE, 0.0, hours)
        found, before = copy.copy(self), self.knot_h.size
        found.course = self.together.followed(self.course, np.diff(knots[before - 1 :]).tolist())
        gas, strand = self.together.arrays(found.course, before)
        found.held, found.knot_h = self.held.with_more(gas, strand), np.array(knots)
        return found


@cache
def kept_runs() -> Cache[_Run]:
    """The last runs by what they are of: a plan asks for the same to find its hours and to show them."""
    return Cache(_KEPT_BYTES, lambda run: 2 * (run.held.gas.nbytes + run.held.strand.nbytes))


def _run(filaments: Sequence[Filament], starts: Sequence[Sequence[State]], segments: Sequence[Segment]) -> _Run:
    """From the beginning of the conditions, at least as far as the longest segment goes."""
    begin = tuple((state.temp_c, state.gas.tobytes(), state.strand.tobytes()) for row in starts for state in row)
    key = tuple(filaments), begin, tuple(replace(segment, duration_h=1.0) for segment in segments)
    longest_h = max(segment.duration_h for segment in segments)
    found = kept_runs().peek(key) or _Run(filaments, starts, segments)
    if not are_enough(found.knot_h, longest_h):
        found = found.to(longest_h)
        kept_runs().put(key, found)
    return found


def _at(run: _Run, box: int, temp_c: float, time_h: Array, end_h: float) -> tuple[Array, list[State]]:
    """Of each wound spool of a box its moisture at any times, % of dry mass, shape (spools, times), and its state at an
    hour.
    """
    each, asked = len(run.filaments), np.append(time_h, end_h)
    found = [run.held.at(case, run.knot_h, asked) for case in range(box * each, (box + 1) * each)]
    return np.stack([moisture[:-1] for moisture, *_ in found]), [State(gas, strand, temp_c) for _, gas, strand in found]


def _coil(
    filament: Filament, start: State, segment: Segment, run: _Run, box: int, time_h: Array
) -> tuple[Array, State]:
    """A coil that lies with the spools in their air, through the same steps, and its state at the segment's end; by its
    grams it does not wet them.
    """
    states = [at_temperature(filament, start, segment.temp_c)]
    for hours, activity in zip(np.diff(run.knot_h), run.course.activity[1:], strict=True):
        air = RoomAir(segment.temp_c, 100.0 * min(float(activity[box]), 1.0))
        here = Segment(float(hours), segment.temp_c, air)
        states.append(after_segment(filament, here, replace(states[-1], since=None)))
    rows, weights = four_knots(run.knot_h, np.append(time_h, segment.duration_h))
    gas = np.einsum("tk,tkn->tn", weights, np.stack([s.gas for s in states])[rows])
    strand = np.einsum("tk,tknm->tnm", weights, np.stack([s.strand for s in states])[rows])
    line = [State(g, s, segment.temp_c) for g, s in zip(gas, strand, strict=True)]
    return np.array([mean_moisture_pct(filament, state) for state in line[:-1]]), line[-1]


def shared_courses(
    filaments: Sequence[Filament],
    starts: Sequence[SharedState],
    segments: Sequence[Segment],
    time_h: Sequence[npt.ArrayLike],
) -> list[tuple[Array, SharedState]]:
    """Of each box, all with the same load: moisture of each spool at its times in h, % of dry mass, shape (spools,
    times), and the states at the end of its segment.

    In free air, and for one spool alone, this is `transport.course`. Else the box's air is stepped: error up to 0.08 %
    of the start at 300 l/h and 0.2 % at 30 l/h, there 0.4 % of what a dry spool beside much wetter nylon begins with.
    Raises OutOfRangeError where there is no spool.
    """
    if not filaments or any(len(filaments) != len(start.spools) for start in starts):
        raise OutOfRangeError("filaments", "Give at least one spool, and a state for each.")
    wound = [n for n, filament in enumerate(filaments) if filament.winding is not None]
    times = [np.asarray(t, dtype=np.float64) for t in time_h]
    if len(filaments) == 1 or not wound:
        return [_apart(filaments, *box) for box in zip(starts, segments, times, strict=True)]
    free = [segment.vent_m3_h is None for segment in segments]
    if any(free):
        return _some_free(filaments, list(zip(starts, segments, times, strict=True)), free)
    begun = [_resumed(segment, start) for segment, start in zip(segments, starts, strict=True)]
    wholes = [replace(s, duration_h=gone + s.duration_h) for s, (_, gone) in zip(segments, begun, strict=True)]
    run = _run([filaments[n] for n in wound], [[begin[n] for n in wound] for begin, _ in begun], wholes)
    found = []
    for box, ((begin, gone), segment, whole) in enumerate(zip(begun, segments, wholes, strict=True)):
        rows, ends = _at(run, box, segment.temp_c, gone + times[box], whole.duration_h)
        of_wound = dict(zip(wound, zip(rows, ends, strict=True), strict=True))
        each = [
            of_wound[n] if n in of_wound else _coil(filament, begin[n], whole, run, box, gone + times[box])
            for n, filament in enumerate(filaments)
        ]
        moisture = np.stack([row for row, _ in each])
        found.append((moisture, SharedState(tuple(end for _, end in each), (begin, whole))))
    return found


def _some_free(
    filaments: Sequence[Filament],
    boxes: Sequence[tuple[SharedState, Segment, Array]],
    free: Sequence[bool],
) -> list[tuple[Array, SharedState]]:
    """Those in free air each by itself, the others side by side."""
    vented = [box for box, is_free in zip(boxes, free, strict=True) if not is_free]
    together = iter(shared_courses(filaments, *map(list, zip(*vented, strict=True))) if vented else ())
    return [_apart(filaments, *box) if is_free else next(together) for box, is_free in zip(boxes, free, strict=True)]


def _apart(
    filaments: Sequence[Filament], start: SharedState, segment: Segment, time_h: Array
) -> tuple[Array, SharedState]:
    """Each by itself, where the others do not matter."""
    both = [advance(b, segment, s, time_h) for b, s in zip(filaments, start.spools, strict=True)]
    return np.stack([moisture for moisture, _ in both]), SharedState(tuple(end for _, end in both))


def shared_course(
    filaments: Sequence[Filament], start: SharedState, segment: Segment, time_h: npt.ArrayLike
) -> tuple[Array, SharedState]:
    """`shared_courses` of one box."""
    [found] = shared_courses(filaments, [start], [segment], [time_h])
    return found
