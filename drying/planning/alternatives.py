"""What could do it where this dryer cannot, and what speaks against a programme: each answer is computed."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

from drying.air import RoomAir, dew_point_c, saturation_pressure_pa
from drying.dryers import Dryer, DryerKind, Limit, Load, Setup, above_tg, broken_limits, hottest_c
from drying.errors import OutOfRangeError
from drying.materials import activity_of_moisture
from drying.planning.choose import PATIENCE_H, Choice, hours_needed, hours_needed_each, needed, programmes, rounded_up_h
from drying.planning.desiccant_use import FLOOR_SHARE, grams_needed
from drying.planning.drying_map import DryingMap
from drying.storage import Charge, DesiccantKind
from drying.storage.desiccant import desiccant

LONGEST_H = 336.0  # two weeks: longer is no plan
DESICCANT_RH_PCT = 10.0  # engineering estimate: air through fresh desiccant, at the room's temperature
GRAMS_STEP = 10.0  # desiccant is weighed out no finer
KINDS_TO_HAND = (DesiccantKind.SILICA_GEL, DesiccantKind.SIEVE)  # the commonest first; the other is the driest
LONG_H = 24.0
ON_AIM = 1.005


class AlternativeKind(StrEnum):
    """What could bring the spool to its aim."""

    OTHER_DRYER = "other_dryer"
    DESICCANT = "desiccant"
    DRIER_NIGHT = "drier_night"
    LOOSE_COIL = "loose_coil"
    LONGER = "longer"
    ALONE = "alone"


@dataclass(frozen=True)
class Alternative:
    """A way that would do it: at `air_c` in `duration_h`. `dryer`: the key of another dryer. `dew_point_c`: the room's
    dew point that is needed, °C. `desiccant`, `desiccant_g`: what to put fresh into a closed dryer, and how much, g.
    """

    kind: AlternativeKind
    air_c: float
    duration_h: float
    dryer: int | None = None
    dew_point_c: float | None = None
    desiccant: DesiccantKind | None = None
    desiccant_g: float | None = None


class Outcome(StrEnum):
    """What a plan comes to."""

    REACHES = "reaches"
    NOT_NEEDED = "not_needed"
    ENDS_ABOVE = "ends_above"
    NOT_BY_THEN = "not_by_then"
    CANNOT = "cannot"
    HARMS = "harms"


def outcome(setup: Setup, choice: Choice | None, end_pct: Sequence[float]) -> Outcome:
    """What a choice comes to that ends at these moistures; without a choice every temperature would do harm."""
    if choice is None:
        return Outcome.HARMS
    if not needed(setup):
        return Outcome.NOT_NEEDED
    if not missed(setup, end_pct):
        return Outcome.REACHES if choice.in_time else Outcome.NOT_BY_THEN
    return Outcome.ENDS_ABOVE if can_reach(setup) else Outcome.CANNOT


def can_reach(setup: Setup) -> bool:
    """Whether this dryer brings all that goes in to its aim at the hottest that is safe, within patience."""
    try:
        return hours_needed(setup, hottest_c(setup)) is not None
    except OutOfRangeError:  # no temperature of it is safe
        return False


@dataclass(frozen=True)
class _Way:
    """A way to try: an alternative's kind, its set-up, how long one would wait, and what it needs."""

    kind: AlternativeKind
    setup: Setup
    patience_h: float = PATIENCE_H
    dryer: int | None = None
    dew_point_c: float | None = None

    @property
    def charge(self) -> Charge | None:
        """The desiccant that it puts into a closed dryer."""
        return self.setup.dryer.desiccant if self.kind is AlternativeKind.DESICCANT else None


def _tried(ways: Sequence[_Way]) -> list[Alternative]:
    """The ways that reach the aim, in their order, each at the hottest that is safe; all are followed side by side."""
    airs = [hottest_c(way.setup) for way in ways]
    hours = hours_needed_each([(way.setup, air, way.patience_h) for way, air in zip(ways, airs, strict=True)])
    return [
        Alternative(
            way.kind,
            air,
            rounded_up_h(needed_h),
            way.dryer,
            way.dew_point_c,
            None if way.charge is None else way.charge.kind,
            None if way.charge is None else way.charge.dry_g,
        )
        for way, air, needed_h in zip(ways, airs, hours, strict=True)
        if needed_h is not None
    ]


def _is_safe(setup: Setup) -> bool:
    """Whether any temperature of the dryer is safe for the load."""
    try:
        hottest_c(setup)
    except OutOfRangeError:
        return False
    return True


def _other_dryers(setup: Setup, others: Mapping[int, Dryer]) -> list[_Way]:
    fit = [
        (key, replace(setup, dryer=dryer))
        for key, dryer in others.items()
        if dryer.kind is not DryerKind.VACUUM and dryer.slots >= len(setup.loads)
    ]
    return [_Way(AlternativeKind.OTHER_DRYER, with_it, dryer=key) for key, with_it in fit if _is_safe(with_it)]


