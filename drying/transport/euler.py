"""Backward Euler steps of windings with a cubic isotherm, winding by winding: compiled, as they are many and small.

Within a step the strand's modes are exact for a surface that stays, and the gas of all nodes is sought by Newton. Water
is in kg per m³ of winding, times in s.
"""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np

from drying.arrays import Array, Counts
from drying.compiled import (
    Count,
    CountVector,
    Cube,
    Flag,
    Hypercube,
    Matrix,
    Nothing,
    Number,
    Vector,
    compiled,
    record,
)

# Newton converges quadratically here: a last step under the tolerance leaves 1e-4 of the start in a course at most, a
# twentieth of what the steps in time leave. Water is balanced on its own.
_NEWTON_STEPS, _NEWTON_TOLERANCE = 40, 1e-2
_ROOT_TOLERANCE = 1e-8  # what is left is of the order of its square


class Stays(NamedTuple):
    """What is the same all through a segment, of several windings: each node's share of the mass (cases, nodes);
    transport between nodes and out of the face (cases, nodes, nodes); rates of the strand's modes (cases, modes) and
    their weights; the numbers of `Wound` (cases, 7); and how many of the nodes are sought: the last is the air's own
    where that is all round.
    """

    mass: Array
    transport: Array
    rate: Array
    weights: Array
    numbers: Array
    sought: int


class Wound(NamedTuple):
    """The same of one. `gaps`: vapour in the gaps at full saturation; `density` of dry strand, kg/m³ per %; `rest`: the
    share of it that follows the gas at once; the isotherm; the conductance of the face, kg/(m³·s), 0 in free air; and
    the activity of the air outside.
    """

    mass: Array
    transport: Array
    rate: Array
    weights: Array
    gaps: float
    density: float
    rest: float
    k1: float
    k3: float
    face: float
    air: float
    sought: int


class Stride(NamedTuple):
    """What a step of one length needs: what the strand's modes keep, what they give, and what strand holds in the end
    for a unit of its surface's moisture, kg/m³ per %.
    """

    seconds: float
    kept: Array
    take: Array
    held: float


_STAYS = record(Stays, Matrix, Cube, Matrix, Vector, Matrix, Count)
_WOUND = record(Wound, Vector, Matrix, Vector, Vector, *[Number] * 7, Count)
_STRIDE = record(Stride, Number, Vector, Vector, Number)


@compiled(_WOUND(_STAYS, Count))
def one_of(stays: Stays, case: int) -> Wound:
    """What stays of one of several windings."""
    gaps, density, rest, k1, k3, face, air = stays.numbers[case]
    return Wound(
        stays.mass[case], stays.transport[case], stays.rate[case], stays.weights,
        gaps, density, rest, k1, k3, face, air, stays.sought,
    )  # fmt: skip


@compiled(_STRIDE(_WOUND, Number))
def stride_of(winding: Wound, seconds: float) -> Stride:
    """What a step of so many seconds needs."""
    kept = np.exp(-seconds * winding.rate)
    take = winding.density * winding.weights * (1.0 - kept)
    return Stride(seconds, kept, take, take.sum() + winding.rest)


@compiled(Flag(Matrix))
def _factored(system: Array) -> bool:
    """Cholesky's factor of a symmetric positive system, of which the upper half is read and the lower written over; of
    its diagonal the inverse. False where the system is not positive.
    """
    for i in range(len(system)):
        for j in range(i):
            rest = system[j, i]
            for k in range(j):
                rest -= system[i, k] * system[j, k]
            system[i, j] = rest * system[j, j]
        rest = system[i, i]
        for k in range(i):
            rest -= system[i, k] * system[i, k]
        if not rest > 0.0:
            return False
        system[i, i] = 1.0 / math.sqrt(rest)
    return True


