"""What lies between the knots of a course, interpolated: compiled."""

from __future__ import annotations

import math

import numpy as np

from drying.arrays import Array, Counts
from drying.compiled import Count, CountVector, Cube, Hypercube, Matrix, Nothing, Vector, compiled
from drying.transport.wound import gas_of


@compiled(Nothing(Vector, Vector, CountVector, Matrix))
def four_knots(knot_h: Array, time_h: Array, first: Counts, weights: Array) -> None:
    """Fills in which knots are the first of the four about each time, one of them not before it, and the weights of all
    four, shape (times, 4): a cubic in the square root of time, in which diffusion is smooth. Which knots these are
    depends on the time alone.
    """
    for t in range(time_h.size):
        after = 0
        while after < knot_h.size and knot_h[after] <= time_h[t]:
            after += 1
        first[t] = min(max(after - 3, 0), knot_h.size - 4)
        for i in range(4):
            weights[t, i] = 1.0
            for j in range(4):
                one, other = math.sqrt(knot_h[first[t] + i]), math.sqrt(knot_h[first[t] + j])
                if i != j:
                    weights[t, i] *= (math.sqrt(time_h[t]) - other) / (one - other)


@compiled(Nothing(Vector, Hypercube, Count, Matrix))
def _in_modes(weights: Array, strand: Array, case: int, found: Array) -> None:
    """What the modes hold at each knot and node of one of several windings, % of dry mass."""
    found.fill(0.0)
    for knot in range(len(strand)):
        for i in range(found.shape[1]):
            for m in range(weights.size):
                found[knot, i] += weights[m] * strand[knot, case, i, m]


@compiled(Nothing(Vector, Vector, Vector, Vector, Cube, Cube, Hypercube, Count, Vector, Vector, Vector, Matrix))
def between(
    slots: Array, mass: Array, weights: Array, knot_h: Array, water: Array, gas: Array, strand: Array, case: int,
    time_h: Array, moisture: Array, last_gas: Array, last_strand: Array,
) -> None:  # fmt: skip
    """What lies between knots, in h, of one of several windings, from what its slots hold, the gas and the strand at
    each, shape (knots, cases, ...): fills in its mean moisture at some times, % of dry mass, and gas and strand at the
    last of them. `slots`: from `gaps` to `k3` as of `Wound`. Water is what is interpolated, so none is made or lost.
    """
    gaps, _, rest, k1, k3 = slots
    first, share = np.empty(time_h.size, dtype=np.int64), np.empty((time_h.size, 4))
    four_knots(knot_h, time_h, first, share)
    in_modes, at_once = np.empty((knot_h.size, mass.size)), 1.0 - np.sum(weights)
    _in_modes(weights, strand, case, in_modes)
    moisture.fill(0.0)
    for t in range(time_h.size):
        for i in range(mass.size):
            slot = near = modes = 0.0
            for k in range(4):
                slot += share[t, k] * water[first[t] + k, case, i]
                near += share[t, k] * gas[first[t] + k, case, i]
                modes += share[t, k] * in_modes[first[t] + k, i]
            there = gas_of(gaps, rest, k1, k3, slot, near)
            moisture[t] += mass[i] * (modes + at_once * there * (k1 + k3 * there * there))
            last_gas[i] = there
    last = time_h.size - 1
    for i in range(mass.size):
        for m in range(weights.size):
            last_strand[i, m] = 0.0
            for k in range(4):
                last_strand[i, m] += share[last, k] * strand[first[last] + k, case, i, m]
