"""What a dryer can do, and what to set on it: air temperature against display, timer turns."""

from __future__ import annotations

import math
from dataclasses import dataclass

from drying.errors import require_range
from drying.humid_air import RoomAir
from drying.materials import Material
from drying.transport import effective_temperature_c, warmed_up
from drying.water_state import Segment

ASSUMED_VENT_M3_H = 0.08  # engineering estimate: a small heated box with its vent a gap open


@dataclass(frozen=True)
class Dryer:
    """A dryer as far as a run needs to know it.

    `min_c`, `max_c`: air temperature at the spool that it can hold. `display_offset_c`: its display reads this much
    higher than the air. `hot_side_excess_c`: the hottest place the strand meets is this much over the air.
    `timer_max_h`: longest single timer turn in h, None where it runs on. `vent_m3_h`: room air that it exchanges, None
    where that is not known. `swing_c`: its thermostat swings by so much either way. `warm_up_h`: hours to get hot.
    """

    min_c: float
    max_c: float
    display_offset_c: float = 0.0
    hot_side_excess_c: float = 0.0
    timer_max_h: float | None = None
    vent_m3_h: float | None = None
    swing_c: float = 0.0
    warm_up_h: float = 0.0

    def __post_init__(self) -> None:
        require_range("min_c", self.min_c, 0.0, 200.0, "°C")
        require_range("max_c", self.max_c, self.min_c, 200.0, "°C")
        require_range("hot_side_excess_c", self.hot_side_excess_c, 0.0, 100.0, "°C")
        require_range("vent_m3_h", self.vent_used_m3_h, 0.0, 1e4, "m³/h")
        require_range("swing_c", self.swing_c, 0.0, 40.0, "°C")
        require_range("warm_up_h", self.warm_up_h, 0.0, 24.0, "h")

    @property
    def vent_used_m3_h(self) -> float:
        """The exchange flow that forecasts use, m³/h: the known one, else a common small box's."""
        return ASSUMED_VENT_M3_H if self.vent_m3_h is None else self.vent_m3_h

    def segments(self, material: Material, room: RoomAir, air_c: float, duration_h: float) -> list[Segment]:
        """A run in this dryer as segments of transport: warm-up first, then the steady temperature.

        The thermostat's swing counts as an effective temperature; the hot side counts for the limits only.
        """
        steady = Segment(duration_h, effective_temperature_c(material, air_c, self.swing_c), room, self.vent_used_m3_h)
        return warmed_up(steady, room.temp_c, min(self.warm_up_h, duration_h))

    def dial_c(self, air_c: float) -> float:
        """What the display must show, °C, so that the air at the spool is at `air_c`."""
        return air_c + self.display_offset_c

    def timer_turns_h(self, duration_h: float) -> tuple[float, ...]:
        """The timer settings in h, one after another, that make up a run of `duration_h`.

        Full turns first and the rest last: the person restarts it as late as possible.
        """
        require_range("duration_h", duration_h, 0.0, 1000.0, "h")
        if self.timer_max_h is None:
            return (duration_h,)
        full = math.floor(duration_h / self.timer_max_h + 1e-9)
        rest = duration_h - full * self.timer_max_h
        turns = (self.timer_max_h,) * full + ((rest,) if rest > 1e-6 else ())
        return turns or (0.0,)
