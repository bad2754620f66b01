"""What to mind in a run, before it starts: a small set of rules, each with its trigger, and the numbers that belong.

Darre gives guidance, not approval: the makers' manuals, local codes and qualified people come first.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from enum import StrEnum

from drying.dryers import BED_HEATED, DryerKind, LevelCalibration, Limit, Load, Setup, above_tg, broken_limits
from drying.planning.desiccant_use import grams_needed
from drying.storage import DesiccantKind, Pouch, pouch_stands_c

FUMES_FROM_C = 70.0  # engineering estimate: from here on hot plastic is to be ventilated whatever it is
NEAR_SOFT_C = 8.0  # the hot side comes this near to where the filament softens: a swing further is a limit
DOUBTFUL_DISPLAY_C = 3.0  # standard uncertainty from which a setting is not to be trusted without a probe
HOT_BED_C = 95.0


class CautionKind(StrEnum):
    """What to mind in this very run. The trigger of each stands in this module."""

    LIMIT = "limit"
    HELD_BY_LIMIT = "held_by_limit"
    FLOOR_ABOVE_AIM = "floor_above_aim"
    ENDS_ABOVE_AIM = "ends_above_aim"
    ALREADY_CLEAN = "already_clean"
    WETS = "wets"
    ABOVE_TG = "above_tg"
    HOT_SIDE = "hot_side"
    CARD_BODY = "card_body"
    BODY_UNKNOWN = "body_unknown"
    TURN_OVER = "turn_over"
    ASSUMED = "assumed"
    DISPLAY_DOUBTFUL = "display_doubtful"
    LEVELS = "levels"
    NO_WAY_OUT = "no_way_out"
    DESICCANT_SPENT = "desiccant_spent"
    DESICCANT_HOT = "desiccant_hot"
    NO_FAN = "no_fan"
    ONLY_IF_OPENED = "only_if_opened"
    FIBRES = "fibres"
    FUMES = "fumes"
    OVEN = "oven"
    STACKER = "stacker"
    BED = "bed"
    HOT_BED = "hot_bed"
    CHAMBER = "chamber"
    LAMP = "lamp"
    CABINET = "cabinet"
    LOWER_BOUND = "lower_bound"
    HEATED_VACUUM = "heated_vacuum"
    HEAT_UNATTENDED = "heat_unattended"


@dataclass(frozen=True)
class Caution:
    """A caution, the spool it is about (None: the run), and the numbers that belong to it (names with their units)."""

    kind: CautionKind
    serious: bool = False
    limit: Limit | None = None
    spool: int | None = None
    numbers: Mapping[str, float] = field(default_factory=dict)


_OF_KIND = {
    DryerKind.OVEN: (Caution(CautionKind.OVEN, True),),
    DryerKind.STACKER: (Caution(CautionKind.STACKER),),
    DryerKind.BED: (Caution(CautionKind.BED), Caution(CautionKind.TURN_OVER)),
    DryerKind.CHAMBER: (Caution(CautionKind.CHAMBER),),
    DryerKind.LAMP: (Caution(CautionKind.LAMP, True), Caution(CautionKind.TURN_OVER)),
    DryerKind.CABINET: (Caution(CautionKind.CABINET, True),),
    DryerKind.HEATED_VACUUM: (Caution(CautionKind.HEATED_VACUUM, True),),
}


def _of_the_end(load: Load, spool: int, end_pct: float, floor: float) -> Iterator[Caution]:
    """What to say of where the run will end against the aim."""
    aim = load.aim_pct
    if load.start.value < floor and end_pct > load.start.value:
        yield Caution(CautionKind.WETS, True, spool=spool, numbers={"start_pct": load.start.value, "end_pct": end_pct})
    if load.start.value <= aim:
        yield Caution(CautionKind.ALREADY_CLEAN, spool=spool, numbers={"start_pct": load.start.value, "aim_pct": aim})
    elif floor > aim:
        yield Caution(CautionKind.FLOOR_ABOVE_AIM, spool=spool, numbers={"floor_pct": floor, "aim_pct": aim})
    elif end_pct > aim:
        yield Caution(CautionKind.ENDS_ABOVE_AIM, spool=spool, numbers={"end_pct": end_pct, "aim_pct": aim})


def _of_the_spool(setup: Setup, load: Load, spool: int, air_c: float) -> Iterator[Caution]:
    hot_c = air_c + setup.dryer.used("hot_side_excess_c")
    soft = load.material.soft.value
    if above_tg(load, air_c):
        yield Caution(CautionKind.ABOVE_TG, spool=spool, numbers={"tg_c": load.material.tg.value})
    if soft - NEAR_SOFT_C < hot_c and setup.dryer.used("hot_side_excess_c") > 0.0:
        yield Caution(CautionKind.HOT_SIDE, True, spool=spool, numbers={"hot_c": hot_c, "soft_c": soft})
    if load.empty_spool.isotherm:
        yield Caution(CautionKind.CARD_BODY, spool=spool)
    if load.empty_spool.id == "unknown":
        yield Caution(CautionKind.BODY_UNKNOWN, spool=spool)
    if load.sheet is not None and load.sheet.only_if_opened:
        yield Caution(CautionKind.ONLY_IF_OPENED, spool=spool)
    if load.material.fibres:
        yield Caution(CautionKind.FIBRES, spool=spool)


def _of_the_dryer(setup: Setup, air_c: float, most_h: float | None) -> Iterator[Caution]:
    dryer = setup.dryer
    setting = dryer.calibration.setting(air_c, setup.room.temp_c)
    if dryer.assumed:
        yield Caution(CautionKind.ASSUMED, numbers=dryer.assumed)
    if setting.air.uncertainty >= DOUBTFUL_DISPLAY_C:
        yield Caution(CautionKind.DISPLAY_DOUBTFUL, True, numbers={"plus_minus_c": setting.air.plus_minus})
    if isinstance(dryer.calibration, LevelCalibration):
        yield Caution(CautionKind.LEVELS, numbers={"air_c": setting.air.value})
    yield from _of_its_desiccant(setup, air_c)
    if dryer.opens_winding:
        yield Caution(CautionKind.LOWER_BOUND, True, numbers={} if most_h is None else {"most_h": most_h})
    if dryer.fan is False:
        yield Caution(CautionKind.NO_FAN)
    yield from _OF_KIND.get(dryer.kind, ())
    if dryer.kind in BED_HEATED and (setting.set_c or 0.0) > HOT_BED_C:
        yield Caution(CautionKind.HOT_BED, True, numbers={"bed_c": setting.set_c or 0.0})
    if air_c >= FUMES_FROM_C:
        yield Caution(CautionKind.FUMES)


def _of_its_desiccant(setup: Setup, air_c: float) -> Iterator[Caution]:
    """What a box with no way out, and desiccant that is warmed with the spools, ask for."""
    dryer, charge = setup.dryer, setup.dryer.desiccant
    kind = DesiccantKind.SILICA_GEL if charge is None else charge.kind
    needed_g = grams_needed(setup, air_c, kind) if dryer.has_no_vent else None
    numbers = {} if needed_g is None else {"needed_g": needed_g}
    if dryer.is_closed:
        yield Caution(CautionKind.NO_WAY_OUT, True, numbers=numbers)
    if charge is None:
        return
    wet = any(load.start.value > load.aim_pct < setup.floor_pct(load, air_c) for load in setup.loads)
    if wet and dryer.has_no_vent:
        yield Caution(CautionKind.DESICCANT_SPENT, True, numbers={"has_g": charge.dry_g, **numbers})
    if air_c > (stands_c := pouch_stands_c(Pouch.PLASTIC)):
        yield Caution(CautionKind.DESICCANT_HOT, True, numbers={"air_c": air_c, "stands_c": stands_c})


def cautions(
    setup: Setup, air_c: float, held_by: Limit | None, end_pct: Sequence[float], most_h: float | None = None
) -> list[Caution]:
    """All that is to be minded in a run at `air_c` that ends at these moistures; `held_by`: what lowered or raised
    the temperature that was wanted. `most_h`: hours that it takes at the most, where the run's own are the least. The
    serious ones come first.
    """
    found = [Caution(CautionKind.LIMIT, True, x, x.spool) for x in broken_limits(setup, air_c)]
    if held_by is not None:
        found.append(Caution(CautionKind.HELD_BY_LIMIT, False, held_by, held_by.spool))
    for spool, (load, end) in enumerate(zip(setup.loads, end_pct, strict=True)):
        found += _of_the_end(load, spool, end, setup.floor_pct(load, air_c))
        found += _of_the_spool(setup, load, spool, air_c)
    found += _of_the_dryer(setup, air_c, most_h)
    return [*sorted(found, key=lambda caution: not caution.serious), Caution(CautionKind.HEAT_UNATTENDED)]
