"""Water in a winding of Henry's law as modes that decay each by itself: compiled loops, winding by winding."""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np

from drying.arrays import Array, Counts
from drying.compiled import GONE, Count, CountVector, Cube, Matrix, Nothing, Number, Vector, compiled, record

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


@compiled(Nothing(_DECAY, Matrix, Vector))
def _amplitudes(decay: Decay, departure: Array, found: Array) -> None:
    """All that decays, mode by mode and then the strand at a face in free air, from a departure at the nodes, (nodes,
    parts).
    """
    modes, nodes = decay.into.shape
    parts = departure.shape[1]
    scaled = np.empty(parts)
    found.fill(0.0)
    for j in range(modes):
        scaled.fill(0.0)
        for i in range(nodes):
            into = decay.into[j, i]
            for e in range(parts):
                scaled[e] += into * departure[i, e]
        for e in range(parts):
            own = scaled[e] * decay.scale[e]
            for s in range(parts):
                found[j * parts + s] += decay.turn[j, e, s] * own
    for k in range(modes * parts, found.size):
        found[k] = departure[modes, 1 + k - modes * parts]


@compiled(Nothing(_DECAY, Vector, Count, Vector))
def _parts_of(decay: Decay, amplitudes: Array, mode: int, parts: Array) -> None:
    """The parts of one pack mode from all amplitudes."""
    for e in range(parts.size):
        part = 0.0
        for s in range(parts.size):
            part += decay.turn[mode, e, s] * amplitudes[mode * parts.size + s]
        parts[e] = part / decay.scale[e]


@compiled(Nothing(_DECAY, Vector, Matrix))
def _departure(decay: Decay, amplitudes: Array, found: Array) -> None:
    """The departure at the nodes from amplitudes; at a face in free air the gas is the air's own."""
    nodes, modes = decay.back.shape
    parts = np.empty(found.shape[1])
    for i in range(len(found)):
        for e in range(parts.size):
            found[i, e] = 0.0
    for j in range(modes):
        _parts_of(decay, amplitudes, j, parts)
        for i in range(nodes):
            back = decay.back[i, j]
            for e in range(parts.size):
                found[i, e] += back * parts[e]
    for k in range(modes * parts.size, amplitudes.size):
        found[modes, 1 + k - modes * parts.size] = amplitudes[k]


@compiled(Nothing(_DECAY, Vector))
def _rates(decay: Decay, found: Array) -> None:
    """How fast all decay, in the same order, 1/s."""
    modes, parts = decay.rate.shape
    for j in range(modes):
        for s in range(parts):
            found[j * parts + s] = decay.rate[j, s]
    for k in range(modes * parts, found.size):
        found[k] = decay.face_rate[k - modes * parts]


@compiled(Nothing(_DECAY, Vector, Vector, Vector))
def _in_the_mean(decay: Decay, mass: Array, weights: Array, found: Array) -> None:
    """What a unit of each is of the mean departure."""
    nodes, modes = decay.back.shape
    parts = weights.size
    found.fill(0.0)
    for j in range(modes):
        of_mode = 0.0
        for i in range(nodes):
            of_mode += mass[i] * decay.back[i, j]
        for e in range(parts):
            weight = of_mode * weights[e] / decay.scale[e]
            for s in range(parts):
                found[j * parts + s] += decay.turn[j, e, s] * weight
    for k in range(modes * parts, found.size):
        found[k] = mass[nodes] * weights[1 + k - modes * parts]


@compiled(Nothing(Vector, Vector, Vector, Vector, Vector))
def _sums(rates: Array, amplitudes: Array, means: Array, time_s: Array, found: Array) -> None:
    """The mean departure at some times."""
    largest = 0.0
    for k in range(means.size):
        largest = max(largest, abs(means[k] * amplitudes[k]))
    found.fill(0.0)
    for k in range(means.size):
        share = means[k] * amplitudes[k]
        if abs(share) > _UNHEARD * largest:
            quickest = math.log(_UNHEARD * largest / abs(share))
            for t in range(time_s.size):
                if rates[k] * time_s[t] > quickest:
                    found[t] += share * math.exp(rates[k] * time_s[t])


@compiled(Nothing(Vector, Vector, Vector, Vector, CountVector, CountVector))
def _in_order(seconds: Array, until_s: Array, time_s: Array, since_s: Array, order: Counts, ends: Counts) -> None:
    """Fills in the times since the piece that each lies in began, piece by piece; which of the times each is, and how
    many lie in each piece and those before.
    """
    piece_of, begin_s, at = np.empty(time_s.size, dtype=np.int64), 0.0, 0
    for t in range(time_s.size):
        piece_of[t] = 0
        while piece_of[t] < seconds.size - 1 and time_s[t] > until_s[piece_of[t]]:
            piece_of[t] += 1
    for piece in range(seconds.size):
        for t in range(time_s.size):
            if piece_of[t] == piece:
                since_s[at], order[at] = time_s[t] - begin_s, t
                at += 1
        ends[piece] = at
        begin_s += seconds[piece]


