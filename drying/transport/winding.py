"""The winding: an annulus of many turns, through whose gaps the vapour must find its way out.

Pack from the hub's radius Ri to the winding's outer radius Ro, width W, flanges and hub closed. In the gaps between the
turns (share epsilon of the volume, tortuosity tau) water vapour diffuses with Dg = D_air(T)·epsilon/tau,
D_air = 2.5e-5 m²/s·(T/298.15 K)^1.81 (the usual power law for water vapour in air near 1 bar).

Space is discretised by one spectral element: Gauss-Lobatto-Legendre nodes on [Ri, Ro], mass by their quadrature. The
stiffness is symmetric and its rows sum to zero, so water is conserved to rounding; smooth profiles converge
exponentially with the number of nodes (C. Canuto et al., Spectral Methods, 2006, section 2.3).
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.polynomial import legendre

from drying.air import TEMP_MAX_C, TEMP_MIN_C, ZERO_C_IN_K, saturated_kg_m3
from drying.arrays import Array
from drying.errors import require_range

NODES = 18
GAP_SHARE = 0.22  # epsilon: engineering estimate for orderly winding; a square lattice of touching turns has 0.215
TORTUOSITY = 1.6  # engineering estimate
LEAST_WOUND_G, MOST_WOUND_G = 1.0, 20_000.0
DEFAULT_OUTER_MM, DEFAULT_HUB_MM, DEFAULT_WIDTH_MM = 100.0, 45.0, 60.0


@dataclass(frozen=True)
class Winding:
    """Shape of a winding: outer and hub radius and width in mm, share of gaps and their tortuosity."""

    outer_radius_mm: float = DEFAULT_OUTER_MM
    hub_radius_mm: float = DEFAULT_HUB_MM
    width_mm: float = DEFAULT_WIDTH_MM
    gap_share: float = GAP_SHARE
    tortuosity: float = TORTUOSITY

    def __post_init__(self) -> None:
        require_range("hub_radius_mm", self.hub_radius_mm, 1.0, 500.0, "mm")
        require_range("outer_radius_mm", self.outer_radius_mm, self.hub_radius_mm + 0.1, 1000.0, "mm")
        require_range("width_mm", self.width_mm, 1.0, 1000.0, "mm")
        require_range("gap_share", self.gap_share, 0.01, 0.9, "")
        require_range("tortuosity", self.tortuosity, 1.0, 20.0, "")

    @property
    def volume_m3(self) -> float:
        """Volume of the winding, gaps included, m³."""
        return math.pi * (self.outer_radius_mm**2 - self.hub_radius_mm**2) * self.width_mm * 1e-9

    def strand_kg(self, density_kg_m3: float) -> float:
        """Mass of the dry strand in the winding, kg."""
        return self.volume_m3 * (1.0 - self.gap_share) * density_kg_m3


DEFAULT_WINDING = Winding()


def winding_of_mass(
    net_g: float, density_kg_m3: float, hub_radius_mm: float = DEFAULT_HUB_MM, width_mm: float = DEFAULT_WIDTH_MM
) -> Winding:
    """The winding of a part-used spool: outer radius from the mass of strand left, the hub's radius and the width.

    Raises OutOfRangeError for a mass under 1 g or over 20 kg, or sizes that no spool has.
    """
    require_range("net_g", net_g, LEAST_WOUND_G, MOST_WOUND_G, "g")
    require_range("density_kg_m3", density_kg_m3, 300.0, 5000.0, "kg/m³")
    area_mm2 = net_g / 1000.0 / (density_kg_m3 * (1.0 - GAP_SHARE)) / (math.pi * width_mm * 1e-9)
    return Winding(math.sqrt(hub_radius_mm**2 + max(area_mm2, 0.3 * hub_radius_mm)), hub_radius_mm, width_mm)


LEAST_GAP_SHARE = 1.0 - math.pi / (2.0 * math.sqrt(3.0))  # round strand packed as closely as it can be


def most_wound_g(outer_diameter_mm: float, hub_diameter_mm: float, width_mm: float, density_kg_m3: float) -> float:
    """The most strand, g, that goes between the flanges of an empty spool of these sizes, packed as closely as round
    strand can be.
    """
    area_mm2 = math.pi / 4.0 * (outer_diameter_mm**2 - hub_diameter_mm**2)
    return area_mm2 * width_mm * 1e-9 * (1.0 - LEAST_GAP_SHARE) * density_kg_m3 * 1000.0


def vapour_diffusivity_m2_s(winding: Winding, temp_c: float) -> float:
    """Diffusivity of vapour through the gaps, m²/s, at `temp_c` (-40 to 200 °C)."""
    require_range("temp_c", temp_c, TEMP_MIN_C, TEMP_MAX_C, "°C")
    return 2.5e-5 * float(((temp_c + ZERO_C_IN_K) / 298.15) ** 1.81) * winding.gap_share / winding.tortuosity


@lru_cache(maxsize=1024)
def gas_conductivity(winding: Winding, temp_c: float) -> float:
    """Vapour that moves through the gaps by a gradient of activity, kg/(m·s)."""
    return vapour_diffusivity_m2_s(winding, temp_c) * saturated_kg_m3(temp_c)


@dataclass(frozen=True)
class Grid:
    """The pack's nodes, hub first and face last. `mass`: each node's share of the winding's volume, summing to one.
    `stiffness` in 1/m² belongs to it: -stiffness @ a / mass is (1/x)·d/dx(x·da/dx) with both ends closed.
    `face_m`: a vapour flow out of the face, per volume of the winding, is conductance·(a_face - a) with
    conductance = flow / volume.
    """

    mass: Array
    stiffness: Array


@lru_cache(maxsize=8)
def node_places(nodes: int = NODES) -> Array:
    """Where a winding's nodes lie, from the hub (-1) to the face (1): Gauss-Lobatto points."""
    inner = legendre.Legendre.basis(nodes - 1)
    return np.concatenate([[-1.0], np.sort(inner.deriv().roots().real), [1.0]])


@lru_cache(maxsize=256)
def grid(winding: Winding, nodes: int = NODES) -> Grid:
    """Nodes, masses and stiffness of a winding."""
    z = node_places(nodes)
    value = legendre.Legendre.basis(nodes - 1)(z)
    weights = 2.0 / (nodes * (nodes - 1) * value**2)
    gap = z[:, None] - z[None, :] + np.eye(nodes)
    slope = value[:, None] / value[None, :] / gap
    np.fill_diagonal(slope, 0.0)
    slope[0, 0], slope[-1, -1] = -nodes * (nodes - 1) / 4.0, nodes * (nodes - 1) / 4.0
    low, high = winding.hub_radius_mm / 1000.0, winding.outer_radius_mm / 1000.0
    half = (high - low) / 2.0
    x = low + (z + 1.0) * half
    area = (high**2 - low**2) / 2.0
    mass = weights * x * half / area
    stiffness = slope.T @ np.diag(weights * x / half) @ slope / area
    stiffness -= np.diag(stiffness.sum(axis=1))  # rounding: each row sums to zero, so nothing is made or lost
    return Grid(mass / mass.sum(), (stiffness + stiffness.T) / 2.0)


def radius_m(strand_diameter_mm: float) -> float:
    """Radius of the strand in m. Raises OutOfRangeError unless the diameter lies between 0.5 and 5 mm."""
    return require_range("strand_diameter_mm", strand_diameter_mm, 0.5, 5.0, "mm") / 2000.0
