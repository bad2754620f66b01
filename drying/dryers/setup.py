"""The set-up of a run: what goes into which dryer in which room, and the courses that come of it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cache

import numpy as np
import numpy.typing as npt

from drying.air import RoomAir
from drying.arrays import Array
from drying.cache import Cache
from drying.dryers.desiccated import FOLLOWED_H, BoxCourse, OverDesiccant, activity_at_rest, over_desiccant, whole_kg
from drying.dryers.dryer import Dryer
from drying.dryers.load import Load, common_rate, filament_at_rate, occupant
from drying.dryers.shared_box import SharedState, shared_courses
from drying.errors import OutOfRangeError, require_range
from drying.grouping import alike
from drying.materials import (
    equilibrium_moisture_pct,
    floor_pct,
)
from drying.storage import Charge
from drying.transport import (
    Case,
    Segment,
    State,
    as_it_warms,
    courses,
    end_states,
    even_state,
    in_common_winding,
    in_open_winding,
    times_inside,
    up_to,
    warmed_through,
    warming_h,
)
from drying.transport.heat import effective_temperature_c

SHARED_WARM_UP_PARTS, SHARED_WARMING_STEPS = 2, 3


@dataclass(frozen=True)
class Setup:
    """With what a run is made: the spools that go in together (the one that is asked about first), the dryer, and the
    air of the room that it is vented with, whose warmth they have. `slower_warming`: how many times as long they take
    to warm through as is computed. `cut_as_shared`: their warm-up is cut into as few parts as where spools share a box.
    """

    loads: tuple[Load, ...]
    dryer: Dryer
    room: RoomAir
    slower_warming: float = 1.0
    cut_as_shared: bool = False

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
        """True where several wound spools share the exchange flow of the box; with desiccant they share its air, which
        is found first (see `desiccated`).
        """
        return self.dryer.desiccant is None and sum(load.is_wound for load in self.loads) > 1

    def floor_pct(self, load: Load, air_c: float) -> float:
        """Where drying this load at `air_c` ends, % of dry mass: at the temperature that its course is computed at. In
        a closed box it ends where it begins.
        """
        return self._floors_pct([load], air_c)[0]

    def floors_pct(self, air_c: float) -> list[float]:
        """The same of every load."""
        return self._floors_pct(self.loads, air_c)

    def _floors_pct(self, loads: Sequence[Load], air_c: float) -> list[float]:
        if self.dryer.is_closed:
            return [load.start.value for load in loads]  # nothing leaves a closed box

        def steady_c(load: Load) -> float:
            of = load if not self.shared and self.dryer.desiccant is None else self.lead  # as `segments`
            return effective_temperature_c(of.material, air_c, self.dryer.used("swing_c"))

        if self.dryer.desiccant is not None and self.dryer.has_no_vent:
            at_rest = self._activity_at_rest(self.dryer.desiccant, steady_c(self.lead))
            return [equilibrium_moisture_pct(load.material, at_rest) for load in loads]
        return [floor_pct(load.material, self.dryer.takes_in(self.room), steady_c(load)) for load in loads]

    def _activity_at_rest(self, desiccant: Charge, temp_c: float) -> float:
        there = [occupant(load) for load in self.loads]
        strands = [(one.filament.material, one.strand_kg) for one in there]
        return activity_at_rest(strands, desiccant, whole_kg(there, desiccant), temp_c)

    def segments(self, load: Load, air_c: float, duration_h: float) -> list[Segment]:
        """The run as this load meets it, at its own temperature: it comes in with the room's and warms through.

        Where spools share a box the warm-up is cut into fewer parts: each costs a solution. All go at the pace of the
        one that warms through slowest, and the first spool's activation energy gives the effective temperature under
        the thermostat's swing. Over desiccant it is the air that this keeps, as free air.
        """
        if self.dryer.desiccant is not None:
            [over] = dried([(self, air_c)])
            return _over(self, load, over, duration_h)
        if self.shared or self.cut_as_shared:
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

    def end_states(self, air_c: float, duration_h: float) -> list[State]:
        """Where the water is in each load after so many hours at `air_c`."""
        if self.shared:
            return list(_walked([(self, air_c)], [np.array([duration_h])])[0].state.spools)
        met = [at_rate(self.segments(load, air_c, duration_h), load.rate.median) for load in self.loads]
        starts = [even_state(load.filament, load.start.value) for load in self.loads]
        return end_states(list(zip([load.filament for load in self.loads], starts, met, strict=True)))

    def alone(self, load: Load) -> Setup:
        """This load by itself with its even part of the exchange flow: for how a band widens, not for its middle; 0.3 %
        of its width hangs on how its warm-up is cut. Over desiccant it is as it was: each meets the air that is kept
        for all.
        """
        if self.dryer.desiccant is not None:
            return self
        flow = self.dryer.used("vent_m3_h") / len(self.loads) if self.shared else self.dryer.vent_m3_h
        dryer = replace(self.dryer, vent_m3_h=flow)
        return replace(self, loads=(load,), dryer=dryer, cut_as_shared=self.shared)


@cache
def kept_air() -> Cache[OverDesiccant]:
    """The air over desiccant, by run: one plan asks for the same several times."""
    return Cache(128)


def dried(runs: Sequence[tuple[Setup, float]]) -> list[OverDesiccant]:
    """The air that desiccant keeps in each of several runs, a set-up and the °C of its air each; those that are not
    known yet side by side.
    """
    return kept_air().get_each(runs, _dried)


def _dried(runs: Sequence[tuple[Setup, float]]) -> list[OverDesiccant]:
    return over_desiccant([([occupant(load) for load in run[0].loads], _box_course(*run)) for run in runs])


def _over(setup: Setup, load: Load, over: OverDesiccant, duration_h: float) -> list[Segment]:
    """The air that desiccant keeps as this load meets it, at its own temperature."""
    # Cut only once it has warmed through, so that an early hour does not depend on how many are asked for.
    met = as_it_warms(load.filament, over.pieces, setup.room.temp_c, setup.dryer.fan, setup.slower_warming)
    return up_to(duration_h, met)


def _box_course(setup: Setup, air_c: float) -> BoxCourse:
    """A run as its desiccant meets it: the box goes on for as long as anybody may ask."""
    assert setup.dryer.desiccant is not None
    box = setup.dryer.segments(setup.lead.material, setup.room, air_c, FOLLOWED_H, SHARED_WARM_UP_PARTS)
    charges = ((0.0, setup.dryer.desiccant),)
    return box_course(setup.loads, box, charges, setup.room.temp_c, setup.dryer.fan, setup.slower_warming)


def box_course(
    loads: Sequence[Load],
    box: Sequence[Segment],
    charges: Sequence[tuple[float, Charge]],
    start_temp_c: float,
    fan: bool | None,
    slower: float = 1.0,
) -> BoxCourse:
    """What a box with desiccant does, from what it does at its own temperature and the desiccant put in, with its
    hours; its loads came in at `start_temp_c`, and all warm at the pace of the slowest.
    """
    return BoxCourse(tuple(going_on(box)), tuple(charges), start_temp_c, _slowest_h(loads, fan) * slower)


def going_on(box: Sequence[Segment]) -> list[Segment]:
    """The segments of a box whose last goes on for as long as anybody may ask: its windings come to its temperature."""
    *before, last = box
    return [*before, replace(last, duration_h=FOLLOWED_H)]


def courses_of(runs: Sequence[tuple[Setup, float]], time_h: npt.ArrayLike) -> Array:
    """Moisture of each load, % of dry mass, at times in h in several runs with the same loads, each a set-up and the °C
    of its air, side by side; shape (loads, runs, times).

    Raises OutOfRangeError for a temperature outside 0..200 °C.
    """
    return np.stack(courses_each(runs, [time_h] * len(runs)), axis=1)


def courses_each(runs: Sequence[tuple[Setup, float]], time_h: Sequence[npt.ArrayLike]) -> list[Array]:
    """Moisture of the loads of each run, % of dry mass, at that run's own times in h, shape (loads, times) each; runs
    may have different loads. Side by side, at a third of what they cost one by one.

    Raises OutOfRangeError for a temperature outside 0..200 °C.
    """
    for _, air_c in runs:
        require_range("temp_c", air_c, 0.0, 200.0, "°C")
    times = [np.asarray(of_one, dtype=np.float64) for of_one in time_h]
    found: dict[int, Array] = {}
    for shared in (True, False):
        which = [n for n, (setup, _) in enumerate(runs) if setup.shared == shared]
        these, at = [runs[n] for n in which], [times[n] for n in which]
        found.update(zip(which, _shared_courses(these, at) if shared else _own_courses(these, at), strict=True))
    return [found[n] for n in range(len(runs))]


def _own_courses(runs: Sequence[tuple[Setup, float]], time_h: Sequence[Array]) -> list[Array]:
    having = [n for n, (setup, _) in enumerate(runs) if setup.dryer.desiccant is not None]
    kept = dict(zip(having, dried([runs[n] for n in having]), strict=True))
    cases, asked = list[Case](), list[Array]()
    for n, ((setup, air_c), times) in enumerate(zip(runs, time_h, strict=True)):
        end = float(times.max())
        for load in setup.loads:
            met = _over(setup, load, kept[n], end) if n in kept else setup.segments(load, air_c, end)
            start, rate = even_state(load.filament, load.start.value), load.rate.median
            cases.append((load.filament, start, at_rate(met, rate)))
            asked.append(times * rate)
    found = iter(courses(cases, asked))
    return [np.array([next(found) for _ in setup.loads]) for setup, _ in runs]


@dataclass
class _Box:
    """A box on its way through its segments: the states that its spools have come to at `begin_h`, and the moisture
    found so far at its times, shape (loads, times).
    """

    segments: Sequence[Segment]
    time_h: Array
    state: SharedState
    found: Array
    begin_h: float = 0.0


def _shared_courses(runs: Sequence[tuple[Setup, float]], time_h: Sequence[Array]) -> list[Array]:
    found: dict[int, Array] = {}
    for which in alike(setup.loads for setup, _ in runs):
        boxes = _walked([runs[n] for n in which], [time_h[n] for n in which])
        found.update(zip(which, (box.found for box in boxes), strict=True))
    return [found[n] for n in range(len(runs))]


def _walked(runs: Sequence[tuple[Setup, float]], time_h: Sequence[Array]) -> list[_Box]:
    """Boxes with the same loads, each at the last of its times."""
    loads = runs[0][0].loads
    common = common_rate(loads)
    filaments = [filament_at_rate(load.filament, load.rate.median / common) for load in loads]
    start = SharedState(tuple(even_state(load.filament, load.start.value) for load in loads))
    boxes = []
    for (setup, air_c), times in zip(runs, time_h, strict=True):
        segments = at_rate(setup.segments(setup.lead, air_c, float(times.max())), common)
        first = np.repeat([[load.start.value] for load in loads], times.size, axis=1)
        boxes.append(_Box(segments, times * common, start, first))
    for n in range(max(len(box.segments) for box in boxes)):
        here = [box for box in boxes if n < len(box.segments)]
        at = [times_inside(box.begin_h, box.segments[n].duration_h, box.time_h) for box in here]
        asked = [box.time_h[inside] - box.begin_h for box, inside in zip(here, at, strict=True)]
        reached = shared_courses(filaments, [box.state for box in here], [box.segments[n] for box in here], asked)
        for box, inside, (moisture, state) in zip(here, at, reached, strict=True):
            box.found[:, inside] = moisture
            box.state, box.begin_h = state, box.begin_h + box.segments[n].duration_h
    return boxes


def all_warmed_through(
    loads: Sequence[Load], box: Sequence[Segment], start_temp_c: float, fan: bool | None, slower: float = 1.0
) -> list[Segment]:
    """What spools that share a box meet, all at the temperature of the one that warms through slowest."""
    return warmed_through(box, start_temp_c, _slowest_h(loads, fan) * slower, SHARED_WARMING_STEPS)


def _slowest_h(loads: Sequence[Load], fan: bool | None) -> float:
    return max(warming_h(load.filament, fan) for load in loads)


def at_rate(segments: Sequence[Segment], rate: float) -> list[Segment]:
    """Conditions for a load that dries `rate` times as fast as computed: time is stretched, the clock's moments of
    warm-up and pauses stay where they are. Times along them are multiplied by `rate` too.
    """
    return [replace(segment, duration_h=segment.duration_h * rate) for segment in segments]


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
