"""What is to be scheduled. All times are hours from now."""

from __future__ import annotations

import math
from bisect import bisect_right
from dataclasses import dataclass
from functools import cached_property

from drying.dryers.attended import ROUNDING_H, Window, merged
from drying.errors import OutOfRangeError, require_range

LONGEST_H = 24.0 * 92.0


@dataclass(frozen=True)
class DryerSlots:
    """A dryer: how many spools it takes, its timer's longest turn in h (None: it runs on), its power in W."""

    id: str
    slots: int
    timer_max_h: float | None = None
    power_w: float = 0.0

    def __post_init__(self) -> None:
        require_range("slots", self.slots, 1, 500, "slots")
        require_range("power_w", self.power_w, 0.0, 1e5, "W")
        if self.timer_max_h is not None:
            require_range("timer_max_h", self.timer_max_h, 0.05, 1000.0, "h")


@dataclass(frozen=True)
class Option:
    """One way of doing a job: so many hours of heat at a temperature in a dryer. `watch_h`: how many of them are to be
    watched, where that is not as for all.
    """

    dryer: str
    temp_c: float
    hours: float
    watch_h: float | None = None

    def __post_init__(self) -> None:
        require_range("temp_c", self.temp_c, 0.0, 200.0, "°C")
        require_range("hours", self.hours, 0.01, LONGEST_H, "h")


@dataclass(frozen=True)
class Job:
    """A spool that is to be dried, when it is wanted (None: whenever), and the ways to do it.

    `pinned_h`: the one moment at which it may start. `running`: it is in its dryer already, at 0 h with the hours that
    are left, so nobody loads or watches it; its own ticket tells of its timer.
    """

    id: str
    options: tuple[Option, ...]
    ready_by_h: float | None = None
    pinned_h: float | None = None
    running: bool = False

    @property
    def only_at_h(self) -> float | None:
        """The one moment at which it may start; None where it may start whenever that is possible."""
        return 0.0 if self.running else self.pinned_h


@dataclass(frozen=True)
class Price:
    """The price of a kWh from one hour to another."""

    from_h: float
    to_h: float
    per_kwh: float


@dataclass(frozen=True)
class Problem:
    """All of it: the horizon, the stretches in which somebody is at home, prices, the hours of each heating that are to
    be watched, dryers and jobs.

    Raises OutOfRangeError that names what makes no sense: a stretch that ends before it begins, a dryer or job that is
    there twice, an option in a dryer that is not there, a job without options.
    """

    horizon_h: float
    at_home: tuple[Window, ...]
    dryers: tuple[DryerSlots, ...]
    jobs: tuple[Job, ...]
    tariff: tuple[Price, ...] = ()
    watch_h: float = 0.0

    def __post_init__(self) -> None:
        require_range("horizon_h", self.horizon_h, 0.1, LONGEST_H, "h")
        require_range("watch_h", self.watch_h, 0.0, self.horizon_h, "h")
        for begin, end in (*self.at_home, *((p.from_h, p.to_h) for p in self.tariff)):
            if not (math.isfinite(begin) and math.isfinite(end) and begin <= end):
                raise OutOfRangeError(
                    "at_home", f"A stretch of time goes from {begin:g} to {end:g} h: put it in order."
                )
        for price in self.tariff:
            require_range("price_per_kwh", price.per_kwh, -100.0, 1e6, "")
        for name, ids in (("dryers", [d.id for d in self.dryers]), ("jobs", [j.id for j in self.jobs])):
            if len(set(ids)) < len(ids):
                raise OutOfRangeError(name, f"Two of the {name} have the same id: {', '.join(map(str, ids))}.")
        for job in self.jobs:
            self._check(job)

    def _check(self, job: Job) -> None:
        if not job.options:
            raise OutOfRangeError("options", f"There is no way to dry {job.id}: give it at least one option.")
        if job.ready_by_h is not None:
            require_range("ready_by_h", job.ready_by_h, 0.0, LONGEST_H, "h")
        if job.pinned_h is not None:
            require_range("pinned_h", job.pinned_h, 0.0, self.horizon_h, "h")
        for option in job.options:
            if option.dryer not in self.by_id:
                raise OutOfRangeError("dryer", f"{job.id} asks for dryer {option.dryer}, which is not there.")

    @cached_property
    def by_id(self) -> dict[str, DryerSlots]:
        """The dryers by their ids."""
        return {dryer.id: dryer for dryer in self.dryers}

    @cached_property
    def running(self) -> frozenset[str]:
        """The jobs that are in a dryer already."""
        return frozenset(job.id for job in self.jobs if job.running)

    @cached_property
    def home(self) -> tuple[Window, ...]:
        """The stretches at home in order, those that touch as one."""
        return tuple(merged(self.at_home))

    @cached_property
    def _begins(self) -> list[float]:
        return [begin for begin, _ in self.home]

    def stretch_at(self, time_h: float) -> Window | None:
        """The stretch at home that holds this moment, its ends included."""
        at = bisect_right(self._begins, time_h + ROUNDING_H) - 1
        return self.home[at] if at >= 0 and time_h <= self.home[at][1] + ROUNDING_H else None

    def first_home(self, time_h: float) -> float | None:
        """The first moment at home at or after this one; None where nobody comes home any more."""
        if self.stretch_at(time_h) is not None:
            return time_h
        at = bisect_right(self._begins, time_h)
        return self.home[at][0] if at < len(self.home) else None

    def last_home(self, time_h: float) -> float | None:
        """The last moment at home at or before this one."""
        at = bisect_right(self._begins, time_h + ROUNDING_H) - 1
        return min(time_h, self.home[at][1]) if at >= 0 else None

    def may_start(self, job: Job, option: Option, start_h: float) -> bool:
        """Whether a job can be had in this option then, with the dryer to itself."""
        if job.only_at_h is not None and abs(start_h - job.only_at_h) > ROUNDING_H:
            return False
        if not job.running:
            return self.is_possible(option, start_h)
        end_h = start_h + option.hours
        return end_h <= self.horizon_h + ROUNDING_H and self.first_home(end_h) is not None

    def is_possible(self, option: Option, start_h: float) -> bool:
        """Whether a spool by itself can be loaded then: somebody is there to load, watch, set the timer again and take
        it out, and it ends within the horizon.
        """
        here, end = self.stretch_at(start_h), start_h + option.hours
        if here is None or start_h < 0.0 or end > self.horizon_h + ROUNDING_H or self.first_home(end) is None:
            return False
        if start_h + (self.watch_h if option.watch_h is None else option.watch_h) > here[1] + ROUNDING_H:
            return False
        longest = self.by_id[option.dryer].timer_max_h
        return longest is None or self._is_kept_on(start_h, end, longest)

    def _is_kept_on(self, start_h: float, end_h: float, longest_h: float) -> bool:
        at = start_h
        while at + longest_h < end_h - ROUNDING_H:
            visit = self.last_home(at + longest_h)
            if visit is None or visit <= at + ROUNDING_H:
                return False
            at = visit
        return True

    def taken_out_h(self, option: Option, start_h: float) -> float:
        """When it is taken out: the first moment at home at or after its end."""
        found = self.first_home(start_h + option.hours)
        return math.inf if found is None else found


def lateness_h(job: Job, end_h: float) -> float:
    """Hours late."""
    late = 0.0 if job.ready_by_h is None else end_h - job.ready_by_h
    return late if late > ROUNDING_H else 0.0
