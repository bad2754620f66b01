"""Water in windings whose polymer has a cubic isotherm (nylon 6, PVA): integrated in time, several side by side.

The same nodes and strand modes as in `linear`; only the surface of the strand follows c = k1·a + k3·a³. In given air
steps are Rosenbrock's, see `rosenbrock`. Where the air is sought along with the gas, a step takes the modes exactly for
a surface that stays, and the gas by backward Euler, once whole and once in halves, and extrapolated (Richardson). Both
keep the balance of water.

Steps lie at fixed times after the moment the conditions began (see `knots_h`), and what lies between is interpolated.
That makes the course a function of that moment's state and of the time gone since: it does not matter in how many parts
a segment is asked for. And it lets any number of windings, each in its own conditions, take their steps together, which
costs less than one by one. Where the air only goes on changing, piece by piece, the steps go on growing.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np

from drying.arrays import Array, Counts
from drying.transport.state import (
    STRAND_WEIGHTS,
    Filament,
    Segment,
    Slots,
    State,
    face_conductance,
)
from drying.transport.winding import gas_conductivity, grid

FIRST_STEP_H, LONGEST_SHARE = 0.08, 0.3


def _require(solved: bool) -> None:
    if not solved:
        raise FloatingPointError("The pack's system of equations could not be solved.")


class Conditions:
    """What does not change during a segment: capacities, conductances, the face (see `wound`).
    Numbers of the cases run along the first axis: (cases, nodes), strand modes (cases, nodes, modes).
    """

    def __init__(self, cases: Sequence[tuple[Filament, Segment]]) -> None:
        from drying.transport.wound import Stays

        windings = [f.winding for f, _ in cases if f.winding is not None]
        cells = [grid(winding) for winding in windings]
        self.slots = Slots([(f, s.temp_c) for f, s in cases])
        through = [gas_conductivity(w, s.temp_c) for w, (_, s) in zip(windings, cases, strict=True)]
        transport = np.array(through)[:, None, None] * np.array([c.stiffness for c in cells])
        free, nodes = cases[0][1].vent_m3_h is None, transport.shape[1]
        face = np.zeros((len(cases), 1))
        if not free:
            face[:, 0] = [
                face_conductance(w, s.temp_c, s.vent_m3_h or 0.0) for w, (_, s) in zip(windings, cases, strict=True)
            ]
            transport[:, -1, -1] += face[:, 0]
        air = np.array([[s.activity] for _, s in cases])
        self.stays = Stays(
            mass=np.array([c.mass for c in cells]),
            transport=transport,
            rate=np.array([f.strand_rates_per_s(s.temp_c) for f, s in cases]),
            weights=STRAND_WEIGHTS,
            numbers=np.hstack([self.slots.each, face, air]),
            sought=nodes - 1 if free else nodes,
        )

    def followed(self, gas: Array, strand: Array, seconds: Array) -> tuple[Array, Array, Array]:
        """Through intervals of these lengths, shape (intervals, cases): what the slots (see `Slots`) hold, the gas and
        the strand at the beginning and after each.
        """
        from drying.transport import rosenbrock

        found = [np.empty((1 + len(seconds), *of.shape)) for of in (gas, gas, strand)]
        for of, first in zip(found, (self.slots.water(gas), gas, strand), strict=True):
            of[0] = first
        slot, near, modes = found
        _require(rosenbrock.follow(self.stays, seconds, slot, near, modes))
        return slot, near, modes


def stacked(states: Sequence[State]) -> tuple[Array, Array]:
    """Gas (cases, nodes) and strand modes (cases, nodes, modes) of several states."""
    return np.array([s.gas for s in states]), np.array([s.strand for s in states])


def stacked_at(cases: Sequence[tuple[Filament, State, float]]) -> tuple[Array, Array]:
    """The same of wound spools a moment after each came to a temperature, °C, as by `at_temperature`."""
    gas, strand = stacked([state for _, state, _ in cases])
    changed = np.array([[state.temp_c != temp_c] for _, state, temp_c in cases])
    if changed.any():
        before = Slots([(filament, state.temp_c) for filament, state, _ in cases])
        after = Slots([(filament, temp_c) for filament, _, temp_c in cases])
        gas = np.where(changed, after.gas_of(before.water(gas), gas), gas)
    return gas, strand


def _run(cases: Sequence[tuple[Filament, Segment, State]]) -> tuple[Array, Knots]:
    """Step each from the beginning of its conditions to the end of its segment: when its knots are, h by the clock of
    each case (see `State`), shape (knots, cases), and what they hold there.
    """
    conditions = Conditions([(filament, segment) for filament, segment, _ in cases])
    begin = stacked_at([(filament, state, segment.temp_c) for filament, segment, state in cases])
    knot_h = _knots_of([(state.clock_h, segment.duration_h) for _, segment, state in cases])
    steps = conditions.followed(*begin, 3600.0 * (knot_h[1:] - knot_h[:-1]))
    return knot_h, Knots(conditions.slots, conditions.stays.mass, *steps)


def _knots_of(spans: Sequence[tuple[float, float]]) -> Array:
    """When steps end of cases whose clocks stand at some hours and that go on for some, h by their clocks, shape
    (knots, cases). Those that need fewer go on beyond.
    """
    each = {span: knots_h(FIRST_STEP_H, LONGEST_SHARE, *span) for span in set(spans)}
    most = max(len(knots) for knots in each.values())
    for span in [span for span, knots in each.items() if len(knots) < most]:
        each[span] = knots_h(FIRST_STEP_H, LONGEST_SHARE, *span, least=most)
    return np.stack([each[span] for span in spans], axis=1)


@lru_cache(maxsize=4096)
def knots_h(first_h: float, longest_share: float, clock_h: float, hours: float, least: int = 4) -> tuple[float, ...]:
    """When steps end, h after conditions changed abruptly, from an hour by that clock until they are enough for `hours`
    more: at first evenly in the square root of time, as diffusion begins, and no step longer than a share of the time
    gone once that is more.
    """
    found = [clock_h]
    while len(found) < least or not are_enough(found, clock_h + hours):
        at = found[-1]
        found.append(at + max(longest_share * at, first_h + 2.0 * math.sqrt(at * first_h)))
    return tuple(found)


def are_enough(knot_h: Sequence[float] | Array, until_h: float) -> bool:
    """Whether there are the `four_knots` about any time up to an hour."""
    return len(knot_h) >= 4 and float(knot_h[-1]) >= until_h


def four_knots(knot_h: Array, time_h: Array) -> tuple[Counts, Array]:
    """The four knots about each time and their weights, shapes (times, 4), see `knots.four_knots`."""
    from drying.transport import knots

    first, weights = np.empty(time_h.size, dtype=np.int64), np.empty((time_h.size, 4))
    knots.four_knots(knot_h, time_h, first, weights)
    return first[:, None] + np.arange(4), weights


@dataclass(frozen=True)
class Knots:
    """What several windings hold at knots: water in their slots (see `Slots`), about the gas, and the strand, shape
    (knots, cases, ...).
    """

    slots: Slots
    mass: Array
    slot: Array
    gas: Array
    strand: Array

    def with_more(self, gas: Array, strand: Array) -> Knots:
        """The same with more knots after them."""
        both = [np.concatenate(of) for of in ((self.gas, gas), (self.strand, strand))]
        return replace(self, slot=self.slots.water(both[0]), gas=both[0], strand=both[1])

    def at(self, case: int, knot_h: Array, time_h: Array) -> tuple[Array, Array, Array]:
        """Of one of them its mean moisture at any times, % of dry mass, and gas and strand at the last of them."""
        from drying.transport import knots

        moisture, gas, strand = (np.empty(shape) for shape in (time_h.shape, self.gas.shape[2:], self.strand.shape[2:]))
        knots.between(
            self.slots.each[case], self.mass[case], STRAND_WEIGHTS, knot_h, self.slot, self.gas, self.strand, case,
            time_h, moisture, gas, strand,
        )  # fmt: skip
        return moisture, gas, strand


def _resumed(segment: Segment, state: State) -> tuple[State, float]:
    """Where the present conditions began, and the hours gone since."""
    if state.since is not None:
        begin, so_far = state.since
        if so_far.is_like(segment):
            return begin, so_far.duration_h
    goes_on = segment.goes_on and segment.temp_c == state.temp_c
    return replace(state, since=None, clock_h=state.clock_h if goes_on else 0.0), 0.0


def advance(cases: Sequence[tuple[Filament, Segment, State]], time_h: Sequence[Array]) -> list[tuple[Array, State]]:
    """Of each case the mean moisture, % of dry mass, at its times in h after its segment's beginning, and the state at
    the segment's end. The cases are all vented or all in free air.
    """
    begun = [_resumed(segment, state) for _, segment, state in cases]
    wholes = [
        replace(segment, duration_h=gone + segment.duration_h) if gone else segment
        for (_, segment, _), (_, gone) in zip(cases, begun, strict=True)
    ]
    knot_h, run = _run([(case[0], whole, begin) for case, whole, (begin, _) in zip(cases, wholes, begun, strict=True)])
    found = []
    for n, ((begin, gone), whole, times) in enumerate(zip(begun, wholes, time_h, strict=True)):
        end_h = begin.clock_h + whole.duration_h
        asked = np.append(begin.clock_h + gone + times, end_h)
        moisture, gas, strand = run.at(n, np.ascontiguousarray(knot_h[:, n]), asked)
        found.append((moisture[:-1], State(gas, strand, whole.temp_c, (begin, whole), end_h)))
    return found
