"""The one kind of array in the core: real numbers in double precision, any shape; and how a spread is summed up."""

from __future__ import annotations

import numpy as np
import numpy.typing as npt

Array = npt.NDArray[np.float64]


def weighted_points(values: Array, chances: Array) -> tuple[float, float, float]:
    """5, 50 and 95 % points of values with their chances, which sum to one; both of one dimension."""
    order = np.argsort(values)
    cumulative = np.cumsum(chances[order]) - 0.5 * chances[order]
    low, middle, high = np.interp([0.05, 0.5, 0.95], cumulative, values[order])
    return float(low), float(middle), float(high)
