"""What loops over windings with a cubic isotherm share, compiled: what stays of one, its gas, and small systems."""

from __future__ import annotations

import math
from typing import NamedTuple

from drying.arrays import Array
from drying.compiled import Count, Cube, Flag, Matrix, Nothing, Number, Vector, compiled, record

_NEWTON_STEPS, _ROOT_TOLERANCE = 40, 1e-8  # what is left is of the order of the tolerance's square


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


STAYS = record(Stays, Matrix, Cube, Matrix, Vector, Matrix, Count)
WOUND = record(Wound, Vector, Matrix, Vector, Vector, *[Number] * 7, Count)


@compiled(WOUND(STAYS, Count))
def one_of(stays: Stays, case: int) -> Wound:
    """What stays of one of several windings."""
    gaps, density, rest, k1, k3, face, air = stays.numbers[case]
    return Wound(
        stays.mass[case], stays.transport[case], stays.rate[case], stays.weights,
        gaps, density, rest, k1, k3, face, air, stays.sought,
    )  # fmt: skip


@compiled(Number(WOUND, Vector, Matrix))
def water_in(winding: Wound, slot: Array, strand: Array) -> float:
    """All water in a winding, kg per m³ of it."""
    water = 0.0
    for i in range(slot.size):
        here = 0.0
        for m in range(winding.rate.size):
            here += winding.weights[m] * strand[i, m]
        water += winding.mass[i] * (slot[i] + winding.density * here)
    return water


@compiled(Number(Number, Number, Number, Number, Number, Number))
def gas_of(gaps: float, rest: float, k1: float, k3: float, water: float, guess: float) -> float:
    """The activity at which slots hold so much: monotone, by Newton from a guess on."""
    gas = guess
    for _ in range(_NEWTON_STEPS):
        square = gas * gas
        move = (gas * (gaps + rest * (k1 + k3 * square)) - water) / (gaps + rest * (k1 + 3.0 * k3 * square))
        gas -= move
        if abs(move) < _ROOT_TOLERANCE:
            break
    return gas


@compiled(Nothing(Matrix, Cube, Cube, Cube))
def gases_of(slots: Array, water: Array, guess: Array, found: Array) -> None:
    """Fills in the same for several windings at several moments, (moments, cases, nodes). `slots`: of each its gaps,
    density, rest and isotherm.
    """
    for moment in range(len(water)):
        for case in range(water.shape[1]):
            gaps, _, rest, k1, k3 = slots[case]
            for i in range(water.shape[2]):
                there = gas_of(gaps, rest, k1, k3, water[moment, case, i], guess[moment, case, i])
                found[moment, case, i] = there


@compiled(Flag(Matrix))
def factored(system: Array) -> bool:
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
def solve(factor: Array, right: Array) -> None:
    """Write the solution over the right side, as long as the factor is."""
    for i in range(len(factor)):
        for k in range(i):
            right[i] -= factor[i, k] * right[k]
        right[i] *= factor[i, i]
    for i in range(len(factor) - 1, -1, -1):
        right[i] *= factor[i, i]
        for k in range(i):
            right[k] -= factor[i, k] * right[i]
