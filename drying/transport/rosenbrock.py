"""Steps in time of windings with a cubic isotherm in given air, winding by winding: compiled.

They are Rosenbrock's, of third order: a step solves four linear systems that differ on the right side alone, and no
nonlinear one but what the slots of a node hold. Each system's unknowns are the gas of the nodes; what the strand's
modes come to follows from it. All that flows from node to node does so within these systems, so that no water is made
or lost. Water is in kg per m³ of winding, times in s.
"""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np

from drying.arrays import Array
from drying.compiled import Count, Cube, Flag, Hypercube, Matrix, Nothing, Number, Vector, compiled, record
from drying.transport.wound import STAYS, WOUND, Stays, Wound, factored, gas_of, one_of, solve, water_in

# RODAS3: four stages, third order, L-stable, and the last stage is what a step of second order differs by (A. Sandu,
# J. G. Verwer, J. G. Blom, E. J. Spee, G. R. Carmichael, F. A. Potra, Atmospheric Environment 31, 1997, 3459). By the
# moves of the stages before: how far one stands from the beginning, and, per length of the step, what its right side
# takes over. The step is their sum.
_STAGES, _GAMMA = 4, 0.5
_REACH = np.array([[0.0, 0.0, 0.0], [0.0, 0.0, 0.0], [2.0, 0.0, 0.0], [2.0, 0.0, 1.0]])
_CARRY = np.array([[0.0, 0.0, 0.0], [4.0, 0.0, 0.0], [1.0, -1.0, 0.0], [1.0, -1.0, -8.0 / 3.0]])
_END = np.array([2.0, 0.0, 1.0, 1.0])

# Where conditions change at once a first step is far too long: it is taken in parts, each at most three times as long
# as the one before. That of second order differs by ten times what a step errs by.
_SHARE_OF_WATER, _LEAST_PART = 2e-3, 1e-3


class Stages(NamedTuple):
    """What a step of one length needs of a winding. Each stage's system has 1 ÷ (γ·length) on its diagonal, `pace`. The
    strand follows its surface at the stages, and stays as it is: what its mean moves by in each stage, of its modes
    (modes, stages), and of each unit of surface at the stages up to it (stages, stages); what the modes keep in the
    whole step, and take of each stage's surface (stages, modes).
    """

    pace: float
    of_modes: Array
    of_surface: Array
    keep: Array
    take: Array


_STAGED = record(Stages, Number, Matrix, Matrix, Vector, Matrix)


@compiled(_STAGED(WOUND, Number))
def stages_of(winding: Wound, seconds: float) -> Stages:
    """What a step of so many seconds needs: the modes' part of each stage, solved, as it is linear. The numbers of the
    tables above are written out here, which takes two thirds of the time that loops over them take.
    """
    modes, pace = winding.rate.size, 1.0 / (_GAMMA * seconds)
    of_modes, of_surface = np.empty((modes, _STAGES)), np.zeros((_STAGES, _STAGES))
    keep, take = np.empty(modes), np.empty((_STAGES, modes))
    moved = np.zeros((_STAGES, _STAGES))  # by the surface at each stage, in each
    for m in range(modes):
        own = winding.rate[m] / (pace + winding.rate[m])
        over = 1.0 / (seconds * (pace + winding.rate[m]))
        moved[0, 0] = moved[1, 1] = moved[2, 2] = moved[3, 3] = own
        moved[1, 0] = 4.0 * over * own
        moved[2, 0] = (over - 2.0 * own) * own - over * moved[1, 0]
        moved[2, 1] = -over * own
        onward = 8.0 / 3.0 * over + own
        moved[3, 0] = moved[2, 0] * (1.0 - onward)
        moved[3, 1] = moved[2, 1] * (1.0 - onward)
        moved[3, 2] = -onward * own
        keep[m] = 1.0
        for i in range(_STAGES):
            of_modes[m, i] = 0.0
            take[i, m] = 2.0 * moved[0, i] + moved[2, i] + moved[3, i]
            keep[m] -= take[i, m]
            for j in range(i + 1):
                of_modes[m, i] -= winding.weights[m] * moved[i, j]
                of_surface[i, j] += winding.weights[m] * moved[i, j]
    return Stages(pace, of_modes, of_surface, keep, take)


