"""A spool's water in few numbers, for months of storage: the pack's slow modes one by one, the fast ones as one.

The pack's slow modes are kept; the faster ones no longer feel the pack and dry as loose filament, so they share one
group. Each group has gas and a few strand modes, stepped exactly over one hour by matrices made once for each whole
degree. All is held as moisture in % of dry mass (gas: the moisture in equilibrium with it), so that it can be carried
on under another slope of the isotherm.

Cubic isotherms are taken along their secant at the mean activity met in a stretch, the surface's moisture itself
exact, and the pack's conductance by J. Crank's weighted means for a diffusivity that changes with moisture (his section
9.4.5: uptake weighs the wet end more, drying the dry end).
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property, lru_cache

import numpy as np

from drying.arrays import Array
from drying.materials import Material, held_pct
from drying.transport.outer import ring_weights
from drying.transport.state import REST_WEIGHT, STRAND_RATES, STRAND_WEIGHTS, Filament, gas_capacity, strand_density
from drying.transport.winding import Winding, gas_conductivity, grid, radius_m

WINDING_MODES, _STRAND_MODES = 6, 5
GROUPS = WINDING_MODES + 1
_AXIS = np.linspace(0.0, 1.2, 1201)
_FACTOR_STEP = 0.05
_SLOPE_STEP = 0.05  # activities are rounded to this for the secant, so that its matrices are made once


def _few_strand_modes() -> tuple[Array, Array]:
    """Rates and weights of the first strand modes, the others as one."""
    rest = STRAND_WEIGHTS[_STRAND_MODES:]
    weights = np.append(STRAND_WEIGHTS[:_STRAND_MODES], rest.sum())
    rates = np.append(STRAND_RATES[:_STRAND_MODES], rest.sum() / (rest / STRAND_RATES[_STRAND_MODES:]).sum())
    return rates, weights


_RATES, _WEIGHTS = _few_strand_modes()
SIZE = _WEIGHTS.size + 1  # gas first
MEMBERS = np.concatenate([[REST_WEIGHT], _WEIGHTS])  # weights of the members of a group; they sum to one


@dataclass(frozen=True)
class Shape:
    """A body's groups: `share` of the mean of each (unused 0, the loose one last), `leak` of each mode in 1/m², and
    what each mode is of the local moisture, shape (nodes, modes).
    """

    share: Array
    leak: Array
    at_nodes: Array
    winding: Winding | None

    @cached_property
    def reader(self) -> Array:
        """What the mean takes of each number, shape (groups, members)."""
        return np.asarray(self.share[:, None] * MEMBERS)

    def outer_share(self, share: float) -> Array:
        """What the mean of the outermost turns that hold `share` of the strand takes of each group; sums to one."""
        found = np.zeros(GROUPS)
        if self.winding is not None:
            found[:WINDING_MODES] = ring_weights(self.winding, share) @ self.at_nodes
        found[-1] = 1.0 - found.sum()
        return found


@lru_cache(maxsize=2048)
def _shape(winding: Winding | None) -> Shape:
    share = np.zeros(GROUPS)
    if winding is None:
        share[-1] = 1.0
        return Shape(share, np.zeros(0), np.zeros((0, 0)), None)
    cells = grid(winding)
    root = np.sqrt(cells.mass[:-1])
    leak, vectors = np.linalg.eigh(cells.stiffness[:-1, :-1] / np.multiply.outer(root, root))
    slow = vectors[:, :WINDING_MODES]
    part = slow.T @ root
    share[:WINDING_MODES], share[-1] = part**2, 1.0 - (part**2).sum()
    at_nodes = np.vstack([slow / root[:, None] * part, np.zeros(WINDING_MODES)])  # at the face lies loose filament
    return Shape(share, leak[:WINDING_MODES], at_nodes, winding)


def shape_of(filament: Filament) -> Shape:
    """The groups of a body."""
    return _shape(filament.winding)


def even(moisture_pct: float) -> Array:
    """The same moisture all through: every number is it."""
    return np.full((GROUPS, SIZE), moisture_pct)


def outer_reader(filament: Filament, share: float) -> Array:
    """What the mean of the outermost turns that hold `share` (over 0 to 1) of the strand takes of each number, shape
    (groups, members).
    """
    return _outer_reader(filament.winding, share)


@lru_cache(maxsize=2048)
def _outer_reader(winding: Winding | None, share: float) -> Array:
    return np.asarray(_shape(winding).outer_share(share)[:, None] * MEMBERS)


def profiled(filament: Filament, moisture_pct: float, outer_pct: float, share: float) -> Array:
    """The numbers of a body that holds `moisture_pct` in the mean and `outer_pct` in its outermost turns that hold
    `share` of the strand: the pack's slowest mode lags behind all others, as it does late in a run or in storage.

    Where that would take less than no water, as much of it as can be.
    """
    shape = shape_of(filament)
    slow, outer = float(shape.share[0]), float(shape.outer_share(share)[0])
    if filament.winding is None or slow - outer < 1e-6:
        return even(moisture_pct)
    others = (slow * outer_pct - outer * moisture_pct) / (slow - outer)
    others = min(max(others, 0.0), moisture_pct / (1.0 - slow))
    found = even(others)
    found[0] = (moisture_pct - (1.0 - slow) * others) / slow
    return found


@dataclass(frozen=True)
class Secant:
    """How a body's isotherm is taken for a stretch: % per unit activity, and how much better its pack conducts."""

    slope: float
    factor: float


