"""Water in windings whose polymer has a cubic isotherm (nylon 6, PVA): integrated in time, several side by side.

The same nodes and strand modes as in `linear`; only the surface of the strand follows c = k1·a + k3·a³. Each step
takes the modes exactly for a surface that stays, and the gas by backward Euler: one monotone system of the nodes'
activities, solved by Newton. A step is done once whole and once in halves and extrapolated (Richardson), which makes it
second order and keeps the balance of water, as both ways keep it.

Steps lie at fixed times after the moment the conditions began (see `knots_h`), and what lies between is interpolated.
That makes the course a function of that moment's state and of the time gone since: it does not matter in how many parts
a segment is asked for. And it lets any number of windings, each in its own conditions, take their steps together, which
costs far less than one by one. Where the air only goes on changing, piece by piece, the steps go on growing.
"""

from __future__ import annotations

import copy
import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

import numpy as np
import numpy.typing as npt
from scipy.linalg.lapack import dposv

from drying.air import vapour_concentration_g_m3
from drying.arrays import Array
from drying.grouping import alike
from drying.transport.state import (
    REST_WEIGHT,
    STRAND_WEIGHTS,
    Filament,
    Segment,
    Slots,
    State,
    face_conductance,
)
from drying.transport.winding import grid, vapour_diffusivity_m2_s

FIRST_STEP_H, LONGEST_SHARE = 0.08, 0.3
# Newton converges quadratically here: a last step under the tolerance leaves 1e-4 of the start in a course at most, a
# twentieth of what the steps in time leave. Water is balanced on its own.
_NEWTON_STEPS, _NEWTON_TOLERANCE = 40, 1e-2


def _solved(matrices: Array, right: Array) -> Array:
    """Symmetric positive systems, shapes (cases, nodes, nodes) and (cases, nodes), or (cases, right sides, nodes); both
    are written over. One by one where they lie is quicker than all at once in a copy.
    """
    for matrix, row in zip(matrices, right, strict=True):
        # Symmetric, so what it is turned over is itself, and lies as the routine wants it: nothing is copied.
        _, found, info = dposv(matrix.T, row.T, overwrite_a=1, overwrite_b=1)
        row[...] = found.T
        if info != 0:
            raise FloatingPointError("The pack's system of equations could not be solved.")
    return right