@compiled(Nothing(_DECAY, Vector, Vector, Vector, Vector, Vector, Vector, Vector, Vector))
def _through(
    decay: Decay, mass: Array, weights: Array, air: Array, seconds: Array, until_s: Array, amplitudes: Array,
    time_s: Array, found: Array,
) -> None:  # fmt: skip
    """Take amplitudes on through pieces of air; the mean activity that strand would be in equilibrium with, at times
    since the beginning of the first.
    """
    size, pieces, first = amplitudes.size, seconds.size, 0
    rates, means, unit, since_s, mean = (
        np.empty(size), np.empty(size), np.empty(size), np.empty(time_s.size), np.empty(time_s.size),
    )  # fmt: skip
    order, ends = np.empty(time_s.size, dtype=np.int64), np.empty(pieces, dtype=np.int64)
    _rates(decay, rates)
    _in_order(seconds, until_s, time_s, since_s, order, ends)
    if time_s.size:
        _in_the_mean(decay, mass, weights, means)
    if pieces > 1:
        _amplitudes(decay, np.ones((mass.size, weights.size)), unit)
    for piece in range(pieces):
        if piece:
            for k in range(size):
                amplitudes[k] += (air[piece - 1] - air[piece]) * unit[k]
        if ends[piece] > first:
            _sums(rates, amplitudes, means, since_s[first : ends[piece]], mean[first : ends[piece]])
        while first < ends[piece]:
            found[order[first]] = mean[first] + air[piece]
            first += 1
        for k in range(size):
            decays = rates[k] * seconds[piece]
            amplitudes[k] *= math.exp(decays) if decays > -GONE else 0.0


@compiled(Nothing(Number, Number, Vector, Matrix, Matrix))
def _from_air(k1: float, air: float, gas: Array, strand: Array, departure: Array) -> None:
    """Fills in the departure of gas and strand from air of an activity."""
    for i in range(gas.size):
        departure[i, 0] = gas[i] - air
        for e in range(strand.shape[1]):
            departure[i, e + 1] = strand[i, e] / k1 - air


@compiled(Nothing(Number, Number, Matrix, Vector, Matrix))
def _in_air(k1: float, air: float, departure: Array, gas: Array, strand: Array) -> None:
    """The other way round."""
    for i in range(gas.size):
        gas[i] = departure[i, 0] + air
        for e in range(strand.shape[1]):
            strand[i, e] = (departure[i, e + 1] + air) * k1


@compiled(
    Nothing(_DECAY, Vector, Vector, Number, Vector, Vector, Vector, Vector, Matrix, Vector, Vector, Vector, Matrix)
)
def advance(
    decay: Decay, mass: Array, weights: Array, k1: float, air: Array, seconds: Array, until_s: Array, gas: Array,
    strand: Array, time_s: Array, moisture: Array, new_gas: Array, new_strand: Array,
) -> None:  # fmt: skip
    """From gas (nodes,) and strand (nodes, modes), through pieces in which the air has some activity, (pieces,): fills
    in the mean moisture at some times, % of dry mass, and gas and strand in the end. `weights`: of the strand's part
    that follows the gas at once, then of its modes. `until_s`: up to when a time counts to a piece.
    """
    of_face = decay.face_rate.size if len(decay.back) < gas.size else 0
    departure, amplitudes = np.empty((gas.size, weights.size)), np.empty(decay.rate.size + of_face)
    _from_air(k1, air[0], gas, strand, departure)
    _amplitudes(decay, departure, amplitudes)
    _through(decay, mass, weights, air, seconds, until_s, amplitudes, time_s, moisture)
    for t in range(time_s.size):
        moisture[t] *= k1
    _departure(decay, amplitudes, departure)
    _in_air(k1, air[-1], departure, new_gas, new_strand)


@compiled(Nothing(_DECAY, Vector, Vector, Vector, Vector))
def answers(decay: Decay, mass: Array, rate: Array, at_rest: Array, water: Array) -> None:
    """Of a winding in free air, as amplitudes and after them the gas at its face, which is the air's own: fills in how
    fast each decays, 1/s, to what it comes for a unit of the air's activity, and the water of a unit of it, kg per m³
    of winding.
    """
    size, capacity = rate.size - 1, decay.scale * decay.scale
    _rates(decay, rate[:size])
    _amplitudes(decay, np.ones((mass.size, capacity.size)), at_rest[:size])
    _in_the_mean(decay, mass, capacity, water[:size])
    rate[size], at_rest[size], water[size] = -np.inf, 1.0, mass[-1] * capacity[0]


@compiled(Nothing(_DECAY, Number, Vector, Matrix, Vector))
def begin(decay: Decay, k1: float, gas: Array, strand: Array, found: Array) -> None:
    """Fills in these amplitudes, and the gas at the face, from gas (nodes,) and strand (nodes, modes)."""
    departure = np.empty((gas.size, 1 + strand.shape[1]))
    _from_air(k1, 0.0, gas, strand, departure)
    _amplitudes(decay, departure, found[: found.size - 1])
    found[-1] = gas[-1]


@compiled(Nothing(_DECAY, Number, Matrix, Matrix, Cube))
def written_out(decay: Decay, k1: float, amplitudes: Array, gas: Array, strand: Array) -> None:
    """The other way round at several moments: gas (moments, nodes) and strand (moments, nodes, modes)."""
    departure = np.empty((gas.shape[1], 1 + strand.shape[2]))
    for moment in range(len(amplitudes)):
        _departure(decay, amplitudes[moment][:-1], departure)
        departure[-1, 0] = amplitudes[moment, -1]
        _in_air(k1, 0.0, departure, gas[moment], strand[moment])
