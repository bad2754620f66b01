"""How a cell of gas that trades with the modes of its strand decays: many such small systems solved at once.

Each is an arrowhead matrix. Its eigenvalues are the roots of a secular equation, one between each two strand rates
(R.-C. Li, "Solving secular equations stably and efficiently", LAPACK working note 89, 1993: the middle way). Root after
root is found from its nearer pole, so that the slow modes, which a drying run is made of, keep all their digits beside
gas that is a million times as quick.

Numbers run along (poles, roots, systems): sums over poles are then quickest, as systems are many.
"""

from __future__ import annotations

import numpy as np

from drying.arrays import Array

_STEPS = 60  # five are usual; each that leaves the bracket halves it
_DIGITS = 8.0 * np.finfo(np.float64).eps
_NO_LEAK = 1e-100  # 1/s times capacity: so slow a leak is none, and needs no case of its own


def decays(leak: Array, capacity: Array, rates: Array) -> tuple[Array, Array]:
    """Rates of decay (≤ 0, the quickest first) and the orthonormal vectors along which cells decay.

    `leak`: what leaves each cell's gas for a unit of it, shape (cases, cells); `capacity` of gas (first) and strand
    modes, (cases, size); `rates` at which the strand modes exchange, rising, 1/s, (cases, size - 1). Returns arrays of
    shape (cases, cells, size) and (cases, cells, size, size), the last axis along the decays; vectors are of numbers
    that are scaled by the square roots of the capacities.
    """
    shape = (*leak.shape, capacity.shape[1])

    def of_each_cell(of_case: Array) -> Array:
        return np.repeat(of_case.T, leak.shape[1], axis=1)

    gas, strand_rates = of_each_cell(capacity[:, :1])[0], of_each_cell(rates)
    weights = np.concatenate([np.maximum(leak, _NO_LEAK).reshape(1, -1), of_each_cell(capacity[:, 1:] * rates)])
    away, roots = _between(gas, weights, np.concatenate([np.zeros((1, gas.size)), strand_rates]))
    # The quickest has no pole above it. The roots sum up to the trace, of which it is nearly all.
    last = weights.sum(axis=0) / gas + strand_rates.sum(axis=0) - roots.sum(axis=0)
    away = np.concatenate([away[1:], (strand_rates - last)[:, None]], axis=1)
    strand = of_each_cell(np.sqrt(capacity[:, 1:] / capacity[:, :1]) * rates)[:, None] / away
    length = np.sqrt(1.0 + np.einsum("prm,prm->rm", strand, strand))
    vectors = np.concatenate([1.0 / length[None], strand / length])[:, ::-1]
    found = np.concatenate([roots, last[None]])[::-1]
    return -found.T.reshape(shape), vectors.transpose(2, 0, 1).reshape(*shape, shape[-1])


def _between(gas: Array, weights: Array, poles: Array) -> tuple[Array, Array]:
    """The root between each two poles of gas + Σ weights / (poles - x), which rises all along between them: how far
    each pole lies from it, shape (poles, roots, systems), and itself.
    """
    low, high, each = poles[:-1], poles[1:], np.arange(len(poles) - 1)
    gap, left, right = high - low, weights[:-1], weights[1:]
    at_middle = gas + np.einsum("pm,prm->rm", weights, 1.0 / (poles[:, None] - (low + high) / 2.0))
    near_low = at_middle >= 0.0
    origin = np.where(near_low, low, high)
    from_origin = poles[:, None] - origin
    # To begin with, all other poles count as they do in the middle.
    rest = at_middle + 2.0 * (left - right) / gap
    first = np.where(near_low, rest, -rest) * gap + left + right
    root = _nearer(first, np.where(near_low, left, -right) * gap, rest)
    least, most = np.where(near_low, 0.0, -gap / 2.0), np.where(near_low, gap / 2.0, 0.0)
    root = _kept_within(root, least, most)
    below = np.asarray(each[None, :] >= np.arange(len(poles))[:, None], dtype=np.float64)
    for _ in range(_STEPS):
        away = from_origin - root
        share = weights[:, None] / away
        under, over = _on_each_side(share, below)
        value = gas + under + over
        moving = np.abs(value) > _DIGITS * (gas + over - under)
        if not moving.any():
            break
        share /= away
        low_slope, high_slope = _on_each_side(share, below)
        least, most = np.where(value < 0.0, root, least), np.where(value < 0.0, most, root)
        step = _middle_way(value, low_slope, high_slope, away[each, each], away[each + 1, each])
        root = np.where(moving, _kept_within(root + step, least, most), root)
    return away, origin + root


def _on_each_side(of_pole: Array, below: Array) -> tuple[Array, Array]:
    """Sums over the poles under each root, and over it."""
    under = np.einsum("prm,pr->rm", of_pole, below)
    return np.asarray(under), np.asarray(np.einsum("prm,pr->rm", of_pole, 1.0 - below))


def _middle_way(value: Array, low_slope: Array, high_slope: Array, to_low: Array, to_high: Array) -> Array:
    """The step to the root of one pole on each side that has this value and these slopes; Newton's where that would
    lead away.
    """
    slope, both = low_slope + high_slope, to_low * to_high
    third = value - to_low * low_slope - to_high * high_slope
    step = _nearer((to_low + to_high) * value - both * slope, both * value, third)
    return np.where(value * step > 0.0, -value / slope, step)


def _kept_within(root: Array, least: Array, most: Array) -> Array:
    return np.where((root > least) & (root < most), root, (least + most) / 2.0)


def _nearer(one: Array, two: Array, three: Array) -> Array:
    """The root of three·x² - one·x + two that lies nearer to nothing, without cancellation."""
    square = np.sqrt(np.maximum(one * one - 4.0 * two * three, 0.0))
    with np.errstate(divide="ignore", invalid="ignore"):
        return np.asarray(np.where(one <= 0.0, (one - square) / (2.0 * three), 2.0 * two / (one + square)))
