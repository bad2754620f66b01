"""The turns that are printed next: the outermost ones of a winding, which follow the air first."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cache, lru_cache

import numpy as np
from numpy.polynomial import legendre

from drying.arrays import Array
from drying.errors import require_range
from drying.transport.state import Filament, State, local_moisture_pct
from drying.transport.winding import Winding, node_places

NEXT_G = 50.0  # a usual print
APART_SHARE = 0.25  # of the mean: less is not worth saying
_PLACES, _WEIGHTS = legendre.leggauss(24)  # of the quadrature; the profile is a polynomial of lower degree


def next_share(net_g: float) -> float:
    """The share (0..1) of so many grams of strand (over 0) that a usual print takes."""
    return min(NEXT_G / require_range("net_g", net_g, 1e-3, 1e6, "g"), 1.0)


def tells_apart(moisture_pct: float, of_turns_pct: float) -> bool:
    """Whether some of the turns hold so much more or less than the mean that both are worth showing."""
    return abs(of_turns_pct - moisture_pct) > APART_SHARE * moisture_pct


@lru_cache(maxsize=1024)
def ring_weights(winding: Winding, share: float, *, inner: bool = False) -> Array:
    """What the mean over the outermost turns that hold `share` (over 0 to 1) of the strand takes of each node; the
    weights sum to one. `inner`: over the innermost ones instead. The profile is the polynomial through the winding's
    nodes, averaged over the area of the ring.
    """
    require_range("share", share, 1e-6, 1.0, "")
    low, high = winding.hub_radius_mm, winding.outer_radius_mm
    part = share * (high**2 - low**2)
    begin, end = (low, math.sqrt(low**2 + part)) if inner else (math.sqrt(high**2 - part), high)
    radius = begin + (_PLACES + 1.0) * (end - begin) / 2.0
    through_nodes = _through_nodes()
    there = legendre.legvander(2.0 * (radius - low) / (high - low) - 1.0, len(through_nodes) - 1)
    mean = _WEIGHTS * radius @ there / float(_WEIGHTS @ radius)
    return np.asarray(through_nodes @ mean)


@cache
def _through_nodes() -> Array:
    """From the mean of each Legendre polynomial to the weights of the nodes that give it."""
    nodes = node_places()
    return np.asarray(np.linalg.inv(legendre.legvander(nodes, nodes.size - 1).T))


def outer_moisture_pct(filament: Filament, state: State, share: float) -> float:
    """Mean moisture, % of dry mass, of the outermost turns that hold `share` (over 0 to 1) of the strand.

    A loose coil is the same all through. Raises OutOfRangeError for another share.
    """
    require_range("share", share, 1e-6, 1.0, "")
    local = local_moisture_pct(filament, state)
    if filament.winding is None:
        return float(local[0])
    return float(ring_weights(filament.winding, share) @ local)


@dataclass(frozen=True)
class Turns:
    """What the `mass_g` that are printed next hold, and as many at the hub, % of dry mass."""

    mass_g: float
    next_pct: float
    hub_pct: float


def turns_of(filament: Filament, state: State, net_g: float) -> Turns:
    """The outer turns and those at the hub of a spool of `net_g` of strand (over 0)."""
    share = next_share(net_g)
    outer = outer_moisture_pct(filament, state, share)
    if filament.winding is None:
        return Turns(share * net_g, outer, outer)
    hub = float(ring_weights(filament.winding, share, inner=True) @ local_moisture_pct(filament, state))
    return Turns(share * net_g, outer, hub)
