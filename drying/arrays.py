"""The arrays of the core, of any shape: real numbers in double precision, and counts; and how a spread is summed up."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np
import numpy.typing as npt

Array = npt.NDArray[np.float64]
Counts = npt.NDArray[np.int64]

_SHARES = (0.05, 0.5, 0.95)
_FEW, _BINS = 2000, 1024


def weighted_points(values: Array, chances: Array) -> tuple[float, float, float]:
    """5, 50 and 95 % points of values with their chances, which sum to one; both of one dimension."""
    least = float(values.min())
    span = float(values.max()) - least
    # A value beyond all numbers goes into no bin.
    if values.size < _FEW or not 0.0 < span < math.inf:
        low, middle, high = _points(values, chances, 0.0, _SHARES)
        return low, middle, high
    # Only the values near a point need be put in order: which those are is seen by counting all into bins.
    bin_of = ((values - least) / span * (_BINS - 1)).astype(np.int16)
    until = np.cumsum(np.bincount(bin_of, chances, _BINS))
    filled = np.flatnonzero(np.bincount(bin_of, minlength=_BINS))
    found = []
    for share in _SHARES:
        at = min(int(np.searchsorted(until[filled], share)), filled.size - 1)
        first, last = filled[max(at - 1, 0)], filled[min(at + 1, filled.size - 1)]
        near = (bin_of >= first) & (bin_of <= last)
        found += _points(values[near], chances[near], float(until[first - 1]) if first else 0.0, (share,))
    return found[0], found[1], found[2]


def _points(values: Array, chances: Array, before: float, shares: Sequence[float]) -> list[float]:
    """Where some of the values, before which lie chances of `before`, reach these shares of all."""
    order = np.argsort(values, kind="stable")  # so that the same come out however many are put in order
    here = chances[order]
    points: list[float] = np.interp(shares, before + np.cumsum(here) - 0.5 * here, values[order]).tolist()
    return points
