"""What may come of a spool in the next two weeks: left as it is, left out, bagged, put in a bin, or dried first."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from darre.moisture.apps import moisture_state, simulator
from darre.moisture.best import Heat, Workshop
from darre.moisture.lanes import Lane, SimulatedShelf, lanes_of
from darre.moisture.rack import drawn_course, next_of
from darre.moisture.storage import dries_in
from darre.places.room_air import hour_of
from drying.arrays import Array
from drying.cache import digest
from drying.moisture import ContainerEvents, DesiccantFilled, KnownMoisture, Room, SpoolEvents, SpoolStay
from drying.quantity import Quantity
from drying.storage import INGRESS, OPEN, Container, DesiccantKind, Fill, PlaceKind
from drying.storage.desiccant import desiccant

AHEAD_H, STEP_H = 14 * 24, 6
BIN_GEL_G = 200.0
HEATED_ACTIVITY = 0.08  # engineering estimate: of the air in a heated box, for a card body that comes out of it
AFTER_HEAT_SHARE = 0.2  # engineering estimate: how sure the moisture after a run is before it is weighed, one sd of it
ALONG = 15  # spools that are followed along with the one asked for: they cost little more, and are asked for next


@dataclass(frozen=True)
class Outcome:
    """What would become of the spool: `name` of the choice, its course every six hours from now, % of dry mass."""

    name: str
    pct: list[float]
    sd: list[float]


@dataclass(frozen=True)
class Choices:
    """A spool as it is at the start of this hour, its water even all through, and the course of the heat that it would
    get, as bytes, for which it leaves the air.
    """

    spool: SpoolEvents
    heat: bytes | None

    @property
    def course(self) -> Array | None:
        """Moisture through the heat, hour by hour, % of dry mass."""
        return None if self.heat is None else np.frombuffer(self.heat)


def what_may_come(
    simulated: SimulatedShelf, here: Workshop, n: int, lane: Lane, heat: Heat | None
) -> tuple[list[Outcome], float | None]:
    """The choices side by side, all from what the spool holds at the start of this hour, and how long it would dry
    beside plenty of fresh desiccant in a bin, h. Those that do not leave it where it is are kept by everything that
    they were computed from, and worked out along with those of the spools after it.
    """
    now_h = hour_of(simulated.shelf.now)
    room = simulated.air(now_h, now_h + 1 + AHEAD_H)
    air = digest(room.temp_c.tobytes(), room.activity.tobytes())
    asked = _choices(simulated, here, n, lane, heat)
    known = moisture_state().outcomes.peek((asked, air)) is not None
    along, lanes = ([], []) if known else _along(simulated, here, n)

    def made(missing: list[tuple[Choices, bytes]]) -> list[list[Outcome]]:
        return _elsewhere([choices for choices, _ in missing], room)

    elsewhere, *_ = moisture_state().outcomes.get_each([(each, air) for each in (asked, *along)], made)
    bin_ = _container(PlaceKind.GASKET_BIN)
    dries_h = dries_in([(each, bin_) for each in (lane, *lanes)], simulated)[lane.spool.pk]
    return [_left(simulated, n, lane), *elsewhere], dries_h


def _along(simulated: SimulatedShelf, here: Workshop, n: int) -> tuple[list[Choices], list[Lane]]:
    """Some of the spools that come after one on the shelf."""
    spools = simulated.shelf.spools
    after = [m % len(spools) for m in range(n + 1, n + len(spools)) if spools[m % len(spools)].archived_at is None]
    number = {spools[m].pk: m for m in after[:ALONG]}
    lanes = lanes_of(simulated, list(number))
    numbers = [number[lane.spool.pk] for lane in lanes]
    to_dry = [lane for lane, m in zip(lanes, numbers, strict=True) if next_of(simulated, lane, m).is_to_dry]
    heat = dict(zip([lane.spool.pk for lane in to_dry], here.heat_each(to_dry), strict=True))
    rows = zip(lanes, numbers, strict=True)
    return [_choices(simulated, here, m, lane, heat.get(lane.spool.pk)) for lane, m in rows], lanes


def _choices(simulated: SimulatedShelf, here: Workshop, n: int, lane: Lane, heat: Heat | None) -> Choices:
    activity = HEATED_ACTIVITY if lane.run else lane.body_activity
    as_now = KnownMoisture(hour_of(simulated.shelf.now), simulated.at_hour(n, lane), body_activity=activity)
    course = _heat_course(here, lane, heat)
    return Choices(simulated.spool_events[n].anew(as_now), None if course is None else course.tobytes())


def _heat_course(here: Workshop, lane: Lane, heat: Heat | None) -> Array | None:
    """The course of the run that would be planned, hour by hour; None where none would be."""
    if heat is None:
        return None
    dryer = next(dryer for dryer in here.dryers if dryer.pk == heat.dryer)
    hours = np.arange(0.0, max(round(heat.duration_h), 1) + 1.0)
    setup = here.setup([lane], dryer)
    return moisture_state().heat_courses.get(
        (setup, heat.temp_c, hours.size), lambda: setup.courses(heat.temp_c, hours)[0]
    )


def _container(kind: PlaceKind) -> Container:
    ingress, _, air_l = INGRESS[kind]
    return Container(ingress, air_l)


def _elsewhere(asked: Sequence[Choices], room: Room) -> list[list[Outcome]]:
    """What becomes of each spool that is left out, bagged, put in a bin, or dried by a course of heat and put there:
    all side by side in one go, each as if it were alone.
    """
    now_h, hours = room.first, np.arange(0, AHEAD_H + 1, STEP_H)
    gel = Fill(DesiccantKind.SILICA_GEL, BIN_GEL_G)
    fresh = DesiccantFilled(now_h, gel, desiccant(gel.kind).left_pct)
    bag = ContainerEvents(_container(PlaceKind.ZIP_BAG), now_h)
    bin_ = ContainerEvents(_container(PlaceKind.GASKET_BIN), now_h, (fresh,))
    boxes: list[ContainerEvents] = []
    named: list[tuple[int, str]] = []
    spools: list[SpoolEvents] = []

    def follow(k: int, name: str, box: ContainerEvents | None, *known: KnownMoisture, away: int = 0) -> None:
        place, spans = OPEN if box is None else len(boxes), ((now_h, now_h + away),) if away else ()
        boxes.extend([] if box is None else [box])
        spools.append(asked[k].spool.anew(*known, stays=(SpoolStay(now_h, None, place),), away=spans))
        named.append((k, name))

    for k, (each, [as_now]) in enumerate((each, each.spool.known) for each in asked):
        follow(k, "out", None, as_now)
        follow(k, "bag", bag, as_now)
        follow(k, "bin", bin_, as_now)
        if (heat := each.course) is not None:
            away, end = heat.size - 1, float(heat[-1])
            dried = KnownMoisture(now_h + away, Quantity(end, AFTER_HEAT_SHARE * end), body_activity=HEATED_ACTIVITY)
            follow(k, "dry", bin_, as_now, dried, away=away)
    found: list[list[Outcome]] = [[] for _ in asked]
    for (k, name), history in zip(named, simulator().simulate(spools, boxes, room).spools, strict=True):
        outcome, heat = _outcome(name, history.moisture_pct[hours], history.sd_pct[hours]), asked[k].course
        found[k].append(_dried(outcome, heat, hours) if name == "dry" and heat is not None else outcome)
    return found


def _dried(outcome: Outcome, heat: Array, hours: np.ndarray) -> Outcome:
    """With the course of the heat itself, as long as that lasts."""
    in_heat = [round(float(heat[h]), 4) for h in hours if h < heat.size - 1]
    return replace(outcome, pct=[*in_heat, *outcome.pct[len(in_heat) :]])


def _left(simulated: SimulatedShelf, n: int, lane: Lane) -> Outcome:
    """Left where it is: as its lane is drawn from now on. The runs that have ended lie before."""
    line = simulated.histories.spools[n]
    moisture, sd = drawn_course(simulated, lane, n) if lane.run else (line.moisture_pct, line.sd_pct)
    now, at = simulated.at_hour(n, lane), hour_of(simulated.shelf.now) - simulated.histories.first
    to_come = at + np.arange(STEP_H, AHEAD_H + 1, STEP_H)
    return _outcome("stay", np.append(now.value, moisture[to_come]), np.append(now.uncertainty, sd[to_come]))


def _outcome(name: str, pct: np.ndarray, sd: np.ndarray) -> Outcome:
    return Outcome(name, [round(max(float(v), 0.0), 4) for v in pct], [round(float(v), 4) for v in sd])
