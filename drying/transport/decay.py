"""Water in a winding of Henry's law as modes that decay each by itself: compiled loops, winding by winding."""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np

from drying.arrays import Array
from drying.compiled import Count, Cube, Matrix, Nothing, Number, Vector, compiled, record

_UNHEARD = 1e-15  # what has decayed to less than this of the largest does not show in the last digits


class Decay(NamedTuple):
    """A departure from the activity of the air is `into @ departure` as pack modes, shape (modes, nodes within), and
    `back @` these is the departure again. Each mode has parts, of the gas and of the strand's modes; times the square
    roots of their capacities, `scale`, they are `turn` (the mode's own eigenvectors, the last axis along the decays)
    times what decays by `exp(rate·t)`, 1/s ≤ 0. At a face in free air, which is no node within, the strand decays by
    `exp(face_rate·t)`.
    """

    into: Array
    back: Array
    scale: Array
    turn: Array
    rate: Array
    face_rate: Array


_DECAY = record(Decay, Matrix, Matrix, Vector, Cube, Matrix, Vector)


@compiled(Nothing(_DECAY, Matrix, Matrix))
def _amplitudes(decay: Decay, departure: Array, found: Array) -> None:
    """Of all that decays, shape (modes, parts), from a departure at the nodes, (nodes, parts)."""
    modes, nodes = decay.into.shape
    scaled = np.empty(departure.shape[1])
    found.fill(0.0)
    for j in range(modes):
        scaled.fill(0.0)
        for i in range(nodes):
            for e in range(scaled.size):
                scaled[e] += decay.into[j, i] * departure[i, e]
        for e in range(scaled.size):
            scaled[e] *= decay.scale[e]
            for s in range(scaled.size):
                found[j, s] += decay.turn[j, e, s] * scaled[e]


@compiled(Nothing(_DECAY, Matrix, Count, Vector))
def _parts_of(decay: Decay, amplitudes: Array, mode: int, parts: Array) -> None:
    """The parts of one pack mode from its amplitudes."""
    parts.fill(0.0)
    for s in range(parts.size):
        for e in range(parts.size):
            parts[e] += decay.turn[mode, e, s] * amplitudes[mode, s]
    for e in range(parts.size):
        parts[e] /= decay.scale[e]


@compiled(Nothing(_DECAY, Matrix, Matrix))
def _departure(decay: Decay, amplitudes: Array, found: Array) -> None:
    """The departure at the nodes within from amplitudes."""
    nodes, modes = decay.back.shape
    parts = np.empty(found.shape[1])
    for i in range(nodes):
        for e in range(parts.size):
            found[i, e] = 0.0
    for j in range(modes):
        _parts_of(decay, amplitudes, j, parts)
        for i in range(nodes):
            for e in range(parts.size):
                found[i, e] += decay.back[i, j] * parts[e]


@compiled(Nothing(_DECAY, Vector, Vector, Matrix, Matrix, Vector, Vector))
def _in_the_mean(
    decay: Decay, mass: Array, weights: Array, departure: Array, amplitudes: Array, rates: Array, shares: Array
) -> None:
    """All that decays, and what it is of the mean departure: its modes, then the strand at a face in free air."""
    nodes, modes = decay.back.shape
    parts, own, at = weights.size, np.empty(weights.size), 0
    for j in range(modes):
        of_mode = 0.0
        for i in range(nodes):
            of_mode += mass[i] * decay.back[i, j]
        own.fill(0.0)
        for e in range(parts):
            weight = weights[e] / decay.scale[e]
            for s in range(parts):
                own[s] += decay.turn[j, e, s] * weight
        for s in range(parts):
            rates[at], shares[at] = decay.rate[j, s], of_mode * own[s] * amplitudes[j, s]
            at += 1
    if nodes < mass.size:
        for e in range(1, parts):
            rates[at], shares[at] = decay.face_rate[e - 1], mass[nodes] * weights[e] * departure[nodes, e]
            at += 1


@compiled(Nothing(Vector, Vector, Vector, Vector))
def _sums(rates: Array, shares: Array, time_s: Array, found: Array) -> None:
    """What is left of all shares at some times."""
    largest = 0.0
    for share in shares:
        largest = max(largest, abs(share))
    found.fill(0.0)
    for k in range(shares.size):
        if abs(shares[k]) > _UNHEARD * largest:
            quickest = math.log(_UNHEARD * largest / abs(shares[k]))
            for t in range(time_s.size):
                if rates[k] * time_s[t] > quickest:
                    found[t] += shares[k] * math.exp(rates[k] * time_s[t])


@compiled(Nothing(_DECAY, Vector, Vector, Matrix, Matrix, Vector, Vector))
def _means(
    decay: Decay, mass: Array, weights: Array, departure: Array, amplitudes: Array, time_s: Array, found: Array
) -> None:
    """The mean departure of a winding at some times."""
    of_face = decay.face_rate.size if len(decay.back) < mass.size else 0
    rates, shares = np.empty(amplitudes.size + of_face), np.empty(amplitudes.size + of_face)
    _in_the_mean(decay, mass, weights, departure, amplitudes, rates, shares)
    _sums(rates, shares, time_s, found)


@compiled(Nothing(_DECAY, Number, Matrix, Matrix))
def _after(decay: Decay, seconds: float, departure: Array, amplitudes: Array) -> None:
    """Take a departure and its amplitudes on by so many seconds."""
    modes, parts = amplitudes.shape
    for j in range(modes):
        for s in range(parts):
            amplitudes[j, s] *= math.exp(decay.rate[j, s] * seconds)
    _departure(decay, amplitudes, departure)
    if modes < len(departure):
        departure[modes, 0] = 0.0
        for e in range(1, parts):
            departure[modes, e] *= math.exp(decay.face_rate[e - 1] * seconds)


@compiled(Nothing(_DECAY, Vector, Vector, Number, Number, Vector, Matrix, Number, Vector, Vector, Vector, Matrix))
def advance(
    decay: Decay, mass: Array, weights: Array, k1: float, air: float, gas: Array, strand: Array, seconds: float,
    time_s: Array, moisture: Array, new_gas: Array, new_strand: Array,
) -> None:  # fmt: skip
    """From gas (nodes,) and strand (nodes, modes), in air of an activity: fills in the mean moisture at some times, %
    of dry mass, and gas and strand after so many seconds. `weights`: of the strand's part that follows the gas at once,
    then of its modes.
    """
    nodes, parts = gas.size, weights.size
    departure, amplitudes = np.empty((nodes, parts)), np.empty(decay.rate.shape)
    for i in range(nodes):
        departure[i, 0] = gas[i] - air
        for e in range(1, parts):
            departure[i, e] = strand[i, e - 1] / k1 - air
    _amplitudes(decay, departure, amplitudes)
    if time_s.size:
        _means(decay, mass, weights, departure, amplitudes, time_s, moisture)
        for t in range(time_s.size):
            moisture[t] = k1 * (air + moisture[t])
    _after(decay, seconds, departure, amplitudes)
    for i in range(nodes):
        new_gas[i] = departure[i, 0] + air
        for e in range(1, parts):
            new_strand[i, e - 1] = (departure[i, e] + air) * k1
