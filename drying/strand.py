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
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt
from scipy.special import jn_zeros

from drying.errors import OutOfRangeError, require_range
from drying.materials import Material
from drying.sorption import equilibrium_moisture_pct

Array = npt.NDArray[np.float64]

_SERIES_TERMS = 40
_SHORT_TIME_TAU = 0.005  # under this the short-time form is used; both agree there to 1e-6
_ALPHA = np.asarray(jn_zeros(0, _SERIES_TERMS), dtype=np.float64)
_WEIGHTS = 4.0 / _ALPHA**2

# State of a strand: the modes of the series and one more for its tail, with the rate that errs least.
_MODE_WEIGHTS = np.append(_WEIGHTS, 1.0 - _WEIGHTS.sum())
_MODE_RATES = np.append(_ALPHA**2, (2.2 * _ALPHA[-1]) ** 2)


def radius_m(strand_diameter_mm: float) -> float:
    """Radius of the strand in m. Raises OutOfRangeError unless the diameter lies between 0.5 and 5 mm."""
    return require_range("strand_diameter_mm", strand_diameter_mm, 0.5, 5.0, "mm") / 2000.0


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
    """What surrounds a loose strand: its own temperature in °C and the water activity (0..1) at its surface."""

    temp_c: float
    activity: float


def forecast_loose_pct(
    material: Material,
    strand_diameter_mm: float,
    start_moisture_pct: float,
    conditions: Conditions,
    time_h: npt.ArrayLike,
) -> Array:
    """Moisture, % of dry mass, of a loose strand that starts even through, after each time in h (any shape).

    Drying and uptake alike. Raises OutOfRangeError for a moisture outside 0..100 %, an activity outside 0..1, a
    temperature outside -40..200 °C or a negative time.
    """
    require_range("start_moisture_pct", start_moisture_pct, 0.0, 100.0, "%")
    end = equilibrium_moisture_pct(material, conditions.activity)
    moved = fraction_exchanged(dimensionless_time(material, strand_diameter_mm, conditions.temp_c, time_h))
    return np.asarray(start_moisture_pct + (end - start_moisture_pct) * moved)


@dataclass(frozen=True)
class Stage:
    """A stretch of time in one place: hours, strand temperature in °C, and water activity of the air (0..1).

    `activity` None means sealed: no water passes and the state stands still.
    """

    duration_h: float
    temp_c: float
    activity: float | None


@dataclass(frozen=True)
class Course:
    """Moisture over a sequence of stages, % of dry mass: `moisture_pct[k]` at the end of stage k.

    `memory[k]` is the share (0..1) of the starting moisture that is still to be seen in it; the rest came from the air.
    """

    moisture_pct: Array
    memory: Array


def course_loose(
    material: Material, strand_diameter_mm: float, start_moisture_pct: float, stages: Sequence[Stage]
) -> Course:
    """Follow a loose strand, even through at the start, over any sequence of stages, the state carried over.

    Exact for each stage but for the tail of the series, which is one lumped mode: error under 0.2 % of the step in
    the first minutes after a change. Raises OutOfRangeError as `forecast_loose_pct` does.
    """
    require_range("start_moisture_pct", start_moisture_pct, 0.0, 100.0, "%")
    modes = np.full(_MODE_RATES.shape, start_moisture_pct)
    kept = np.ones_like(modes)
    moisture, memory = np.empty(len(stages)), np.empty(len(stages))
    for k, stage in enumerate(stages):
        if stage.activity is not None:
            end = equilibrium_moisture_pct(material, stage.activity)
            tau = float(dimensionless_time(material, strand_diameter_mm, stage.temp_c, stage.duration_h))
            require_range("duration_h", stage.duration_h, 0.0, 1e6, "h")
            decay = np.exp(-_MODE_RATES * tau)
            modes = end + (modes - end) * decay
            kept = kept * decay
        moisture[k], memory[k] = _MODE_WEIGHTS @ modes, _MODE_WEIGHTS @ kept
    return Course(moisture, memory)
