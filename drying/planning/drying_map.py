"""The drying map: the water that is left over temperature × hours, for every spool that goes in.

Each run on it has the dryer's warm-up and swing, so the map and the ticket of a run say the same. Courses are computed
at a few Chebyshev temperatures, and the moisture is interpolated between them by the polynomial through them: at most
0.06 % of the start from computing every row, 0.3 % where spools share a box (a test holds it to that).
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt
from scipy.interpolate import BarycentricInterpolator

from drying.arrays import Array
from drying.dryers import Setup, all_hours_to, hours_to
from drying.dryers.limits import limits
from drying.errors import OutOfRangeError
from drying.materials import STANDARD_METHODS

KNOTS, KNOTS_SHARED = 8, 6
ROWS, COLUMNS = 41, 97
HORIZONS_H = (6.0, 12.0, 24.0, 48.0, 72.0, 96.0)


@dataclass(frozen=True)
class DryingMap:
    """Moisture in % of dry mass over °C × h: `moisture_pct` has the shape (loads, temps, hours), `floor_pct`
    (loads, temps).
    """

    temps_c: Array
    hours: Array
    moisture_pct: Array
    floor_pct: Array

    def at(self, temp_c: float, time_h: float) -> list[float]:
        """Moisture of each load at a point, between the map's own by straight lines; at its edge beyond it."""
        rows = [[np.interp(time_h, self.hours, row) for row in load] for load in self.moisture_pct]
        return [float(np.interp(temp_c, self.temps_c, row)) for row in rows]

    def hours_to_aim(self, setup: Setup, load: int) -> list[float | None]:
        """At each temperature, when this load comes to its aim; None where it does not within the map."""
        aim = setup.loads[load].aim_pct
        return [hours_to(aim, self.hours, row) for row in self.moisture_pct[load]]

    def all_hours_to_aim(self, setup: Setup) -> list[float | None]:
        """At each temperature, when the last of all loads has come to its aim."""
        return [all_hours_to(setup.loads, self.hours, self.moisture_pct[:, row]) for row in range(self.temps_c.size)]


def drying_map(setup: Setup, temps_c: npt.ArrayLike, hours: npt.ArrayLike) -> DryingMap:
    """The map over these temperatures in °C and hours, each rising. Raises OutOfRangeError outside 0 to 200 °C."""
    temps, times = np.asarray(temps_c, dtype=np.float64), np.asarray(hours, dtype=np.float64)
    if temps.size == 0 or times.size < 2:
        raise OutOfRangeError("temps_c", "A map needs a temperature and at least two times.")
    low, high = float(temps.min()), float(temps.max())
    count = KNOTS_SHARED if setup.shared else KNOTS

    def floor(at: Array) -> Array:
        return np.array([setup.floors_pct(float(t)) for t in at]).T

    if temps.size <= count:
        return DryingMap(temps, times, setup.courses_at(temps.tolist(), times), floor(temps))
    knots = (low + high) / 2.0 + (high - low) / 2.0 * np.cos(np.pi * np.arange(count) / (count - 1))
    between = np.asarray(BarycentricInterpolator(knots, setup.courses_at(knots.tolist(), times), axis=1)(temps))
    return DryingMap(temps, times, np.maximum(between, 0.0), floor(temps))


def horizon_h(setup: Setup, wanted_h: Sequence[float]) -> float:
    """How many hours a map should show: enough for the methods, for what is wanted, and a third more."""
    programmes = setup.lead.material.programmes
    most = max([*wanted_h, *(programmes[s].duration_h for s in STANDARD_METHODS[1:] if s in programmes)], default=12.0)
    return next((h for h in HORIZONS_H if h >= most * 1.3), math.ceil(most * 1.3 / 24.0) * 24.0)


def axis_c(setup: Setup, wanted_c: Sequence[float]) -> tuple[float, float]:
    """The temperatures that a map should show: all that dryer and methods can mean, and the first limits above."""
    low, high = setup.dryer.min_c, setup.dryer.max_c
    filament = min(x.temp_c for x in limits(setup) if x.spool is not None)
    runs = [*(s.temp_c for s in setup.lead.material.programmes.values()), *wanted_c]
    top = max([min(high + 4.0, filament + 14.0), *runs, low + 15.0])
    bottom = max(20.0, min([low, *runs]) - 2.0)
    return math.floor(bottom / 5.0) * 5.0, math.ceil((top + 1.0) / 5.0) * 5.0


def map_to_show(setup: Setup, wanted_c: Sequence[float] = (), wanted_h: Sequence[float] = ()) -> DryingMap:
    """The map of `ROWS` × `COLUMNS` points that suits this set-up and holds what is wanted."""
    low, high = axis_c(setup, wanted_c)
    return drying_map(setup, np.linspace(low, high, ROWS), np.linspace(0.0, horizon_h(setup, wanted_h), COLUMNS))
