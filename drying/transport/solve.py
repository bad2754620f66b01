"""Water moving through spools and coils: two scales, any sequence of segments, drying and uptake alike.

Strand: the modes of J. Crank's cylinder (see `strand`). Winding: vapour in the gaps (see `winding`):

    eps·Cs·da/dt = (1/x)·d/dx(x·Dg·Cs·da/dx) - (1 - eps)·rho·dc/dt

with a the activity in the gaps, Cs the saturation vapour concentration, c the local strand's mean (mass fraction).
At the face either free air (a = that of the air), or a vented box: all vapour leaves with the exchange flow Q of room
air. Henry's law is solved exactly in time in `linear`, cubic isotherms are integrated in `cubic`.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from itertools import zip_longest

import numpy as np
import numpy.typing as npt

from drying.arrays import Array
from drying.errors import OutOfRangeError
from drying.materials import held_pct
from drying.transport import cubic, linear
from drying.transport.state import REST_WEIGHT, SAME_MOMENT, STRAND_WEIGHTS, Filament, Segment, State, mean_moisture_pct

Case = tuple[Filament, State, Sequence[Segment]]
"""A body, how it starts, and what it goes through."""

Solver = Callable[[Sequence[tuple[Filament, Sequence[Segment], State]], Sequence[Array]], list[tuple[Array, State]]]
"""What takes bodies on through segments: one each, or, where it can, several that differ in their air alone."""


def _advance_coil(filament: Filament, segment: Segment, state: State, time_h: Array) -> tuple[Array, State]:
    """A coil lies free in its air: the surface's moisture is given, so this is exact for a cubic isotherm too."""
    surface = float(held_pct(filament.material, np.array(segment.activity)))
    seconds = np.append(time_h, segment.duration_h) * 3600.0
    decay = np.exp(-np.multiply.outer(seconds, filament.strand_rates_per_s(segment.temp_c)))
    strand = surface + (state.strand[0] - surface) * decay
    moisture = strand[:-1] @ STRAND_WEIGHTS + REST_WEIGHT * surface
    return moisture, State(np.array([segment.activity]), strand[-1:], segment.temp_c)


def is_stepped(filament: Filament) -> bool:
    """True for a winding whose isotherm is cubic: its course is integrated in steps."""
    return filament.winding is not None and filament.material.k3.value > 0.0


def _advance_coils(
    cases: Sequence[tuple[Filament, Sequence[Segment], State]], time_h: Sequence[Array]
) -> list[tuple[Array, State]]:
    each = zip(cases, time_h, strict=True)
    return [_advance_coil(filament, segment, state, times) for (filament, [segment], state), times in each]


def _advance_stepped(
    cases: Sequence[tuple[Filament, Sequence[Segment], State]], time_h: Sequence[Array]
) -> list[tuple[Array, State]]:
    return cubic.advance([(filament, segment, state) for filament, [segment], state in cases], time_h)


def _solver(filament: Filament) -> Solver:
    """What solves a body, many of its kind side by side."""
    if filament.winding is None:
        return _advance_coils
    return _advance_stepped if is_stepped(filament) else linear.advance


def after_segment(filament: Filament, segment: Segment, state: State) -> State:
    """The state at the end of a segment. Exact in time for coils and for Henry's law."""
    return advance(filament, segment, state, np.empty(0))[1]


def advance(filament: Filament, segment: Segment, state: State, time_h: Array) -> tuple[Array, State]:
    """Mean moisture, % of dry mass, at times in h after the beginning of one segment (any order), and the state at its
    end. At 0 it is the state's own: what follows the air at once has not moved yet.
    """
    [(moisture, end)] = _solver(filament)([(filament, [segment], state)], [time_h])
    if time_h.size == 0:
        return moisture, end
    return np.where(time_h == 0.0, mean_moisture_pct(filament, state), moisture), end


def _require_segments(segments: Sequence[Segment]) -> None:
    if not segments:
        raise OutOfRangeError("segments", "There are no segments: give at least one stretch of time.")


def _require_times(segments: Sequence[Segment], times: Array) -> None:
    _require_segments(segments)
    total = sum(s.duration_h for s in segments)
    if times.size and not (times.min() >= 0.0 and times.max() <= total * SAME_MOMENT):
        raise OutOfRangeError("time_h", f"A time lies outside the segments, which last {total:g} h.")


