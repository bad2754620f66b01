"""What a run draws and what it costs: power from a meter or from the heater, and a tariff with cheap hours."""

from __future__ import annotations

import math
from dataclasses import dataclass

from drying.dryers.dryer import Dryer
from drying.errors import require_range
from drying.quantity import Quantity

DAY_MIN = 1440
METERED_AT_ROOM_C = 20.0
# One standard uncertainty as a share: a meter's run was another day's; a rating is not a mean; a kind is not a dryer.
METERED_SHARE, RATED_SHARE, ASSUMED_SHARE = 0.1, 0.3, 0.5


def mean_power_w(dryer: Dryer, room_c: float, air_c: float) -> Quantity:
    """Mean power in W while the box holds `air_c` in a room at `room_c`: heat lost goes with the difference of the two.

    From a metered run where there is one, else from the heater's mean power at the dryer's hottest.
    """
    if dryer.metered is not None:
        meter = dryer.metered
        per_degree = meter.energy_kwh * 1000.0 / meter.duration_h / (meter.air_c - METERED_AT_ROOM_C)
        share = METERED_SHARE
    else:
        per_degree = dryer.used("heater_w") / max(dryer.max_c - METERED_AT_ROOM_C, 10.0)
        share = ASSUMED_SHARE if dryer.heater_w is None else RATED_SHARE
    power = per_degree * max(air_c - room_c, 0.0)
    return Quantity(power, share * power)


@dataclass(frozen=True)
class Tariff:
    """Price of a kWh by day, and in cheap hours where there are any: from minute to minute of the day, perhaps over
    midnight. The currency is the person's own.
    """

    day_rate: float
    night_rate: float | None = None
    night_from_min: int = 0
    night_to_min: int = 0

    def __post_init__(self) -> None:
        require_range("day_rate", self.day_rate, 0.0, 1e5, "per kWh")
        require_range("night_rate", self.night_rate or 0.0, 0.0, 1e5, "per kWh")
        require_range("night_from_min", self.night_from_min, 0, DAY_MIN, "min")
        require_range("night_to_min", self.night_to_min, 0, DAY_MIN, "min")

    def cheap_minutes(self, start_min: float, duration_h: float) -> float:
        """Minutes of a run that fall into the cheap hours; it starts at `start_min` of a day."""
        if self.night_rate is None:
            return 0.0
        length = (self.night_to_min - self.night_from_min) % DAY_MIN
        end = start_min + duration_h * 60.0
        first = math.floor((start_min - self.night_from_min) / DAY_MIN)
        cheap, begin = 0.0, first * DAY_MIN + self.night_from_min
        while begin < end:
            cheap += max(0.0, min(end, begin + length) - max(start_min, begin))
            begin += DAY_MIN
        return cheap

    def price(self, energy_kwh: float, start_min: float, duration_h: float) -> float:
        """What so much energy, drawn evenly over the run, costs."""
        if duration_h <= 0.0:
            return 0.0
        share = self.cheap_minutes(start_min, duration_h) / (duration_h * 60.0)
        night = self.day_rate if self.night_rate is None else self.night_rate
        return energy_kwh * (share * night + (1.0 - share) * self.day_rate)

    def cheapest_wait_h(self, start_min: float, duration_h: float) -> float:
        """How many hours to wait, in half hours within a day, until the run costs least; 0 where waiting gains none."""
        waits = [k / 2.0 for k in range(48)]
        return min(waits, key=lambda w: (round(self.price(1.0, start_min + 60.0 * w, duration_h), 9), w))
