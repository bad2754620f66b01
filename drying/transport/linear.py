"""Water in a winding whose polymer follows Henry's law: exact in time.

The problem is linear and separates: the pack operator's own modes, times a small symmetric system of gas and strand
modes for each, which is diagonalised once for a set of conditions (see `arrow`) and then stepped over any time.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache, lru_cache
from typing import TYPE_CHECKING

import numpy as np

from drying.arrays import Array
from drying.cache import Cache
from drying.transport.state import (
    REST_WEIGHT,
    SAME_MOMENT,
    STRAND_WEIGHTS,
    Filament,
    Segment,
    Slots,
    State,
    face_conductance,
)
from drying.transport.winding import Winding, gas_conductivity, grid

if TYPE_CHECKING:
    from drying.transport.decay import Decay


@dataclass(frozen=True)
class _Pack:
    """The gas alone of a winding at one temperature and exchange flow. A departure from the activity of the incoming
    air is `into @ departure` as pack modes, each of which leaks by `leak`, 1/s times capacity.
    """

    into: Array
    back: Array
    leak: Array


_KEPT = 512  # modes
_WEIGHTS = np.concatenate([[REST_WEIGHT], STRAND_WEIGHTS])

_InAir = tuple[Filament, float, float | None]
"""A body wound up, its temperature in °C, and its exchange flow in m³/h, None in free air."""


@cache
def kept_modes() -> Cache[Decay]:
    """Modes by what they are of; the last ones asked for."""
    return Cache(_KEPT)


def _modes(conditions: Sequence[_InAir]) -> list[Decay]:
    """The modes in several conditions."""
    free = np.array([flow is None for _, _, flow in conditions], dtype=bool)
    found: dict[int, Decay] = {}
    for which in (np.flatnonzero(free).tolist(), np.flatnonzero(~free).tolist()):  # they differ in their nodes within
        if which:
            found.update(zip(which, kept_modes().get_each([conditions[n] for n in which], _diagonalised), strict=True))
    return [found[n] for n in range(len(conditions))]


def _diagonalised(conditions: Sequence[_InAir]) -> list[Decay]:
    """These modes: all in free air, or none."""
    from drying.transport.arrow import decays  # compiled: loaded where it is needed
    from drying.transport.decay import Decay

    wound = [(f.winding, temp_c, flow) for f, temp_c, flow in conditions if f.winding is not None]
    pack_of = dict(zip(dict.fromkeys(wound), _packs(list(dict.fromkeys(wound))), strict=True))
    packs = [pack_of[each] for each in wound]
    capacity = _capacities([(filament, temp_c) for filament, temp_c, _ in conditions])
    face_rate = np.stack([filament.strand_rates_per_s(temp_c) for filament, temp_c, _ in conditions])
    leak = np.stack([pack.leak for pack in packs])
    rate, turn = decays(leak, capacity, face_rate)
    turns = map(np.copy, turn)  # as a view, each would keep those of all the others
    each = zip(packs, np.sqrt(capacity), turns, rate, -face_rate, strict=True)
    return [Decay(pack.into, pack.back, *its) for pack, *its in each]


def _capacities(cases: Sequence[tuple[Filament, float]]) -> Array:
    """Of the gas with what follows it at once, then of the strand's modes: kg/m³ per unit activity, (cases, parts)."""
    slots = Slots(cases)
    return np.hstack([slots.gas_capacity + slots.rest * slots.k1, slots.density * slots.k1 * STRAND_WEIGHTS])


def _packs(wound: Sequence[tuple[Winding, float, float | None]]) -> list[_Pack]:
    """Of several windings at their temperatures and exchange flows, all free or none, whatever is wound, as many
    materials of a forecast share them. In free air it is the same at any temperature, but for how fast vapour moves.
    """
    conductivity = [gas_conductivity(winding, temp_c) for winding, temp_c, _ in wound]
    if wound[0][2] is None:
        still = [_in_free_air(winding) for winding, _, _ in wound]
        return [_Pack(pack.into, pack.back, k * pack.leak) for k, pack in zip(conductivity, still, strict=True)]
    cells = [grid(winding) for winding, _, _ in wound]
    stiffness = np.array(conductivity)[:, None, None] * np.stack([c.stiffness for c in cells])
    stiffness[:, -1, -1] += [face_conductance(w, t, flow or 0.0) for w, t, flow in wound]
    parts = _by_itself(stiffness, np.stack([c.mass for c in cells]))
    return [_Pack(*each) for each in zip(*parts, strict=True)]


@lru_cache(maxsize=256)
def _in_free_air(winding: Winding) -> _Pack:
    """With `leak` for a conductivity of one."""
    cells = grid(winding)
    return _Pack(*_by_itself(cells.stiffness[:-1, :-1], cells.mass[:-1]))