class Moves(NamedTuple):
    """How the nodes move in the stages so far: what the slots hold, and slots with strand, kg/m³, and the surface that
    each stage sees, %; shapes (stages, nodes).
    """

    slot: Array
    water: Array
    surface: Array


_MOVES = record(Moves, Matrix, Matrix, Matrix)


@compiled(Nothing(WOUND, _STAGED, Matrix, Matrix))
def _of_modes(winding: Wound, stages: Stages, strand: Array, water: Array) -> None:
    """What the strand's modes give in each stage, kg/m³."""
    each = np.empty(_STAGES)
    for i in range(len(strand)):
        each.fill(0.0)
        for m in range(winding.rate.size):
            for s in range(_STAGES):
                each[s] += stages.of_modes[m, s] * strand[i, m]
        for s in range(_STAGES):
            water[s, i] = winding.density * each[s]


@compiled(Nothing(WOUND, _STAGED, _MOVES, Count, Vector, Vector, Vector, Vector))
def _set_up(
    winding: Wound, stages: Stages, moves: Moves, stage: int, slot: Array, diagonal: Array, gas: Array, right: Array
) -> None:
    """A stage's gas, from that of the stage before it, what is known of its moves, and the right side of its system,
    whose solution is the gas that the stage comes to.
    """
    for i in range(gas.size):
        held, carried, strand = slot[i], 0.0, 0.0
        for j in range(stage):
            held += _REACH[stage, j] * moves.slot[j, i]
            carried += _CARRY[stage, j] * moves.water[j, i]
            strand += stages.of_surface[stage, j] * moves.surface[j, i]
        if stage > 1:  # the second stands where the first did
            gas[i] = gas_of(winding.gaps, winding.rest, winding.k1, winding.k3, held, gas[i])
        surface = gas[i] * (winding.k1 + winding.k3 * gas[i] * gas[i])
        moves.surface[stage, i] = surface
        moves.water[stage, i] += winding.density * (strand + stages.of_surface[stage, stage] * surface)
        rest = carried * _GAMMA - moves.water[stage, i]
        right[i] = diagonal[i] * gas[i] + winding.mass[i] * stages.pace * rest
    if winding.sought == gas.size:
        right[gas.size - 1] += winding.face * winding.air
        return
    right[winding.sought] = winding.air
    for i in range(winding.sought):
        right[i] -= winding.transport[winding.sought, i] * winding.air


@compiled(Number(WOUND, _STAGED, _MOVES, Vector, Matrix, Vector, Vector, Matrix))
def _ended(
    winding: Wound, stages: Stages, moves: Moves, slot: Array, strand: Array, new_slot: Array, gas: Array,
    new_strand: Array,
) -> float:  # fmt: skip
    """What all hold at the end of a step, and by how much that of second order differs, kg/m³."""
    differs = 0.0
    for i in range(gas.size):
        new_slot[i] = slot[i]
        for s in range(_STAGES):
            new_slot[i] += _END[s] * moves.slot[s, i]
        gas[i] = gas_of(winding.gaps, winding.rest, winding.k1, winding.k3, new_slot[i], gas[i])
        for m in range(winding.rate.size):
            new_strand[i, m] = stages.keep[m] * strand[i, m]
        for s in range(_STAGES):
            for m in range(winding.rate.size):
                new_strand[i, m] += stages.take[s, m] * moves.surface[s, i]
        differs += winding.mass[i] * abs(moves.water[_STAGES - 1, i])
    return differs


