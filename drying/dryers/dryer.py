"""What a dryer can do and does: its range and habits, its timer, what fits into it, and the air it gives a spool.

What is not known of a dryer is taken from its kind (`data/dryers.toml`), and `assumed` lists it, so that a plan can say
so and never goes blank.
"""

from __future__ import annotations

import math
import tomllib
from dataclasses import dataclass, field
from enum import StrEnum
from functools import cache
from importlib import resources

from drying.air import RoomAir
from drying.dryers.calibration import Calibration, LevelCalibration, display_calibration
from drying.errors import Amount, OutOfRangeError, require_range
from drying.materials import Material
from drying.storage import Charge
from drying.transport import Segment, effective_temperature_c, warmed_up


class DryerKind(StrEnum):
    """What a dryer is: decides what is taken for granted of it and which cautions belong to it."""

    HEATED_BOX = "heated_box"
    STACKER = "stacker"
    BED = "bed"
    CHAMBER = "chamber"
    OVEN = "oven"
    LAMP = "lamp"
    CABINET = "cabinet"
    VACUUM = "vacuum"
    FORCED_AIR = "forced_air"
    HEATED_VACUUM = "heated_vacuum"


# What lies or stands on the heater's own plate meets it so much hotter than the air; engineering estimate.
PLATE_EXCESS_C = 18.0


@dataclass(frozen=True)
class KindOfDryer:
    """What is taken for granted of a kind of dryer; engineering estimates, see `data/dryers.toml`."""

    name: str
    vent_m3_h: float
    swing_c: float
    hot_side_excess_c: float
    warm_up_h: float
    heater_w: float
    display_sd_c: float

    @property
    def on_plate_excess_c(self) -> float:
        """By how much the hottest spot exceeds the air where the spool stands on the heater's plate, °C."""
        return max(self.hot_side_excess_c, PLATE_EXCESS_C)


@cache
def kinds_of_dryer() -> dict[DryerKind, KindOfDryer]:
    """Every kind with its usual values."""
    table = tomllib.loads(resources.files(__package__).joinpath("data/dryers.toml").read_text("utf-8"))
    return {DryerKind(key): KindOfDryer(**raw) for key, raw in table.items()}


HABITS = ("vent_m3_h", "swing_c", "hot_side_excess_c", "warm_up_h", "heater_w")
_MOST = {"vent_m3_h": 1e4, "swing_c": 40.0, "hot_side_excess_c": 100.0, "warm_up_h": 24.0, "heater_w": 1e5}
_UNITS = {"vent_m3_h": "m³/h", "swing_c": "°C", "hot_side_excess_c": "°C", "warm_up_h": "h", "heater_w": "W"}


@dataclass(frozen=True)
class Metered:
    """What a meter counted over one run: energy in kWh, hours, air in °C; the room is taken at 20 °C."""

    energy_kwh: float
    duration_h: float
    air_c: float

    def __post_init__(self) -> None:
        require_range("metered_kwh", self.energy_kwh, 0.0, 1000.0, "kWh")
        require_range("metered_h", self.duration_h, 0.05, 1000.0, "h")
        require_range("metered_air_c", self.air_c, 22.0, 200.0, "°C")


LEAST_LEFT_H = 1e-3  # with less left of a run its timer is set for more than the run
TURN_OVER_SHARE = 0.5  # of a run: when to turn a spool over
OPEN_WINDING = (DryerKind.FORCED_AIR, DryerKind.HEATED_VACUUM)  # the vapour need not find its way past other turns
BED_HEATED = (DryerKind.BED, DryerKind.CHAMBER)  # set by the printer's bed, which warms the air by a factor
ONE_SIDED = (DryerKind.BED, DryerKind.LAMP)  # their heat comes from one side, so the spool must be turned over


def turn_over_h(duration_h: float) -> float:
    """When to turn the spool over, h after the start."""
    return duration_h * TURN_OVER_SHARE