def _by_itself(stiffness: Array, mass: Array) -> tuple[Array, Array, Array]:
    """`into`, `back` and `leak` of gas in nodes with these shares of the mass, (..., nodes)."""
    root = np.sqrt(mass)
    leak, vectors = np.linalg.eigh(stiffness / (root[..., :, None] * root[..., None, :]))
    into, back = vectors.swapaxes(-1, -2) * root[..., None, :], vectors / root[..., :, None]
    return np.ascontiguousarray(into), np.ascontiguousarray(back), leak


class FreeAir:
    """Several windings side by side in free air of a given warmth, as amplitudes: every one of them decays by itself,
    at its `rate`, 1/s, to `at_rest` times the activity of the air, and its `water` is so much, kg per m³ of winding,
    for a unit of it. Shape (cases, amplitudes); the last is the gas at the face, which is the air's own.
    """

    def __init__(self, cases: Sequence[tuple[Filament, float]]) -> None:
        from drying.transport import decay

        conditions = [(filament, temp_c, None) for filament, temp_c in cases]
        self.modes, self.k1 = _modes(conditions), [filament.material.k1.value for filament, _ in cases]
        found, each = dict[int, Array](), list[Array]()  # cases of one kind have the same modes
        for (filament, _), modes in zip(cases, self.modes, strict=True):
            if id(modes) not in found:
                assert filament.winding is not None
                found[id(modes)] = np.empty((3, modes.rate.size + modes.face_rate.size + 1))
                decay.answers(modes, grid(filament.winding).mass, *found[id(modes)])
            each.append(found[id(modes)])
        self.rate, self.at_rest, self.water = np.stack(each, axis=1)

    def amplitudes(self, gas: Array, strand: Array) -> Array:
        """Of gas (cases, nodes) and strand modes (cases, nodes, modes)."""
        from drying.transport import decay

        found = np.empty(self.rate.shape)
        for case in zip(self.modes, self.k1, gas, strand, found, strict=True):
            decay.begin(*case)
        return found

    def states(self, amplitudes: Array) -> tuple[Array, Array]:
        """Gas and strand modes at several moments, from amplitudes (moments, cases, amplitudes)."""
        from drying.transport import decay

        moments, cases = amplitudes.shape[:2]
        nodes = len(self.modes[0].back) + 1
        gas, strand = np.empty((cases, moments, nodes)), np.empty((cases, moments, nodes, STRAND_WEIGHTS.size))
        each = np.ascontiguousarray(amplitudes.swapaxes(0, 1))
        for case in zip(self.modes, self.k1, each, gas, strand, strict=True):
            decay.written_out(*case)
        return gas.swapaxes(0, 1), strand.swapaxes(0, 1)


Stretch = tuple[Filament, Sequence[Segment], State]
"""A winding through segments that differ in their air alone: `in_one` says how many do."""


def in_one(segments: Sequence[Segment]) -> int:
    """How many segments from the first on have its temperature and exchange flow."""
    first = segments[0]
    others = (n for n, s in enumerate(segments) if (s.temp_c, s.vent_m3_h) != (first.temp_c, first.vent_m3_h))
    return next(others, len(segments))


def advance(cases: Sequence[Stretch], time_h: Sequence[Array]) -> list[tuple[Array, State]]:
    """Of each case the mean moisture, % of dry mass, at its times in h after its beginning, from the modes' sums alone,
    and the state at the end. At a time between two segments the earlier one counts.
    """
    from drying.transport import decay

    modes = _modes([(filament, segments[0].temp_c, segments[0].vent_m3_h) for filament, segments, _ in cases])
    found = []
    begun = zip(cases, modes, _gas_at_warmth(cases, modes), time_h, strict=True)
    for (filament, segments, state), its, gas, times in begun:
        assert filament.winding is not None
        mass, k1, temp_c = grid(filament.winding).mass, filament.material.k1.value, segments[0].temp_c
        moisture, end = np.empty(times.shape), State(np.empty_like(gas), np.empty_like(state.strand), temp_c)
        air, seconds = np.array([(segment.activity, 3600.0 * segment.duration_h) for segment in segments]).T.copy()
        decay.advance(
            its, mass, _WEIGHTS, k1, air, seconds, np.cumsum(seconds) * SAME_MOMENT, gas, state.strand, 3600.0 * times,
            moisture, end.gas, end.strand,
        )  # fmt: skip
        found.append((moisture, end))
    return found


def _gas_at_warmth(cases: Sequence[Stretch], modes: Sequence[Decay]) -> Array:
    """The gas of each case once its temperature is the segments', as by `at_temperature`."""
    found = np.stack([state.gas for _, _, state in cases])
    other = [n for n, (_, segments, state) in enumerate(cases) if state.temp_c != segments[0].temp_c]
    if other:
        before = _capacities([(cases[n][0], cases[n][2].temp_c) for n in other])
        found[other] *= before[:, :1] / np.array([[modes[n].scale[0] ** 2] for n in other])
    return found
