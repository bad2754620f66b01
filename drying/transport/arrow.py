"""How a cell of gas that trades with the modes of its strand decays.

Such a system is an arrowhead matrix. Its eigenvalues are the roots of a secular equation, one between each two strand
rates (R.-C. Li, "Solving secular equations stably and efficiently", LAPACK working note 89, 1993: the middle way). Root
after root is found from its nearer pole, so that the slow modes, which a drying run is made of, keep all their digits
beside gas that is a million times as quick.
"""

from __future__ import annotations

import math

import numpy as np

from drying.arrays import Array
from drying.compiled import Count, Cube, Hypercube, Matrix, Nothing, Number, Vector, compiled, several

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


@compiled(several(Number, 4)(Vector, Vector, Count, Number, Number))
def _sums(weights: Array, poles: Array, at: int, origin: float, root: float) -> tuple[float, float, float, float]:
    """Σ weights / (poles - x) of the poles up to `at` and of those after it, and the slopes of both, at a root that is
    counted from an origin.
    """
    under = over = low_slope = high_slope = 0.0
    for p in range(at + 1):
        inverse = 1.0 / ((poles[p] - origin) - root)
        under += weights[p] * inverse
        low_slope += weights[p] * inverse * inverse
    for p in range(at + 1, poles.size):
        inverse = 1.0 / ((poles[p] - origin) - root)
        over += weights[p] * inverse
        high_slope += weights[p] * inverse * inverse
    return under, over, low_slope, high_slope


@compiled(several(Number, 4)(Number, Vector, Vector, Count))
def _begun(gas: float, weights: Array, poles: Array, at: int) -> tuple[float, float, float, float]:
    """The pole that the root after pole `at` lies nearer to; a guess of it, and between what it lies, from there on."""
    gap, left, right = poles[at + 1] - poles[at], weights[at], weights[at + 1]
    under, over, _, _ = _sums(weights, poles, at, 0.0, (poles[at] + poles[at + 1]) / 2.0)
    middle = gas + under + over
    rest = middle + 2.0 * (left - right) / gap  # to begin with, all other poles count as they do in the middle
    if middle >= 0.0:
        return poles[at], _nearer(rest * gap + left + right, left * gap, rest), 0.0, gap / 2.0
    return poles[at + 1], _nearer(-rest * gap + left + right, -right * gap, rest), -gap / 2.0, 0.0


@compiled(several(Number, 2)(Number, Vector, Vector, Count))
def _root(gas: float, weights: Array, poles: Array, at: int) -> tuple[float, float]:
    """The root of gas + Σ weights / (poles - x), which rises all along, between pole `at` and the next: the pole that
    it lies nearer to, and how far from that.
    """
    origin, root, least, most = _begun(gas, weights, poles, at)
    if not least < root < most:
        root = (least + most) / 2.0
    low, high = poles[at] - origin, poles[at + 1] - origin
    for _ in range(_STEPS):
        under, over, low_slope, high_slope = _sums(weights, poles, at, origin, root)
        value = gas + under + over
        if abs(value) <= _DIGITS * (gas + over - under):
            break
        if value < 0.0:
            least = root
        else:
            most = root
        before, root = root, root + _middle_way(value, low_slope, high_slope, low - root, high - root)
        if not least < root < most:
            root = (least + most) / 2.0
        if abs(root - before) <= _LAST_STEP * abs(root):
            break
    return origin, root


@compiled(Nothing(Vector, Number, Number, Vector, Matrix, Count))
def _vector(poles: Array, origin: float, root: float, couple: Array, vectors: Array, column: int) -> None:
    """Write down the vector that belongs to a root, of length one."""
    length = 1.0
    for p in range(1, poles.size):
        part = couple[p] / ((poles[p] - origin) - root)
        vectors[p, column] = part
        length += part * part
    length = math.sqrt(length)
    vectors[0, column] = 1.0 / length
    for p in range(1, poles.size):
        vectors[p, column] /= length


@compiled(Nothing(Matrix, Matrix, Matrix, Cube, Hypercube))
def each_cell(leak: Array, capacity: Array, rates: Array, found: Array, vectors: Array) -> None:
    """Fill in what `decays` returns."""
    size = capacity.shape[1]
    poles, weights, couple = np.zeros(size), np.empty(size), np.empty(size)
    for case in range(leak.shape[0]):
        gas = capacity[case, 0]
        for p in range(1, size):
            poles[p] = rates[case, p - 1]
            weights[p] = capacity[case, p] * poles[p]
            couple[p] = math.sqrt(capacity[case, p] / gas) * poles[p]
        for cell in range(leak.shape[1]):
            weights[0] = max(leak[case, cell], _NO_LEAK)
            # The quickest has no pole above it. The roots sum up to the trace, of which it is nearly all.
            last = weights.sum() / gas + poles.sum()
            for at in range(size - 1):
                origin, root = _root(gas, weights, poles, at)
                last -= origin + root
                found[case, cell, size - 1 - at] = -(origin + root)
                _vector(poles, origin, root, couple, vectors[case, cell], size - 1 - at)
            found[case, cell, 0] = -last
            _vector(poles, 0.0, last, couple, vectors[case, cell], 0)