def course(filament: Filament, start: State, segments: Sequence[Segment], time_h: npt.ArrayLike) -> Array:
    """Mean moisture, % of dry mass, at times in h from the start over a sequence of segments.

    At a time between two segments the earlier one counts; at 0 the start itself. Raises OutOfRangeError where there is
    no segment, or a time lies outside them.
    """
    [found] = courses([(filament, start, segments)], [np.asarray(time_h, dtype=np.float64)])
    return found


def _are_alike(cases: Sequence[Case]) -> bool:
    """Whether courses of bodies that are stepped can be followed side by side: all vented or all free in each segment.

    Some may have fewer segments than others.
    """
    together = zip_longest(*([s.vent_m3_h is None for s in segments] for _, _, segments in cases))
    return all(len({*free} - {None}) == 1 for free in together)


def times_inside(begin_h: float, hours: float, time_h: Array) -> npt.NDArray[np.bool_]:
    """Which times in h lie in a stretch of so many hours: its end does, its beginning does not."""
    return np.asarray((time_h > begin_h) & (time_h <= begin_h + hours * SAME_MOMENT))


@dataclass
class _Followed:
    """A case on its way: the segments that lie before it, the state it has come to at `begin_h`, and what was found at
    its times so far.
    """

    filament: Filament
    segments: Sequence[Segment]
    time_h: Array
    state: State
    found: Array
    begin_h: float = 0.0

    def stretch(self) -> Sequence[Segment]:
        """Those that are taken next, at one go."""
        solves = _solver(self.filament)
        return self.segments[: linear.in_one(self.segments) if solves is linear.advance else 1]


def courses(cases: Sequence[Case], time_h: Sequence[Array]) -> list[Array]:
    """What `course` gives for each case at its own times; those that are alike together, which is cheaper."""
    return [followed.found for followed in _all_followed(cases, time_h)]


def end_states(cases: Sequence[Case]) -> list[State]:
    """The state of each case after all its segments; those that are alike together, which is cheaper."""
    lasting = [np.array([sum(segment.duration_h for segment in segments)]) for _, _, segments in cases]
    return [followed.state for followed in _all_followed(cases, lasting)]


def follow(filament: Filament, start: State, segments: Sequence[Segment]) -> State:
    """`end_states` of one case. Raises OutOfRangeError where there is no segment."""
    return end_states([(filament, start, segments)])[0]


def _all_followed(cases: Sequence[Case], time_h: Sequence[Array]) -> list[_Followed]:
    found: dict[int, _Followed] = {}
    for solver in {_solver(filament) for filament, *_ in cases}:
        which = [n for n, (filament, *_) in enumerate(cases) if _solver(filament) is solver]
        of_kind = [cases[n] for n in which]
        groups = [which] if solver is linear.advance or _are_alike(of_kind) else [[n] for n in which]
        for group in groups:
            found.update(zip(group, _side_by_side([cases[n] for n in group], [time_h[n] for n in group]), strict=True))
    return [found[n] for n in range(len(cases))]


def _asked(segments: Sequence[Segment], time_h: Array) -> Sequence[Segment]:
    """The segments that something is asked of: the first, and each in or after which a time lies."""
    ends_h = np.cumsum([segment.duration_h for segment in segments[:-1]])
    return segments[: 1 + int(np.searchsorted(ends_h, time_h.max(initial=0.0)))]


def _side_by_side(cases: Sequence[Case], time_h: Sequence[Array]) -> list[_Followed]:
    solve = _solver(cases[0][0])
    followed = []
    for (filament, state, segments), times in zip(cases, time_h, strict=True):
        _require_times(segments, times)
        first = np.zeros(times.shape)
        if not times.all():
            first[times == 0.0] = mean_moisture_pct(filament, state)
        followed.append(_Followed(filament, _asked(segments, times), times, state, first))
    while here := [each for each in followed if each.segments]:
        stretches = [each.stretch() for each in here]
        hours = [sum(segment.duration_h for segment in stretch) for stretch in stretches]
        inside = [times_inside(each.begin_h, lasts, each.time_h) for each, lasts in zip(here, hours, strict=True)]
        reached = solve(
            [(each.filament, stretch, each.state) for each, stretch in zip(here, stretches, strict=True)],
            [each.time_h[at] - each.begin_h for each, at in zip(here, inside, strict=True)],
        )
        for each, stretch, lasts, at, (moisture, end) in zip(here, stretches, hours, inside, reached, strict=True):
            each.found[at], each.state = moisture, end
            each.segments, each.begin_h = each.segments[len(stretch) :], each.begin_h + lasts
    return followed
