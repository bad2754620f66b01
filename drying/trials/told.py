"""What a lot's fit says further: its curve, what each coil still holds, and values to take over for a material."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from drying.air import GAS_CONSTANT, ZERO_C_IN_K
from drying.arrays import Array
from drying.materials import REFERENCE_TEMP_K, Material
from drying.transport import radius_m
from drying.transport.strand import fraction_exchanged
from drying.trials.lots import LotFit
from drying.trials.points import Points

HALF_SHARE = 0.5


def curve(fit: LotFit, strand_diameter_mm: float, times_h: Sequence[float]) -> Array:
    """Moisture over time by the fit's middle, and with its slowest and fastest diffusivity (5 and 95 %), % of dry mass;
    shape (3, times).
    """
    slowness = np.asarray(times_h, dtype=float) * 3600.0 / radius_m(strand_diameter_mm) ** 2
    start, end, d = fit.start_pct.p50, fit.end_pct.p50, fit.diffusivity_m2_s
    return np.stack([start + (end - start) * fraction_exchanged(slowness * x) for x in (d.p50, d.p05, d.p95)])


def half_time_h(fit: LotFit, strand_diameter_mm: float) -> Points:
    """When half of what moves has moved, h."""
    at = np.geomspace(1e-4, 1.0, 2000)
    half = float(np.interp(HALF_SHARE, fraction_exchanged(at), at))
    seconds = half * radius_m(strand_diameter_mm) ** 2
    d = fit.diffusivity_m2_s
    return Points(*(seconds / x / 3600.0 for x in (d.p95, d.p50, d.p05)))


def holds_pct(fit: LotFit, start_g: float, gross_g: float, *, film_first: float = 0.0) -> float:
    """What a coil held when it weighed `gross_g`, % of dry mass, by the start that the lot tells; `film_first`: the
    film at the start, % of dry mass.
    """
    dry_g = start_g / (1.0 + (fit.start_pct.p50 + film_first) / 100.0)
    return 100.0 * (gross_g / dry_g - 1.0)


@dataclass(frozen=True)
class OwnNumber:
    """A value to take over, with its spread as a factor (one sigma)."""

    value: float
    spread: float


def drawn_to(base: OwnNumber, measured: OwnNumber) -> OwnNumber:
    """A maker's value by what was measured of it, drawn to the polymer's by how little that was: the makers' values lie
    about the polymer's as its spread says, normal in the log (A. Gelman and others, Bayesian Data Analysis, 5.4).
    """
    weights = [1.0 / max(math.log(one.spread), 1e-3) ** 2 for one in (base, measured)]
    mean = sum(w * math.log(one.value) for w, one in zip(weights, (base, measured), strict=True)) / sum(weights)
    return OwnNumber(math.exp(mean), math.exp(sum(weights) ** -0.5))


def d23_of(material: Material, diffusivity: Points, temp_c: float) -> OwnNumber:
    """The diffusivity at 23 °C that one at `temp_c` means, with what the activation energy adds to its spread."""
    steeper = 1000.0 / GAS_CONSTANT * (1.0 / (temp_c + ZERO_C_IN_K) - 1.0 / REFERENCE_TEMP_K)
    value = diffusivity.p50 * math.exp(material.ea.value * steeper)
    log_sd = math.hypot(diffusivity.log_sd, material.ea.spread * steeper)
    return OwnNumber(value, math.exp(max(log_sd, 0.01)))


def isotherm_scale(material: Material, capacity: Points, activity: float) -> OwnNumber:
    """By what the isotherm is to be multiplied so that it holds this much at a water activity."""
    built_in = material.k1.value * activity + material.k3.value * activity**3
    return OwnNumber(capacity.p50 / built_in, math.exp(max(capacity.log_sd, 0.01)))
