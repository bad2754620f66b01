"""A run as the scale has seen it: what went in, under which conditions, and every weighing."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

from drying.dryers import Load
from drying.errors import OutOfRangeError, require_range
from drying.materials import as_cool, floor_pct
from drying.quantity import ByCause, Quantity
from drying.transport import UNKNOWN_RATE, WARMING_SPREAD, Rate, Segment, as_it_warms, up_to
from drying.weighing import Tare, Weighing
from drying.weighing.film import film_water_g

_NONE = ByCause(0.0, ())
USUAL_WARMING = Quantity(0.0, math.log(WARMING_SPREAD))


def lasting(segments: Sequence[Segment], hours: float) -> list[Segment]:
    """The segments with the last one drawn out, so that they last for `hours`."""
    *before, last = segments
    rest = hours - sum(s.duration_h for s in before)
    return [*before, replace(last, duration_h=max(last.duration_h, rest))]


@dataclass(frozen=True)
class TimedWeighing:
    """A weighing and when it was made, h after the start of heating."""

    time_h: float
    weighing: Weighing


@dataclass(frozen=True)
class RunSoFar:
    """A run as the scale has seen it: the load, the conditions since the start (the last go on), the aim in % of dry
    mass, tare, and the weighings in order of time, of which the first is the weigh-in; and what was known of the rate.
    `start_temp_c`: how warm the spool went in, °C; None where it was as warm as the air at once. `fan`: whether the
    dryer blows air along it, as far as that is known. `body_activity`: water activity of the air that a card body
    stood in; None for that of the room. `warming`: the log of how many times as long it takes to warm through as is
    computed, by a probe in the winding where there is one.
    """

    load: Load
    segments: Sequence[Segment]
    aim_pct: float
    tare: Tare
    weighings: Sequence[TimedWeighing]
    rate: Rate = UNKNOWN_RATE
    start_temp_c: float | None = None
    fan: bool | None = None
    body_activity: float | None = None
    warming: Quantity = USUAL_WARMING

    def __post_init__(self) -> None:
        if not self.segments:
            raise OutOfRangeError("segments", "A run needs at least one stretch of conditions.")
        require_range("aim_pct", self.aim_pct, 1e-4, 100.0, "%")
        if any(w.time_h < self.weighings[0].time_h for w in self.weighings[1:]):
            raise OutOfRangeError("time_h", "A weighing comes before the weigh-in: put them in order of time.")

    @property
    def floor_pct(self) -> float:
        """Where the air of the last stretch ends the drying, % of dry mass."""
        last = self.segments[-1]
        return floor_pct(self.load.material, last.room, last.temp_c)

    def met(self, until_h: float, slower_warming: float = 1.0) -> list[Segment]:
        """What the strand meets up to `until_h` at least, at its own temperature: the last conditions go on.

        `slower_warming`: how many times as long it takes to warm through as is computed.
        """
        box = lasting(self.segments, until_h)
        if self.start_temp_c is None:
            return box
        slower = slower_warming * math.exp(self.warming.value)
        return as_it_warms(self.load.filament, box, self.start_temp_c, self.fan, slower)

    @property
    def dry_g(self) -> float:
        """Mass of the dry strand by the weigh-in and what was expected of the start, g."""
        return (self.weighings[0].weighing.mass_g - self.tare.mass_g) / (1.0 + self.load.start.value / 100.0)

    def beside_strand_g(self, time_h: float) -> ByCause:
        """Water, g, that left between the weigh-in and `time_h` and was not in the strand: the empty spool's own, and
        where it was soaked what hung on the strand and between its turns.
        """
        since = time_h - self.weighings[0].time_h
        body, film = self._body_water_g(since), self._film_water_g(since)
        return ByCause(body.value + film.value, (*body.errors, *film.errors))

    def _film_water_g(self, hours: float) -> ByCause:
        return film_water_g(self.load.filament, self.dry_g, hours) if self.load.soaked else _NONE

    def _body_water_g(self, hours: float) -> ByCause:
        if self.load.form == "loose":
            return _NONE
        air = [(s.duration_h, as_cool(s.activity, s.temp_c)) for s in up_to(hours, lasting(self.segments, hours))]
        room = self.segments[0].room
        activity = self.body_activity
        if activity is None:
            activity = as_cool(room.rh_pct / 100.0, room.temp_c)
        return self.load.empty_spool.water_given_off_g(self.tare.mass_g, activity, air)