@compiled(Nothing(Matrix, Vector))
def _solve(factor: Array, right: Array) -> None:
    """Write the solution over the right side."""
    for i in range(right.size):
        for k in range(i):
            right[i] -= factor[i, k] * right[k]
        right[i] *= factor[i, i]
    for i in range(right.size - 1, -1, -1):
        right[i] *= factor[i, i]
        for k in range(i):
            right[k] -= factor[i, k] * right[i]


@compiled(Nothing(_WOUND, _STRIDE, Vector, Matrix, Vector))
def _begun_with(winding: Wound, stride: Stride, slot: Array, strand: Array, water: Array) -> None:
    """The water that a step begins with at each node, but for what stays in the strand anyway."""
    for i in range(water.size):
        given = slot[i]
        for m in range(stride.take.size):
            given += strand[i, m] * stride.take[m]
        water[i] = winding.mass[i] * given


@compiled(Nothing(_WOUND, _STRIDE, Vector, Matrix))
def _slope_at(winding: Wound, stride: Stride, gas: Array, system: Array) -> None:
    """The upper half of what one of Newton's moves from this gas solves."""
    for i in range(winding.sought):
        for j in range(i, winding.sought):
            system[i, j] = stride.seconds * winding.transport[i, j]
        bent = 3.0 * winding.k3 * gas[i] * gas[i]
        system[i, i] += winding.mass[i] * (winding.gaps + stride.held * (winding.k1 + bent))


@compiled(Nothing(_WOUND, _STRIDE, Vector, Vector, Matrix, Vector, Matrix))
def _after(
    winding: Wound, stride: Stride, gas: Array, move: Array, strand: Array, new_slot: Array, new_strand: Array
) -> None:
    """What the slots hold and the strand at the end of a step, to whose gas Newton came by this last move. The slots
    bear what the nodes hold beyond the straight line that it followed, so that their water balances.
    """
    for i in range(gas.size):
        surface = gas[i] * (winding.k1 + winding.k3 * gas[i] * gas[i])
        beyond = stride.held * winding.k3 * (move[i] * move[i] * (3.0 * gas[i] - 2.0 * move[i]))
        new_slot[i] = winding.gaps * gas[i] + winding.rest * surface - beyond
        for m in range(stride.kept.size):
            new_strand[i, m] = surface + (strand[i, m] - surface) * stride.kept[m]


@compiled(Flag(_WOUND, _STRIDE, Vector, Matrix, Vector, Vector, Vector, Matrix))
def step(
    winding: Wound, stride: Stride, slot: Array, strand: Array, guess: Array, new_slot: Array, gas: Array,
    new_strand: Array,
) -> bool:  # fmt: skip
    """What the slots hold, the gas and the strand after one step of a winding in given air. Newton begins at a guess of
    the gas. False where its system could not be solved.
    """
    size, water, move = winding.sought, np.empty(gas.size), np.zeros(gas.size)
    system, right = np.empty((size, size)), np.empty(size)
    _begun_with(winding, stride, slot, strand, water)
    water[size - 1] += stride.seconds * winding.face * winding.air
    for i in range(gas.size):
        gas[i] = guess[i]
        if size < gas.size:  # the last node is the air's own
            water[i] -= stride.seconds * winding.transport[size, i] * winding.air
    if size < gas.size:
        gas[size] = winding.air
    for _ in range(_NEWTON_STEPS):
        _slope_at(winding, stride, gas, system)
        for i in range(size):
            right[i] = water[i] + 2.0 * winding.mass[i] * stride.held * winding.k3 * gas[i] * gas[i] * gas[i]
        if not _factored(system):
            return False
        _solve(system, right)
        most = 0.0
        for i in range(size):
            move[i] = right[i] - gas[i]
            gas[i] = right[i]
            most = max(most, abs(move[i]))
        if most < _NEWTON_TOLERANCE:
            break
    _after(winding, stride, gas, move, strand, new_slot, new_strand)
    return True