class Conditions:
    """What does not change during a segment: capacities, conductances, the face. Numbers of the cases run along the
    first axis: (cases, nodes), strand modes (cases, nodes, modes).
    """

    def __init__(self, cases: Sequence[tuple[Filament, Segment]]) -> None:
        windings = [f.winding for f, _ in cases if f.winding is not None]
        cells = [grid(winding) for winding in windings]
        self.mass = np.stack([c.mass for c in cells])
        self.rate = np.stack([f.strand_rates_per_s(s.temp_c) for f, s in cases])
        self.slots = Slots([(f, s.temp_c) for f, s in cases])
        temps = [s.temp_c for _, s in cases]
        conductivity = [
            vapour_diffusivity_m2_s(w, t) * vapour_concentration_g_m3(t, 100.0) / 1000.0
            for w, t in zip(windings, temps, strict=True)
        ]
        self.activity = np.array([[s.activity] for _, s in cases])
        self.free = cases[0][1].vent_m3_h is None
        self.inside = self.mass.shape[1] - 1 if self.free else self.mass.shape[1]
        self.face = np.zeros_like(self.mass)
        if not self.free:
            self.face[:, -1] = [
                face_conductance(w, s.temp_c, s.vent_m3_h or 0.0) for w, (_, s) in zip(windings, cases, strict=True)
            ]
        self.transport = np.stack([k * c.stiffness for k, c in zip(conductivity, cells, strict=True)])
        diagonal(self.transport)[...] += self.face

        self.strides: dict[float, _Stride] = {}

    def prepared(self, steps_h: Sequence[float]) -> Conditions:
        """The same for extrapolated steps of these lengths, h: what each needs, whole and halved, is worked out
        together.
        """
        other = copy.copy(self)
        seconds = list(dict.fromkeys(3600.0 * h * part for h in steps_h for part in (1.0, 0.5)))
        other.strides = dict(zip(seconds, _strides(self, np.array(seconds)[:, None]), strict=True))
        return other

    def stride(self, hours: float) -> _Stride:
        """What a step of this length, h, needs."""
        if hours * 3600.0 not in self.strides:
            self.strides.clear()
            self.strides.update(self.prepared([hours]).strides)
        return self.strides[hours * 3600.0]

    def after(self, gas: Array, move: Array, strand: Array, stride: _Stride) -> tuple[Array, Array, Array]:
        """What the slots hold, the gas and the strand at the end of a step, to whose gas Newton came by this last move.
        The slots bear what the nodes hold beyond the straight line that it followed, so that their water balances.
        """
        surface = self.slots.held(gas)
        slot = self.slots.water_beside(gas, surface) - stride.curve * (move * move * (3.0 * gas - 2.0 * move))
        surface = surface[:, :, None]
        return slot, gas, surface + (strand - surface) * stride.kept

    def known(self, slot: Array, strand: Array, stride: _Stride) -> Array:
        """The water that a step begins with, but for what stays in the strand anyway."""
        return np.asarray(self.mass * (slot + (strand @ stride.take)[:, :, 0]))

    def euler(self, slot: Array, strand: Array, stride: _Stride, guess: Array) -> tuple[Array, Array, Array]:
        """What the slots (see `Slots`) hold, the gas and the strand after one backward Euler step, modes exact for the
        surface at the step's end. Newton begins at `guess`.
        """
        inside = self.inside
        target = self.known(slot, strand, stride)[:, :inside] + stride.brought
        new = move = guess[:, :inside]
        settled = np.empty((0, 1), dtype=bool)  # none yet
        for _ in range(_NEWTON_STEPS):
            bent = stride.cubic * new * new
            slope = stride.linear.copy()
            diagonal(slope)[...] += 3.0 * bent
            onward = _solved(slope, target + 2.0 * bent * new)
            change = onward - new
            if settled.any():  # such a case stays put, so it does not depend on what is computed beside it
                change, onward = np.where(settled, move, change), np.where(settled, new, onward)
            move, new = change, onward
            settled = np.abs(move).max(axis=1, keepdims=True) < _NEWTON_TOLERANCE
            if settled.all():
                break
        if self.free:  # the last node is the air's own
            new, move = np.hstack([new, self.activity]), np.hstack([move, np.zeros_like(self.activity)])
        return self.after(new, move, strand, stride)

    def step(
        self, slot: Array, gas: Array, strand: Array, whole: _Stride, halved: _Stride
    ) -> tuple[Array, Array, Array]:
        """One extrapolated step, second order in time: what the slots (see `Slots`) hold, the gas, near enough to begin
        a search at, and the strand.
        """
        once = self.euler(slot, strand, whole, gas)
        middle = self.euler(slot, strand, halved, (gas + once[1]) / 2.0)
        return extrapolated(once, self.euler(middle[0], middle[2], halved, once[1]))


def diagonal(matrices: Array) -> Array:
    """The diagonals of matrices that lie in one piece, to be written to."""
    return matrices.reshape(*matrices.shape[:-2], -1)[..., :: matrices.shape[-1] + 1]


def extrapolated(once: Sequence[Array], half: Sequence[Array]) -> tuple[Array, Array, Array]:
    """What the slots hold, about the gas, and the strand, of second order, from these after a step taken once whole and
    once in halves (Richardson).

    Water is extrapolated, not activity: the two are not proportional, and it is water that must be kept.
    """
    slot, gas, strand = (2.0 * of_half - of_once for of_once, of_half in zip(once, half, strict=True))
    return slot, gas, strand


@dataclass(frozen=True)
class _Stride:
    """What a backward Euler step of one length needs besides the state: what the strand keeps, and its modes give, the
    system of the nodes within, and what the air brings them. Where the last node is the air's own, its column stands
    apart, and its own share of the system and of the isotherm's bend.
    """

    kept: Array
    take: Array
    linear: Array
    cubic: Array
    edge: Array
    face: Array
    face_cubic: Array
    brought: Array
    curve: Array


def _strides(conditions: Conditions, seconds: Array) -> Iterator[_Stride]:
    """Of steps of several lengths, shape (steps, cases) or (steps, 1), which are cheaper together."""
    slots, inside = conditions.slots, conditions.inside
    each = seconds[:, :, None]
    kept = np.exp(-conditions.rate * each)
    take = STRAND_WEIGHTS * (1.0 - kept)
    held = slots.density * (take.sum(axis=2, keepdims=True) + REST_WEIGHT)
    curve = held * slots.k3
    bent = conditions.mass * curve
    matrix = each[:, :, :, None] * conditions.transport
    diagonal(matrix)[...] += conditions.mass * (slots.gas_capacity + held * slots.k1)
    linear = np.ascontiguousarray(matrix[:, :, :inside, :inside])
    edge, face = matrix[:, :, :inside, -1], matrix[:, :, -1, -1]
    brought = (-edge if conditions.free else each * conditions.face) * conditions.activity
    parts = (
        kept[:, :, None], (slots.density * take)[..., None], linear, bent[:, :, :inside], edge, face, bent[:, :, -1],
        brought, curve,
    )  # fmt: skip
    return (_Stride(*of_one) for of_one in zip(*parts, strict=True))