@compiled(Number(WOUND, Number, Vector, Vector, Matrix, Vector, Vector, Matrix))
def step(
    winding: Wound, seconds: float, slot: Array, gas: Array, strand: Array, new_slot: Array, new_gas: Array,
    new_strand: Array,
) -> float:  # fmt: skip
    """Fills in what the slots hold, the gas and the strand after one step of a winding in given air; returns by how
    much water one of second order differs, kg/m³, infinity where its system could not be solved.
    """
    nodes, size, stages = gas.size, winding.sought, stages_of(winding, seconds)
    moves = Moves(np.empty((_STAGES, nodes)), np.empty((_STAGES, nodes)), np.empty((_STAGES, nodes)))
    steep, diagonal, right, system = np.empty(nodes), np.empty(nodes), np.empty(nodes), np.empty((size, size))
    for i in range(nodes):
        new_gas[i] = gas[i]
        steep[i] = winding.k1 + 3.0 * winding.k3 * gas[i] * gas[i]
        capacity = winding.gaps + (winding.rest + winding.density * stages.of_surface[0, 0]) * steep[i]
        diagonal[i] = winding.mass[i] * stages.pace * capacity
    for i in range(size):
        for j in range(i, size):
            system[i, j] = winding.transport[i, j]
        system[i, i] += diagonal[i]
    if not factored(system):
        return math.inf
    _of_modes(winding, stages, strand, moves.water)
    for stage in range(_STAGES):
        _set_up(winding, stages, moves, stage, slot, diagonal, new_gas, right)
        solve(system, right)
        for i in range(nodes):
            move = steep[i] * (right[i] - new_gas[i])
            moves.slot[stage, i] = winding.gaps * (right[i] - new_gas[i]) + winding.rest * move
            moves.surface[stage, i] += move
            moves.water[stage, i] += moves.slot[stage, i] + winding.density * stages.of_surface[0, 0] * move
    return _ended(winding, stages, moves, slot, strand, new_slot, new_gas, new_strand)


@compiled(Nothing(Vector, Vector, Matrix, Vector, Vector, Matrix))
def _copy(slot: Array, gas: Array, strand: Array, to_slot: Array, to_gas: Array, to_strand: Array) -> None:
    """Element by element: arrays that are assigned whole take the compiler ten seconds."""
    for i in range(slot.size):
        to_slot[i], to_gas[i] = slot[i], gas[i]
        for m in range(strand.shape[1]):
            to_strand[i, m] = strand[i, m]


@compiled(Flag(WOUND, Number, Number, Number, Vector, Vector, Matrix, Vector, Vector, Matrix))
def _interval(
    winding: Wound, seconds: float, part: float, at_first: float, slot: Array, gas: Array, strand: Array,
    new_slot: Array, new_gas: Array, new_strand: Array,
) -> bool:  # fmt: skip
    """Fills in what the slots hold, the gas and the strand after so many seconds, which change the first three: in one
    step, or in as many as it takes, the first of which is no longer than a part of it. `at_first`: water in all, kg/m³.
    False where they could not be followed.
    """
    left = seconds
    while left > 0.0:
        differs = step(winding, part, slot, gas, strand, new_slot, new_gas, new_strand)
        most = _SHARE_OF_WATER * max(at_first, water_in(winding, new_slot, new_strand))
        if not differs < most and part > _LEAST_PART * seconds:
            part /= 4.0
            continue
        if not math.isfinite(differs):
            return False
        left -= part
        part = min(3.0 * part, left)
        _copy(new_slot, new_gas, new_strand, slot, gas, strand)
    return True


@compiled(Flag(STAYS, Matrix, Cube, Cube, Hypercube))
def follow(stays: Stays, seconds: Array, slot: Array, gas: Array, strand: Array) -> bool:
    """Each winding through intervals, shape (intervals, cases): fills in what the slots hold, the gas, and the strand
    after each, shape (1 + intervals, cases, ...), from the first row on. False where one could not be followed.
    """
    nodes, modes = strand.shape[2:]
    now_slot, now_gas, now_strand = np.empty(nodes), np.empty(nodes), np.empty((nodes, modes))
    for case in range(seconds.shape[1]):
        winding = one_of(stays, case)
        _copy(slot[0, case], gas[0, case], strand[0, case], now_slot, now_gas, now_strand)
        if winding.sought < nodes:  # the face is at the air from the first moment on
            air = winding.air
            now_gas[-1] = air
            now_slot[-1] = air * (winding.gaps + winding.rest * (winding.k1 + winding.k3 * air * air))
        water = water_in(winding, now_slot, now_strand)
        for n in range(len(seconds)):
            after = slot[n + 1, case], gas[n + 1, case], strand[n + 1, case]
            part = seconds[n, case] if n else seconds[n, case] / 4.0
            if not _interval(winding, seconds[n, case], part, water, now_slot, now_gas, now_strand, *after):
                return False
    return True
