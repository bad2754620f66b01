"""Water in a winding whose polymer follows Henry's law: exact in time.

The problem is linear and separates: the pack operator's own modes, times a small symmetric system of gas and strand
modes for each, which is diagonalised once for a set of conditions (see `arrow`) and then stepped over any time.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cache, lru_cache

import numpy as np

from drying.arrays import Array
from drying.cache import Cache
from drying.grouping import alike
from drying.transport.state import (
    REST_WEIGHT,
    STRAND_WEIGHTS,
    Filament,
    Segment,
    Slots,
    State,
    face_conductance,
)
from drying.transport.winding import Winding, gas_conductivity, grid


@dataclass(frozen=True)
class _Pack:
    """The gas alone of a winding at one temperature and exchange flow. A departure from the activity of the incoming
    air is `into @ departure` as pack modes, each of which leaks by `leak`, 1/s times capacity.
    """

    free: bool
    into: Array
    back: Array
    leak: Array


@dataclass(frozen=True)
class _Modes:
    """The same with strand in it, diagonalised: a departure written as pack modes, square roots of the capacities and
    `turn` (each pack mode's own eigenvectors) decays by `exp(rate·t)`; at a face in free air by `exp(-face_rate·t)`.
    """

    pack: _Pack
    capacity: Array
    face_rate: Array
    turn: Array
    rate: Array


_KEPT = 512  # modes
_UNHEARD = 1e-13  # modes that have decayed to less than this of the largest do not show in the last digits

_InAir = tuple[Filament, float, float | None]
"""A body wound up, its temperature in °C, and its exchange flow in m³/h, None in free air."""


@cache
def kept_modes() -> Cache[_Modes]:
    """Modes by what they are of; the last ones asked for."""
    return Cache(_KEPT)


def _modes(conditions: Sequence[_InAir]) -> list[_Modes]:
    """The modes in several conditions: all free, or none."""
    return kept_modes().get_each(conditions, _diagonalised)


def _diagonalised(conditions: Sequence[_InAir]) -> list[_Modes]:
    from drying.transport.arrow import decays  # compiled, see there

    wound = [(f.winding, temp_c, flow) for f, temp_c, flow in conditions if f.winding is not None]
    pack_of = dict(zip(dict.fromkeys(wound), _packs(list(dict.fromkeys(wound))), strict=True))
    packs = [pack_of[each] for each in wound]
    capacity = _capacities([(filament, temp_c) for filament, temp_c, _ in conditions])
    face_rate = np.stack([filament.strand_rates_per_s(temp_c) for filament, temp_c, _ in conditions])
    leak = np.stack([pack.leak for pack in packs])
    rate, turn = decays(leak, capacity, face_rate)
    each = zip(packs, capacity, face_rate, map(np.copy, turn), rate, strict=True)  # none holds on to all the others'
    return [_Modes(*its) for its in each]


def _capacities(cases: Sequence[tuple[Filament, float]]) -> Array:
    """Of the gas with what follows it at once, then of the strand's modes: kg/m³ per unit activity, (cases, parts)."""
    slots = Slots(cases)
    return np.hstack([slots.gas_capacity + slots.rest * slots.k1, slots.density * slots.k1 * STRAND_WEIGHTS])


def _packs(wound: Sequence[tuple[Winding, float, float | None]]) -> list[_Pack]:
    """Of several windings at their temperatures and exchange flows, whatever is wound, as many materials of a forecast
    share them. In free air it is the same at any temperature, but for how fast vapour moves.
    """
    conductivity = [gas_conductivity(winding, temp_c) for winding, temp_c, _ in wound]
    if wound[0][2] is None:
        still = [_in_free_air(winding) for winding, _, _ in wound]
        return [replace(pack, leak=k * pack.leak) for k, pack in zip(conductivity, still, strict=True)]
    cells = [grid(winding) for winding, _, _ in wound]
    stiffness = np.array(conductivity)[:, None, None] * np.stack([c.stiffness for c in cells])
    stiffness[:, -1, -1] += [face_conductance(w, t, flow or 0.0) for w, t, flow in wound]
    parts = _by_itself(stiffness, np.stack([c.mass for c in cells]))
    return [_Pack(False, *each) for each in zip(*parts, strict=True)]


@lru_cache(maxsize=256)
def _in_free_air(winding: Winding) -> _Pack:
    """With `leak` for a conductivity of one."""
    cells = grid(winding)
    return _Pack(True, *_by_itself(cells.stiffness[:-1, :-1], cells.mass[:-1]))


def _by_itself(stiffness: Array, mass: Array) -> tuple[Array, Array, Array]:
    """`into`, `back` and `leak` of gas in nodes with these shares of the mass, (..., nodes)."""
    root = np.sqrt(mass)
    leak, vectors = np.linalg.eigh(stiffness / (root[..., :, None] * root[..., None, :]))
    return vectors.swapaxes(-1, -2) * root[..., None, :], vectors / root[..., :, None], leak


class _Together:
    """Several windings side by side; numbers of the cases run along the first axis: gas (cases, nodes), strand modes
    (cases, nodes, modes). All are vented, or all lie in free air.
    """

    def __init__(self, modes: Sequence[_Modes], k1: Sequence[float]) -> None:
        packs = [m.pack for m in modes]
        self.free, self.k1 = packs[0].free, np.array(k1)[:, None, None]
        self.into, self.back = np.stack([p.into for p in packs]), np.stack([p.back for p in packs])
        self.capacity = np.stack([m.capacity for m in modes])
        self.scale = np.sqrt(self.capacity)
        self.turn, self.rate = np.stack([m.turn for m in modes]), np.stack([m.rate for m in modes])
        self.face_rate = np.stack([m.face_rate for m in modes])

    def departure(self, gas: Array, strand: Array, air: Array) -> Array:
        """Gas and strand as activities over those of the incoming air, shape (cases,)."""
        return np.concatenate([gas[:, :, None], strand / self.k1], axis=2) - air[:, None, None]

    def amplitudes(self, departure: Array) -> Array:
        """Of the modes, shape (cases, pack modes, own modes)."""
        inside = departure[:, :-1] if self.free else departure
        return np.asarray(np.einsum("cjes,cje->cjs", self.turn, (self.into @ inside) * self.scale[:, None, :]))

    def after(self, departure: Array, amplitudes: Array, air: Array, seconds: Array) -> tuple[Array, Array]:
        """Gas and strand after so many seconds, shape (cases,), from a departure and its amplitudes."""
        decayed = amplitudes * np.exp(self.rate * seconds[:, None, None])
        found = self.back @ (np.einsum("cjes,cjs->cje", self.turn, decayed) / self.scale[:, None, :])
        if self.free:
            face = departure[:, -1, 1:] * np.exp(-self.face_rate * seconds[:, None])
            face = np.concatenate([np.zeros((len(face), 1)), face], axis=1)[:, None, :]
            found = np.concatenate([found, face], axis=1)
        found = found + air[:, None, None]
        return found[:, :, 0], found[:, :, 1:] * self.k1


class FreeAir:
    """Several windings side by side in free air of a given warmth, as amplitudes: every one of them decays by itself to
    `at_rest` times the activity of the air. Shape (cases, amplitudes): of the modes within, of the strand at the face,
    and the gas there, which is the air's own.
    """

    def __init__(self, cases: Sequence[tuple[Filament, float]]) -> None:
        modes = _modes([(filament, temp_c, None) for filament, temp_c in cases])
        self.together = _Together(modes, [filament.material.k1.value for filament, _ in cases])
        count = len(cases)
        rate = self.together.rate
        self.shape = rate.shape[1:]
        at_once = np.full((count, 1), -np.inf)
        self.rate = np.concatenate([rate.reshape(count, -1), -self.together.face_rate, at_once], axis=1)
        nodes = self.together.back.shape[1] + 1
        even = np.ones((count, nodes, STRAND_WEIGHTS.size)) * self.together.k1
        self.at_rest = self.amplitudes(np.ones((count, nodes)), even)
        mass = np.stack([grid(f.winding).mass for f, _ in cases if f.winding is not None])
        of_pack = (mass[:, None, :-1] @ self.together.back)[:, 0]
        of_own = np.einsum("cjes,cje->cjs", self.together.turn, self.together.scale[:, None])
        capacity, k1 = self.together.capacity, self.together.k1[:, :, 0]
        face = mass[:, -1:] * np.concatenate([capacity[:, 1:] / k1, capacity[:, :1]], axis=1)
        self.water = np.concatenate([(of_pack[:, :, None] * of_own).reshape(count, -1), face], axis=1)

    def amplitudes(self, gas: Array, strand: Array) -> Array:
        """Of gas (cases, nodes) and strand modes (cases, nodes, modes)."""
        whole = self.together.departure(gas, strand, np.zeros(len(gas)))
        within = self.together.amplitudes(whole).reshape(len(gas), -1)
        return np.concatenate([within, strand[:, -1], gas[:, -1:]], axis=1)

    def left(self, seconds: float) -> Array:
        """The share that is left of every amplitude after so long in dry air."""
        return np.asarray(np.exp(self.rate * seconds))

    def water_kg_m3(self, amplitudes: Array) -> Array:
        """All water in each winding, kg per m³ of it."""
        return np.asarray(np.sum(amplitudes * self.water, axis=-1))

    def states(self, amplitudes: Array) -> tuple[Array, Array]:
        """Gas and strand modes at several moments, from amplitudes (moments, cases, amplitudes)."""
        together, modes = self.together, STRAND_WEIGHTS.size
        own = amplitudes[..., : -modes - 1].reshape(*amplitudes.shape[:2], *self.shape)
        within = together.back @ (np.einsum("cjes,tcjs->tcje", together.turn, own) / together.scale[:, None, :])
        gas = np.concatenate([within[..., 0], amplitudes[..., -1:]], axis=-1)
        face = amplitudes[..., None, -modes - 1 : -1]
        return gas, np.concatenate([within[..., 1:] * together.k1, face], axis=-2)


def advance(cases: Sequence[tuple[Filament, Segment, State]], time_h: Sequence[Array]) -> list[tuple[Array, State]]:
    """Of each case the mean moisture, % of dry mass, at its times in h after its segment's beginning, from the modes'
    sums alone, and the state at the segment's end. The cases are all vented or all in free air.
    """
    modes = _modes([(filament, segment.temp_c, segment.vent_m3_h) for filament, segment, _ in cases])
    together = _Together(modes, [filament.material.k1.value for filament, _, _ in cases])
    air = np.array([segment.activity for _, segment, _ in cases])
    strand = np.stack([state.strand for _, _, state in cases])
    departure = together.departure(_gas_at_warmth(cases, modes), strand, air)
    amplitudes = together.amplitudes(departure)
    seconds = np.array([segment.duration_h * 3600.0 for _, segment, _ in cases])
    gas, strand = together.after(departure, amplitudes, air, seconds)
    over = [np.empty(0)] * len(cases)
    if any(times.size for times in time_h):
        mass = np.stack([grid(f.winding).mass for f, _, _ in cases if f.winding is not None])
        over = _sums(*_decaying(together, mass, departure, amplitudes), time_h)
    found = []
    for n, over_air in enumerate(over):
        filament, segment, _ = cases[n]
        moisture = filament.material.k1.value * (segment.activity + over_air)
        found.append((moisture, State(gas[n], strand[n], segment.temp_c)))
    return found


def _gas_at_warmth(cases: Sequence[tuple[Filament, Segment, State]], modes: Sequence[_Modes]) -> Array:
    """The gas of each case once its temperature is the segment's, as by `at_temperature`."""
    found = np.stack([state.gas for _, _, state in cases])
    other = [n for n, (_, segment, state) in enumerate(cases) if state.temp_c != segment.temp_c]
    if other:
        before = _capacities([(cases[n][0], cases[n][2].temp_c) for n in other])
        found[other] *= before[:, :1] / np.array([[modes[n].capacity[0]] for n in other])
    return found


def _decaying(together: _Together, mass: Array, departure: Array, amplitudes: Array) -> tuple[Array, Array]:
    """All that decays in each case, 1/s (≤ 0), and what it is of the mean departure at the beginning, shape (cases,
    all): its modes, and the strand at a face in free air.
    """
    weights = np.concatenate([[REST_WEIGHT], STRAND_WEIGHTS]) / together.scale
    pack_weight = (mass[:, None, : together.back.shape[1]] @ together.back)[:, 0]
    of_mode = np.einsum("cjes,ce->cjs", together.turn, weights) * amplitudes
    shares = (pack_weight[:, :, None] * of_mode).reshape(len(mass), -1)
    rates = together.rate.reshape(len(mass), -1)
    if together.free:
        at_face = mass[:, -1:] * departure[:, -1, 1:] * STRAND_WEIGHTS
        rates, shares = np.hstack([rates, -together.face_rate]), np.hstack([shares, at_face])
    return rates, shares


def _sums(rates: Array, shares: Array, time_h: Sequence[Array]) -> list[Array]:
    """What is left of the shares of each case at its times; of those that are asked for at the same ones at one go."""
    found: dict[int, Array] = {}
    for which in alike([times.tobytes() for times in time_h]):
        seconds, rate, share = 3600.0 * time_h[which[0]], rates[which], shares[which]
        earliest = np.min(seconds, initial=1e9, where=seconds > 0.0)  # the moisture at 0 is the state's own
        size = np.abs(share)
        heard = np.any(size * np.exp(rate * earliest) > _UNHEARD * size.max(axis=1, keepdims=True), axis=0)
        left = np.exp(seconds[:, None] * rate[:, None, heard]) @ share[:, heard, None]
        found.update(zip(which, left[:, :, 0], strict=True))
    return [found[n] for n in range(len(time_h))]
