"""Months of storage: many spools, hour by hour, in the changing air of their places.

The pack's slow modes are kept one by one; the faster ones no longer feel the pack and dry as loose strand, so they
share one group. Each group has gas and a few strand modes, stepped exactly over one hour by matrices made once for each
whole degree of the room.

Cubic isotherms are taken along their secant at the mean activity met, the surface's moisture itself exact, and the
pack's conductance by J. Crank's weighted means for a diffusivity that changes with moisture (his section 9.4.5: uptake
weighs the wet end more, drying the dry end). What that costs is measured against `pack_cubic` in the tests.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from drying.arrays import Array
from drying.errors import OutOfRangeError
from drying.humid_air import vapour_concentration_g_m3
from drying.sorption import held_pct
from drying.water_state import (
    REST_WEIGHT,
    STRAND_RATES,
    STRAND_WEIGHTS,
    Body,
    State,
    gas_capacity,
    mean_moisture_pct,
    strand_density,
)
from drying.wound_pack import grid, vapour_diffusivity_m2_s

_PACK_MODES, _STRAND_MODES = 6, 5


def _few_strand_modes() -> tuple[Array, Array, Array]:
    """Rates and weights of the first strand modes, the others as one; and which full modes make up each (rows)."""
    rest = STRAND_WEIGHTS[_STRAND_MODES:]
    weights = np.append(STRAND_WEIGHTS[:_STRAND_MODES], rest.sum())
    rates = np.append(STRAND_RATES[:_STRAND_MODES], rest.sum() / (rest / STRAND_RATES[_STRAND_MODES:]).sum())
    gather = np.zeros((weights.size, STRAND_WEIGHTS.size))
    gather[range(_STRAND_MODES), range(_STRAND_MODES)] = 1.0
    gather[-1, _STRAND_MODES:] = rest / rest.sum()
    return rates, weights, gather


_RATES, _WEIGHTS, _GATHER = _few_strand_modes()
_SIZE = _WEIGHTS.size + 1  # gas first
_AXIS = np.linspace(0.0, 1.2, 1201)


@dataclass(frozen=True)
class Air:
    """What surrounded one spool, hour by hour: its water activity (0..1), NaN where it was sealed off."""

    activity: Array


@dataclass(frozen=True)
class _Spool:
    """One spool's groups: `share` of the mean of each, `leak` of each kept pack mode in 1/m², the start as activities
    (groups, gas and strand modes), and the slope of the isotherm, % per unit activity.
    """

    body: Body
    slope: float
    share: Array
    leak: Array
    start: Array


def _conductance_factor(body: Body, start_pct: float, end_pct: float, slope: float) -> float:
    """How much better the pack conducts than along the secant: a weighted mean of (da/dc)·slope from start to end."""
    k1, k3 = body.material.k1.value, body.material.k3.value
    if k3 == 0.0 or abs(end_pct - start_pct) < 1e-9:
        return 1.0
    inner = (np.arange(200) + 0.5) / 200.0  # 0 at the start, 1 at the end
    activity = np.interp(start_pct + (end_pct - start_pct) * inner, held_pct(body.material, _AXIS), _AXIS)
    local = slope / (k1 + 3.0 * k3 * activity**2)
    weight = inner ** (2.0 / 3.0) if end_pct > start_pct else inner**0.85
    return float((local * weight).sum() / weight.sum())


def _prepare(body: Body, state: State, air: Air) -> _Spool:
    open_air = air.activity[~np.isnan(air.activity)]
    middle = float(np.clip(open_air.mean() if open_air.size else 0.5, 0.05, 1.0))
    slope = float(held_pct(body.material, np.array(middle))) / middle
    strand = state.strand @ _GATHER.T / slope
    local = np.column_stack([held_pct(body.material, state.gas) / slope, strand])
    if body.pack is None:
        return _Spool(body, slope, np.ones(1), np.zeros(0), local)
    cells = grid(body.pack)
    mass = cells.mass[:-1]
    root = np.sqrt(mass)
    leak, vectors = np.linalg.eigh(cells.stiffness[:-1, :-1] / np.multiply.outer(root, root))
    leak, vectors = leak[:_PACK_MODES], vectors[:, :_PACK_MODES]
    overlap = vectors.T @ root  # of each mode with an even profile
    share = overlap**2
    start = (vectors.T * root) @ local[:-1] / overlap[:, None]
    rest = 1.0 - share.sum()
    loose = (cells.mass @ local - share @ start) / rest
    factor = _conductance_factor(body, mean_moisture_pct(body, state), slope * middle, slope)
    return _Spool(body, slope, np.append(share, rest), leak * factor, np.vstack([start, loose]))


def _hour_matrices(spool: _Spool, temp_c: float) -> Array:
    """What one hour at `temp_c` does to a departure from the air's activity: (groups, size, size)."""
    body = spool.body
    rate = _RATES * body.strand_rates_per_s(temp_c)[0] / STRAND_RATES[0]
    found = np.zeros((spool.share.size, _SIZE, _SIZE))
    kept = np.exp(-rate * 3600.0)
    found[-1, range(1, _SIZE), range(1, _SIZE)] = kept  # the loose group: its gas is the air's
    if body.pack is None:
        return found
    held = strand_density(body) * spool.slope / 100.0
    capacity = np.concatenate([[gas_capacity(body.pack, temp_c) + held * REST_WEIGHT], held * _WEIGHTS])
    conductivity = vapour_diffusivity_m2_s(body.pack, temp_c) * vapour_concentration_g_m3(temp_c, 100.0) / 1000.0
    root = np.sqrt(capacity)
    arrow = np.zeros((spool.leak.size, _SIZE, _SIZE))
    arrow[:, range(1, _SIZE), range(1, _SIZE)] = -rate
    arrow[:, 0, 1:] = arrow[:, 1:, 0] = root[1:] / root[0] * rate
    arrow[:, 0, 0] = -(conductivity * spool.leak + (capacity[1:] * rate).sum()) / capacity[0]
    values, turn = np.linalg.eigh(arrow)
    turned = turn * np.exp(np.minimum(values, 0.0) * 3600.0)[:, None, :]
    found[:-1] = turned @ turn.transpose(0, 2, 1) / root[None, :, None] * root[None, None, :]
    return found


