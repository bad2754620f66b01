"""How sure a forecast is: the spreads of the material's data, of the winding and of the start, carried to the end.

Linear propagation (JCGM 100:2008, equation 10): each unknown is moved up and down by one standard deviation, and half
the differences add in quadrature. A fixed design of eleven to thirteen forecasts, nothing is drawn at random.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np
import numpy.typing as npt

from drying.arrays import Array
from drying.dryers import Load, Setup, at_rate, dried
from drying.dryers.load import common_rate
from drying.materials import Material
from drying.quantity import Quantity
from drying.transport import (
    TORTUOSITY_SPREAD,
    UNKNOWN_RATE,
    WARMING_SPREAD,
    Case,
    Filament,
    Segment,
    courses,
    even_state,
)

BAND_SIGMAS = 1.645  # 90 % of a normal distribution


Pair = tuple[Sequence[Segment], Sequence[Segment]]
"""Segments at one standard uncertainty of something above, and below."""


@dataclass(frozen=True)
class Band:
    """Moisture over time, % of dry mass, arrays of one length: the middle, its standard deviation (and what the doubt
    of the start alone gives of it), the 90 % band.
    """

    time_h: Array
    moisture_pct: Array
    sd_pct: Array
    from_start_pct: Array
    low_pct: Array
    high_pct: Array


@lru_cache(maxsize=256)
def moved(material: Material, name: str, sigmas: float) -> Material:
    """The material with one of its values moved by so many standard deviations. Kept, as solutions are kept by it.

    The two terms of the isotherm move together: they come from the same curve.
    """

    def move(key: str) -> dict[str, object]:
        value = getattr(material, key)
        by_factor = value.spread_kind == "factor"
        return {
            key: replace(
                value, value=value.value * value.spread**sigmas if by_factor else value.value + sigmas * value.spread
            )
        }

    changes = move("k1") | move("k3") if name == "isotherm" else move(name)
    return replace(material, **changes)  # type: ignore[arg-type]  # the keys are the material's own


def _variants(filament: Filament, learned: float) -> list[tuple[Filament, Filament]]:
    found = [
        (
            replace(filament, material=moved(filament.material, name, sigmas)),
            replace(filament, material=moved(filament.material, name, -sigmas)),
        )
        for name, sigmas in (("d23", learned), ("ea", learned), ("isotherm", 1.0))
    ]
    if filament.winding is not None:
        spread = TORTUOSITY_SPREAD
        loose, tight = (max(1.0, filament.winding.tortuosity * f) for f in (spread**-learned, spread**learned))
        found.append(
            (
                replace(filament, winding=replace(filament.winding, tortuosity=loose)),
                replace(filament, winding=replace(filament.winding, tortuosity=tight)),
            )
        )
    return found


@dataclass(frozen=True)
class Asked:
    """What a band is asked of: an even start known with its standard uncertainty (% of dry mass), over segments.

    `about`: pairs of the same segments at one standard uncertainty of what they hang on above, and below, such as the
    temperature; none where it is known. `learned`: the share of the spread of the rates that earlier runs have left.
    `by_start`: the segments of a wetter start, and of a drier, where they hang on it.
    """

    filament: Filament
    start: Quantity
    segments: Sequence[Segment]
    time_h: npt.ArrayLike
    about: Sequence[Pair] = ()
    learned: float = 1.0
    by_start: Pair | None = None

    @property
    def times(self) -> Array:
        """When, h."""
        return np.asarray(self.time_h, dtype=np.float64)

    def cases(self) -> list[Case]:
        """The forecasts of the design: the middle, and pairs about it."""

        def case(filament: Filament, moisture_pct: float, over: Sequence[Segment] = self.segments) -> Case:
            return filament, even_state(filament, moisture_pct), over

        value, sd = self.start.value, self.start.uncertainty
        wetter, drier = self.by_start or (self.segments, self.segments)
        found = [case(self.filament, value), case(self.filament, value + sd, wetter)]
        found.append(case(self.filament, max(value - sd, 0.0), drier))
        found += [case(one, value) for pair in _variants(self.filament, self.learned) for one in pair]
        return found + [case(self.filament, value, over) for pair in self.about for over in pair]

    def band(self, courses: Sequence[Array]) -> Band:
        """From the courses of `cases`."""
        middle, *pairs = courses
        departures = (np.array(pairs[::2]) - np.array(pairs[1::2])) / 2.0
        sd = np.sqrt(np.sum(np.square(departures), axis=0))
        low, high = np.maximum(middle - BAND_SIGMAS * sd, 0.0), middle + BAND_SIGMAS * sd
        return Band(self.times, middle, sd, np.abs(departures[0]), low, high)


def forecast_bands(asked: Sequence[Asked]) -> list[Band]:
    """Moisture over time of each, all followed side by side. Raises OutOfRangeError as `transport.course` does."""
    cases = [one.cases() for one in asked]
    times = [one.times for one, own in zip(asked, cases, strict=True) for _ in own]
    found = iter(courses([case for own in cases for case in own], times))
    return [one.band([next(found) for _ in own]) for one, own in zip(asked, cases, strict=True)]


@dataclass(frozen=True)
class Forecast:
    """Moisture over a run, % of dry mass: arrays of one length, `low_pct` to `high_pct` the 90 % band, `from_start_pct`
    the standard deviation that comes of the doubt of the start alone, None where it was not kept.

    `basis` says what was computed: "wound_spool", "shared_box" or "loose_coil".
    """

    time_h: Array
    moisture_pct: Array
    low_pct: Array
    high_pct: Array
    floor_pct: float
    basis: str
    from_start_pct: Array | None = None


def _basis(load: Load, *, shared: bool) -> str:
    """What a course was computed through."""
    if load.form == "loose":
        return "loose_coil"
    if load.open_winding:
        return "open_winding"
    return "shared_box" if shared else "wound_spool"


Run = tuple[Setup, float]
"""A set-up, and the °C of its air."""


def _by_start(setup: Setup, which: int, air_c: float) -> tuple[Run, Run]:
    """The run with one load wetter as it comes in, and with it drier: desiccant keeps another air then."""
    load, found = setup.loads[which], []
    for moved_pct in (load.start.uncertainty, -load.start.uncertainty):
        other = replace(load, start=replace(load.start, value=max(load.start.value + moved_pct, 0.0)))
        found.append(replace(setup, loads=(*setup.loads[:which], other, *setup.loads[which + 1 :])))
    return (found[0], air_c), (found[1], air_c)


def _about(alone: Setup, load: Load, air_c: float) -> list[tuple[Run, Run]]:
    """Pairs of runs about that of one load: at what the dryer's setting may give above and below, and warming through
    slower and faster.
    """
    doubt_c = alone.dryer.calibration.setting(air_c, alone.room.temp_c).air.uncertainty
    hotter, cooler = (min(max(temp_c, 0.0), 200.0) for temp_c in (air_c + doubt_c, air_c - doubt_c))
    found = [((alone, hotter), (alone, cooler))]
    if load.filament.winding is not None:
        slow, fast = (replace(alone, slower_warming=factor) for factor in (WARMING_SPREAD, 1.0 / WARMING_SPREAD))
        found.append(((slow, air_c), (fast, air_c)))
    return found


def forecasts(setup: Setup, air_c: float, time_h: Sequence[float] | npt.NDArray[np.float64]) -> tuple[Forecast, ...]:
    """Moisture of every load at each time in h, dried at `air_c` in this dryer, which is vented with this room's air.

    The band comes from linear propagation, see `bands`; the doubt of what the dryer's setting gives is part of it.
    What earlier runs taught of the rate stretches time and narrows the band.
    Spools that share a box have the width of their bands computed each with its even part of the exchange flow.
    Raises OutOfRangeError for a temperature outside 0..200 °C.
    """
    times = np.asarray(time_h, dtype=np.float64)
    find_air(setup, air_c)
    middles = setup.courses(air_c, times) if setup.shared else [None] * len(setup.loads)
    bands = forecast_bands([_asked(setup, n, air_c, times) for n in range(len(setup.loads))])
    found = []
    for load, middle, band in zip(setup.loads, middles, bands, strict=True):
        moisture, low, high = band.moisture_pct, band.low_pct, band.high_pct
        if middle is not None:
            wide = BAND_SIGMAS * band.sd_pct
            moisture, low, high = middle, np.maximum(middle - wide, 0.0), middle + wide
        floor, basis = setup.floor_pct(load, air_c), _basis(load, shared=middle is not None)
        found.append(Forecast(times, moisture, low, high, floor, basis, band.from_start_pct))
    return tuple(found)


def _asked(setup: Setup, which: int, air_c: float, times: Array) -> Asked:
    """What the band of one load of a set-up is asked of, at the pace that its earlier runs have taught."""
    load, end = setup.loads[which], float(times.max())
    alone, k = setup.alone(load), common_rate(setup.loads) if setup.shared else load.rate.median

    def met(run: Run) -> list[Segment]:
        return at_rate(run[0].segments(load, run[1], end), k)

    def pair(of_runs: tuple[Run, Run]) -> Pair:
        return met(of_runs[0]), met(of_runs[1])

    about = [pair(of_runs) for of_runs in _about(alone, load, air_c)]
    learned = load.rate.sigma / UNKNOWN_RATE.sigma
    by_start = None if setup.dryer.desiccant is None else pair(_by_start(setup, which, air_c))
    return Asked(load.filament, load.start, met((alone, air_c)), times * k, about, learned, by_start)


def find_air(setup: Setup, air_c: float) -> None:
    """Work out side by side the air that desiccant keeps in all runs that `forecasts` will ask for, if there is any."""
    if setup.dryer.desiccant is None:
        return
    pairs = [_by_start(setup, n, air_c) for n in range(len(setup.loads))]
    pairs += [pair for load in setup.loads for pair in _about(setup, load, air_c)]
    dried([(setup, air_c), *(run for pair in pairs for run in pair)])
