"""The rack over time: each lane with its trace, its stays, runs and weighings, and the next act."""

import math
from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from datetime import datetime

import numpy as np

from darre.common.written import Written
from darre.inventory.models import Spool
from darre.moisture.apps import moisture_state
from darre.moisture.best import Heat, Workshop, workshop
from darre.moisture.lanes import Lane, SimulatedShelf, course_of, lanes_of, shelf_now
from darre.moisture.shelf import Shelf, dried_itself
from darre.places.room_air import hour_of, moment
from darre.places.selectors import StayRow
from darre.runs.models import Run
from darre.runs.records import hours_between, read_forecasts
from darre.runs.selectors import forecast_of, run_so_far
from drying.air import dew_point_c
from drying.arrays import Array
from drying.moisture import NEXT_ACT_H, Ahead, NextAction, next_action

MOST_POINTS = 170
LEAST_AHEAD_H, AHEAD_SHARE = 6, 0.2


@dataclass(frozen=True)
class Window:
    """What of time is shown: hours since 1970, from `first` to `last`, a point every `step` hours."""

    first: int
    last: int
    step: int

    @property
    def hours(self) -> np.ndarray:
        """The hours that have a point."""
        return np.arange(self.first, self.last + 1, self.step)


def window(now: datetime, back_h: int) -> Window:
    """The window that reaches `back_h` back, and a fifth of that ahead."""
    ahead = max(LEAST_AHEAD_H, round(back_h * AHEAD_SHARE))
    step = max(1, math.ceil((back_h + ahead) / MOST_POINTS))
    first = (hour_of(now) - back_h) // step * step
    return Window(first, hour_of(now) + ahead, step)


@dataclass(frozen=True)
class LaneWeighing:
    """A weigh-in on a lane."""

    at: datetime
    moisture_pct: float


@dataclass(frozen=True)
class Traced:
    """A lane with what the window shows of it: the trace with its standard uncertainty, None where nothing is known;
    `heat`: the run that would be planned for it, where it is to be dried; `written`: itself in answers, by its heat.
    """

    lane: Lane
    pct: list[float | None]
    sd: list[float | None]
    stays: list[StayRow]
    runs: list[Run]
    weighed: list[LaneWeighing]
    next: NextAction
    heat: Heat | None = None
    written: Written = field(default_factory=Written, compare=False, repr=False)


@dataclass(frozen=True)
class Rack:
    """All lanes over a window, and the room's dew point below them."""

    now: datetime
    start: datetime
    step_h: int
    points: int
    lanes: list[Traced]
    dew_point_c: list[float]
    measured: list[bool]


def rack(now: datetime, back_h: int, only: Sequence[int] | None = None) -> Rack:
    """Every spool's lane over the window (or those of some), wettest first. Constant number of queries."""
    seen = window(now, back_h)
    simulated = shelf_now(now, back_h + seen.step, seen.last - hour_of(now))
    index = {s.pk: n for n, s in enumerate(simulated.shelf.spools)}
    read_forecasts(simulated.shelf.drawn(moment(seen.first), only))
    here = workshop(now, simulated.shelf.book)
    lanes = traced([(lane, index[lane.spool.pk]) for lane in lanes_of(simulated, only)], simulated, seen, here)
    hours = np.clip(seen.hours - simulated.room.first, 0, simulated.room.temp_c.size - 1)
    dew = [
        round(dew_point_c(float(t), max(100.0 * float(a), 0.01)), 2)
        for t, a in zip(simulated.room.temp_c[hours], simulated.room.activity[hours], strict=True)
    ]
    measured = [bool(m) for m in simulated.room.measured[hours]]
    return Rack(now, moment(seen.first), seen.step, seen.hours.size, lanes, dew, measured)


def traced(lanes: Sequence[tuple[Lane, int]], simulated: SimulatedShelf, seen: Window, here: Workshop) -> list[Traced]:
    """Lanes, each with its spool's number on the shelf, with what a window shows of them."""
    found = [_traced_now(simulated, lane, n, seen) for lane, n in lanes]
    to_dry = [n for n, each in enumerate(found) if each.next.is_to_dry]
    for n, heat in zip(to_dry, here.heat_each([found[n].lane for n in to_dry]), strict=True):
        found[n] = replace(found[n], heat=heat)
    return found


def _traced_now(simulated: SimulatedShelf, lane: Lane, n: int, seen: Window) -> Traced:
    """The trace that was drawn before where the lane is the very same, and what is to come of it too."""
    key = lane.spool.pk, seen
    history = simulated.histories.digest(n, max(seen.last, hour_of(simulated.shelf.now) + NEXT_ACT_H))
    kept = moisture_state().traces.peek(key)
    if kept is None or kept[0] != history or kept[1].lane is not lane:
        kept = history, _traced(simulated, lane, n, seen)
        moisture_state().traces.put(key, kept)
    return kept[1]