class Sought:
    """A backward Euler step of windings in free air whose activity is sought along with it.

    Numbers of the cases, shape (cases,); water in kg per m³ of winding.
    """

    def __init__(self, conditions: Conditions, slot: Array, strand: Array, hours: float) -> None:
        self.conditions, self.strand, self.stride = conditions, strand, conditions.stride(hours)
        there, edge = conditions.known(slot, strand, self.stride), self.stride.edge
        self.at_face = there[:, -1]
        # Two right sides for each winding: in dry air, and what a unit of activity adds.
        self.right = np.stack([there[:, :-1], -edge], axis=1)

    def newton(self, gas: Array) -> tuple[Array, Array, Array]:
        """From a guess of the gas, whose last node is the air: what the nodes within come to by Newton were the air
        dry, and how much more for each unit of activity, shapes (cases, nodes within); and what the winding gives off
        in the step to air as guessed, and how much less for each unit that this moves, shape (2, cases).
        """
        stride = self.stride
        within, air = gas[:, :-1], gas[:, -1]
        square, bend = stride.cubic * within * within, stride.face_cubic * air * air
        slope = stride.linear.copy()
        diagonal(slope)[...] += 3.0 * square
        right = self.right.copy()
        right[:, 0] += 2.0 * square * within
        found = _solved(slope, right)
        # What leaves is what comes to the face from within and is not held there: transport makes no water.
        to_face = found @ stride.edge[:, :, None]
        less = to_face[:, 1, 0] + stride.face
        given = self.at_face - to_face[:, 0, 0] - (less + bend) * air
        return found[:, 0], found[:, 1], np.array([given, less + 3.0 * bend])

    def after(self, gas: Array, move: Array) -> tuple[Array, Array, Array]:
        """What the slots hold, the gas and the strand at the end of the step, come to by this last move."""
        return self.conditions.after(gas, move, self.strand, self.stride)


def water_in(conditions: Conditions, slot: Array, strand: Array) -> Array:
    """All water in each winding, kg per m³ of it, shape (cases,)."""
    here = slot + conditions.slots.density * (strand @ STRAND_WEIGHTS)
    return np.asarray(np.sum(conditions.mass * here, axis=1))


def stacked(states: Sequence[State]) -> tuple[Array, Array]:
    """Gas (cases, nodes) and strand modes (cases, nodes, modes) of several states."""
    return np.stack([s.gas for s in states]), np.stack([s.strand for s in states])


def stacked_at(cases: Sequence[tuple[Filament, State, float]]) -> tuple[Array, Array]:
    """The same of wound spools a moment after each came to a temperature, °C, as by `at_temperature`."""
    gas, strand = stacked([state for _, state, _ in cases])
    changed = np.array([[state.temp_c != temp_c] for _, state, temp_c in cases])
    if changed.any():
        before = Slots([(filament, state.temp_c) for filament, state, _ in cases])
        after = Slots([(filament, temp_c) for filament, _, temp_c in cases])
        gas = np.where(changed, after.gas_of(before.water(gas), gas), gas)
    return gas, strand


@dataclass(frozen=True)
class _Run:
    """States at fixed times, h by the clock of each case (see `State`), shape (times, cases); of those (times, cases,
    nodes), modes (times, cases, nodes, modes).
    """

    time_h: Array
    slot: Array
    strand: Array
    gas: Array


def _run(cases: Sequence[tuple[Filament, Segment, State]]) -> _Run:
    """Step each from the beginning of its conditions to the end of its segment."""
    conditions = Conditions([(filament, segment) for filament, segment, _ in cases])
    begin = stacked_at([(filament, state, segment.temp_c) for filament, segment, state in cases])
    found = [(conditions.slots.water(begin[0]), *begin)]
    times = _knots_of([(state.clock_h, segment.duration_h) for _, segment, state in cases])
    seconds = 3600.0 * np.diff(times, axis=0)
    strides = list(_strides(conditions, np.concatenate([seconds, seconds / 2.0])))
    for whole, halved in zip(strides[: len(seconds)], strides[len(seconds) :], strict=True):
        found.append(conditions.step(*found[-1], whole, halved))
    slot, gas, strand = (np.stack(rows) for rows in zip(*found, strict=True))
    return _Run(times, slot, strand, gas)


