"""Storage: containers, the air in them, how long each spool stays clean there, and their desiccant."""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from functools import cached_property

import numpy as np

from darre.moisture.apps import moisture_state, simulator
from darre.moisture.events import core_container, core_fill
from darre.moisture.lanes import Lane, SimulatedShelf, lanes_of, shelf_now
from darre.places.models import DesiccantFill, Place
from darre.places.room_air import hour_of, moment
from drying.arrays import Array
from drying.errors import OutOfRangeError
from drying.materials import activity_of_moisture
from drying.moisture import (
    AirOver,
    BesideDesiccant,
    ContainerEvents,
    Crossing,
    DesiccantFilled,
    KnownMoisture,
    MoistureHistories,
    SpoolEvents,
    crossing,
    desiccant_load,
    exposure_g_d_m3,
    handed_over_g,
    hours_to_dry_beside_desiccant,
    ingress_spread,
    water_difference_g_m3,
    water_in_g_day,
)
from drying.quantity import Quantity
from drying.storage import (
    INGRESS,
    OPEN_KINDS,
    Container,
    DesiccantKind,
    Indicator,
    PlaceKind,
    Pouch,
    Regeneration,
    fitted_ingress,
    grams_to_last,
    regeneration,
)
from drying.storage.desiccant import desiccant

AHEAD_H, BACK_H = 14 * 24, 14 * 24
FITTED_BACK_H = 120 * 24  # weighings of desiccant count so far back
STEP_H = 6
LAST_DAYS = 30


@dataclass(frozen=True)
class Contained:
    """A spool in a container. `clean`, `trouble`: when it rises above its thresholds. `dries_h`: how long plenty of
    fresh desiccant would take to bring it to its clean threshold in here; None where it is there, or it takes over four
    months.
    """

    lane: Lane
    clean: Crossing
    trouble: Crossing
    dries_h: float | None


@dataclass(frozen=True)
class DesiccantState:
    """The desiccant in a container: water in it now, % of its dry mass, what it can hold while the spools stay clean,
    whether it is spent, and how it is regenerated.
    """

    fill: DesiccantFill
    name: str
    load_pct: float
    useful_pct: float
    spent: bool
    regeneration: Regeneration


@dataclass(frozen=True)
class Holding:
    """A container: the air in it, what leaks in, its spools, its desiccant, and how much of it a month would take."""

    place: Place
    rh_pct: float | None
    at: list[datetime]
    rh_course: list[float | None]
    rh_low: list[float | None]
    rh_high: list[float | None]
    ingress: Quantity
    usual_ingress: bool
    fitted: Quantity | None
    contents: list[Contained]
    desiccant: DesiccantState | None
    needed_g: float | None
    needed_kind: str
    water_g_day: float | None


def storage(now: datetime) -> list[Holding]:
    """Every container, with the next two weeks."""
    simulated = shelf_now(now, FITTED_BACK_H, AHEAD_H)
    everyone = [spool.pk for spool in simulated.shelf.spools]
    lanes = {lane.spool.pk: lane for lane in lanes_of(simulated, everyone)}
    low, high = _least_and_most(simulated, lanes)
    closed = [(n, box) for n, box in enumerate(simulated.boxes) if PlaceKind(box.kind) not in OPEN_KINDS]
    boxes = {box.pk: core_container(box) for _, box in closed}
    inside = [(lane, boxes[lane.stay.place.pk]) for lane in lanes.values() if lane.stay and lane.stay.place.pk in boxes]
    simulations = _Simulations(simulated, low, high, dries_in(inside, simulated))
    return [_holding(n, box, simulations, lanes) for n, box in closed]


@dataclass(frozen=True)
class _Simulations:
    """The simulation, and the weeks to come with as little and as much leaking in as is plausible; how long each
    contained spool, by its id, would take to dry beside fresh desiccant.
    """

    simulated: SimulatedShelf
    low: MoistureHistories
    high: MoistureHistories
    dries_h: dict[int, float | None]

    @cached_property
    def hours(self) -> np.ndarray:
        """The hours that have a point, since 1970."""
        now_h = hour_of(self.simulated.shelf.now)
        return np.arange(now_h - BACK_H, now_h + AHEAD_H + 1, STEP_H)

    @cached_property
    def at(self) -> list[datetime]:
        """Their moments."""
        return [moment(float(hour)) for hour in self.hours]

    @property
    def each(self) -> tuple[MoistureHistories, MoistureHistories, MoistureHistories]:
        return self.simulated.histories, self.low, self.high