@compiled(Flag(_STAYS, Matrix, Cube, Cube, Hypercube))
def follow(stays: Stays, seconds: Array, slot: Array, gas: Array, strand: Array) -> bool:
    """Steps of each winding, as long as given, shape (steps, cases), each taken whole and in halves and extrapolated:
    fills in what the slots hold, about the gas, and the strand after each step, shape (1 + steps, cases, ...), from the
    first row on. False where a system could not be solved.
    """
    nodes, modes = strand.shape[2:]
    of_slot, of_gas, of_strand = np.empty((3, nodes)), np.empty((3, nodes)), np.empty((3, nodes, modes))
    guess = np.empty(nodes)
    for case in range(seconds.shape[1]):
        winding = one_of(stays, case)
        for n in range(len(seconds)):
            now_slot, now, now_strand = slot[n, case], gas[n, case], strand[n, case]
            whole, half = stride_of(winding, seconds[n, case]), stride_of(winding, seconds[n, case] / 2.0)
            once = step(winding, whole, now_slot, now_strand, now, of_slot[0], of_gas[0], of_strand[0])
            for i in range(nodes):
                guess[i] = (now[i] + of_gas[0, i]) / 2.0
            middle = step(winding, half, now_slot, now_strand, guess, of_slot[1], of_gas[1], of_strand[1])
            end = step(winding, half, of_slot[1], of_strand[1], of_gas[0], of_slot[2], of_gas[2], of_strand[2])
            if not (once and middle and end):
                return False
            for i in range(nodes):
                slot[n + 1, case, i] = 2.0 * of_slot[2, i] - of_slot[0, i]
                gas[n + 1, case, i] = 2.0 * of_gas[2, i] - of_gas[0, i]
                for m in range(modes):
                    strand[n + 1, case, i, m] = 2.0 * of_strand[2, i, m] - of_strand[0, i, m]
    return True


@compiled(Flag(_STAYS, Number, Matrix, Cube, Matrix, Matrix, Matrix, Matrix))
def beside_air(
    stays: Stays, seconds: float, slot: Array, strand: Array, gas: Array, dry: Array, unit: Array, given: Array
) -> bool:
    """One of Newton's moves of windings in free air whose activity is sought along with the gas, from a guess of it,
    whose last node is the air.

    Fills in what the nodes within come to were the air dry, and how much more for each unit of its activity, shapes
    (cases, nodes within); and what each gives off in the step to air as guessed, and how much less for each unit that
    this moves, shape (2, cases). False where a system could not be solved.
    """
    size = stays.sought
    system, water = np.empty((size, size)), np.empty(size + 1)
    for case in range(len(gas)):
        winding, air = one_of(stays, case), gas[case, size]
        stride = stride_of(winding, seconds)
        edge = seconds * winding.transport[size]
        _begun_with(winding, stride, slot[case], strand[case], water)
        _slope_at(winding, stride, gas[case], system)
        for i in range(size):
            bent = winding.mass[i] * stride.held * winding.k3 * gas[case, i] * gas[case, i]
            dry[case, i] = water[i] + 2.0 * bent * gas[case, i]
            unit[case, i] = -edge[i]
        if not _factored(system):
            return False
        _solve(system, dry[case])
        _solve(system, unit[case])
        # What leaves is what comes to the face from within and is not held there: transport makes no water.
        bent = winding.mass[size] * stride.held * winding.k3 * air * air
        less = edge[size] + winding.mass[size] * (winding.gaps + stride.held * winding.k1)
        given[0, case], given[1, case] = water[size] - (less + bent) * air, less + 3.0 * bent
        for i in range(size):
            given[0, case] -= edge[i] * (dry[case, i] + unit[case, i] * air)
            given[1, case] += edge[i] * unit[case, i]
    return True


@compiled(Nothing(_STAYS, Number, Matrix, Matrix, Cube, Matrix, Cube))
def after(
    stays: Stays, seconds: float, gas: Array, move: Array, strand: Array, new_slot: Array, new_strand: Array
) -> None:
    """Fills in what the slots hold and the strand at the end of a step of each winding, to whose gas Newton came by
    this last move.
    """
    for case in range(len(gas)):
        winding = one_of(stays, case)
        stride = stride_of(winding, seconds)
        _after(winding, stride, gas[case], move[case], strand[case], new_slot[case], new_strand[case])


