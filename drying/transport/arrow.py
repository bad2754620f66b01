"""How a cell of gas that trades with the modes of its strand decays.

Such a system is an arrowhead matrix. Its eigenvalues are the roots of a secular equation, one between each two strand
rates (R.-C. Li, "Solving secular equations stably and efficiently", LAPACK working note 89, 1993: the middle way). Root
after root is found from its nearer pole, so that the slow modes, which a drying run is made of, keep all their digits
beside gas that is a million times as quick.
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

_STEPS = 60  # few need more than four; one that leaves the bracket halves it
_LAST_STEP = 1e-9  # of its root: as steps go on by their squares, none would be felt after it
_DIGITS = 8.0 * float(np.finfo(np.float64).eps)
_NO_LEAK = 1e-100  # 1/s times capacity: so slow a leak is none, and needs no case of its own


def decays(leak: Array, capacity: Array, rates: Array) -> tuple[Array, Array]:
    """Rates of decay (≤ 0, the quickest first) and the orthonormal vectors along which cells decay.

    `leak`: what leaves each cell's gas for a unit of it, shape (cases, cells); `capacity` of gas (first) and strand
    modes, (cases, size); `rates` at which the strand modes exchange, rising, 1/s, (cases, size - 1). Returns arrays of
    shape (cases, cells, size) and (cases, cells, size, size), the last axis along the decays; vectors are of numbers
    that are scaled by the square roots of the capacities.
    """
    found = np.empty((*leak.shape, capacity.shape[1]))
    vectors = np.empty((*found.shape, capacity.shape[1]))
    leak, capacity, rates = (np.ascontiguousarray(of) for of in (leak, capacity, rates))
    each_cell(leak, capacity, rates, found, vectors)
    return found, vectors


@compiled(Number(Number, Number, Number))
def _nearer(one: float, two: float, three: float) -> float:
    """The root of three·x² - one·x + two that lies nearer to nothing, without cancellation."""
    square = math.sqrt(max(one * one - 4.0 * two * three, 0.0))
    return (one - square) / (2.0 * three) if one <= 0.0 else 2.0 * two / (one + square)


@compiled(Number(Number, Number, Number, Number, Number))
def _middle_way(value: float, low_slope: float, high_slope: float, to_low: float, to_high: float) -> float:
    """The step to the root of one pole on each side that has this value and these slopes; Newton's where that would
    lead away.
    """
    slope, both = low_slope + high_slope, to_low * to_high
    third = value - to_low * low_slope - to_high * high_slope
    step = _nearer((to_low + to_high) * value - both * slope, both * value, third)
    return -value / slope if value * step > 0.0 else step


class Roots(NamedTuple):
    """One root of each cell: the pole that it lies nearer to, and how far from that, `least` and `most` of that, and
    whether it is found; the sums about it over the poles up to the one before it, over those after, and their slopes.
    """

    origin: Array
    root: Array
    least: Array
    most: Array
    found: Counts
    under: Array
    over: Array
    low_slope: Array
    high_slope: Array


_ROOTS = record(Roots, Vector, Vector, Vector, Vector, CountVector, Vector, Vector, Vector, Vector)


@compiled(Nothing(Vector, Vector, Vector, Count, _ROOTS))
def _sum_up(leak: Array, weights: Array, poles: Array, at: int, its: Roots) -> None:
    """Fills in Σ weights / (poles - x) of the poles up to `at` and of those after it, and the slopes of both. The first
    pole is nought, its weight the cell's own: what leaks.

    Cell by cell in the inner loops, as the machine then divides for several at once.
    """
    origin, root, under, over = its.origin, its.root, its.under, its.over
    low_slope, high_slope = its.low_slope, its.high_slope
    for cell in range(root.size):
        inverse = 1.0 / (-origin[cell] - root[cell])
        under[cell], low_slope[cell] = leak[cell] * inverse, leak[cell] * inverse * inverse
        over[cell] = high_slope[cell] = 0.0
    for p in range(1, at + 1):
        weight, pole = weights[p], poles[p]
        for cell in range(root.size):
            inverse = 1.0 / ((pole - origin[cell]) - root[cell])
            under[cell] += weight * inverse
            low_slope[cell] += weight * inverse * inverse
    for p in range(at + 1, poles.size):
        weight, pole = weights[p], poles[p]
        for cell in range(root.size):
            inverse = 1.0 / ((pole - origin[cell]) - root[cell])
            over[cell] += weight * inverse
            high_slope[cell] += weight * inverse * inverse


@compiled(Nothing(Number, Vector, Vector, Vector, Count, _ROOTS))
def _begin(gas: float, leak: Array, weights: Array, poles: Array, at: int, its: Roots) -> None:
    """Fills in the pole that the root after pole `at` lies nearer to; a guess of it, and between what it lies."""
    gap, right = poles[at + 1] - poles[at], weights[at + 1]
    for cell in range(leak.size):
        its.origin[cell], its.root[cell], its.found[cell] = 0.0, (poles[at] + poles[at + 1]) / 2.0, 0
    _sum_up(leak, weights, poles, at, its)
    for cell in range(leak.size):
        left = weights[at] if at else leak[cell]
        middle = gas + its.under[cell] + its.over[cell]
        rest = middle + 2.0 * (left - right) / gap  # to begin with, all other poles count as they do in the middle
        if middle >= 0.0:
            its.origin[cell], its.least[cell], its.most[cell] = poles[at], 0.0, gap / 2.0
            its.root[cell] = _nearer(rest * gap + left + right, left * gap, rest)
        else:
            its.origin[cell], its.least[cell], its.most[cell] = poles[at + 1], -gap / 2.0, 0.0
            its.root[cell] = _nearer(-rest * gap + left + right, -right * gap, rest)
        if not its.least[cell] < its.root[cell] < its.most[cell]:
            its.root[cell] = (its.least[cell] + its.most[cell]) / 2.0


@compiled(Flag(Number, Number, Number, Count, _ROOTS))
def _moved(gas: float, low: float, high: float, cell: int, its: Roots) -> bool:
    """Whether the root of a cell moves on, between two poles, or else is found."""
    value, root = gas + its.under[cell] + its.over[cell], its.root[cell]
    if abs(value) <= _DIGITS * (gas + its.over[cell] - its.under[cell]):
        return False
    if value < 0.0:
        its.least[cell] = root
    else:
        its.most[cell] = root
    to_low, to_high = low - its.origin[cell] - root, high - its.origin[cell] - root
    onward = root + _middle_way(value, its.low_slope[cell], its.high_slope[cell], to_low, to_high)
    if not its.least[cell] < onward < its.most[cell]:
        onward = (its.least[cell] + its.most[cell]) / 2.0
    its.root[cell] = onward
    return bool(abs(onward - root) > _LAST_STEP * abs(onward))


@compiled(Nothing(Number, Vector, Vector, Vector, Count, _ROOTS))
def _find(gas: float, leak: Array, weights: Array, poles: Array, at: int, its: Roots) -> None:
    """Fills in the root of gas + Σ weights / (poles - x), which rises all along, between pole `at` and the next, of
    every cell.
    """
    _begin(gas, leak, weights, poles, at, its)
    for _ in range(_STEPS):
        _sum_up(leak, weights, poles, at, its)
        all_found = True
        for cell in range(leak.size):
            if not its.found[cell]:
                if _moved(gas, poles[at], poles[at + 1], cell, its):
                    all_found = False
                else:
                    its.found[cell] = 1
        if all_found:
            return


@compiled(Nothing(Vector, Number, Number, Vector, Vector, Matrix, Count))
def _vector(poles: Array, origin: float, root: float, couple: Array, parts: Array, vectors: Array, column: int) -> None:
    """Write down the vector that belongs to a root, of length one; `parts` is working space."""
    for p in range(parts.size):
        parts[p] = couple[p] / ((poles[p] - origin) - root)
    parts[0], length = 1.0, 0.0
    for p in range(parts.size):
        length += parts[p] * parts[p]
    share = 1.0 / math.sqrt(length)
    for p in range(parts.size):
        vectors[p, column] = parts[p] * share


@compiled(Nothing(Number, Vector, Vector, Vector, Vector, Matrix, Cube, _ROOTS))
def _of_case(
    gas: float, leak: Array, weights: Array, poles: Array, couple: Array, found: Array, vectors: Array, its: Roots
) -> None:
    """Fills in the rates and vectors of all cells of a case."""
    last, parts = np.empty(leak.size), np.empty(poles.size)
    # The quickest has no pole above it. The roots sum up to the trace, of which it is nearly all.
    for cell in range(leak.size):
        last[cell] = (leak[cell] + weights.sum()) / gas + poles.sum()
    for at in range(poles.size - 1):
        _find(gas, leak, weights, poles, at, its)
        column = poles.size - 1 - at
        for cell in range(leak.size):
            last[cell] -= its.origin[cell] + its.root[cell]
            found[cell, column] = -(its.origin[cell] + its.root[cell])
            _vector(poles, its.origin[cell], its.root[cell], couple, parts, vectors[cell], column)
    for cell in range(leak.size):
        found[cell, 0] = -last[cell]
        _vector(poles, 0.0, last[cell], couple, parts, vectors[cell], 0)


@compiled(Nothing(Matrix, Matrix, Matrix, Cube, Hypercube))
def each_cell(leak: Array, capacity: Array, rates: Array, found: Array, vectors: Array) -> None:
    """Fill in what `decays` returns."""
    size, cells = capacity.shape[1], leak.shape[1]
    poles, weights, couple, leaks = np.zeros(size), np.zeros(size), np.zeros(size), np.empty(cells)
    work = np.empty((8, cells))
    its = Roots(work[0], work[1], work[2], work[3], np.empty(cells, dtype=np.int64), work[4], work[5], work[6], work[7])
    for case in range(leak.shape[0]):
        gas = capacity[case, 0]
        for p in range(1, size):
            poles[p] = rates[case, p - 1]
            weights[p] = capacity[case, p] * poles[p]
            couple[p] = math.sqrt(capacity[case, p] / gas) * poles[p]
        for cell in range(cells):
            leaks[cell] = max(leak[case, cell], _NO_LEAK)
        _of_case(gas, leaks, weights, poles, couple, found[case], vectors[case], its)