def storage_history(bodies: Sequence[Body], starts: Sequence[State], temp_c: Array, airs: Sequence[Air]) -> Array:
    """Mean moisture of each spool at the end of each hour, % of dry mass, shape (spools, hours).

    `temp_c` is the room's temperature in each hour; every open place is taken to have it. A sealed hour changes
    nothing. Raises OutOfRangeError where the lists or arrays do not fit one another, or there is no hour.
    """
    temps = np.asarray(temp_c, dtype=np.float64)
    if not bodies or not len(bodies) == len(starts) == len(airs):
        raise OutOfRangeError("bodies", "Give at least one spool, and a state and an air for each.")
    if temps.size == 0 or any(a.activity.shape != temps.shape for a in airs):
        raise OutOfRangeError("temp_c", "Give at least one hour, and the same hours for the room and for every spool.")
    spools = [_prepare(b, s, a) for b, s, a in zip(bodies, starts, airs, strict=True)]
    groups = max(s.share.size for s in spools)
    state, share = np.zeros((len(spools), groups, _SIZE)), np.zeros((len(spools), groups))
    for n, spool in enumerate(spools):
        state[n, -spool.share.size :], share[n, -spool.share.size :] = spool.start, spool.share
    degrees = np.rint(temps).astype(int)
    hour: dict[int, Array] = {}
    for degree in np.unique(degrees):
        hour[int(degree)] = np.zeros((len(spools), groups, _SIZE, _SIZE))
        for n, spool in enumerate(spools):
            hour[int(degree)][n, -spool.share.size :] = _hour_matrices(spool, float(degree))
    slopes = np.array([s.slope for s in spools])
    surface = np.stack([held_pct(s.body.material, a.activity) / s.slope for s, a in zip(spools, airs, strict=True)])
    weights = np.concatenate([[REST_WEIGHT], _WEIGHTS])
    reader = share[:, :, None] * weights
    found = np.empty((len(spools), temps.size))
    for h in range(temps.size):
        air = surface[:, h]
        sealed = np.isnan(air)
        target = np.where(sealed, 0.0, air)[:, None, None]
        after = np.matmul(hour[int(degrees[h])], (state - target)[..., None])[..., 0] + target
        state = np.where(sealed[:, None, None], state, after) if sealed.any() else after
        found[:, h] = np.einsum("sge,sge->s", reader, state)
    return np.asarray(found * slopes[:, None])
