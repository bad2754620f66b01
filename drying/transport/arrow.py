"""How a cell of gas that trades with the modes of its strand decays: many such small systems solved at once.

Each is an arrowhead matrix. Its eigenvalues are the roots of a secular equation, one between each two strand rates
(R.-C. Li, "Solving secular equations stably and efficiently", LAPACK working note 89, 1993: the middle way). Root after
root is found from its nearer pole, so that the slow modes, which a drying run is made of, keep all their digits beside
gas that is a million times as quick.

Numbers run along (roots, poles, systems), systems being many: sums over poles are then products of matrices.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from drying.arrays import Array

_ALL_TOGETHER = 3  # steps that nearly all roots need
_STEPS = 60  # of the few others; each that leaves the bracket halves it
_LAST_STEP = 1e-9  # of its root: as steps go on by their squares, none would be felt after it
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
    away = np.concatenate([away[:, 1:], (strand_rates - last)[None]])
    strand = of_each_cell(np.sqrt(capacity[:, 1:] / capacity[:, :1]) * rates) / away
    length = np.sqrt(1.0 + np.einsum("rpm,rpm->rm", strand, strand))[:, None]
    vectors = np.concatenate([1.0 / length, strand / length], axis=1)[::-1]
    found = np.concatenate([roots, last[None]])[::-1]
    return -found.T.reshape(shape), vectors.transpose(2, 1, 0).reshape(*shape, shape[-1])


def _between(gas: Array, weights: Array, poles: Array) -> tuple[Array, Array]:
    """The root between each two poles of gas + Σ weights / (poles - x), which rises all along between them: how far
    each pole lies from it, shape (roots, poles, systems), and itself.
    """
    low, high, each = poles[:-1], poles[1:], np.arange(len(poles) - 1)
    gap, left, right = high - low, weights[:-1], weights[1:]
    at_middle = gas + np.einsum("pm,rpm->rm", weights, 1.0 / (poles - (low + high)[:, None] / 2.0))
    near_low = at_middle >= 0.0
    origin = np.where(near_low, low, high)
    # To begin with, all other poles count as they do in the middle.
    rest = at_middle + 2.0 * (left - right) / gap
    first = np.where(near_low, rest, -rest) * gap + left + right
    root = _nearer(first, np.where(near_low, left, -right) * gap, rest)
    least, most = np.where(near_low, 0.0, -gap / 2.0), np.where(near_low, gap / 2.0, 0.0)
    below = np.asarray(each[:, None] >= np.arange(len(poles)), dtype=np.float64)
    sides = np.stack([below, 1.0 - below], axis=1)
    sought = _Sought(gas, weights, poles - origin[:, None], sides, low - origin, high - origin, least, most)
    root = _kept_within(root, least, most)
    for _ in range(_ALL_TOGETHER):
        root, moving = sought.nearer(root)
    if moving.any():
        root[moving] = sought.only(np.nonzero(moving)).settled(root[moving])
    return sought.from_origin - root[:, None], origin + root


@dataclass(frozen=True)
class _Sought:
    """Roots that are searched for, each between its own poles: all numbers from the pole that it lies nearer to, shape
    (roots, poles, systems). `sides`: which poles lie under a root and which over it, (roots, 2, poles); `low` and
    `high`: the two about it; `least` and `most`: between what it was found to lie, which goes on changing.
    """

    gas: Array
    weights: Array
    from_origin: Array
    sides: Array
    low: Array
    high: Array
    least: Array
    most: Array

    def only(self, some: tuple[npt.NDArray[np.intp], ...]) -> _Sought:
        """Some roots (roots, systems) alone, as if each had a system of its own."""
        of_root, of_system = some
        weights, from_origin = self.weights.T[of_system], self.from_origin[of_root, :, of_system]
        low, high, least, most = (of[some][:, None] for of in (self.low, self.high, self.least, self.most))
        return _Sought(
            *(self.gas[of_system][:, None], weights[..., None], from_origin[..., None], self.sides[of_root]),
            *(low, high, least, most),
        )

    def nearer(self, root: Array) -> tuple[Array, npt.NDArray[np.bool_]]:
        """From guesses of the roots to nearer ones, and which of them may still lack digits."""
        away = self.from_origin - root[:, None]
        share = self.weights / away
        under, over = (self.sides @ share).swapaxes(0, 1)
        value = self.gas + under + over
        off = np.abs(value) > _DIGITS * (self.gas + over - under)
        share /= away
        slopes = (self.sides @ share).swapaxes(0, 1)
        self.least[...] = np.where(value < 0.0, root, self.least)
        self.most[...] = np.where(value < 0.0, self.most, root)
        step = _middle_way(value, slopes[0], slopes[1], self.low - root, self.high - root)
        onward = np.where(off, _kept_within(root + step, self.least, self.most), root)
        return onward, off & (np.abs(onward - root) > _LAST_STEP * np.abs(root))

    def settled(self, root: Array) -> Array:
        """From guesses of some roots alone to all their digits."""
        for _ in range(_STEPS):
            found, moving = self.nearer(root[:, None])
            root = found[:, 0]
            if not moving.any():
                break
        return root


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