def _least_and_most(simulated: SimulatedShelf, lanes: dict[int, Lane]) -> tuple[MoistureHistories, MoistureHistories]:
    """The weeks to come from how all stands now, with the leaks a spread less and a spread more, in one go: what stands
    open is the same in both.
    """
    now_h, count = hour_of(simulated.shelf.now), len(simulated.boxes)
    spools = [_from_now(simulated, n, lanes[spool.pk]) for n, spool in enumerate(simulated.shelf.spools)]
    closed = [n for n, events in enumerate(spools) if any(stay.place >= 0 for stay in events.stays)]
    twins = [_in_twin(spools[n], count) for n in closed]
    boxes = [_box_from_now(simulated, n, sign) for sign in (-1, 1) for n in range(count)]
    both = simulator().simulate([*spools, *twins], boxes, simulated.air(now_h, now_h + 1 + AHEAD_H))
    least = both.spools[: len(spools)]
    most = list(least)
    for n, line in zip(closed, both.spools[len(spools) :], strict=True):
        most[n] = line
    return (
        MoistureHistories(least, both.first, both.activity[:count]),
        MoistureHistories(most, both.first, both.activity[count:]),
    )


def _from_now(simulated: SimulatedShelf, n: int, lane: Lane) -> SpoolEvents:
    """A spool as it stands now, for good."""
    now_h, events = hour_of(simulated.shelf.now), simulated.spool_events[n]
    now = KnownMoisture(now_h, Quantity(simulated.at_hour(n, lane).value, 0.0), body_activity=lane.body_activity)
    stays = tuple(s for s in events.stays if s.until is None)
    away = tuple(span for span in events.away if span[1] > now_h)
    return events.anew(now, stays=stays, away=away)


def _in_twin(events: SpoolEvents, count: int) -> SpoolEvents:
    """The same spool in containers that stand `count` places further on."""
    stays = (replace(s, place=s.place + count) if s.place >= 0 else s for s in events.stays)
    return replace(events, stays=tuple(stays))


def _box_from_now(simulated: SimulatedShelf, n: int, sign: int) -> ContainerEvents:
    """A container as it stands now, with its leak a spread less or more."""
    now_h, place, box = hour_of(simulated.shelf.now), simulated.boxes[n], simulated.container_events[n]
    rh = float(simulated.histories.activity[n][now_h - simulated.histories.first])
    fill = box.fills[-1].fill if box.fills else None
    load = desiccant(fill.kind).held_pct(rh) if fill and not math.isnan(rh) else 0.0
    return ContainerEvents(core_container(place, _spread(place) ** sign), now_h, (DesiccantFilled(now_h, fill, load),))


def _spread(place: Place) -> float:
    usual = INGRESS.get(PlaceKind(place.kind), (0.0, 1.0, 0.0))[1]
    return ingress_spread(usual, measured=place.ingress_m3_day is not None)


def _holding(n: int, place: Place, simulations: _Simulations, lanes: dict[int, Lane]) -> Holding:
    simulated, now = simulations.simulated, simulations.simulated.shelf.now
    now_h = hour_of(now)
    courses = [_air_course(histories, n, simulations.hours) for histories in simulations.each]
    inside = [
        (k, lanes[s.pk])
        for k, s in enumerate(simulated.shelf.spools)
        if (stay := lanes[s.pk].stay) is not None and stay.place.pk == place.pk
    ]
    rh = simulated.histories.activity[n][now_h - simulated.histories.first]
    fill = max((f for f in place.fills.all() if f.at <= now), key=lambda f: (f.at, f.pk), default=None)
    most = min((_clean_activity(lane) for _, lane in inside), default=0.2)
    ingress = core_container(place)
    container = Quantity(ingress.ingress_m3_day or 0.0, 0.0)
    water = _water_g_day(simulated, n, container.value)
    state = _state(fill, float(rh), most) if fill and fill.kind and not math.isnan(rh) else None
    kind = DesiccantKind(fill.kind) if fill and fill.kind else DesiccantKind.SILICA_GEL
    return Holding(
        place=place,
        rh_pct=None if math.isnan(rh) else 100.0 * float(rh),
        at=simulations.at,
        rh_course=courses[0],
        rh_low=courses[1],
        rh_high=courses[2],
        ingress=container,
        usual_ingress=place.ingress_m3_day is None,
        fitted=_fitted(simulated, n, fill) if fill and fill.kind else None,
        contents=[_contained(k, lane, place, simulations) for k, lane in inside],
        desiccant=state,
        needed_g=_needed(kind, water, most),
        needed_kind=desiccant(kind).name,
        water_g_day=water,
    )


def _air_course(histories: MoistureHistories, n: int, hours: np.ndarray) -> list[float | None]:
    at, row = hours - histories.first, histories.activity[n]
    values = [row[i] if 0 <= i < row.size else math.nan for i in at]
    return [None if math.isnan(v) else round(100.0 * float(v), 2) for v in values]


