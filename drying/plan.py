"""Choosing a run: the temperatures that do harm, what a school would set, and what would come of it.

The forecast here is that of a loose strand: a wound spool takes longer.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from enum import StrEnum

import numpy as np

from drying.bodies import BodyKind
from drying.dryer import Dryer
from drying.errors import OutOfRangeError, require_range
from drying.humid_air import RoomAir
from drying.materials import SCHOOLS, Material
from drying.sorption import floor_pct
from drying.strand import Array, dimensionless_time, fraction_exchanged
from drying.weighing import Quantity

SOFT_MARGIN_C = 5.0  # engineering estimate: kept under the softening temperature
TURN_OVER_SHARE = 0.5
WEIGH_SHARES = (0.25, 0.5, 1.0)  # most water leaves early, so early weigh-ins tell most about the rate
BAND_SIGMAS = 1.645  # 90 % of a normal distribution


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
    the spool was never weighed.
    """

    material: Material
    body: BodyKind
    strand_diameter_mm: float
    start: Quantity
    net_g: float | None


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

    `basis` says what was computed: "loose_strand" is the fastest a wound spool could dry.
    """

    time_h: Array
    moisture_pct: Array
    low_pct: Array
    high_pct: Array
    floor_pct: float
    basis: str = "loose_strand"


def forecast(load: Load, room: RoomAir, air_c: float, time_h: Sequence[float] | Array) -> Forecast:
    """Moisture of the load at each time in h, dried at `air_c` in a box that is vented with this room's air.

    The band comes from linear propagation: the start's uncertainty as far as it is left, the spread of the
    diffusivity by a step up and a step down, and the spread of the sorption data on the floor.
    """
    require_range("temp_c", air_c, 0.0, 200.0, "°C")
    times = np.asarray(time_h, dtype=np.float64)
    floor = floor_pct(load.material, room, air_c)
    tau = dimensionless_time(load.material, load.strand_diameter_mm, air_c, times)
    spread = load.material.d23.spread
    left, left_slow, left_fast = (1.0 - fraction_exchanged(tau * s) for s in (1.0, 1.0 / spread, spread))
    above = load.start.value - floor
    moisture = floor + above * left
    sd = np.sqrt(
        (left * load.start.uncertainty) ** 2
        + (above * (left_slow - left_fast) / 2.0) ** 2
        + ((1.0 - left) * floor * (load.material.k1.spread - 1.0)) ** 2
    )
    return Forecast(times, moisture, np.maximum(moisture - BAND_SIGMAS * sd, 0.0), moisture + BAND_SIGMAS * sd, floor)


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


def _cautions(load: Load, dryer_kind: str, dryer: Dryer, choice: Choice, end_pct: float, floor: float) -> list[Caution]:
    aim = load.material.clean.value if load.material.clean else 0.0
    found = [Caution(CautionKind.LIMIT, True, x) for x in broken_limits(load, dryer, choice.temp_c)]
    if choice.held_by is not None:
        found.append(Caution(CautionKind.HELD_BY_LIMIT, False, choice.held_by))
    if load.start.value <= aim:
        found.append(Caution(CautionKind.ALREADY_CLEAN, numbers={"start_pct": load.start.value, "aim_pct": aim}))
    elif floor > aim:
        found.append(Caution(CautionKind.FLOOR_ABOVE_AIM, numbers={"floor_pct": floor, "aim_pct": aim}))
    elif end_pct > aim:
        found.append(Caution(CautionKind.ENDS_ABOVE_AIM, numbers={"end_pct": end_pct, "aim_pct": aim}))
    if load.body.water_high_pct > 0.0:
        found.append(Caution(CautionKind.CARD_BODY))
    if load.body.id == "unknown":
        found.append(Caution(CautionKind.BODY_UNKNOWN))
    if dryer_kind == "oven":
        found.append(Caution(CautionKind.OVEN, True))
    if dryer_kind == "bed":
        found += [Caution(CautionKind.BED), Caution(CautionKind.TURN_OVER)]
    found.append(Caution(CautionKind.HEAT_UNATTENDED))
    return found


def write_ticket(load: Load, dryer_kind: str, dryer: Dryer, room: RoomAir, choice: Choice) -> Ticket:
    """The run ticket for this choice of temperature and hours.

    `dryer_kind` ("heated_box", "stacker", "bed", "oven") decides which cautions belong to the act. Raises
    OutOfRangeError for hours outside 0.1 to 400 or a temperature outside 0 to 200 °C.
    """
    require_range("duration_h", choice.duration_h, 0.1, 400.0, "h")
    course = forecast(load, room, choice.temp_c, [choice.duration_h])
    end = float(course.moisture_pct[-1])
    dry = dry_mass_g(load)
    return Ticket(
        air_c=choice.temp_c,
        dial_c=dryer.dial_c(choice.temp_c),
        duration_h=choice.duration_h,
        turns_h=dryer.timer_turns_h(choice.duration_h),
        turn_over_h=choice.duration_h * TURN_OVER_SHARE,
        weigh_at_h=tuple(choice.duration_h * share for share in WEIGH_SHARES),
        aim_pct=load.material.clean.value if load.material.clean else 0.0,
        end_pct=end,
        end_low_pct=float(course.low_pct[-1]),
        end_high_pct=float(course.high_pct[-1]),
        floor_pct=course.floor_pct,
        water_out_g=None if dry is None else dry * (load.start.value - end) / 100.0,
        cautions=tuple(_cautions(load, dryer_kind, dryer, choice, end, course.floor_pct)),
    )
