"""Several spools in one box: they share its exchange flow, so the wet one slows the others.

The air of the box is one unknown more: what all spools give off in a step must be what the exchange flow carries away.
In each step the box's activity stands still and is found from that balance by secants; steps grow by a fixed ratio from
the moment the conditions began, and what lies between is interpolated, as in `cubic`.

The same load in several boxes, such as at each temperature of a map, is stepped side by side: numbers of the boxes run
along the first axis, those of the spools along the second.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from typing import TypeVar

import numpy as np
import numpy.typing as npt

from drying.air import RoomAir, vapour_concentration_g_m3
from drying.arrays import Array
from drying.errors import OutOfRangeError
from drying.transport import (
    REST_WEIGHT,
    STRAND_WEIGHTS,
    Conditions,
    Filament,
    FreeAir,
    Segment,
    Slots,
    State,
    advance,
    after_segment,
    at_temperature,
    four_knots,
    grid,
    is_stepped,
    mean_moisture_pct,
    stacked,
    strand_density,
)

FIRST_STEP_H, GROWTH, LONGEST_SHARE = 0.02, 1.5, 0.5  # no step is longer than that share of the time gone
_BALANCED, _MOST_SECANTS = 1e-5, 30  # how far the activity of a box may be from where its water balances


@dataclass(frozen=True)
class Occupant:
    """Filament in the box from one hour to another (None: it stays), and its moisture as it comes in, % of dry mass.
    `dry_g`: of strand that lies free, without its water; a winding's own mass counts.
    """

    filament: Filament
    start_pct: float
    dry_g: float
    from_h: float = 0.0
    to_h: float | None = None

    @property
    def strand_kg(self) -> float:
        """Dry strand, kg."""
        winding = self.filament.winding
        return self.dry_g / 1000.0 if winding is None else strand_density(self.filament) * winding.volume_m3

    def covers(self, time_h: float) -> bool:
        """Whether it is in the box just after this hour."""
        return self.from_h <= time_h and (self.to_h is None or time_h < self.to_h)


class Spools:
    """The spools of all boxes at the warmth of their segments, as one row of cases, box by box."""

    def __init__(self, filaments: Sequence[Filament], segments: Sequence[Segment]) -> None:
        self.filaments, self.boxes, self.each = filaments, len(segments), len(filaments)
        cases = [(filament, segment) for segment in segments for filament in filaments]
        free = [(filament, replace(segment, vent_m3_h=None)) for filament, segment in cases]
        self.stepped = np.array([is_stepped(filament) for filament, _ in cases])
        once, twice = ([c for c, s in zip(free, self.stepped, strict=True) if s] * n for n in (1, 2))
        self.cubic = {1: Conditions(once), 2: Conditions(twice)} if once else {}
        straight = [(f, s.temp_c) for (f, s), stepped in zip(free, self.stepped, strict=True) if not stepped]
        self.linear = FreeAir([*straight, *straight]) if straight else None  # with its own water, and with none
        self.slots = Slots([(filament, segment.temp_c) for filament, segment in cases])
        windings = [f.winding for f, _ in cases if f.winding is not None]
        self.share = np.stack([grid(w).mass for w in windings])
        self.volume = np.array([w.volume_m3 for w in windings])

    def local(self, gas: Array, strand: Array) -> Array:
        """Mean moisture of the strand at each node, % of dry mass."""
        return strand @ STRAND_WEIGHTS + REST_WEIGHT * self.slots.held(gas)

    def water_kg(self, gas: Array, strand: Array) -> Array:
        """All water in the spools of each box, shape (boxes,)."""
        each = np.sum(
            self.share * (self.slots.density * self.local(gas, strand) + self.slots.gas_capacity * gas), axis=1
        )
        return np.asarray((each * self.volume).reshape(self.boxes, self.each).sum(axis=1))


class Step:
    """A step of all spools, from `gas` and `strand`, in air whose activity is yet to be found.

    By Henry's law a spool answers to its air in proportion: what it becomes in dry air, and what each unit of activity
    adds. Cubic isotherms take one extrapolated step as long, for two activities at once.
    """

    def __init__(self, spools: Spools, gas: Array, strand: Array, hours: float) -> None:
        self.spools, self.gas, self.strand, self.seconds = spools, gas, strand, hours * 3600.0
        if spools.linear is not None:
            own = ~spools.stepped
            count = int(own.sum())
            begin = [np.concatenate([x[own], np.zeros_like(x[own])]) for x in (gas, strand)]
            air = np.repeat([0.0, 1.0], count)
            gas_after, strand_after = spools.linear.after(begin[0], begin[1], air, self.seconds)
            self.dry = gas_after[:count], strand_after[:count]
            self.unit = gas_after[count:], strand_after[count:]

    def after(self, *activities: Array) -> list[tuple[Array, Array]]:
        """Gas and strand of all spools for each choice of the boxes' activities, one or two of shape (boxes,)."""
        spools = self.spools
        air = [np.minimum(np.repeat(a, spools.each), 1.0)[:, None] for a in activities]
        found = [(np.empty_like(self.gas), np.empty_like(self.strand)) for _ in activities]
        if spools.linear is not None:
            for (gas, strand), a in zip(found, air, strict=True):
                own = ~spools.stepped
                gas[own] = self.dry[0] + a[own] * self.unit[0]
                strand[own] = self.dry[1] + a[own][:, :, None] * self.unit[1]
        if spools.cubic:
            own, times = spools.stepped, len(activities)
            begin = [np.concatenate([x[own]] * times) for x in (self.gas, self.strand)]
            conditions = spools.cubic[times].in_air(np.concatenate([a[own] for a in air]))
            gas_after, strand_after = conditions.step(begin[0], begin[1], self.seconds)
            for n, (gas, strand) in enumerate(found):
                here = slice(n * int(own.sum()), (n + 1) * int(own.sum()))
                gas[own], strand[own] = gas_after[here], strand_after[here]
        return found


