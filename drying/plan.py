"""Choosing a run: the temperatures that do harm, what a school would set, and what would come of it."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from enum import StrEnum

import numpy as np

from drying.arrays import Array
from drying.bands import forecast_band
from drying.bodies import BodyKind
from drying.dryer import Dryer
from drying.errors import OutOfRangeError, require_range
from drying.humid_air import RoomAir
from drying.materials import SCHOOLS, Material
from drying.sorption import floor_pct
from drying.water_state import Body
from drying.weighing import Quantity
from drying.wound_pack import DEFAULT_PACK, pack_of_mass

FULL_SPOOL_G = 1000.0
SOFT_MARGIN_C = 5.0  # engineering estimate: kept under the softening temperature
TURN_OVER_SHARE = 0.5
WEIGH_SHARES = (0.25, 0.5, 1.0)  # most water leaves early, so early weigh-ins tell most about the rate


class LimitKind(StrEnum):
    """What sets a limit to the air temperature."""

    STRAND_SOFT = "strand_soft"
    STRAND_FUSE = "strand_fuse"
    BODY_SAG = "body_sag"
    DRYER_MAX = "dryer_max"
    DRYER_MIN = "dryer_min"


@dataclass(frozen=True)
class Limit:
    """Air temperature in °C that this run should not pass (`DRYER_MIN`: not go under), and why.

    `overridable`: the person may go past it with a reason of their own. Melting the strand has no reason.
    """

    kind: LimitKind
    temp_c: float
    overridable: bool = True

    def broken_by(self, air_c: float) -> bool:
        """True where an air temperature of `air_c` goes past this limit."""
        if self.kind is LimitKind.DRYER_MIN:
            return air_c < self.temp_c - 1e-9
        if self.kind is LimitKind.STRAND_FUSE:
            return air_c >= self.temp_c - 1e-9
        return air_c > self.temp_c + 1e-9


@dataclass(frozen=True)
class Load:
    """The spool that goes in: what it is made of and how wet it is.

    `start` moisture in % of dry mass with standard uncertainty; `net_g` mass of the strand as it is now, None where
    the spool was never weighed (then it is taken as full). `form` is "wound" or "loose"; hub radius and width of the
    winding in mm.
    """

    material: Material
    body: BodyKind
    strand_diameter_mm: float
    start: Quantity
    net_g: float | None
    form: str = "wound"
    hub_radius_mm: float = DEFAULT_PACK.hub_radius_mm
    width_mm: float = DEFAULT_PACK.width_mm

    @property
    def strand(self) -> Body:
        """What the water moves in."""
        pack = None
        if self.form == "wound":
            net_g = FULL_SPOOL_G if self.net_g is None else max(self.net_g, 1.0)
            pack = pack_of_mass(net_g, self.material.density.value, self.hub_radius_mm, self.width_mm)
        return Body(self.material, self.strand_diameter_mm, pack)


def limits(load: Load, dryer: Dryer) -> tuple[Limit, ...]:
    """Every limit to the air temperature for this load in this dryer, the hot side of the dryer taken off."""
    excess = dryer.hot_side_excess_c
    found = [
        Limit(LimitKind.STRAND_SOFT, load.material.soft.value - excess - SOFT_MARGIN_C),
        Limit(LimitKind.STRAND_FUSE, load.material.fuse.value - excess, overridable=False),
        Limit(LimitKind.DRYER_MAX, dryer.max_c),
        Limit(LimitKind.DRYER_MIN, dryer.min_c),
    ]
    if load.body.sag_c is not None:
        found.append(Limit(LimitKind.BODY_SAG, load.body.sag_c - excess - SOFT_MARGIN_C))
    return tuple(found)


def broken_limits(load: Load, dryer: Dryer, air_c: float) -> tuple[Limit, ...]:
    """The limits that an air temperature of `air_c` goes past, those without a way round first."""
    return tuple(sorted((x for x in limits(load, dryer) if x.broken_by(air_c)), key=lambda x: x.overridable))


@dataclass(frozen=True)
class Choice:
    """Temperature and hours of a run, and the limit (if any) that lowered or raised what the school would set."""

    temp_c: float
    duration_h: float
    held_by: Limit | None = None


def choose(school: str, load: Load, dryer: Dryer) -> Choice:
    """What this school would set for this load, brought inside the dryer's range and under every limit.

    Raises OutOfRangeError for an unknown school, for a material that needs no drying, and where no temperature of
    this dryer is safe for the load.
    """
    if school not in SCHOOLS:
        raise OutOfRangeError("school", f"There is no school '{school}'. Known: {', '.join(SCHOOLS)}.")
    if not load.material.schools:
        raise OutOfRangeError("spool", f"{load.material.name} takes up too little water to need drying.")
    wanted = load.material.schools[school]
    ceiling = min(
        (x for x in limits(load, dryer) if x.kind is not LimitKind.DRYER_MIN and x.overridable),
        key=lambda x: x.temp_c,
    )
    if ceiling.temp_c < dryer.min_c:
        raise OutOfRangeError(
            "dryer",
            f"This dryer's least, {dryer.min_c:g} °C, is already over the {ceiling.temp_c:g} °C that the load stands.",
        )
    if wanted.temp_c > ceiling.temp_c:
        return Choice(max(math.floor(ceiling.temp_c), dryer.min_c), wanted.duration_h, ceiling)
    if wanted.temp_c < dryer.min_c:
        return Choice(dryer.min_c, wanted.duration_h, Limit(LimitKind.DRYER_MIN, dryer.min_c))
    return Choice(wanted.temp_c, wanted.duration_h)


@dataclass(frozen=True)
class Forecast:
    """Moisture over a run, % of dry mass: arrays of one length, `low_pct` to `high_pct` the 90 % band.

    `basis` says what was computed: "wound_pack" or "loose_coil".
    """

    time_h: Array
    moisture_pct: Array
    low_pct: Array
    high_pct: Array
    floor_pct: float
    basis: str


def forecast(load: Load, dryer: Dryer, room: RoomAir, air_c: float, time_h: Sequence[float] | Array) -> Forecast:
    """Moisture of the load at each time in h, dried at `air_c` in this dryer, which is vented with this room's air.

    The band comes from linear propagation, see `bands`. Raises OutOfRangeError for a temperature outside 0..200 °C.
    """
    require_range("temp_c", air_c, 0.0, 200.0, "°C")
    times = np.asarray(time_h, dtype=np.float64)
    segments = dryer.segments(load.material, room, air_c, float(times.max()))
    band = forecast_band(load.strand, load.start, segments, times)
    floor = floor_pct(load.material, room, air_c)
    basis = "wound_pack" if load.form == "wound" else "loose_coil"
    return Forecast(times, band.moisture_pct, band.low_pct, band.high_pct, floor, basis)


class CautionKind(StrEnum):
    """What to mind in this very run. Each has its trigger in `cautions`."""

    LIMIT = "limit"
    HELD_BY_LIMIT = "held_by_limit"
    FLOOR_ABOVE_AIM = "floor_above_aim"
    ENDS_ABOVE_AIM = "ends_above_aim"
    ALREADY_CLEAN = "already_clean"
    CARD_BODY = "card_body"
    BODY_UNKNOWN = "body_unknown"
    TURN_OVER = "turn_over"
    VENT_ASSUMED = "vent_assumed"
    OVEN = "oven"
    BED = "bed"
    HEAT_UNATTENDED = "heat_unattended"


@dataclass(frozen=True)
class Caution:
    """A caution and the numbers that belong to it (names with their units)."""

    kind: CautionKind
    serious: bool = False
    limit: Limit | None = None
    numbers: Mapping[str, float] = field(default_factory=dict)


@dataclass(frozen=True)
class Ticket:
    """What to do at the bench: `dial_c` to set for `air_c` at the spool, `turns_h` of the timer, when to turn the
    spool over and weigh (h from the start), and what it should come to (% of dry mass, 90 % band).
    """

    air_c: float
    dial_c: float
    duration_h: float
    turns_h: tuple[float, ...]
    turn_over_h: float
    weigh_at_h: tuple[float, ...]
    aim_pct: float
    end_pct: float
    end_low_pct: float
    end_high_pct: float
    floor_pct: float
    water_out_g: float | None
    cautions: tuple[Caution, ...]


def dry_mass_g(load: Load) -> float | None:
    """Mass of the strand without its water, g, from the net mass and the moisture now."""
    return None if load.net_g is None else load.net_g / (1.0 + load.start.value / 100.0)


def _of_the_end(load: Load, end_pct: float, floor: float) -> list[Caution]:
    """What to say of where the run will end against the clean mark."""
    aim = load.material.aim_pct
    if load.start.value <= aim:
        return [Caution(CautionKind.ALREADY_CLEAN, numbers={"start_pct": load.start.value, "aim_pct": aim})]
    if floor > aim:
        return [Caution(CautionKind.FLOOR_ABOVE_AIM, numbers={"floor_pct": floor, "aim_pct": aim})]
    if end_pct > aim:
        return [Caution(CautionKind.ENDS_ABOVE_AIM, numbers={"end_pct": end_pct, "aim_pct": aim})]
    return []


def _of_the_kit(load: Load, dryer_kind: str, dryer: Dryer) -> list[Caution]:
    """What to mind with this spool body and this dryer."""
    found = []
    if load.body.water_high_pct > 0.0:
        found.append(Caution(CautionKind.CARD_BODY))
    if load.body.id == "unknown":
        found.append(Caution(CautionKind.BODY_UNKNOWN))
    if dryer.vent_m3_h is None:
        found.append(Caution(CautionKind.VENT_ASSUMED, numbers={"vent_m3_h": dryer.vent_used_m3_h}))
    if dryer_kind == "oven":
        found.append(Caution(CautionKind.OVEN, True))
    if dryer_kind == "bed":
        found += [Caution(CautionKind.BED), Caution(CautionKind.TURN_OVER)]
    return [*found, Caution(CautionKind.HEAT_UNATTENDED)]


def _cautions(load: Load, dryer_kind: str, dryer: Dryer, choice: Choice, end_pct: float, floor: float) -> list[Caution]:
    found = [Caution(CautionKind.LIMIT, True, x) for x in broken_limits(load, dryer, choice.temp_c)]
    if choice.held_by is not None:
        found.append(Caution(CautionKind.HELD_BY_LIMIT, False, choice.held_by))
    return [*found, *_of_the_end(load, end_pct, floor), *_of_the_kit(load, dryer_kind, dryer)]


def write_ticket(load: Load, dryer_kind: str, dryer: Dryer, room: RoomAir, choice: Choice) -> Ticket:
    """The run ticket for this choice of temperature and hours.

    `dryer_kind` ("heated_box", "stacker", "bed", "oven") decides which cautions belong to the act. Raises
    OutOfRangeError for hours outside 0.1 to 400 or a temperature outside 0 to 200 °C.
    """
    require_range("duration_h", choice.duration_h, 0.1, 400.0, "h")
    course = forecast(load, dryer, room, choice.temp_c, [choice.duration_h])
    end = float(course.moisture_pct[-1])
    dry = dry_mass_g(load)
    return Ticket(
        air_c=choice.temp_c,
        dial_c=dryer.dial_c(choice.temp_c),
        duration_h=choice.duration_h,
        turns_h=dryer.timer_turns_h(choice.duration_h),
        turn_over_h=choice.duration_h * TURN_OVER_SHARE,
        weigh_at_h=tuple(choice.duration_h * share for share in WEIGH_SHARES),
        aim_pct=load.material.aim_pct,
        end_pct=end,
        end_low_pct=float(course.low_pct[-1]),
        end_high_pct=float(course.high_pct[-1]),
        floor_pct=course.floor_pct,
        water_out_g=None if dry is None else dry * (load.start.value - end) / 100.0,
        cautions=tuple(_cautions(load, dryer_kind, dryer, choice, end, course.floor_pct)),
    )
