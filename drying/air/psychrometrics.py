"""Moist air: saturation, vapour concentration, dew point, and what heating does to relative humidity.

Saturation pressure comes from PsychroLib (D. Meyer and D. Thevenard, 2019), which implements the Hyland and
Wexler formulae of the ASHRAE Handbook, Fundamentals 2017, chapter 1, equations 5 and 6. Below 0.01 °C those
give the pressure over ice. Range here: -40 to 200 °C.
"""

from __future__ import annotations

import importlib
import sys
from dataclasses import dataclass
from functools import lru_cache
from types import ModuleType
from typing import cast

from drying.errors import require_range

TEMP_MIN_C, TEMP_MAX_C = -40.0, 200.0
ZERO_C_IN_K = 273.15
GAS_CONSTANT = 8.314462618  # J/(mol K), CODATA 2018
MOLAR_MASS_WATER = 18.015268  # g/mol, IAPWS


def _as_written() -> ModuleType:
    """PsychroLib without `numba`, by which it would compile all of itself anew in every process: 3 s, for functions
    that take microseconds.
    """
    before = sys.modules.get("numba")
    sys.modules["numba"] = cast(ModuleType, None)  # importing it fails, and PsychroLib goes on without
    try:
        return importlib.import_module("psychrolib")
    finally:
        if before is None:
            del sys.modules["numba"]
        else:
            sys.modules["numba"] = before


_PSYCHROLIB = _as_written()
_PSYCHROLIB.SetUnitSystem(_PSYCHROLIB.SI)


@lru_cache(maxsize=65536)
def saturation_pressure_pa(temp_c: float) -> float:
    """Saturation pressure of water vapour in Pa at `temp_c`.

    Raises OutOfRangeError outside -40 to 200 °C. Source: ASHRAE 2017, see the head of this module.
    """
    require_range("temp_c", temp_c, TEMP_MIN_C, TEMP_MAX_C, "°C")
    return float(_PSYCHROLIB.GetSatVapPres(temp_c))


def vapour_pressure_pa(temp_c: float, rh_pct: float) -> float:
    """Partial pressure of water vapour in Pa of air at `temp_c` and `rh_pct`.

    Raises OutOfRangeError for a humidity under 0 or over 100 %.
    """
    require_range("rh_pct", rh_pct, 0.0, 100.0, "%")
    return rh_pct / 100.0 * saturation_pressure_pa(temp_c)


def vapour_concentration_g_m3(temp_c: float, rh_pct: float) -> float:
    """Water in the air, g/m³, from the ideal gas law: C = p·M/(R·T)."""
    return vapour_pressure_pa(temp_c, rh_pct) * MOLAR_MASS_WATER / (GAS_CONSTANT * (temp_c + ZERO_C_IN_K))


@lru_cache(maxsize=65536)
def saturated_kg_m3(temp_c: float) -> float:
    """Water in saturated air, kg/m³."""
    return vapour_concentration_g_m3(temp_c, 100.0) / 1000.0


def dew_point_c(temp_c: float, rh_pct: float) -> float:
    """Temperature in °C at which this air would be saturated at the same vapour pressure.

    Raises OutOfRangeError for a humidity under 0.01 %, where a dew point has no practical meaning.
    """
    require_range("rh_pct", rh_pct, 0.01, 100.0, "%")
    require_range("temp_c", temp_c, TEMP_MIN_C, TEMP_MAX_C, "°C")
    return float(_PSYCHROLIB.GetTDewPointFromVapPres(temp_c, vapour_pressure_pa(temp_c, rh_pct)))


def rh_after_heating_pct(temp_c: float, rh_pct: float, heated_c: float) -> float:
    """Relative humidity, %, of the same air brought to `heated_c` with no water added or lost.

    Cooling under the dew point gives 100 %: the rest has condensed.
    """
    return min(100.0, 100.0 * vapour_pressure_pa(temp_c, rh_pct) / saturation_pressure_pa(heated_c))


@dataclass(frozen=True)
class RoomAir:
    """The air of a room: temperature in °C and relative humidity in %."""

    temp_c: float
    rh_pct: float

    def __post_init__(self) -> None:
        require_range("temp_c", self.temp_c, TEMP_MIN_C, TEMP_MAX_C, "°C")
        require_range("rh_pct", self.rh_pct, 0.0, 100.0, "%")

    @property
    def activity(self) -> float:
        """Water activity of strand that lies in this air at its temperature."""
        return self.rh_pct / 100.0

    def activity_at(self, strand_temp_c: float) -> float:
        """Water activity (0..1) that this air offers strand heated to `strand_temp_c` in a vented box."""
        return rh_after_heating_pct(self.temp_c, self.rh_pct, strand_temp_c) / 100.0