@compiled(Nothing(Vector, Vector, CountVector, Matrix))
def four_knots(knot_h: Array, time_h: Array, first: Counts, weights: Array) -> None:
    """Fills in which knots are the first of the four about each time, one of them not before it, and the weights of all
    four, shape (times, 4): a cubic in the square root of time, in which diffusion is smooth. Which knots these are
    depends on the time alone.
    """
    for t in range(time_h.size):
        after = 0
        while after < knot_h.size and knot_h[after] <= time_h[t]:
            after += 1
        first[t] = min(max(after - 3, 0), knot_h.size - 4)
        for i in range(4):
            weights[t, i] = 1.0
            for j in range(4):
                one, other = math.sqrt(knot_h[first[t] + i]), math.sqrt(knot_h[first[t] + j])
                if i != j:
                    weights[t, i] *= (math.sqrt(time_h[t]) - other) / (one - other)


@compiled(Number(Vector, Number, Number))
def _gas_of(slots: Array, water: float, guess: float) -> float:
    """The activity at which slots hold so much: monotone, by Newton from a guess on."""
    gaps, _, rest, k1, k3 = slots
    gas = guess
    for _ in range(_NEWTON_STEPS):
        square = gas * gas
        move = (gas * (gaps + rest * (k1 + k3 * square)) - water) / (gaps + rest * (k1 + 3.0 * k3 * square))
        gas -= move
        if abs(move) < _ROOT_TOLERANCE:
            break
    return gas


@compiled(Nothing(Vector, Hypercube, Count, Matrix))
def _in_modes(weights: Array, strand: Array, case: int, found: Array) -> None:
    """What the modes hold at each knot and node of one of several windings, % of dry mass."""
    found.fill(0.0)
    for knot in range(len(strand)):
        for i in range(found.shape[1]):
            for m in range(weights.size):
                found[knot, i] += weights[m] * strand[knot, case, i, m]


@compiled(Nothing(Vector, Vector, Vector, Vector, Cube, Cube, Hypercube, Count, Vector, Vector, Vector, Matrix))
def between(
    slots: Array, mass: Array, weights: Array, knot_h: Array, water: Array, gas: Array, strand: Array, case: int,
    time_h: Array, moisture: Array, last_gas: Array, last_strand: Array,
) -> None:  # fmt: skip
    """What lies between knots, in h, of one of several windings, from what its slots hold, the gas and the strand at
    each, shape (knots, cases, ...): fills in its mean moisture at some times, % of dry mass, and gas and strand at the
    last of them. `slots`: from `gaps` to `k3` as of `Wound`. Water is what is interpolated, so none is made or lost.
    """
    first, share = np.empty(time_h.size, dtype=np.int64), np.empty((time_h.size, 4))
    four_knots(knot_h, time_h, first, share)
    in_modes, at_once = np.empty((knot_h.size, mass.size)), 1.0 - np.sum(weights)
    _in_modes(weights, strand, case, in_modes)
    moisture.fill(0.0)
    for t in range(time_h.size):
        for i in range(mass.size):
            slot = near = modes = 0.0
            for k in range(4):
                slot += share[t, k] * water[first[t] + k, case, i]
                near += share[t, k] * gas[first[t] + k, case, i]
                modes += share[t, k] * in_modes[first[t] + k, i]
            there = _gas_of(slots, slot, near)
            moisture[t] += mass[i] * (modes + at_once * there * (slots[3] + slots[4] * there * there))
            last_gas[i] = there
    last = time_h.size - 1
    for i in range(mass.size):
        for m in range(weights.size):
            last_strand[i, m] = 0.0
            for k in range(4):
                last_strand[i, m] += share[last, k] * strand[first[last] + k, case, i, m]