@dataclass(frozen=True)
class Dryer:
    """A dryer as far as a run needs to know it; None stands for "not known".

    `min_c`, `max_c`: the air at the spool that it can hold. `calibration`: from setting to air. `hot_side_excess_c`:
    by how much the hottest spot exceeds the air. `timer_choices_h`: the timer's settings;
    `timer_max_h`: its longest turn, None where it does not stop. `vent_m3_h`: room air that it exchanges. `swing_c`:
    its thermostat swings so much either way. `warm_up_h`: hours to get hot. `heater_w`: mean power at its hottest.
    `on_plate`: what it dries stands on the heater's plate, not on rollers or a grid. `desiccant`: what lies in it.
    Sizes in mm are the largest spool that one place takes.
    """

    min_c: float
    max_c: float
    kind: DryerKind = DryerKind.HEATED_BOX
    calibration: Calibration = field(default_factory=lambda: display_calibration(0.0, 4.0))
    hot_side_excess_c: float | None = None
    timer_max_h: float | None = None
    timer_choices_h: tuple[float, ...] = ()
    vent_m3_h: float | None = None
    swing_c: float | None = None
    warm_up_h: float | None = None
    heater_w: float | None = None
    metered: Metered | None = None
    fan: bool | None = None
    on_plate: bool | None = None
    slots: int = 1
    max_diameter_mm: float | None = None
    max_width_mm: float | None = None
    desiccant: Charge | None = None

    def __post_init__(self) -> None:
        require_range("min_c", self.min_c, 0.0, 200.0, "°C")
        require_range("max_c", self.max_c, self.min_c, 200.0, "°C")
        for name in HABITS:
            require_range(name, self.used(name), 0.0, _MOST[name], _UNITS[name])
        for hours in (*self.timer_choices_h, self.timer_max_h or 1.0):
            require_range("timer", hours, 0.05, 1000.0, "h")
        require_range("slots", self.slots, 1, 500, "slots")
        for name in ("max_diameter_mm", "max_width_mm"):
            require_range(name, getattr(self, name) or 100.0, 10.0, 2000.0, "mm")

    def used(self, habit: str) -> float:
        """The value of one of `HABITS` that plans use: the dryer's own, else that of its kind."""
        own = getattr(self, habit)
        if own is not None:
            return float(own)
        usual = kinds_of_dryer()[self.kind]
        on_plate = habit == "hot_side_excess_c" and self.on_plate
        return usual.on_plate_excess_c if on_plate else float(getattr(usual, habit))

    @property
    def assumed(self) -> dict[str, float]:
        """What is not known of this dryer, and what is taken for it. A metered run makes up for the heater."""
        known = set() if self.metered is None else {"heater_w"}
        if self.kind is DryerKind.HEATED_VACUUM:
            known.add("vent_m3_h")  # a pump takes the vapour, not the room's air
        return {name: self.used(name) for name in HABITS if getattr(self, name) is None and name not in known}

    @property
    def opens_winding(self) -> bool:
        """Whether every turn dries as if it lay free: the air is driven between them, or there is none."""
        return self.kind in OPEN_WINDING

    @property
    def is_closed(self) -> bool:
        """Whether the water that comes out of a spool has nowhere to go: no way out, and nothing to take it up."""
        return self.has_no_vent and self.desiccant is None

    @property
    def has_no_vent(self) -> bool:
        """Whether no air goes through it, and no pump takes the vapour."""
        return self.vent_m3_h == 0.0 and self.kind is not DryerKind.HEATED_VACUUM

    def takes_in(self, room: RoomAir) -> RoomAir:
        """The air that it gives a spool, before it is heated: the room's, and under a pump none, so no water either."""
        return RoomAir(room.temp_c, 0.0) if self.kind is DryerKind.HEATED_VACUUM else room

    @property
    def levels_c(self) -> tuple[float, ...]:
        """The only temperatures that it has, coolest first; empty where it can be set to any."""
        return (
            tuple(air for _, air in self.calibration.levels) if isinstance(self.calibration, LevelCalibration) else ()
        )

    @property
    def longest_turn_h(self) -> float | None:
        """The longest single turn of its timer, h; None where it runs on."""
        return max(self.timer_choices_h, default=self.timer_max_h)

    def nearest_c(self, air_c: float) -> float:
        """The air temperature in °C that it can hold and that lies nearest: itself, or that of a level."""
        return min(self.levels_c, key=lambda level: abs(level - air_c)) if self.levels_c else air_c

    def hottest_c(self, ceiling_c: float) -> float:
        """The hottest air in °C, in whole degrees, that it can hold at or under `ceiling_c`.

        Raises OutOfRangeError where even its least is over that, and for a pot that does not heat.
        """
        if self.kind is DryerKind.VACUUM:
            raise OutOfRangeError("dryer", "A vacuum pot keeps a dry spool dry; it does not heat and dries none.")
        fit = [level for level in self.levels_c if level <= ceiling_c]
        least = self.levels_c[0] if self.levels_c else self.min_c
        if ceiling_c < least:
            raise OutOfRangeError(
                "dryer",
                "This dryer's least, ",
                Amount(least, "°C"),
                ", is already over the ",
                Amount(ceiling_c, "°C"),
                " that the load stands.",
            )
        if self.levels_c:
            return fit[-1]
        return max(float(math.floor(min(ceiling_c, self.max_c) + 1e-9)), self.min_c)

    def segments(
        self, material: Material, room: RoomAir, air_c: float, duration_h: float, parts: int = 4
    ) -> list[Segment]:
        """A run in this dryer as segments of transport: warm-up in `parts` first, then the steady temperature.

        The thermostat's swing counts as an effective temperature; the hot side counts for the limits only.
        """
        effective = effective_temperature_c(material, air_c, self.used("swing_c"))
        steady = Segment(duration_h, effective, self.takes_in(room), self.used("vent_m3_h"))
        return warmed_up(steady, room.temp_c, min(self.used("warm_up_h"), duration_h), parts)

    def timer_setting_h(self, left_h: float) -> float:
        """What to set the timer to where so many hours of heat are left: its longest turn, or the shortest setting that
        is enough for the rest. Without a timer, the hours themselves.
        """
        require_range("left_h", left_h, -1000.0, 1000.0, "h")
        longest = self.longest_turn_h
        if longest is None:
            return left_h
        if not LEAST_LEFT_H < left_h < longest:
            return longest
        return min((c for c in self.timer_choices_h if c >= left_h - 1e-6), default=left_h)


@dataclass(frozen=True)
class Misfit:
    """A measure by which a spool does not go in: "max_diameter_mm", "max_width_mm" or "slots"; what the spool (or the
    load) has, and what the dryer takes.
    """

    measure: str
    has: float
    takes: float


def misfits(dryer: Dryer, diameter_mm: float, width_mm: float) -> tuple[Misfit, ...]:
    """The measures by which a empty spool of this outer diameter and width does not go into a slot. Measures of the
    dryer that are not known find nothing.
    """
    has = {"max_diameter_mm": diameter_mm, "max_width_mm": width_mm}
    return tuple(
        Misfit(name, value, takes)
        for name, value in has.items()
        if (takes := getattr(dryer, name)) is not None and value > takes
    )
