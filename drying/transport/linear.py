"""Water in a winding whose polymer follows Henry's law: exact in time.

The problem is linear and separates: the pack operator's own modes, times a small symmetric system of gas and strand
modes for each, which is diagonalised once for a set of conditions and then stepped over any time.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from drying.air import vapour_concentration_g_m3
from drying.arrays import Array
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
class _Modes:
    """One temperature and exchange flow, diagonalised. A departure from the activity of the incoming air, written as
    `into @ departure` (pack modes), `scale` (square roots of the capacities) and `turn` (each pack mode's own
    eigenvectors), decays by `exp(rate·t)`.
    """

    free: bool
    into: Array
    back: Array
    scale: Array
    turn: Array
    rate: Array
    face_rate: Array


_UNHEARD = 1e-13  # modes that have decayed to less than this of the largest do not show in the last digits


@lru_cache(maxsize=512)
def _modes(filament: Filament, temp_c: float, vent_m3_h: float | None) -> _Modes:
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
    scale = np.sqrt(capacity)
    size = capacity.size
    arrow = np.zeros((leak.size, size, size))
    arrow[:, np.arange(1, size), np.arange(1, size)] = -strand_rate
    arrow[:, 0, 1:] = arrow[:, 1:, 0] = scale[1:] / scale[0] * strand_rate
    arrow[:, 0, 0] = -(np.maximum(leak, 0.0) + (capacity[1:] * strand_rate).sum()) / capacity[0]
    rate, turn = np.linalg.eigh(arrow)
    return _Modes(
        free=free,
        into=vectors.T * root,
        back=vectors / root[:, None],
        scale=scale,
        turn=turn,
        rate=np.minimum(rate, 0.0),
        face_rate=strand_rate,
    )


def _departure(filament: Filament, segment: Segment, state: State) -> Array:
    """Gas and strand as activities over that of the incoming air, one row a node."""
    return np.column_stack([state.gas, state.strand / filament.material.k1.value]) - segment.activity


def _amplitudes(modes: _Modes, departure: Array) -> Array:
    inside = departure[:-1] if modes.free else departure
    return np.asarray(np.einsum("jes,je->js", modes.turn, (modes.into @ inside) * modes.scale))


def after_segment(filament: Filament, segment: Segment, state: State) -> State:
    """The state at the end of a segment."""
    modes = _modes(filament, segment.temp_c, segment.vent_m3_h)
    departure = _departure(filament, segment, at_temperature(filament, state, segment.temp_c))
    seconds = segment.duration_h * 3600.0
    decayed = _amplitudes(modes, departure) * np.exp(modes.rate * seconds)
    after = modes.back @ (np.einsum("jes,js->je", modes.turn, decayed) / modes.scale)
    if modes.free:
        face = np.concatenate([[0.0], departure[-1, 1:] * np.exp(-modes.face_rate * seconds)])
        after = np.vstack([after, face])
    after = after + segment.activity
    return State(after[:, 0], after[:, 1:] * filament.material.k1.value, segment.temp_c)


class FreeAir:
    """Several windings side by side in free air of a given warmth: `after_segment` of all of them at once.

    Numbers of the cases run along the first axis: gas (cases, nodes), strand modes (cases, nodes, modes).
    """

    def __init__(self, cases: Sequence[tuple[Filament, float]]) -> None:
        modes = [_modes(filament, temp_c, None) for filament, temp_c in cases]
        self.k1 = np.array([[[filament.material.k1.value]] for filament, _ in cases])
        self.into, self.back = np.stack([m.into for m in modes]), np.stack([m.back for m in modes])
        self.scale, self.turn = np.stack([m.scale for m in modes]), np.stack([m.turn for m in modes])
        self.rate, self.face_rate = np.stack([m.rate for m in modes]), np.stack([m.face_rate for m in modes])

    def after(self, gas: Array, strand: Array, activity: Array, seconds: float) -> tuple[Array, Array]:
        """Gas and strand after so long in air of an activity each, shape (cases,)."""
        air = activity[:, None, None]
        departure = np.concatenate([gas[:, :, None], strand / self.k1], axis=2) - air
        inside = (self.into @ departure[:, :-1]) * self.scale[:, None, :]
        decayed = np.einsum("cjes,cje->cjs", self.turn, inside) * np.exp(self.rate * seconds)
        after = self.back @ (np.einsum("cjes,cjs->cje", self.turn, decayed) / self.scale[:, None, :])
        face = departure[:, -1, 1:] * np.exp(-self.face_rate * seconds)
        face = np.concatenate([np.zeros((len(face), 1)), face], axis=1)[:, None, :]
        found = np.concatenate([after, face], axis=1) + air
        return found[:, :, 0], found[:, :, 1:] * self.k1


def course_in_segment(filament: Filament, segment: Segment, state: State, time_h: Array) -> Array:
    """Mean moisture, % of dry mass, at times in h after the segment's beginning, from the modes' sums alone."""
    modes = _modes(filament, segment.temp_c, segment.vent_m3_h)
    departure = _departure(filament, segment, at_temperature(filament, state, segment.temp_c))
    amplitudes, seconds = _amplitudes(modes, departure), time_h * 3600.0
    assert filament.winding is not None
    mass = grid(filament.winding).mass
    weights = np.concatenate([[REST_WEIGHT], STRAND_WEIGHTS]) / modes.scale
    pack_weight = mass[: modes.back.shape[0]] @ modes.back
    share = pack_weight[:, None] * np.einsum("jes,e->js", modes.turn, weights) * amplitudes
    earliest = np.min(seconds, initial=np.inf, where=seconds > 0.0)  # the moisture at 0 is the state's own
    heard = np.abs(share) * np.exp(modes.rate * min(earliest, 1e9)) > _UNHEARD * np.abs(share).max()
    total = np.exp(np.multiply.outer(seconds, modes.rate[heard])) @ share[heard]
    if modes.free:
        at_face = np.exp(-np.multiply.outer(seconds, modes.face_rate)) @ (departure[-1, 1:] * STRAND_WEIGHTS)
        total = total + mass[-1] * at_face
    return np.asarray(filament.material.k1.value * (segment.activity + total))
