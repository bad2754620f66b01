"""Which part of the way out takes the time: through the strand, or through the gaps of the winding."""

from __future__ import annotations

from drying.materials import Material
from drying.transport.state import Filament, gas_capacity, strand_density
from drying.transport.winding import radius_m, vapour_diffusivity_m2_s

CYLINDER_HALF, SLAB_HALF = 0.063, 0.196  # Fourier numbers at which half has left
DAMP = 0.3  # activity at which a curved isotherm's slope is taken


def _held_per_activity(material: Material) -> float:
    """Water that strand holds more for a unit of activity, share of dry mass."""
    return (material.k1.value + 3.0 * material.k3.value * DAMP**2) / 100.0


def strand_share(filament: Filament, temp_c: float) -> float:
    """How much of the drying time the strand itself takes, 0..1; the winding's gaps take the rest.

    Each way alone takes a time to half of the loss: a cylinder's, and a slab's for vapour through gaps whose strand
    takes part, from the hub outwards (J. Crank, The Mathematics of Diffusion, 1975, chapters 4 and 5). One after the
    other their times add up: an estimate, good to about a tenth. A loose coil is strand alone. `temp_c`: -40 to 200 °C.
    """
    winding = filament.winding
    if winding is None:
        return 1.0
    diffusivity = filament.material.diffusivity_m2_s(temp_c)
    strand_s = CYLINDER_HALF * radius_m(filament.strand_diameter_mm) ** 2 / diffusivity
    vapour = gas_capacity(winding, temp_c)
    capacity = 1.0 + strand_density(filament) * _held_per_activity(filament.material) / vapour
    outer, hub = winding.outer_radius_mm / 1000.0, winding.hub_radius_mm / 1000.0
    way_m2 = (outer**2 - hub**2) / (2.0 * outer) * (outer - hub)  # volume over the open face, times the way to it
    winding_s = SLAB_HALF * way_m2 * capacity * winding.gap_share / vapour_diffusivity_m2_s(winding, temp_c)
    return strand_s / (strand_s + winding_s)