@dataclass(frozen=True)
class _Flow:
    """What the exchange flow of each box brings and carries, shape (boxes,): kg an hour for a unit of activity, and the
    activity of what comes in.
    """

    kg_h: Array
    incoming: Array


Reached = TypeVar("Reached")


def balanced(
    after: Callable[..., list[Reached]], surplus: Callable[[Reached, Array], Array], guess: Array
) -> tuple[Reached, Array]:
    """What boxes come to in a step, and the activities in them at which their water balances, sought from `guess` on.

    `after`: what is reached in air of each of its activities, shape (boxes,). `surplus`: the water given off in the
    step beyond what the air takes with it, kg; it falls as the box gets wetter.
    """
    # The balance lies between: over it the spools drink, under it the air carries more than comes.
    low, high = np.zeros_like(guess), np.ones_like(guess)
    last, here = guess, np.clip(guess * 0.98 + 0.001, 0.0, 1.0)
    first, reached = after(last, here)
    last_left, found = surplus(first, last), np.zeros(guess.shape, dtype=bool)
    for _ in range(_MOST_SECANTS):
        left = surplus(reached, here)
        low, high = np.where(left > 0.0, here, low), np.where(left > 0.0, high, here)
        apart = np.where(here == last, 1.0, here - last)
        slope = np.where(here == last, 0.0, (left - last_left) / apart)
        falls = slope < 0.0
        change = -left / np.where(falls, slope, 1.0)
        found |= ~falls | (np.abs(change) < _BALANCED)
        if found.all():
            break
        onward = here + change
        onward = np.where((low <= onward) & (onward <= high), onward, (low + high) / 2.0)
        last, last_left = np.where(found, last, here), np.where(found, last_left, left)
        here = np.where(found, here, onward)
        [reached] = after(here)
    return reached, here


def _stepped(
    spools: Spools, flow: _Flow, now: tuple[Array, Array], hours: float, guess: Array
) -> tuple[tuple[Array, Array], Array]:
    """The states after a step, and the boxes' activities in it, sought from `guess` on."""
    step, before, carried = Step(spools, *now, hours), spools.water_kg(*now), flow.kg_h * hours

    def surplus(reached: tuple[Array, Array], activity: Array) -> Array:
        return np.asarray(before - spools.water_kg(*reached) - carried * (activity - flow.incoming))

    return balanced(step.after, surplus, guess)


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


@dataclass(frozen=True)
class _Run:
    """Knots in h from the beginning of the conditions until two lie beyond the longest segment's end; the states of the
    wound spools there, gas (knots, cases, nodes), and the boxes' activity in the step to each knot but the first.
    """

    spools: Spools
    knot_h: Array
    gas: Array
    strand: Array
    activity: Array


