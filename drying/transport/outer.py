"""The turns that are printed next: the outermost ones of a winding, which follow the air first."""

from __future__ import annotations

import math

import numpy as np
from numpy.polynomial import legendre

from drying.errors import require_range
from drying.transport.state import Filament, State, local_moisture_pct
from drying.transport.winding import node_places

_ORDER = 24  # of the quadrature; the profile is a polynomial of lower degree


def outer_moisture_pct(filament: Filament, state: State, share: float) -> float:
    """Mean moisture, % of dry mass, of the outermost turns that hold `share` (over 0 to 1) of the strand.

    The profile is the polynomial through the winding's nodes, averaged over the area of the ring. A loose coil is the
    same all through. Raises OutOfRangeError for another share.
    """
    require_range("share", share, 1e-6, 1.0, "")
    local = local_moisture_pct(filament, state)
    if filament.winding is None:
        return float(local[0])
    low, high = filament.winding.hub_radius_mm, filament.winding.outer_radius_mm
    profile = legendre.legfit(node_places(local.size), local, local.size - 1)
    begin = math.sqrt(high**2 - share * (high**2 - low**2))
    at, weights = legendre.leggauss(_ORDER)
    radius = begin + (at + 1.0) * (high - begin) / 2.0
    moisture = legendre.legval(2.0 * (radius - low) / (high - low) - 1.0, profile)
    return float(np.average(moisture, weights=weights * radius))
