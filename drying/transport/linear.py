"""Water in a winding whose polymer follows Henry's law: exact in time.

The problem is linear and separates: the pack operator's own modes, times a small symmetric system of gas and strand
modes for each, which is diagonalised once for a set of conditions (see `arrow`) and then stepped over any time.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache

import numpy as np

from drying.air import vapour_concentration_g_m3
from drying.arrays import Array
from drying.cache import Cache
from drying.transport.arrow import decays
from drying.transport.state import (
    REST_WEIGHT,
    STRAND_WEIGHTS,
    Filament,
    Segment,
    State,
    at_temperature,
    face_conductance,
    gas_capacity,
    strand_density,
)
from drying.transport.winding import grid, vapour_diffusivity_m2_s


@dataclass(frozen=True)
class _Pack:
    """One temperature and exchange flow. A departure from the activity of the incoming air is `into @ departure` as
    pack modes, each of which leaks by `leak` from its gas, 1/s times capacity.
    """

    free: bool
    into: Array
    back: Array
    leak: Array
    capacity: Array
    face_rate: Array


@dataclass(frozen=True)
class _Modes:
    """The same diagonalised: a departure written as pack modes, square roots of the capacities and `turn` (each pack
    mode's own eigenvectors) decays by `exp(rate·t)`.
    """

    pack: _Pack
    turn: Array
    rate: Array


_UNHEARD = 1e-13  # modes that have decayed to less than this of the largest do not show in the last digits


@cache
def kept_modes() -> Cache[_Modes]:
    """Modes by what they are of; the last ones asked for."""
    return Cache(512)


def _modes(conditions: Sequence[tuple[Filament, float, float | None]]) -> list[_Modes]:
    """The modes of windings at temperatures in °C and exchange flows in m³/h (None in free air): all free, or none.
    Those that are not known yet are diagonalised at one go, which is twice as quick.
    """
    return kept_modes().get_each(conditions, _diagonalised)


def _diagonalised(conditions: Sequence[tuple[Filament, float, float | None]]) -> list[_Modes]:
    packs = [_pack(*condition) for condition in conditions]
    leak, capacity, rates = (
        np.stack([getattr(pack, name) for pack in packs]) for name in ("leak", "capacity", "face_rate")
    )
    return [_Modes(pack, turn, rate) for pack, rate, turn in zip(packs, *decays(leak, capacity, rates), strict=True)]


def _pack(filament: Filament, temp_c: float, vent_m3_h: float | None) -> _Pack:
    winding, material = filament.winding, filament.material
    assert winding is not None
    cells = grid(winding)
    strand_rate = filament.strand_rates_per_s(temp_c)
    held = strand_density(filament) * material.k1.value / 100.0  # kg/m³ per unit activity
    conductivity = vapour_diffusivity_m2_s(winding, temp_c) * vapour_concentration_g_m3(temp_c, 100.0) / 1000.0
    stiffness, mass, free = conductivity * cells.stiffness, cells.mass, vent_m3_h is None
    if vent_m3_h is None:
        stiffness, mass = stiffness[:-1, :-1], mass[:-1]
    else:
        stiffness = stiffness.copy()
        stiffness[-1, -1] += face_conductance(winding, temp_c, vent_m3_h)
    root = np.sqrt(mass)
    leak, vectors = np.linalg.eigh(stiffness / np.multiply.outer(root, root))
    capacity = np.concatenate([[gas_capacity(winding, temp_c) + held * REST_WEIGHT], held * STRAND_WEIGHTS])
    return _Pack(free, vectors.T * root, vectors / root[:, None], leak, capacity, strand_rate)


class _Together:
    """Several windings side by side; numbers of the cases run along the first axis: gas (cases, nodes), strand modes
    (cases, nodes, modes). All are vented, or all lie in free air.
    """

    def __init__(self, modes: Sequence[_Modes], k1: Sequence[float]) -> None:
        packs = [m.pack for m in modes]
        self.free, self.k1 = packs[0].free, np.array(k1)[:, None, None]
        self.into, self.back = np.stack([p.into for p in packs]), np.stack([p.back for p in packs])
        self.scale = np.sqrt(np.stack([p.capacity for p in packs]))
        self.turn, self.rate = np.stack([m.turn for m in modes]), np.stack([m.rate for m in modes])
        self.face_rate = np.stack([p.face_rate for p in packs])

    def departure(self, gas: Array, strand: Array, air: Array) -> Array:
        """Gas and strand as activities over those of the incoming air, shape (cases,)."""
        return np.concatenate([gas[:, :, None], strand / self.k1], axis=2) - air[:, None, None]

    def amplitudes(self, departure: Array) -> Array:
        """Of the modes, shape (cases, pack modes, own modes)."""
        inside = departure[:, :-1] if self.free else departure
        return np.asarray(np.einsum("cjes,cje->cjs", self.turn, (self.into @ inside) * self.scale[:, None, :]))

    def after(self, departure: Array, air: Array, seconds: Array) -> tuple[Array, Array]:
        """Gas and strand after so many seconds, shape (cases,)."""
        decayed = self.amplitudes(departure) * np.exp(self.rate * seconds[:, None, None])
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
        density = np.array([strand_density(filament) / 100.0 for filament, _ in cases])[:, None]
        gaps = np.array([[gas_capacity(f.winding, temp_c)] for f, temp_c in cases if f.winding is not None])
        k1 = self.together.k1[:, :, 0]
        self.weights = np.concatenate([gaps + density * k1 * REST_WEIGHT, density * k1 * STRAND_WEIGHTS], axis=1)
        mass = np.stack([grid(f.winding).mass for f, _ in cases if f.winding is not None])
        of_pack = (mass[:, None, :-1] @ self.together.back)[:, 0]
        of_own = np.einsum("cjes,cje->cjs", self.together.turn, self.weights[:, None, :] / self.together.scale[:, None])
        face = mass[:, -1:] * np.concatenate([density * STRAND_WEIGHTS, self.weights[:, :1]], axis=1)
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
    warm = [at_temperature(filament, state, segment.temp_c) for filament, segment, state in cases]
    air = np.array([segment.activity for _, segment, _ in cases])
    departure = together.departure(np.stack([s.gas for s in warm]), np.stack([s.strand for s in warm]), air)
    seconds = np.array([segment.duration_h * 3600.0 for _, segment, _ in cases])
    gas, strand = together.after(departure, air, seconds)
    found, shares = [], np.empty(len(cases))
    if any(times.size for times in time_h):
        shares = _shares(together, [grid(f.winding).mass for f, _, _ in cases if f.winding is not None], departure)
    for n, (filament, segment, _) in enumerate(cases):
        moisture = _moisture(filament, modes[n], shares[n], departure[n], time_h[n] * 3600.0)
        found.append((filament.material.k1.value * (air[n] + moisture), State(gas[n], strand[n], segment.temp_c)))
    return found


def _shares(together: _Together, masses: Sequence[Array], departure: Array) -> Array:
    """What each mode is of the mean departure at the beginning."""
    weights = np.concatenate([[REST_WEIGHT], STRAND_WEIGHTS]) / together.scale
    mass = np.stack(masses)[:, None, : together.back.shape[1]]
    pack_weight = (mass @ together.back)[:, 0]
    of_mode = np.einsum("cjes,ce->cjs", together.turn, weights)
    return np.asarray(pack_weight[:, :, None] * of_mode * together.amplitudes(departure))


def _moisture(filament: Filament, modes: _Modes, share: Array, departure: Array, seconds: Array) -> Array:
    """The mean departure at each time."""
    if seconds.size == 0:
        return np.empty(0)
    earliest = np.min(seconds, initial=np.inf, where=seconds > 0.0)  # the moisture at 0 is the state's own
    heard = np.abs(share) * np.exp(modes.rate * min(earliest, 1e9)) > _UNHEARD * np.abs(share).max()
    total = np.exp(np.multiply.outer(seconds, modes.rate[heard])) @ share[heard]
    if modes.pack.free:
        assert filament.winding is not None
        at_face = np.exp(-np.multiply.outer(seconds, modes.pack.face_rate)) @ (departure[-1, 1:] * STRAND_WEIGHTS)
        total = total + grid(filament.winding).mass[-1] * at_face
    return np.asarray(total)
