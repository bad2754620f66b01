"""When somebody is at home and awake to set a timer, turn a spool over or weigh it."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime, timedelta

from drying.errors import OutOfRangeError

DAY_MIN, WEEKEND = 24 * 60, 5  # Saturday is day 5, counted from Monday
AHEAD_H = 28 * 24.0
ROUNDING_H = 1e-9

DaySpans = Sequence[Sequence[int]]
"""From minute to minute of a day; one that ends before it begins goes on past midnight."""

Window = tuple[float, float]
"""From one hour to another, counted from a start."""


@dataclass(frozen=True)
class Week:
    """When a person is at home and awake on weekdays and at weekends. Raises OutOfRangeError for a minute that no day
    has.
    """

    weekdays: DaySpans
    weekends: DaySpans

    def __post_init__(self) -> None:
        if any(not (0 <= a < DAY_MIN and 0 <= b <= DAY_MIN) for a, b in (*self.weekdays, *self.weekends)):
            raise OutOfRangeError("attended", "Give times of day from 00:00 to 24:00.")

    @property
    def is_given(self) -> bool:
        """Whether there are any hours in it."""
        return bool(self.weekdays or self.weekends)


@dataclass(frozen=True)
class HomeChange:
    """A stretch in which somebody is there who usually is not, or nobody is."""

    since: datetime
    until: datetime
    at_home: bool


@dataclass(frozen=True)
class Attended:
    """Spans (from, to) in h after a run's start, in order, in which somebody is there."""

    spans: tuple[tuple[float, float], ...]

    def at(self, hour: float) -> bool:
        """Whether somebody is there at an hour, the ends of a span included."""
        return any(begin - 1e-9 <= hour <= end + 1e-9 for begin, end in self.spans)

    def last_before(self, hour: float) -> float | None:
        """The last hour up to this one at which somebody is there; None where nobody was."""
        return max((min(end, hour) for begin, end in self.spans if begin <= hour), default=None)

    def next_from(self, hour: float) -> float | None:
        """The first hour from this one on at which somebody is there; None where nobody will be."""
        return min((max(begin, hour) for begin, end in self.spans if end >= hour), default=None)

    def nearest(self, hour: float, low: float, high: float) -> float | None:
        """The hour nearest to this one, from `low` to `high`, at which somebody is there; None where there is none."""
        clipped = [(max(begin, low), min(end, high)) for begin, end in self.spans if begin <= high and end >= low]
        return min((min(max(hour, a), b) for a, b in clipped), key=lambda h: abs(h - hour), default=None)


ALWAYS = Attended(((-math.inf, math.inf),))


def merged(windows: Sequence[Window]) -> list[Window]:
    """Stretches that overlap or touch as one."""
    found: list[Window] = []
    for begin, end in sorted(windows):
        if found and begin <= found[-1][1] + ROUNDING_H:
            found[-1] = (found[-1][0], max(found[-1][1], end))
        else:
            found.append((begin, end))
    return found


def without(windows: Sequence[Window], away: Window) -> list[Window]:
    """What is left of stretches outside another."""
    cut = [part for begin, end in windows for part in ((begin, min(end, away[0])), (max(begin, away[1]), end))]
    return [(begin, end) for begin, end in cut if end > begin]


def hours_from(start: datetime, moment: datetime) -> float:
    """Hours from a start to a moment, on the minute, as they go by: whatever the clocks do in between."""
    return round((moment.astimezone(UTC) - start.astimezone(UTC)).total_seconds() / 60.0) / 60.0


def daily(start: datetime, day: date, spans: DaySpans) -> Iterator[Window]:
    """Stretches of one day by the clock of the start's own zone, h from the start, on the minute."""
    for begin, end in spans:
        until = end if end > begin else end + DAY_MIN
        yield hours_from(start, _at(day, begin, start)), hours_from(start, _at(day, until, start))


def days_from(start: datetime, horizon_h: float) -> Iterator[date]:
    """From the day before a start to the last of so many hours."""
    for n in range(-1, int(horizon_h / 24.0) + 2):
        yield start.date() + timedelta(days=n)


def home_windows(
    start: datetime, horizon_h: float, weeks: Sequence[Week], changes: Sequence[HomeChange] = ()
) -> tuple[Window, ...]:
    """When somebody is at home and awake, h from `start`, which bears the zone whose clock counts.

    `weeks`: the person's own first, then those of others who help. Where the own gives no hours somebody always is
    there. Changes stand over the hours, in their order.
    """
    windows: list[Window] = [] if weeks and weeks[0].is_given else [(0.0, horizon_h)]
    for day in days_from(start, horizon_h):
        for week in weeks:
            windows += daily(start, day, week.weekends if day.weekday() >= WEEKEND else week.weekdays)
    for change in changes:
        span = (hours_from(start, change.since), hours_from(start, change.until))
        windows = [*windows, span] if change.at_home else without(windows, span)
    return tuple((begin, end) for begin, end in merged(windows) if end >= 0.0 and begin <= horizon_h)


def attended_from(start: datetime, weeks: Sequence[Week], changes: Sequence[HomeChange] = ()) -> Attended:
    """When somebody is there after a start, for four weeks; where no hours were given, always."""
    if not (weeks and weeks[0].is_given) and not changes:
        return ALWAYS
    return Attended(home_windows(start, AHEAD_H, weeks, changes))


def _at(day: date, minute: int, start: datetime) -> datetime:
    """A minute of a day by the clock of the start's own zone."""
    days, rest = divmod(minute, DAY_MIN)
    found = datetime.combine(day + timedelta(days=days), datetime.min.time(), tzinfo=start.tzinfo)
    return found.replace(hour=rest // 60, minute=rest % 60)
