"""A backward Euler step of a winding with a cubic isotherm whose air is sought along with its gas: compiled.

Within a step the strand's modes are exact for a surface that stays. Water is in kg per m³ of winding, times in s.
"""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np

from drying.arrays import Array
from drying.compiled import Flag, Matrix, Nothing, Number, Vector, compiled, record
from drying.transport.wound import WOUND, Wound, factored, solve


class Stride(NamedTuple):
    """What a step of one length needs: what the strand's modes keep, what they give, and what strand holds in the end
    for a unit of its surface's moisture, kg/m³ per %.
    """

    seconds: float
    kept: Array
    take: Array
    held: float


STRIDE = record(Stride, Number, Vector, Vector, Number)


@compiled(STRIDE(WOUND, Number))
def stride_of(winding: Wound, seconds: float) -> Stride:
    """What a step of so many seconds needs."""
    kept, take, held = np.empty(winding.rate.size), np.empty(winding.rate.size), winding.rest
    for m in range(kept.size):
        kept[m] = math.exp(-seconds * winding.rate[m])
        take[m] = winding.density * winding.weights[m] * (1.0 - kept[m])
        held += take[m]
    return Stride(seconds, kept, take, held)


@compiled(Number(WOUND, STRIDE, Vector, Matrix, Vector))
def _begun_with(winding: Wound, stride: Stride, slot: Array, strand: Array, within: Array) -> float:
    """Fills in the water that a step begins with at each node within, but for what stays in the strand anyway; the same
    of the face.
    """
    given = 0.0
    for i in range(slot.size):
        given = slot[i]
        for m in range(stride.take.size):
            given += strand[i, m] * stride.take[m]
        given *= winding.mass[i]
        if i < within.size:
            within[i] = given
    return given


@compiled(Nothing(WOUND, STRIDE, Vector, Matrix))
def _slope_at(winding: Wound, stride: Stride, gas: Array, system: Array) -> None:
    """The upper half of what one of Newton's moves from this gas solves."""
    for i in range(winding.sought):
        for j in range(i, winding.sought):
            system[i, j] = stride.seconds * winding.transport[i, j]
        bent = 3.0 * winding.k3 * gas[i] * gas[i]
        system[i, i] += winding.mass[i] * (winding.gaps + stride.held * (winding.k1 + bent))


@compiled(Flag(WOUND, STRIDE, Vector, Matrix, Vector, Vector, Vector, Vector))
def beside_air(
    winding: Wound,
    stride: Stride,
    slot: Array,
    strand: Array,
    gas: Array,
    dry: Array,
    unit: Array,
    given: Array,
) -> bool:
    """One of Newton's moves of a winding in free air whose activity is sought along with the gas, from a guess of it,
    whose last node is the air.

    Fills in what the nodes within come to were the air dry, and how much more for each unit of its activity; and what
    it gives off in the step to air as guessed, and how much less for each unit that this moves, shape (2,). False where
    the system could not be solved.
    """
    size = winding.sought
    system, edge, air = np.empty((size, size)), np.empty(size + 1), gas[size]
    for i in range(size + 1):
        edge[i] = stride.seconds * winding.transport[size, i]
    at_face = _begun_with(winding, stride, slot, strand, dry)
    _slope_at(winding, stride, gas, system)
    for i in range(size):
        dry[i] += 2.0 * winding.mass[i] * stride.held * winding.k3 * gas[i] * gas[i] * gas[i]
        unit[i] = -edge[i]
    if not factored(system):
        return False
    solve(system, dry)
    solve(system, unit)
    # What leaves is what comes to the face from within and is not held there: transport makes no water.
    bent = winding.mass[size] * stride.held * winding.k3 * air * air
    less = edge[size] + winding.mass[size] * (winding.gaps + stride.held * winding.k1)
    given[0], given[1] = at_face - (less + bent) * air, less + 3.0 * bent
    for i in range(size):
        given[0] -= edge[i] * (dry[i] + unit[i] * air)
        given[1] += edge[i] * unit[i]
    return True


@compiled(Nothing(WOUND, STRIDE, Vector, Vector, Matrix, Vector, Matrix))
def after(
    winding: Wound, stride: Stride, gas: Array, move: Array, strand: Array, new_slot: Array, new_strand: Array
) -> None:
    """Fills in what the slots hold and the strand at the end of a step, to whose gas Newton came by this last move. The
    slots bear what the nodes hold beyond the straight line that it followed, so that their water balances.
    """
    for i in range(gas.size):
        surface = gas[i] * (winding.k1 + winding.k3 * gas[i] * gas[i])
        beyond = stride.held * winding.k3 * (move[i] * move[i] * (3.0 * gas[i] - 2.0 * move[i]))
        new_slot[i] = winding.gaps * gas[i] + winding.rest * surface - beyond
        for m in range(stride.kept.size):
            new_strand[i, m] = surface + (strand[i, m] - surface) * stride.kept[m]