def _traced(simulated: SimulatedShelf, lane: Lane, n: int, seen: Window) -> Traced:
    line, runs = simulated.histories.spools[n], simulated.shelf.runs[lane.spool.pk]
    moisture, sd = drawn_course(simulated, lane, n)
    at = seen.hours - line.first
    coming = slice(hour_of(simulated.shelf.now) + 1 - line.first, None)
    ahead = Ahead(np.append(lane.moisture.value, moisture[coming]), np.append(lane.next_pct, line.next_pct[coming]))
    begin = moment(seen.first)
    return Traced(
        lane=lane,
        pct=_drawn(moisture, at),
        sd=_drawn(sd, at),
        stays=[s for s in simulated.shelf.stays[lane.spool.pk] if s.until is None or s.until > begin],
        runs=[r for r in runs if r.ended_at is None or r.ended_at > begin],
        weighed=_weighed(simulated.shelf, lane.spool, moisture, line.first, begin),
        next=next_action(lane.material, ahead, lane.run is not None),
    )


def _drawn(row: Array, at: np.ndarray) -> list[float | None]:
    """A row's values at some of its hours, to four digits; None before its first hour and where nothing is known."""
    values = np.round(np.where(at >= 0, row[np.maximum(at, 0)].astype(float), math.nan), 4)
    found: list[float | None] = values.tolist()
    for n in np.flatnonzero(np.isnan(values)).tolist():
        found[n] = None
    return found


def drawn_course(simulated: SimulatedShelf, lane: Lane, n: int) -> tuple[Array, Array]:
    """A spool's moisture and its sd as they are drawn, hour by hour: as simulated, with the runs laid over in which the
    simulation only stands still.
    """
    line = simulated.histories.spools[n]
    moisture, sd = line.moisture_pct.copy(), line.sd_pct.copy()
    for run in simulated.shelf.runs[lane.spool.pk]:
        if run.ended_at is not None and run.ended_at <= simulated.shelf.now and dried_itself(run):
            _draw_ended(simulated, run, moisture)
    if lane.run is not None:
        _draw_running(simulated, lane.run, moisture, sd)
    return moisture, sd


def _hours_drawn(simulated: SimulatedShelf, run: Run, end: int) -> np.ndarray:
    """The hours of a run up to its end that are simulated at all."""
    begin, first = hour_of(run.started_at), simulated.histories.first
    last = first + simulated.histories.spools[0].moisture_pct.size - 1
    return np.arange(max(begin, first), min(max(end, begin + 1), last) + 1)


def _draw_ended(simulated: SimulatedShelf, run: Run, moisture: Array) -> None:
    """The forecast's shape, between what was expected at the run's start and what it came to."""
    length_h = hours_between(run.started_at, run.ended_at or simulated.shelf.now)
    first = simulated.histories.first
    hours = _hours_drawn(simulated, run, hour_of(run.started_at) + math.ceil(length_h))
    if hours.size == 0:
        return
    load = run_so_far(run, simulated.shelf.book, simulated.shelf.now).load
    forecast = forecast_of(run, load, max(length_h * 1.1, 1.0))
    at_h = np.minimum(hours - hour_of(run.started_at), length_h)
    start, end = np.interp([at_h[0], length_h], forecast.time_h, forecast.moisture_pct).tolist()
    fallen = start - np.interp(at_h, forecast.time_h, forecast.moisture_pct)
    came_to = float(moisture[hours[-1] - first])
    pace = (run.start_moisture_pct - came_to) / (start - end) if abs(start - end) > 1e-9 else 0.0
    moisture[hours - first] = np.maximum(run.start_moisture_pct - pace * fallen, 0.0)


def _draw_running(simulated: SimulatedShelf, run: Run, moisture: Array, sd: Array) -> None:
    """The mean of the posterior, as on the run's own page, up to the end of the run; unchanged after it."""
    first, begin_h = simulated.histories.first, run.started_at.timestamp() / 3600.0
    course, end_h = course_of(run, simulated.shelf.book, simulated.shelf.now)
    for hour in _hours_drawn(simulated, run, math.ceil(begin_h + end_h)).tolist():
        here = course.moisture_at(min(max(hour - begin_h, 0.0), end_h))
        moisture[hour - first :], sd[hour - first :] = max(here.value, 0.0), here.uncertainty


def _weighed(shelf: Shelf, spool: Spool, moisture: Array, first: int, begin: datetime) -> list[LaneWeighing]:
    found = []
    for weighing in shelf.weighings[spool.pk]:
        at = weighing.at.timestamp() / 3600.0 - first
        if begin <= weighing.at <= shelf.now and 0.0 <= at <= moisture.size - 1:
            value = float(np.interp(at, np.arange(moisture.size), moisture))
            if not math.isnan(value):
                found.append(LaneWeighing(weighing.at, round(value, 4)))
    return found
