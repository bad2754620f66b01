"""Water that is not in the strand: the film on soaked strand, and what stands between the turns of a winding.

It leaves early and fast, and counts on the scale as loss. How much there is goes with length and form, and is known
badly: engineering estimates, each as uncertain as itself.
"""

from __future__ import annotations

import math

from drying.quantity import ByCause
from drying.transport import Filament
from drying.weighing.coil import coil_mass_g

FILM_G_PER_M, UNWIPED_SHARE = 0.016, 2.0 / 3.0  # on a coil; a third of it where it was wiped, and that is not known
BETWEEN_TURNS_SHARE = 0.1  # of a winding's volume: between none and a fifth
WATER_G_PER_M3 = 1.0e6
FILM_H, BETWEEN_TURNS_H = 0.5, 3.0  # time constants: a film is gone within the first weigh-in
PACE_SPREAD = 1.6  # one sigma of a log-normal


def film_water_g(filament: Filament, dry_g: float, hours: float) -> ByCause:
    """Water, g, that soaked filament has lost from its surface and from between its turns after so many hours of
    drying; its errors by how much there was, as much as that itself, and by the pace.
    """
    winding = filament.winding
    if winding is None:
        metres = dry_g / coil_mass_g(filament.material, filament.strand_diameter_mm, 1.0).value
        all_g, constant_h = FILM_G_PER_M * UNWIPED_SHARE * metres, FILM_H
    else:
        all_g, constant_h = BETWEEN_TURNS_SHARE * winding.volume_m3 * WATER_G_PER_M3, BETWEEN_TURNS_H
    paces = (1.0 / PACE_SPREAD, 1.0, PACE_SPREAD)
    fast, gone, slow = (-all_g * math.expm1(-max(hours, 0.0) / (constant_h * factor)) for factor in paces)
    return ByCause(gone, (gone, (fast - slow) / 2.0))
