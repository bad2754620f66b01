"""A coil cut off a spool: what a length of strand weighs. The coil method weighs, dries and scales up such a coil."""

from __future__ import annotations

import math

from drying.errors import require_range
from drying.materials import Material
from drying.quantity import Quantity
from drying.transport import radius_m

DIAMETER_SD_MM = 0.03  # engineering estimate: how far strand is off its nominal diameter, one sd


def coil_mass_g(material: Material, strand_diameter_mm: float, length_m: float) -> Quantity:
    """Mass of `length_m` of strand, g: density · pi · d²/4 · length, with what the diameter's spread does to it.

    Raises OutOfRangeError for a length outside 0.01 to 5000 m.
    """
    require_range("length_m", length_m, 0.01, 5000.0, "m")
    mass = material.density.value * math.pi * radius_m(strand_diameter_mm) ** 2 * length_m * 1000.0
    return Quantity(mass, mass * 2.0 * DIAMETER_SD_MM / strand_diameter_mm)