def _clean_activity(lane: Lane) -> float:
    """The activity at which a spool would in the end stand at its clean threshold."""
    clean = lane.material.clean
    return 1.0 if clean is None else min(activity_of_moisture(lane.material, clean.value), 1.0)


def _contained(k: int, lane: Lane, place: Place, simulations: _Simulations) -> Contained:
    now_h = hour_of(simulations.simulated.shelf.now)
    middle, dry, damp = (c.spools[k].moisture_pct[now_h + 1 - c.first :][:AHEAD_H] for c in simulations.each)
    clean, trouble, now = lane.material.clean, lane.material.trouble, lane.moisture.value
    return Contained(
        lane=lane,
        clean=crossing(middle, dry, damp, now, clean.value if clean else None),
        trouble=crossing(middle, dry, damp, now, trouble.value if trouble else None),
        dries_h=simulations.dries_h[lane.spool.pk],
    )


def dries_in(inside: Sequence[tuple[Lane, Container]], simulated: SimulatedShelf) -> dict[int, float | None]:
    """Hours until each spool, by its id, prints clean beside plenty of fresh desiccant, at the room's present air."""
    number = {spool.pk: n for n, spool in enumerate(simulated.shelf.spools)}
    now_h = hour_of(simulated.shelf.now)
    air = simulated.air(now_h, now_h + 1)
    room = now_h, float(air.temp_c[0]), float(air.activity[0])
    keys = []
    for lane, container in inside:
        n = number[lane.spool.pk]
        spool = simulated.spool_events[n].anew()  # where it has been makes no difference here
        keys.append((BesideDesiccant(spool, simulated.at_hour(n, lane).value, container), room))

    def made(missing: list[tuple[BesideDesiccant, tuple[int, float, float]]]) -> list[tuple[float | None]]:
        hours = hours_to_dry_beside_desiccant(simulator(), [asked for asked, _ in missing], room)
        return [(each,) for each in hours]

    found = moisture_state().hours_to_dry.get_each(keys, made)
    return {lane.spool.pk: hours for (lane, _), (hours,) in zip(inside, found, strict=True)}


def _state(fill: DesiccantFill, rh: float, most: float) -> DesiccantState:
    kind = DesiccantKind(fill.kind)
    found = desiccant_load(kind, rh, most)
    return DesiccantState(
        fill=fill,
        name=desiccant(kind).name,
        load_pct=found.load_pct,
        useful_pct=found.useful_pct,
        spent=found.spent,
        regeneration=regeneration(kind, Indicator(fill.indicator), Pouch(fill.pouch)),
    )


def _differences(simulated: SimulatedShelf, n: int, begin: int, end: int) -> Array:
    """Water in the room's air less that in a container's, g/m³, hour by hour."""
    inside = simulated.histories.activity[n][begin - simulated.histories.first : end - simulated.histories.first]
    room = simulated.air(begin, end)
    return water_difference_g_m3(room.temp_c, room.activity, inside)


def _water_g_day(simulated: SimulatedShelf, n: int, ingress: float) -> float | None:
    """What leaks in now, g a day, by the mean of the last day."""
    now_h = hour_of(simulated.shelf.now)
    return water_in_g_day(_differences(simulated, n, max(now_h - 24, simulated.histories.first), now_h), ingress)


def _needed(kind: DesiccantKind, water: float | None, most: float) -> float | None:
    if water is None:
        return None
    try:
        return grams_to_last(kind, water, LAST_DAYS, most)
    except OutOfRangeError:
        return None


def _fitted(simulated: SimulatedShelf, n: int, fill: DesiccantFill) -> Quantity | None:
    """What leaks in, by the first and last weighing of the desiccant; None before there are two."""
    seen = [w for w in fill.weighings.all() if w.at <= simulated.shelf.now]
    if len(seen) < 2 or core_fill(fill) is None:
        return None
    begin_h = max(hour_of(simulated.shelf.now) - FITTED_BACK_H, simulated.histories.first)
    first, last = next((w for w in seen if hour_of(w.at) >= begin_h), seen[-1]), seen[-1]
    begin, end = hour_of(first.at), hour_of(last.at)
    histories, spools = simulated.histories, simulated.spool_events
    room = simulated.air(histories.first, histories.first + histories.activity.shape[1])
    air = AirOver(histories.first, histories.activity[n], room.activity)
    given = handed_over_g(zip(spools, histories.spools, strict=True), n, begin, end, air)
    exposure = exposure_g_d_m3(_differences(simulated, n, begin, end))
    return fitted_ingress(last.mass_g - first.mass_g, math.hypot(first.sd_g, last.sd_g), given, exposure)