def _run(filaments: Sequence[Filament], starts: Sequence[Sequence[State]], segments: Sequence[Segment]) -> _Run:
    spools = Spools(filaments, segments)
    warm = [
        at_temperature(filament, state, segment.temp_c)
        for states, segment in zip(starts, segments, strict=True)
        for filament, state in zip(filaments, states, strict=True)
    ]
    carries = [(s.vent_m3_h or 0.0) * vapour_concentration_g_m3(s.temp_c, 100.0) / 1000.0 for s in segments]
    activity = np.array([s.activity for s in segments])
    flow = _Flow(np.array(carries), activity)
    knots, found, width = [0.0], [stacked(warm)], FIRST_STEP_H
    met: list[Array] = []
    longest_h = max(s.duration_h for s in segments)
    while len(knots) < 4 or knots[-3] < longest_h:
        reached, activity = _stepped(spools, flow, found[-1], width, _onward(met) if met else activity)
        found.append(reached)
        met.append(activity)
        knots.append(knots[-1] + width)
        width = max(min(width * GROWTH, LONGEST_SHARE * knots[-1]), FIRST_STEP_H)
    gas, strand = (np.stack([state[k] for state in found]) for k in (0, 1))
    return _Run(spools, np.array(knots), gas, strand, np.array(met))


def _onward(met: Sequence[Array]) -> Array:
    """Where the boxes' activities are likely to be in the next step: steps grow evenly in the logarithm of time."""
    return met[-1] if len(met) < 2 else np.clip(2.0 * met[-1] - met[-2], 0.0, 1.0)


def _of_box(run: _Run, box: int, temp_c: float, time_h: Array) -> tuple[Array, list[State]]:
    """Moisture of each wound spool of a box at any times, % of dry mass, shape (spools, times), and the states at the
    last one. Water is what is interpolated, so none is made or lost.
    """
    spools, here = run.spools, slice(box * run.spools.each, (box + 1) * run.spools.each)
    rows, weights = four_knots(run.knot_h, time_h)
    slots = Slots([(filament, temp_c) for filament in spools.filaments])
    water = np.einsum("tk,tkcn->tcn", weights, spools.slots.water(run.gas)[rows][:, :, here])
    gas = slots.gas_of(water, np.einsum("tk,tkcn->tcn", weights, run.gas[:, here][rows]))
    of_modes = np.einsum("tk,tkcn->tcn", weights, (run.strand[:, here] @ STRAND_WEIGHTS)[rows])
    moisture = np.sum(spools.share[here] * (of_modes + REST_WEIGHT * slots.held(gas)), axis=2).T
    strand = np.einsum("k,kcnm->cnm", weights[-1], run.strand[rows[-1]][:, here])
    return moisture, [State(g, s, temp_c) for g, s in zip(gas[-1], strand, strict=True)]


def _coil(
    filament: Filament, start: State, segment: Segment, run: _Run, box: int, time_h: Array
) -> tuple[Array, State]:
    """A coil that lies with the spools in their air, through the same steps; by its grams it does not wet them."""
    states = [at_temperature(filament, start, segment.temp_c)]
    for hours, activity in zip(np.diff(run.knot_h), run.activity[:, box], strict=True):
        air = RoomAir(segment.temp_c, 100.0 * min(float(activity), 1.0))
        here = Segment(float(hours), segment.temp_c, air)
        states.append(after_segment(filament, here, replace(states[-1], since=None)))
    rows, weights = four_knots(run.knot_h, time_h)
    gas = np.einsum("tk,tkn->tn", weights, np.stack([s.gas for s in states])[rows])
    strand = np.einsum("tk,tknm->tnm", weights, np.stack([s.strand for s in states])[rows])
    line = [State(g, s, segment.temp_c) for g, s in zip(gas, strand, strict=True)]
    return np.array([mean_moisture_pct(filament, state) for state in line]), line[-1]


def shared_courses(
    filaments: Sequence[Filament],
    starts: Sequence[SharedState],
    segments: Sequence[Segment],
    time_h: Sequence[npt.ArrayLike],
) -> list[tuple[Array, SharedState]]:
    """Of each box, all with the same load: moisture of each spool at its times in h, % of dry mass, shape (spools,
    times), and the states at the end of its segment.

    In free air, and for one spool alone, this is `transport.course`. Else the box's air is stepped (error under 0.1 %
    of the start). Raises OutOfRangeError where there is no spool.
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
        asked = gone + np.append(times[box], segment.duration_h)
        rows, ends = _of_box(run, box, segment.temp_c, asked)
        of_wound = dict(zip(wound, zip(rows, ends, strict=True), strict=True))
        each = [
            of_wound[n] if n in of_wound else _coil(filament, begin[n], segment, run, box, asked)
            for n, filament in enumerate(filaments)
        ]
        moisture = np.stack([row[:-1] for row, _ in each])
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
