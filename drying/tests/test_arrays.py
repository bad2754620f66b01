"""The points of a spread: whatever is counted into bins, they are those of all values put in order."""

from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from drying.arrays import weighted_points


def by_hand(values, chances):
    """Every value in order, its chance half before and half behind it, and straight lines between."""
    ranked = sorted(zip(values.tolist(), range(values.size), strict=True))
    before, reached = 0.0, []
    for value, at in ranked:
        reached.append((before + 0.5 * chances[at], value))
        before += chances[at]
    at, value = np.array(reached).T
    return np.interp([0.05, 0.5, 0.95], at, value)


class WeightedPoints(TestCase):
    @given(
        st.integers(0, 2**32 - 1),
        st.sampled_from([1, 2, 30, 1999, 2000, 2500, 6000]),
        st.sampled_from(
            ["even", "skew", "ties", "all the same", "one far away", "two heaps", "one beyond all numbers"]
        ),
        st.sampled_from([0.1, 3.0, 300.0]),
    )
    def test_they_are_those_of_all_values_put_in_order(self, seed, size, kind, uneven):
        rng = np.random.default_rng(seed)
        values = rng.normal(size=size)
        if kind == "skew":
            values = np.exp(8.0 * values)
        elif kind == "ties":
            values = np.round(values, 1)
        elif kind == "all the same":
            values = np.full(size, 0.3)
        elif kind == "one far away":
            values[0] = 1e6
        elif kind == "one beyond all numbers":
            values[0] = np.inf
        elif kind == "two heaps":  # and nothing in the bins between
            values = 1e-3 * values + (rng.random(size) < 0.5)
        chances = np.exp(-uneven * rng.exponential(size=size))
        chances /= chances.sum()
        with np.errstate(invalid="raise", over="raise"):
            found = weighted_points(values, chances)
        np.testing.assert_allclose(found, by_hand(values, chances), rtol=1e-9, atol=1e-12)
