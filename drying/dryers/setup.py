"""What goes into a dryer: each spool as a run needs to know it, and the set-up of a run."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np
import numpy.typing as npt

from drying.air import RoomAir
from drying.arrays import Array
from drying.dryers.dryer import Dryer
from drying.dryers.shared_box import SharedState, shared_courses
from drying.errors import OutOfRangeError, require_range
from drying.materials import EmptySpoolKind, Material, floor_pct, most_from_air_pct, most_held_pct
from drying.quantity import Quantity
from drying.transport import (
    DEFAULT_WINDING,
    UNKNOWN_RATE,
    Case,
    Filament,
    Rate,
    Segment,
    as_it_warms,
    courses,
    even_state,
    in_common_winding,
    in_open_winding,
    times_inside,
    warmed_through,
    warming_h,
    winding_of_mass,
)
from drying.transport.heat import effective_temperature_c

FULL_SPOOL_G = 1000.0
SHARED_WARM_UP_PARTS, SHARED_WARMING_STEPS = 2, 3


@dataclass(frozen=True)
class MakersSheet:
    """What the data sheet of this very spool says: °C, hours, and whether it asks for drying only once opened."""

    temp_c: float
    duration_h: float
    only_if_opened: bool = False

    def __post_init__(self) -> None:
        require_range("sheet_temp_c", self.temp_c, 20.0, 200.0, "°C")
        require_range("sheet_hours", self.duration_h, 0.25, 400.0, "h")


@dataclass(frozen=True)
class Load:
    """A spool that goes in: what it is made of, how wet it is, how large.

    `start` moisture in % of dry mass with standard uncertainty; `net_g` mass of the strand as it is now, None where
    the spool was never weighed (then it is taken as full). `form` is "wound" or "loose"; hub radius, width and outer
    diameter of the spool in mm. `aim`: where drying is to end, % of dry mass; None for the clean threshold. `rate`:
    how fast it dries against what is computed, as earlier runs teach. `soaked`: it lay in water, so that some hangs on
    the strand and between the turns. `open_winding`: every turn of it dries as if it lay free, see
    `Dryer.opens_winding`.
    """

    material: Material
    empty_spool: EmptySpoolKind
    strand_diameter_mm: float
    start: Quantity
    net_g: float | None
    form: str = "wound"
    hub_radius_mm: float = DEFAULT_WINDING.hub_radius_mm
    width_mm: float = DEFAULT_WINDING.width_mm
    diameter_mm: float = 200.0
    sheet: MakersSheet | None = None
    aim: float | None = None
    rate: Rate = UNKNOWN_RATE
    soaked: bool = False
    open_winding: bool = False

    @property
    def filament(self) -> Filament:
        """What the water moves in."""
        winding = None
        if self.is_wound:
            net_g = FULL_SPOOL_G if self.net_g is None else max(self.net_g, 1.0)
            winding = winding_of_mass(net_g, self.material.density.value, self.hub_radius_mm, self.width_mm)
        return Filament(self.material, self.strand_diameter_mm, winding)

    @property
    def is_wound(self) -> bool:
        """Whether the vapour must find its way between the turns."""
        return self.form == "wound" and not self.open_winding

    @property
    def aim_pct(self) -> float:
        """Where drying is to end, % of dry mass."""
        return self.material.aim_pct if self.aim is None else self.aim

    @property
    def most_pct(self) -> float:
        """The most that it may hold, % of dry mass: from air, or from the water that it lay in."""
        return most_held_pct(self.material) if self.soaked else most_from_air_pct(self.material)

    @property
    def dry_mass_g(self) -> float | None:
        """Mass of the strand without its water, g, from the net mass and the moisture now."""
        return None if self.net_g is None else self.net_g / (1.0 + self.start.value / 100.0)


FIGURES = 3  # of a moisture: an hour more or less on the shelf changes the fourth


def _to_figures(value: float) -> float:
    return float(f"{value:.{FIGURES}g}")


def as_planned(load: Load) -> Load:
    """A load with no more digits than are known of it, so that a question asked again a minute later, or on another
    screen, has the same answer: moisture to three figures, mass to a gram.
    """
    start = Quantity(_to_figures(load.start.value), _to_figures(load.start.uncertainty))
    return replace(load, start=start, net_g=None if load.net_g is None else max(round(load.net_g), 1.0))


def room_as_planned(room: RoomAir) -> RoomAir:
    """The room's air with no more digits than a meter is good for: half a degree, one per cent."""
    return RoomAir(round(2.0 * room.temp_c) / 2.0, float(round(room.rh_pct)))


