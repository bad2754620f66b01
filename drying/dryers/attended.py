"""When somebody is at home and awake to set a timer, turn a spool over or weigh it."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from drying.errors import OutOfRangeError

DAY_MIN, WEEK_DAYS, WEEKEND = 24 * 60, 7, 5  # Saturday is day 5, counted from Monday
AHEAD_DAYS = 28

DaySpans = Sequence[tuple[int, int]]
"""From minute to minute of a day; one that ends before it begins goes on past midnight."""


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


def attended_from(weekdays: DaySpans, weekends: DaySpans, start_day: int, start_min: int) -> Attended:
    """A person's hours of the week as seen from a start, for four weeks; where none are given, somebody is always
    there.

    `start_day`: 0 is Monday; `start_min`: minute of that day. Raises OutOfRangeError for a minute that no day has.
    """
    if not weekdays and not weekends:
        return ALWAYS
    found = []
    for day in range(-1, AHEAD_DAYS):
        for begin, end in weekends if (start_day + day) % WEEK_DAYS >= WEEKEND else weekdays:
            if not (0 <= begin < DAY_MIN and 0 <= end <= DAY_MIN):
                raise OutOfRangeError("attended", "Give times of day from 00:00 to 24:00.")
            length = (end - begin) % DAY_MIN or DAY_MIN
            since = day * DAY_MIN + begin - start_min
            found.append((since / 60.0, (since + length) / 60.0))
    return Attended(tuple(sorted(span for span in found if span[1] >= 0.0)))