def _in_drier_air(setup: Setup) -> list[_Way]:
    """The dew point that would bring the floor well under every aim at the hottest that is safe."""
    air = hottest_c(setup)
    pressure = min(
        activity_of_moisture(load.material, FLOOR_SHARE * load.aim_pct) * saturation_pressure_pa(air)
        for load in setup.loads
    )
    room_c = setup.room.temp_c
    rh = 100.0 * pressure / saturation_pressure_pa(room_c)
    if not 1.0 <= rh < setup.room.rh_pct:
        return []
    dew_point = dew_point_c(room_c, rh)
    return [_Way(AlternativeKind.DRIER_NIGHT, replace(setup, room=RoomAir(room_c, rh)), dew_point_c=dew_point)]


def _with_desiccant(setup: Setup) -> list[_Way]:
    """As much fresh desiccant in a closed box as its load needs, a little more than counted: of the first kind that can
    keep its air so dry.
    """
    for kind in KINDS_TO_HAND:
        needed_g = grams_needed(setup, hottest_c(setup), kind)
        if needed_g:
            charge = Charge(kind, math.ceil(needed_g / GRAMS_STEP) * GRAMS_STEP, desiccant(kind).left_pct)
            return [_Way(AlternativeKind.DESICCANT, replace(setup, dryer=replace(setup.dryer, desiccant=charge)))]
    return []


def _here(setup: Setup) -> list[_Way]:
    """What could be done with this dryer."""
    found = []
    if len(setup.loads) > 1:
        found.append(_Way(AlternativeKind.ALONE, replace(setup, loads=setup.loads[:1])))
    if setup.dryer.has_no_vent:
        found += _with_desiccant(setup)
    elif setup.room.rh_pct > DESICCANT_RH_PCT:
        dried = replace(setup, room=RoomAir(setup.room.temp_c, DESICCANT_RH_PCT))
        found.append(_Way(AlternativeKind.DESICCANT, dried))
    found += _in_drier_air(setup)
    found.append(_Way(AlternativeKind.LONGER, setup, LONGEST_H))
    if any(load.form == "wound" for load in setup.loads):
        loose = replace(setup, loads=tuple(replace(load, form="loose") for load in setup.loads))
        found.append(_Way(AlternativeKind.LOOSE_COIL, loose))
    return found


def alternatives(setup: Setup, others: Mapping[int, Dryer]) -> tuple[Alternative, ...]:
    """Every way that would bring the load to its aim; `others` are the person's other dryers by key.

    Empty where nothing that Darre knows of does it.
    """
    # A dryer that harms the load does so whatever else is done.
    found = _tried(_other_dryers(setup, others) + (_here(setup) if _is_safe(setup) else []))
    elsewhere = [way for way in found if way.kind is AlternativeKind.OTHER_DRYER]
    return (*sorted(elsewhere, key=lambda way: way.duration_h), *found[len(elsewhere) :])


class Risk(StrEnum):
    """What speaks against a programme, the gravest alone."""

    LIMIT = "limit"
    FLOOR = "floor"
    ENDS_ABOVE = "ends_above"
    ABOVE_TG = "above_tg"
    LONG = "long"
    NONE = "none"


@dataclass(frozen=True)
class Ring:
    """A programme as a point of the map: what it sets, where it would end the first spool, what speaks against it."""

    name: str
    temp_c: float
    duration_h: float
    end_pct: float
    risk: Risk
    limit: Limit | None


def missed(setup: Setup, end_pct: Sequence[float]) -> list[Load]:
    """The loads that would end above their aim, by more than rounding."""
    return [load for load, end in zip(setup.loads, end_pct, strict=True) if end > load.aim_pct * ON_AIM]


def risk_of(setup: Setup, temp_c: float, duration_h: float, end_pct: Sequence[float]) -> tuple[Risk, Limit | None]:
    """What speaks most against a run at `temp_c` that ends at these moistures."""
    broken = broken_limits(setup, temp_c)
    if broken:
        return Risk.LIMIT, broken[0]
    over = missed(setup, end_pct)
    if any(setup.floor_pct(load, temp_c) > load.aim_pct for load in over):
        return Risk.FLOOR, None
    if over:
        return Risk.ENDS_ABOVE, None
    if any(above_tg(load, temp_c) for load in setup.loads):
        return Risk.ABOVE_TG, None
    return (Risk.LONG if duration_h > LONG_H else Risk.NONE), None


def rings(setup: Setup, on: DryingMap) -> tuple[Ring, ...]:
    """The methods, the maker's sheet and the own programme on a map, each as it stands, before any limit holds it."""
    found = []
    for name, run in programmes(setup.lead).items():
        ends = on.at(run.temp_c, run.duration_h)
        risk, limit = risk_of(setup, run.temp_c, run.duration_h, ends)
        found.append(Ring(name, run.temp_c, run.duration_h, ends[0], risk, limit))
    return tuple(found)
