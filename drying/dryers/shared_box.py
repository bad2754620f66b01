"""Several spools in one box: they share its exchange flow, so the wet one slows the others.

The air of the box is one unknown more: what all spools give off in a step must be what the exchange flow carries away.
In each step the box's activity stands still and is found from that balance by secants, exact at the first by Henry's
law; steps grow by a fixed ratio from the moment the conditions began, and what lies between is interpolated, as in
`cubic`.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
import numpy.typing as npt

from drying.air import RoomAir, vapour_concentration_g_m3
from drying.arrays import Array
from drying.errors import OutOfRangeError
from drying.transport import (
    Filament,
    Segment,
    State,
    advance,
    after_segment,
    at_temperature,
    cubic,
    four_knots,
    gas_of_slot,
    is_stepped,
    mean_moisture_pct,
    slot_water,
    water_kg_m3,
)

FIRST_STEP_H, GROWTH, LONGEST_STEP_H = 0.01, 1.25, 1.0
_BALANCED, _MOST_SECANTS = 1e-9, 30  # kg left over in a step, as a share of what the flow could carry


def _in_air(segment: Segment, hours: float, activity: float) -> Segment:
    """Free air of the given activity at the box's temperature."""
    return replace(segment, duration_h=hours, room=RoomAir(segment.temp_c, 100.0 * min(activity, 1.0)), vent_m3_h=None)


def _one_step(filament: Filament, here: Segment, state: State) -> State:
    """A spool's state after a step in given air. Cubic isotherms take one extrapolated step of the same length."""
    state = replace(state, since=None)
    return cubic.one_step(filament, here, state) if is_stepped(filament) else after_segment(filament, here, state)


def _step(
    filaments: Sequence[Filament], states: Sequence[State], segment: Segment, hours: float, guess: float
) -> tuple[list[State], float]:
    """The states after a step, and the box's activity in it, sought from `guess` on."""
    carried = (segment.vent_m3_h or 0.0) * hours * vapour_concentration_g_m3(segment.temp_c, 100.0) / 1000.0
    # A coil weighs grams: what it gives off counts for nothing beside the spools.
    before = [0.0 if b.winding is None else water_kg_m3(b, s) for b, s in zip(filaments, states, strict=True)]

    def after(activity: float) -> list[State]:
        here = _in_air(segment, hours, activity)
        return [_one_step(b, here, s) for b, s in zip(filaments, states, strict=True)]

    def surplus(reached: Sequence[State], activity: float) -> float:
        """Water given off in the step beyond what the flow carries away, kg. Falls as the box gets wetter."""
        given = sum(
            (had - water_kg_m3(b, n)) * b.winding.volume_m3
            for b, had, n in zip(filaments, before, reached, strict=True)
            if b.winding is not None
        )
        return given - carried * (activity - segment.activity)

    low, high = 0.0, 1.0  # the balance lies between: over it the spools drink, under it the air carries more than comes
    last, here = guess, min(max(guess * 0.98 + 0.001, 0.0), 1.0)
    last_left = surplus(after(last), last)
    for _ in range(_MOST_SECANTS):
        reached = after(here)
        left = surplus(reached, here)
        low, high = (here, high) if left > 0.0 else (low, here)
        slope = (left - last_left) / (here - last) if here != last else 0.0
        if slope >= 0.0 or abs(left / slope) < _BALANCED:
            break
        last, last_left, here = here, left, here - left / slope
        if not low <= here <= high:
            here = (low + high) / 2.0
    return reached, here


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
        if replace(so_far, duration_h=segment.duration_h) == segment:
            return begin, so_far.duration_h
    return state.spools, 0.0


def _run(filaments: Sequence[Filament], starts: Sequence[State], segment: Segment) -> tuple[Array, list[list[State]]]:
    """Knots in h from the beginning of the conditions until two lie beyond the segment's end, and the states there."""
    warm = [at_temperature(b, s, segment.temp_c) for b, s in zip(filaments, starts, strict=True)]
    knots, found, width, activity = [0.0], [warm], FIRST_STEP_H, segment.activity
    while len(knots) < 4 or knots[-3] < segment.duration_h:
        reached, activity = _step(filaments, found[-1], segment, width, activity)
        found.append(reached)
        knots.append(knots[-1] + width)
        width = min(width * GROWTH, LONGEST_STEP_H)
    return np.array(knots), found


def _between(filament: Filament, states: Sequence[State], weights: Array) -> State:
    """A state between four others of one spool. Water is what is interpolated, so none is made or lost."""
    temp = states[0].temp_c
    gas = np.einsum("k,km->m", weights, np.array([s.gas for s in states]))
    strand = np.einsum("k,kmn->mn", weights, np.array([s.strand for s in states]))
    if filament.winding is not None:
        slot = np.einsum("k,km->m", weights, np.array([slot_water(filament, s.gas, temp) for s in states]))
        gas = gas_of_slot(filament, slot, temp, gas)
    return State(gas, strand, temp)


def shared_course(
    filaments: Sequence[Filament], start: SharedState, segment: Segment, time_h: npt.ArrayLike
) -> tuple[Array, SharedState]:
    """Moisture of each spool, % of dry mass, shape (spools, times), and the states at the end of the segment.

    In free air, and for one spool alone, this is `transport.course`. Else the box's air is stepped (error under 0.5 %
    of the start). Coils weigh grams and are taken not to wet the box. Raises OutOfRangeError where there is no spool.
    """
    if not filaments or len(filaments) != len(start.spools):
        raise OutOfRangeError("filaments", "Give at least one spool, and a state for each.")
    times = np.asarray(time_h, dtype=np.float64)
    if segment.vent_m3_h is None or len(filaments) == 1:
        both = [advance(b, segment, s, times) for b, s in zip(filaments, start.spools, strict=True)]
        return np.stack([moisture for moisture, _ in both]), SharedState(tuple(end for _, end in both))
    begin, gone = _resumed(segment, start)
    whole = replace(segment, duration_h=gone + segment.duration_h)
    knots, found = _run(filaments, begin, whole)
    rows, weights = four_knots(knots, gone + np.append(times, segment.duration_h))
    reached = [
        [_between(filament, [found[k][n] for k in row], weight) for row, weight in zip(rows, weights, strict=True)]
        for n, filament in enumerate(filaments)
    ]
    moisture = [[mean_moisture_pct(b, s) for s in line[:-1]] for b, line in zip(filaments, reached, strict=True)]
    return np.array(moisture).reshape(len(filaments), times.size), SharedState(
        tuple(line[-1] for line in reached), (begin, whole)
    )