def _knots_of(spans: Sequence[tuple[float, float]]) -> Array:
    """When steps end of cases whose clocks stand at some hours and that go on for some, h by their clocks, shape
    (knots, cases). Those that need fewer go on beyond.
    """
    each = {span: knots_h(FIRST_STEP_H, LONGEST_SHARE, *span) for span in set(spans)}
    most = max(len(knots) for knots in each.values())
    for span in [span for span, knots in each.items() if len(knots) < most]:
        each[span] = knots_h(FIRST_STEP_H, LONGEST_SHARE, *span, least=most)
    return np.array([each[span] for span in spans]).T


def knots_h(first_h: float, longest_share: float, clock_h: float, hours: float, least: int = 4) -> list[float]:
    """When steps end, h after conditions changed abruptly, from an hour by that clock until they are enough for `hours`
    more: at first evenly in the square root of time, as diffusion begins, and no step longer than a share of the time
    gone once that is more.
    """
    found = [clock_h]
    while len(found) < least or not are_enough(found, clock_h + hours):
        at = found[-1]
        found.append(at + max(longest_share * at, first_h + 2.0 * math.sqrt(at * first_h)))
    return found


def are_enough(knot_h: Sequence[float] | Array, until_h: float) -> bool:
    """Whether there are the `four_knots` about any time up to an hour."""
    return len(knot_h) >= 4 and float(knot_h[-1]) >= until_h


def four_knots(knot_h: Array, time_h: Array) -> tuple[npt.NDArray[np.intp], Array]:
    """The four knots about each time, one of them not before it, and their weights, shapes (times, 4): a cubic in the
    square root of time, in which diffusion is smooth. Which knots these are depends on the time alone.
    """
    first = np.clip(np.searchsorted(knot_h, time_h, side="right") - 3, 0, knot_h.size - 4)
    rows = first[:, None] + np.arange(4)
    knots, x = np.sqrt(knot_h[rows]), np.sqrt(time_h)
    weights = np.ones((time_h.size, 4))
    for i in range(4):
        for j in range(4):
            if i != j:
                weights[:, i] *= (x - knots[:, j]) / (knots[:, i] - knots[:, j])
    return rows, weights


def _at(run: _Run, which: Sequence[int], slots: Slots, time_h: Array) -> tuple[Array, Array, Array]:
    """Of some cases, whose slots these are, at any times by the clock that they share: gas and the strand's mean of
    modes, shape (times, cases, nodes), and the strand at the last of the times, (cases, nodes, modes).

    Water is what is interpolated, so none is made or lost.
    """
    rows, weights = four_knots(run.time_h[:, which[0]], time_h)
    slot, guess, of_modes = (
        np.einsum("tk,tkcm->tcm", weights, x[:, which][rows]) for x in (run.slot, run.gas, run.strand @ STRAND_WEIGHTS)
    )
    strand = np.einsum("k,kcmn->cmn", weights[-1], run.strand[rows[-1]][:, which])
    return slots.gas_of(slot, guess), of_modes, strand


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
        replace(segment, duration_h=gone + segment.duration_h)
        for (_, segment, _), (_, gone) in zip(cases, begun, strict=True)
    ]
    run = _run([(case[0], whole, begin) for case, whole, (begin, _) in zip(cases, wholes, begun, strict=True)])
    asked = [
        begin.clock_h + gone + np.append(times, segment.duration_h)
        for (_, segment, _), (begin, gone), times in zip(cases, begun, time_h, strict=True)
    ]
    found: dict[int, tuple[Array, State]] = {}
    for which in alike([(begin.clock_h, times.tobytes()) for (begin, _), times in zip(begun, asked, strict=True)]):
        slots = Slots([(cases[n][0], cases[n][1].temp_c) for n in which])
        share = np.stack([grid(w).mass for n in which if (w := cases[n][0].winding) is not None])
        gas, of_modes, strand = _at(run, which, slots, asked[which[0]])
        moisture = np.sum(share * (of_modes + REST_WEIGHT * slots.held(gas)), axis=2)
        for k, n in enumerate(which):
            since = begun[n][0], wholes[n]
            clock_h = since[0].clock_h + since[1].duration_h
            found[n] = (moisture[:-1, k], State(gas[-1, k], strand[k], cases[n][1].temp_c, since, clock_h))
    return [found[n] for n in range(len(cases))]
