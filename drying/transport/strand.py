"""Water diffusing in a strand that lies loose in the air: one long cylinder, surface in equilibrium with its air.

Constant conditions have J. Crank's series (The Mathematics of Diffusion, 2nd ed., 1975, section 5.3): with
tau = D·t/R², the fraction of the exchangeable water that has left (or entered) is

    1 - sum over n of 4/alpha_n² · exp(-alpha_n²·tau),   alpha_n the zeros of the Bessel function J0,

and for short times (his equation 5.24) 4·sqrt(tau/pi) - tau - tau^1.5/(3·sqrt(pi)) - ... , used where the series,
cut off, would still be short of its tail. The isotherm sets only the moisture at the surface, so a cubic isotherm
is exact here as well. A wound spool is slower than this: the vapour must also find its way out of the pack.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt
from scipy.special import jn_zeros

from drying.arrays import Array
from drying.errors import OutOfRangeError, require_range
from drying.materials import Material, equilibrium_moisture_pct
from drying.transport.winding import radius_m

_SERIES_TERMS = 20  # at the shortest time at which they are used the next is under 1e-11
_SHORT_TIME_TAU = 0.005  # under this the short-time form is used; both agree there to 1e-6
_ALPHA = np.asarray(jn_zeros(0, _SERIES_TERMS), dtype=np.float64)
_WEIGHTS = 4.0 / _ALPHA**2


def fraction_exchanged(tau: npt.ArrayLike) -> Array:
    """Fraction (0..1) of the exchangeable water that has moved after the dimensionless time tau = D·t/R² (any shape).

    Raises OutOfRangeError for a negative tau. Error against the full series under 1e-5 everywhere.
    """
    tau = np.asarray(tau, dtype=np.float64)
    if not np.all(tau >= 0.0):
        raise OutOfRangeError("tau", "tau is negative or not a number; time, diffusivity and radius must be positive.")
    series = 1.0 - np.exp(-np.multiply.outer(tau, _ALPHA**2)) @ _WEIGHTS
    short = 4.0 / math.sqrt(math.pi) * np.sqrt(tau) - tau - tau**1.5 / (3.0 * math.sqrt(math.pi)) - tau**2 / 8.0
    return np.asarray(np.where(tau < _SHORT_TIME_TAU, short, series))


def dimensionless_time(
    material: Material, strand_diameter_mm: float, temp_c: float, duration_h: npt.ArrayLike
) -> Array:
    """tau = D(T)·t/R² for durations in h (any shape)."""
    seconds = np.asarray(duration_h, dtype=np.float64) * 3600.0
    return np.asarray(material.diffusivity_m2_s(temp_c) * seconds / radius_m(strand_diameter_mm) ** 2)


@dataclass(frozen=True)
class Conditions:
    """What surrounds a loose filament: its own temperature in °C and the water activity (0..1) at its surface."""

    temp_c: float
    activity: float


def forecast_loose_pct(
    material: Material,
    strand_diameter_mm: float,
    start_moisture_pct: float,
    conditions: Conditions,
    time_h: npt.ArrayLike,
) -> Array:
    """Moisture, % of dry mass, of a loose filament that starts even through, after each time in h (any shape).

    Drying and uptake alike. Raises OutOfRangeError for a moisture outside 0..100 %, an activity outside 0..1, a
    temperature outside -40..200 °C or a negative time.
    """
    require_range("start_moisture_pct", start_moisture_pct, 0.0, 100.0, "%")
    end = equilibrium_moisture_pct(material, conditions.activity)
    moved = fraction_exchanged(dimensionless_time(material, strand_diameter_mm, conditions.temp_c, time_h))
    return np.asarray(start_moisture_pct + (end - start_moisture_pct) * moved)
