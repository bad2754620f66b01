"""Choosing a run and writing its ticket: what to set, for how long, and what comes of it."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

import numpy as np
import numpy.typing as npt

from drying.arrays import Array
from drying.dryers.calibration import Setting
from drying.dryers.dryer import Turn
from drying.dryers.energy import mean_power_w
from drying.dryers.limits import Limit, LimitKind, ceiling, hottest_c
from drying.dryers.setup import Load, Setup, all_hours_to, hours_to
from drying.errors import OutOfRangeError, require_range
from drying.materials.properties import SCHOOLS, SchoolRun
from drying.planning.cautions import Caution, cautions
from drying.planning.drying_map import drying_map
from drying.planning.forecast import BAND_SIGMAS, forecast_band
from drying.planning.weighing_times import best_times_h
from drying.runs.rate import UNKNOWN_RATE
from drying.weighing.scale import Quantity

TURN_OVER_SHARE = 0.5
PATIENCE_H = 96.0  # what takes longer than this at the hottest is called out of the dryer's reach
GENTLE_PATIENCE_H = 24.0  # "least heat" may take so long, or as long as the material's own gentle school
CURVE_POINTS = 97
CURVE_BEYOND = 1.4  # the curve goes on past the planned hours, to show what more would bring
SHEET, OWN = "sheet", "own"


class Goal(StrEnum):
    """What a run is to be best at."""

    LEAST_HEAT = "least_heat"
    LEAST_TIME = "least_time"
    LEAST_ENERGY = "least_energy"
    READY_BY = "ready_by"


PROGRAMMES = (*SCHOOLS, SHEET, OWN)
WAYS = (*PROGRAMMES, *Goal)


@dataclass(frozen=True)
class Choice:
    """Temperature and hours of a run, the limit (if any) that lowered or raised what was wanted, and whether all that
    goes in comes to its aim (`in_time` False: it does, but not by when it was wanted).
    """

    temp_c: float
    duration_h: float
    held_by: Limit | None = None
    reaches: bool = True
    in_time: bool = True


def programmes(load: Load) -> dict[str, SchoolRun]:
    """What schools, the maker's sheet of this spool and the person's own programme would set; only those there are."""
    found = {name: run for name, run in load.material.schools.items() if name in PROGRAMMES}
    if load.sheet is not None:
        found[SHEET] = SchoolRun(load.sheet.temp_c, load.sheet.duration_h)
    return found


def rounded_up_h(hours: float) -> float:
    """Hours as a person sets them: up to the next quarter under 4 h, the next half above."""
    step = 0.25 if hours < 4.0 else 0.5
    return max(math.ceil(hours / step - 1e-6) * step, 0.5)


def search_times_h(end_h: float = PATIENCE_H) -> Array:
    """Times from 0 to `end_h`, close together at the start, where courses are steep."""
    return end_h * np.linspace(0.0, 1.0, 121) ** 2


def needed(setup: Setup) -> bool:
    """False where every spool already lies at or under its aim."""
    return any(load.start.value > load.aim_pct for load in setup.loads)


def hours_needed(setup: Setup, air_c: float, patience_h: float = PATIENCE_H) -> float | None:
    """Hours at `air_c` until the last spool has come to its aim; None where that takes longer than `patience_h`."""
    times = search_times_h(patience_h)
    return all_hours_to(setup.loads, times, setup.courses(air_c, times))


def _held(setup: Setup, wanted_c: float) -> tuple[float, Limit | None]:
    """What a wanted temperature comes down or up to, and the limit that did it."""
    top = hottest_c(setup)
    if wanted_c > top:
        over = ceiling(setup)
        if over.temp_c < wanted_c or not setup.dryer.levels_c:
            return top, over
    least = min(setup.dryer.levels_c, default=setup.dryer.min_c)
    if wanted_c < least:
        return least, Limit(LimitKind.DRYER_MIN, least)
    near = setup.dryer.nearest_c(wanted_c)
    return min(near, top), None


def _by_programme(setup: Setup, way: str) -> Choice:
    run = programmes(setup.lead).get(way)
    if run is None:
        raise OutOfRangeError("way", f"{setup.lead.material.name} has no programme of that kind yet. Choose another.")
    temp, limit = _held(setup, run.temp_c)
    hours = hours_needed(setup, temp)
    if way in (SHEET, OWN) or not needed(setup):
        return Choice(temp, run.duration_h, limit, reaches=hours is not None and hours <= run.duration_h)
    if hours is None:
        return Choice(temp, run.duration_h, limit, reaches=False)
    return Choice(temp, rounded_up_h(hours), limit)


def _candidates_c(setup: Setup) -> Array:
    """Every whole degree, or level, that the dryer can hold and the load stands."""
    top = hottest_c(setup)
    if setup.dryer.levels_c:
        return np.array([level for level in setup.dryer.levels_c if level <= top])
    return np.unique(np.append(np.arange(math.ceil(setup.dryer.min_c), top), top))


def _best(setup: Setup, goal: Goal, temps: Array, hours: Array, ready_in_h: float) -> int:
    """Which candidate serves the goal best; `hours` is infinite where the aim is not reached."""
    if goal is Goal.LEAST_ENERGY:
        power = np.array([mean_power_w(setup.dryer, setup.room.temp_c, float(t)).value for t in temps])
        return int(np.argmin(power * hours))
    patience = {
        Goal.LEAST_HEAT: max(GENTLE_PATIENCE_H, setup.lead.material.schools["gentle"].duration_h),
        Goal.READY_BY: ready_in_h,
    }.get(goal, 0.0)
    soon_enough = np.flatnonzero(hours <= patience)
    return int(soon_enough[0]) if soon_enough.size else int(np.argmin(hours))


def _by_goal(setup: Setup, goal: Goal, ready_in_h: float) -> Choice:
    if not needed(setup):
        return _by_programme(setup, "gentle")
    temps = _candidates_c(setup)
    found = drying_map(setup, temps, search_times_h())
    hours = np.array([np.inf if h is None else rounded_up_h(h) for h in found.all_hours_to_aim(setup)])
    temp = float(temps[_best(setup, goal, temps, hours, ready_in_h)] if np.isfinite(hours).any() else temps[-1])
    exact = hours_needed(setup, temp)
    held_by = ceiling(setup) if temp == temps[-1] else None
    if exact is None:
        return Choice(temp, setup.lead.material.schools["usual"].duration_h, held_by, reaches=False)
    duration = rounded_up_h(exact)
    return Choice(temp, duration, held_by, in_time=goal is not Goal.READY_BY or duration <= ready_in_h)


def choose(way: str, setup: Setup, ready_in_h: float = GENTLE_PATIENCE_H) -> Choice:
    """The temperature and hours for this load by one of `WAYS`, inside the dryer's range and under every limit.

    A school gives the temperature and the physics the hours; maker's sheet and own programme are taken as they stand.
    `ready_in_h` counts for "ready_by" alone. Raises OutOfRangeError for an unknown way, for a material that needs no
    drying, and where no temperature of this dryer is safe for the load.
    """
    if way not in WAYS:
        raise OutOfRangeError("way", f"There is no way '{way}' to choose by. Known: {', '.join(WAYS)}.")
    if not setup.lead.material.schools:
        raise OutOfRangeError("spool", f"{setup.lead.material.name} takes up too little water to need drying.")
    return _by_goal(setup, Goal(way), ready_in_h) if way in list(Goal) else _by_programme(setup, way)


@dataclass(frozen=True)
class Forecast:
    """Moisture over a run, % of dry mass: arrays of one length, `low_pct` to `high_pct` the 90 % band.

    `basis` says what was computed: "wound_pack", "shared_box" or "loose_coil".
    """

    time_h: Array
    moisture_pct: Array
    low_pct: Array
    high_pct: Array
    floor_pct: float
    basis: str


def forecasts(setup: Setup, air_c: float, time_h: Sequence[float] | npt.NDArray[np.float64]) -> tuple[Forecast, ...]:
    """Moisture of every load at each time in h, dried at `air_c` in this dryer, which is vented with this room's air.

    The band comes from linear propagation, see `bands`; the doubt of what the dryer's setting gives is part of it.
    What earlier runs taught of the rate stretches time and narrows the band.
    Spools that share a box have the width of their bands computed each with its even part of the exchange flow.
    Raises OutOfRangeError for a temperature outside 0..200 °C.
    """
    times = np.asarray(time_h, dtype=np.float64)
    doubt_c = setup.dryer.dial.setting(air_c, setup.room.temp_c).air.uncertainty
    found = []
    middles = setup.courses(air_c, times) if setup.shared else [None] * len(setup.loads)
    for load, middle in zip(setup.loads, middles, strict=True):
        alone, k = setup.alone(load), 1.0 if setup.shared else load.rate.median
        end = float(times.max()) * k
        about = [alone.segments(load, min(max(t, 0.0), 200.0), end) for t in (air_c + doubt_c, air_c - doubt_c)]
        learned = load.rate.sigma / UNKNOWN_RATE.sigma
        band = forecast_band(load.strand, load.start, alone.segments(load, air_c, end), times * k, about, learned)
        band = replace(band, time_h=times)
        basis = "loose_coil" if load.form == "loose" else "wound_pack" if middle is None else "shared_box"
        if middle is not None:
            wide = BAND_SIGMAS * band.sd_pct
            band = replace(band, moisture_pct=middle, low_pct=np.maximum(middle - wide, 0.0), high_pct=middle + wide)
        floor = setup.floor_pct(load, air_c)
        found.append(Forecast(times, band.moisture_pct, band.low_pct, band.high_pct, floor, basis))
    return tuple(found)


@dataclass(frozen=True)
class Member:
    """What a run brings one of its spools: the moisture at the end with its 90 % band, when it comes to its aim (and
    the band of that; None where it does not while the forecast lasts), and the water that leaves, g.
    """

    aim_pct: float
    end_pct: float
    end_low_pct: float
    end_high_pct: float
    floor_pct: float
    ready_h: float | None
    ready_early_h: float | None
    ready_late_h: float | None
    water_out_g: float | None


@dataclass(frozen=True)
class Ticket:
    """What to do at the bench: what to set for `air_c` at the spool, the timer's turns, when to turn the spool over and
    to weigh (h from the start), what comes of it for each spool, which is the last to be ready, what it draws.
    """

    air_c: float
    setting: Setting
    duration_h: float
    turns: tuple[Turn, ...]
    turn_over_h: float
    weigh_at_h: tuple[float, ...]
    members: tuple[Member, ...]
    last: int | None
    power_w: Quantity
    energy_kwh: Quantity
    forecasts: tuple[Forecast, ...]
    cautions: tuple[Caution, ...]


def _member(load: Load, course: Forecast, end: int) -> Member:
    dry, aim = load.dry_mass_g, load.aim_pct
    moisture = float(course.moisture_pct[end])
    return Member(
        aim_pct=aim,
        end_pct=moisture,
        end_low_pct=float(course.low_pct[end]),
        end_high_pct=float(course.high_pct[end]),
        floor_pct=course.floor_pct,
        ready_h=hours_to(aim, course.time_h, course.moisture_pct),
        ready_early_h=hours_to(aim, course.time_h, course.low_pct),
        ready_late_h=hours_to(aim, course.time_h, course.high_pct),
        water_out_g=None if dry is None else dry * (load.start.value - moisture) / 100.0,
    )


def _last(members: Sequence[Member]) -> int | None:
    """Which spool comes last to its aim: one that never does before all others. None where there is but one."""
    if len(members) < 2:
        return None
    return max(range(len(members)), key=lambda n: math.inf if (h := members[n].ready_h) is None else h)


def write_ticket(setup: Setup, choice: Choice) -> Ticket:
    """The run ticket for this choice of temperature and hours, with the forecast that it rests on.

    Raises OutOfRangeError for hours outside 0.1 to 400 or a temperature outside 0 to 200 °C.
    """
    require_range("duration_h", choice.duration_h, 0.1, 400.0, "h")
    times = np.append(choice.duration_h * CURVE_BEYOND * np.linspace(0.0, 1.0, CURVE_POINTS) ** 2, choice.duration_h)
    times = np.unique(times)
    courses = forecasts(setup, choice.temp_c, times)
    end = int(np.searchsorted(times, choice.duration_h))
    members = tuple(_member(load, c, end) for load, c in zip(setup.loads, courses, strict=True))
    power = mean_power_w(setup.dryer, setup.room.temp_c, choice.temp_c)
    last = _last(members)
    slowest = last or 0
    weigh = best_times_h(setup.loads[slowest], times, courses[slowest].moisture_pct, choice.duration_h)
    return Ticket(
        air_c=choice.temp_c,
        setting=setup.dryer.dial.setting(choice.temp_c, setup.room.temp_c),
        duration_h=choice.duration_h,
        turns=setup.dryer.timer_turns(choice.duration_h),
        turn_over_h=choice.duration_h * TURN_OVER_SHARE,
        weigh_at_h=tuple(round(t * 4.0) / 4.0 for t in weigh),
        members=members,
        last=last,
        power_w=power,
        energy_kwh=Quantity(*(x * choice.duration_h / 1000.0 for x in (power.value, power.uncertainty))),
        forecasts=courses,
        cautions=tuple(cautions(setup, choice.temp_c, choice.held_by, [m.end_pct for m in members])),
    )
