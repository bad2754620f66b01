"""Backward Euler steps of windings with a cubic isotherm whose air is sought along with their gas: compiled.

Within a step the strand's modes are exact for a surface that stays. Water is in kg per m³ of winding, times in s.
"""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from drying.arrays import Array
from drying.compiled import Cube, Flag, Matrix, Nothing, Number, Vector, compiled, record
from drying.transport.wound import STAYS, WOUND, Stays, Wound, factored, one_of, solve


class Stride(NamedTuple):
    """What a step of one length needs: what the strand's modes keep, what they give, and what strand holds in the end
    for a unit of its surface's moisture, kg/m³ per %.
    """

    seconds: float
    kept: Array
    take: Array
    held: float


_STRIDE = record(Stride, Number, Vector, Vector, Number)


@compiled(_STRIDE(WOUND, Number))
def stride_of(winding: Wound, seconds: float) -> Stride:
    """What a step of so many seconds needs."""
    kept = np.exp(-seconds * winding.rate)
    take = winding.density * winding.weights * (1.0 - kept)
    return Stride(seconds, kept, take, take.sum() + winding.rest)


@compiled(Nothing(WOUND, _STRIDE, Vector, Matrix, Vector))
def _begun_with(winding: Wound, stride: Stride, slot: Array, strand: Array, water: Array) -> None:
    """The water that a step begins with at each node, but for what stays in the strand anyway."""
    for i in range(water.size):
        given = slot[i]
        for m in range(stride.take.size):
            given += strand[i, m] * stride.take[m]
        water[i] = winding.mass[i] * given


@compiled(Nothing(WOUND, _STRIDE, Vector, Matrix))
def _slope_at(winding: Wound, stride: Stride, gas: Array, system: Array) -> None:
    """The upper half of what one of Newton's moves from this gas solves."""
    for i in range(winding.sought):
        for j in range(i, winding.sought):
            system[i, j] = stride.seconds * winding.transport[i, j]
        bent = 3.0 * winding.k3 * gas[i] * gas[i]
        system[i, i] += winding.mass[i] * (winding.gaps + stride.held * (winding.k1 + bent))


@compiled(Nothing(WOUND, _STRIDE, Vector, Vector, Matrix, Vector, Matrix))
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


@compiled(Flag(STAYS, Number, Matrix, Cube, Matrix, Matrix, Matrix, Matrix))
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
        if not factored(system):
            return False
        solve(system, dry[case])
        solve(system, unit[case])
        # What leaves is what comes to the face from within and is not held there: transport makes no water.
        bent = winding.mass[size] * stride.held * winding.k3 * air * air
        less = edge[size] + winding.mass[size] * (winding.gaps + stride.held * winding.k1)
        given[0, case], given[1, case] = water[size] - (less + bent) * air, less + 3.0 * bent
        for i in range(size):
            given[0, case] -= edge[i] * (dry[case, i] + unit[case, i] * air)
            given[1, case] += edge[i] * unit[case, i]
    return True


@compiled(Nothing(STAYS, Number, Matrix, Matrix, Cube, Matrix, Cube))
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
