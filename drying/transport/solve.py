"""Water moving through spools and coils: two scales, any sequence of segments, drying and uptake alike.

Strand: the modes of J. Crank's cylinder (see `strand`). Winding: vapour in the gaps (see `winding`):

    eps·Cs·da/dt = (1/x)·d/dx(x·Dg·Cs·da/dx) - (1 - eps)·rho·dc/dt

with a the activity in the gaps, Cs the saturation vapour concentration, c the local strand's mean (mass fraction).
At the face either free air (a = that of the air), or a vented box: all vapour leaves with the exchange flow Q of room
air. Henry's law is solved exactly in time in `linear`, cubic isotherms are integrated in `cubic`.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence

import numpy as np
import numpy.typing as npt

from drying.arrays import Array
from drying.errors import OutOfRangeError
from drying.materials import held_pct
from drying.transport import cubic, linear
from drying.transport.state import REST_WEIGHT, STRAND_WEIGHTS, Filament, Segment, State, mean_moisture_pct

Case = tuple[Filament, State, Sequence[Segment]]
"""A body, how it starts, and what it goes through."""

Solver = Callable[[Sequence[tuple[Filament, Segment, State]], Sequence[Array]], list[tuple[Array, State]]]


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
    cases: Sequence[tuple[Filament, Segment, State]], time_h: Sequence[Array]
) -> list[tuple[Array, State]]:
    return [_advance_coil(*case, times) for case, times in zip(cases, time_h, strict=True)]


def _solver(filament: Filament) -> Solver:
    """What solves a body, many of its kind side by side."""
    if filament.winding is None:
        return _advance_coils
    return cubic.advance if is_stepped(filament) else linear.advance


def after_segment(filament: Filament, segment: Segment, state: State) -> State:
    """The state at the end of a segment. Exact in time for coils and for Henry's law."""
    return advance(filament, segment, state, np.empty(0))[1]


def advance(filament: Filament, segment: Segment, state: State, time_h: Array) -> tuple[Array, State]:
    """Mean moisture, % of dry mass, at times in h after the beginning of one segment (any order), and the state at its
    end. At 0 it is the state's own: what follows the air at once has not moved yet.
    """
    [(moisture, end)] = _solver(filament)([(filament, segment, state)], [time_h])
    if time_h.size == 0:
        return moisture, end
    return np.where(time_h == 0.0, mean_moisture_pct(filament, state), moisture), end


def _require_segments(segments: Sequence[Segment]) -> None:
    if not segments:
        raise OutOfRangeError("segments", "There are no segments: give at least one stretch of time.")


def _require_times(segments: Sequence[Segment], times: Array) -> None:
    _require_segments(segments)
    total = sum(s.duration_h for s in segments)
    if times.size and not (times.min() >= 0.0 and times.max() <= total * (1.0 + 1e-12)):
        raise OutOfRangeError("time_h", f"A time lies outside the segments, which last {total:g} h.")


def course(filament: Filament, start: State, segments: Sequence[Segment], time_h: npt.ArrayLike) -> Array:
    """Mean moisture, % of dry mass, at times in h from the start over a sequence of segments.

    At a time between two segments the earlier one counts; at 0 the start itself. Raises OutOfRangeError where there is
    no segment, or a time lies outside them.
    """
    [found] = courses([(filament, start, segments)], [np.asarray(time_h, dtype=np.float64)])
    return found


def _are_alike(cases: Sequence[Case]) -> bool:
    """Whether courses can be followed side by side: bodies of one kind through alike sequences of conditions."""
    shapes = {tuple(s.vent_m3_h is None for s in segments) for _, _, segments in cases}
    return len(shapes) == 1 and len({_solver(filament) for filament, _, _ in cases}) == 1


def courses(cases: Sequence[Case], time_h: Sequence[Array]) -> list[Array]:
    """What `course` gives for each case at its own times; those that are alike together, which is cheaper."""
    if not _are_alike(cases):
        return [course(*case, times) for case, times in zip(cases, time_h, strict=True)]
    solve = _solver(cases[0][0])
    for (_, _, segments), times in zip(cases, time_h, strict=True):
        _require_times(segments, times)
    found = [np.full(t.shape, mean_moisture_pct(f, s)) for (f, s, _), t in zip(cases, time_h, strict=True)]
    states, begins = [state for _, state, _ in cases], [0.0] * len(cases)
    for n in range(len(cases[0][2])):
        here = [segments[n] for _, _, segments in cases]
        ends = [begin + segment.duration_h for begin, segment in zip(begins, here, strict=True)]
        inside = [
            (times > begin) & (times <= begin + segment.duration_h * (1.0 + 1e-12))
            for times, begin, segment in zip(time_h, begins, here, strict=True)
        ]
        reached = solve(
            [(case[0], segment, state) for case, segment, state in zip(cases, here, states, strict=True)],
            [times[at] - begin for times, at, begin in zip(time_h, inside, begins, strict=True)],
        )
        for row, at, (moisture, _) in zip(found, inside, reached, strict=True):
            row[at] = moisture
        if all(end >= times.max(initial=0.0) for end, times in zip(ends, time_h, strict=True)):
            break  # nothing is asked of the rest
        states, begins = [end for _, end in reached], ends
    return found


def follow(filament: Filament, start: State, segments: Sequence[Segment]) -> State:
    """The state after all segments, carried over from one to the next."""
    _require_segments(segments)
    state = start
    for segment in segments:
        state = after_segment(filament, segment, state)
    return state
