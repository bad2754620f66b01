"""How much room air gets into a container, fitted from measurements."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from drying.arrays import Array
from drying.quantity import Quantity


def fitted_ingress(gained_g: float, gained_sd_g: float, given_g: float, exposure_g_d_m3: float) -> Quantity | None:
    """Ingress, m³/day, from what a container's desiccant gained between two weighings.

    `given_g`: what the spools in it handed over meanwhile; `exposure_g_d_m3`: the difference of water in the air
    outside and inside, g/m³, summed over the days. None where the air outside was no wetter.
    """
    if exposure_g_d_m3 <= 0.0:
        return None
    return Quantity(max(gained_g - given_g, 0.0) / exposure_g_d_m3, gained_sd_g / exposure_g_d_m3)


def least_misfit(axis: Array, misfit: Sequence[float]) -> Quantity | None:
    """Where a chi-square tried at some points is least, with its standard uncertainty, by the parabola through the
    least point and its neighbours. None where the least lies at an end: then the answer lies outside.
    """
    at = int(np.argmin(misfit))
    if at in (0, len(misfit) - 1):
        return None
    x, y = np.asarray(axis[at - 1 : at + 2]), np.asarray(misfit[at - 1 : at + 2])
    bend, slope, _ = np.polyfit(x - x[1], y, 2)
    if bend <= 0.0:
        return None
    return Quantity(float(x[1] - slope / (2.0 * bend)), float(1.0 / np.sqrt(bend)))