def secant(material: Material, moisture_pct: float, activity: float) -> Secant:
    """The secant for a stretch that begins at `moisture_pct` and meets `activity` on average; exact by Henry's law."""
    k1, k3 = material.k1.value, material.k3.value
    if k3 == 0.0:
        return Secant(k1, 1.0)
    middle = min(max(round(activity / _SLOPE_STEP) * _SLOPE_STEP, _SLOPE_STEP), 1.0)
    end = float(held_pct(material, np.array(middle)))
    slope = end / middle
    if abs(end - moisture_pct) < 1e-9:
        return Secant(slope, 1.0)
    inner = (np.arange(200) + 0.5) / 200.0  # 0 at the start, 1 at the end
    met = np.interp(moisture_pct + (end - moisture_pct) * inner, held_pct(material, _AXIS), _AXIS)
    local = slope / (k1 + 3.0 * k3 * met**2)
    weight = inner ** (2.0 / 3.0) if end > moisture_pct else inner**0.85
    return Secant(slope, round(float((local * weight).sum() / weight.sum()) / _FACTOR_STEP) * _FACTOR_STEP)


def hour_matrices(filament: Filament, taken: Secant, degree: int) -> Array:
    """What one hour at a whole degree does to a departure from the air: (groups, members, members)."""
    material = filament.material
    diffusivity, density = (
        material.diffusivity_m2_s(float(degree)),
        strand_density(filament) if filament.winding else 0.0,
    )
    return _hour_matrices(filament.winding, diffusivity, filament.strand_diameter_mm, density, taken, degree)


@lru_cache(maxsize=16384)
def _hour_matrices(
    winding: Winding | None, diffusivity: float, diameter_mm: float, density: float, taken: Secant, degree: int
) -> Array:
    rate = _RATES * diffusivity / radius_m(diameter_mm) ** 2
    found = np.zeros((GROUPS, SIZE, SIZE))
    found[-1, range(1, SIZE), range(1, SIZE)] = np.exp(-rate * 3600.0)  # the loose group: its gas is the air's
    if winding is None:
        return found
    leak = _shape(winding).leak * taken.factor
    held = density * taken.slope / 100.0
    gas = gas_capacity(winding, float(degree)) + held * REST_WEIGHT
    capacity = np.concatenate([[gas], held * _WEIGHTS])
    root = np.sqrt(capacity)
    arrow = np.zeros((leak.size, SIZE, SIZE))
    arrow[:, range(1, SIZE), range(1, SIZE)] = -rate
    arrow[:, 0, 1:] = arrow[:, 1:, 0] = root[1:] / root[0] * rate
    arrow[:, 0, 0] = -(gas_conductivity(winding, float(degree)) * leak + (capacity[1:] * rate).sum()) / capacity[0]
    values, turn = np.linalg.eigh(arrow)
    turned = turn * np.exp(np.minimum(values, 0.0) * 3600.0)[:, None, :]
    found[: leak.size] = turned @ turn.transpose(0, 2, 1) / root[None, :, None] * root[None, None, :]
    return found