@dataclass(frozen=True)
class Setup:
    """With what a run is made: the spools that go in together (the one that is asked about first), the dryer, and the
    air of the room that it is vented with, whose warmth they have. `slower_warming`: how many times as long they take
    to warm through as is computed.
    """

    loads: tuple[Load, ...]
    dryer: Dryer
    room: RoomAir
    slower_warming: float = 1.0

    def __post_init__(self) -> None:
        if not self.loads:
            raise OutOfRangeError("loads", "Nothing goes in: give at least one spool.")
        object.__setattr__(self, "loads", tuple(self._as_in_dryer(load) for load in self.loads))

    def _as_in_dryer(self, load: Load) -> Load:
        """A load with what this dryer makes of its winding; a coil has none."""
        is_open = self.dryer.opens_winding and load.form == "wound"
        if load.open_winding == is_open:
            return load
        rate = in_open_winding(load.rate) if is_open else in_common_winding(load.rate)
        return replace(load, open_winding=is_open, rate=rate)

    @property
    def lead(self) -> Load:
        """The spool that is asked about."""
        return self.loads[0]

    @property
    def shared(self) -> bool:
        """True where several wound spools share the exchange flow of the box."""
        return sum(load.is_wound for load in self.loads) > 1

    def floor_pct(self, load: Load, air_c: float) -> float:
        """Where drying this load at `air_c` ends, % of dry mass: at the temperature that its course is computed at. In
        a closed box it ends where it begins.
        """
        if self.dryer.is_closed:
            return load.start.value  # nothing leaves a closed box
        of = self.lead if self.shared else load  # as `segments`
        steady = effective_temperature_c(of.material, air_c, self.dryer.used("swing_c"))
        return floor_pct(load.material, self.dryer.takes_in(self.room), steady)

    def segments(self, load: Load, air_c: float, duration_h: float) -> list[Segment]:
        """The run as this load meets it, at its own temperature: it comes in with the room's and warms through.

        Where spools share a box the warm-up is cut into fewer parts: each costs a solution. All go at the pace of the
        one that warms through slowest, and the first spool's activation energy gives the effective temperature under
        the thermostat's swing.
        """
        if self.shared:
            box = self.dryer.segments(self.lead.material, self.room, air_c, duration_h, SHARED_WARM_UP_PARTS)
            return all_warmed_through(self.loads, box, self.room.temp_c, self.dryer.fan, self.slower_warming)
        box = self.dryer.segments(load.material, self.room, air_c, duration_h)
        return as_it_warms(load.filament, box, self.room.temp_c, self.dryer.fan, self.slower_warming)

    def courses(self, air_c: float, time_h: npt.ArrayLike) -> Array:
        """Moisture of each load, % of dry mass, at times in h, dried at `air_c`; shape (loads, times).

        Raises OutOfRangeError for a temperature outside 0..200 °C.
        """
        return self.courses_at([air_c], time_h)[:, 0]

    def courses_at(self, temps_c: Sequence[float], time_h: npt.ArrayLike) -> Array:
        """The same for several temperatures side by side, which is cheaper; shape (loads, temperatures, times)."""
        return courses_of([(self, air_c) for air_c in temps_c], time_h)

    def alone(self, load: Load) -> Setup:
        """This load by itself with its even part of the exchange flow: for how a band widens, not for its middle."""
        flow = self.dryer.used("vent_m3_h") / len(self.loads) if self.shared else self.dryer.vent_m3_h
        return replace(self, loads=(load,), dryer=replace(self.dryer, vent_m3_h=flow))


def courses_of(runs: Sequence[tuple[Setup, float]], time_h: npt.ArrayLike) -> Array:
    """Moisture of each load, % of dry mass, at times in h in several runs with the same loads, each a set-up and the °C
    of its air, side by side; shape (loads, runs, times).

    Raises OutOfRangeError for a temperature outside 0..200 °C.
    """
    for _, air_c in runs:
        require_range("temp_c", air_c, 0.0, 200.0, "°C")
    times = np.asarray(time_h, dtype=np.float64)
    return _shared_courses(runs, times) if runs[0][0].shared else _own_courses(runs, times)


def _own_courses(runs: Sequence[tuple[Setup, float]], times: Array) -> Array:
    end, found = float(times.max()), []
    for load in runs[0][0].loads:
        rate, start = load.rate.median, even_state(load.filament, load.start.value)
        cases: list[Case] = [
            (load.filament, start, at_rate(setup.segments(load, air_c, end), rate)) for setup, air_c in runs
        ]
        found.append(courses(cases, [times * rate] * len(cases)))
    return np.array(found)


@dataclass
class _Box:
    """A box on its way through its segments: the states that its spools have come to at `begin_h`."""

    number: int
    segments: Sequence[Segment]
    state: SharedState
    begin_h: float = 0.0


def _shared_courses(runs: Sequence[tuple[Setup, float]], times: Array) -> Array:
    loads = runs[0][0].loads
    common = common_rate(loads)
    filaments = [filament_at_rate(load.filament, load.rate.median / common) for load in loads]
    start = SharedState(tuple(even_state(load.filament, load.start.value) for load in loads))
    found = np.empty((len(loads), len(runs), times.size))
    found[:] = np.array([load.start.value for load in loads])[:, None, None]
    stretched, end = times * common, float(times.max())
    boxes = [
        _Box(number, at_rate(setup.segments(setup.lead, air_c, end), common), start)
        for number, (setup, air_c) in enumerate(runs)
    ]
    for n in range(max(len(box.segments) for box in boxes)):
        here = [box for box in boxes if n < len(box.segments)]
        at = [times_inside(box.segments[n], box.begin_h, stretched) for box in here]
        asked = [stretched[inside] - box.begin_h for box, inside in zip(here, at, strict=True)]
        reached = shared_courses(filaments, [box.state for box in here], [box.segments[n] for box in here], asked)
        for box, inside, (moisture, state) in zip(here, at, reached, strict=True):
            found[:, box.number, inside] = moisture
            box.state, box.begin_h = state, box.begin_h + box.segments[n].duration_h
    return found


def all_warmed_through(
    loads: Sequence[Load], box: Sequence[Segment], start_temp_c: float, fan: bool | None, slower: float = 1.0
) -> list[Segment]:
    """What spools that share a box meet, all at the temperature of the one that warms through slowest."""
    slowest_h = max(warming_h(load.filament, fan) for load in loads) * slower
    return warmed_through(box, start_temp_c, slowest_h, SHARED_WARMING_STEPS)


def at_rate(segments: Sequence[Segment], rate: float) -> list[Segment]:
    """Conditions for a load that dries `rate` times as fast as computed: time is stretched, the clock's moments of
    warm-up and pauses stay where they are. Times along them are multiplied by `rate` too.
    """
    return [replace(segment, duration_h=segment.duration_h * rate) for segment in segments]


def common_rate(loads: Sequence[Load]) -> float:
    """How fast the spools that share a box dry against what is computed, all in all: the geometric mean."""
    logs = [math.log(load.rate.median) for load in loads if load.is_wound]
    return math.exp(sum(logs) / len(logs)) if logs else 1.0


@lru_cache(maxsize=256)
def filament_at_rate(filament: Filament, rate: float) -> Filament:
    """A filament whose strand and gaps let water through `rate` times as fast. Kept, since solutions are kept by it.

    Gaps cannot be straighter than straight: a tortuosity stays at one or above.
    """
    if abs(rate - 1.0) < 1e-9:
        return filament
    d23 = replace(filament.material.d23, value=filament.material.d23.value * rate)
    winding = filament.winding
    if winding is not None:
        winding = replace(winding, tortuosity=max(1.0, winding.tortuosity / rate))
    return replace(filament, material=replace(filament.material, d23=d23), winding=winding)


def hours_to(aim_pct: float, time_h: Array, moisture_pct: Array) -> float | None:
    """When a course first comes down to `aim_pct`, h, between its points by a straight line; None where it does
    not, and where it begins there and is wetted past it.
    """
    under = np.flatnonzero(moisture_pct <= aim_pct)
    if under.size == 0:
        return None
    at = int(under[0])
    if at == 0:
        return float(time_h[0]) if moisture_pct[-1] <= aim_pct else None
    before, after = moisture_pct[at - 1], moisture_pct[at]
    return float(time_h[at - 1] + (time_h[at] - time_h[at - 1]) * (before - aim_pct) / (before - after))


def all_hours_to(loads: Sequence[Load], time_h: Array, moisture_pct: Array) -> float | None:
    """When the last of several loads has come to its aim; None where one of them does not."""
    each = [hours_to(load.aim_pct, time_h, row) for load, row in zip(loads, moisture_pct, strict=True)]
    known = [hours for hours in each if hours is not None]
    return max(known) if len(known) == len(each) else None
