"""What may come of a spool in the next two weeks: left as it is, left out, bagged, put in a bin, or dried first."""

from dataclasses import dataclass, replace

import numpy as np

from darre.moisture.apps import moisture_state, simulator
from darre.moisture.best import Heat, Workshop
from darre.moisture.lanes import Lane, SimulatedShelf
from darre.moisture.rack import drawn_course
from darre.moisture.storage import AHEAD_H, STEP_H, dries_in
from darre.places.room_air import hour_of
from drying.arrays import Array
from drying.cache import digest
from drying.moisture import ContainerEvents, DesiccantFilled, KnownMoisture, Room, SpoolEvents, SpoolStay
from drying.quantity import Quantity
from drying.storage import INGRESS, OPEN, Container, DesiccantKind, Fill, PlaceKind
from drying.storage.desiccant import desiccant

BIN_GEL_G = 200.0
HEATED_ACTIVITY = 0.08  # engineering estimate: of the air in a heated box, for a card body that comes out of it
AFTER_HEAT_SHARE = 0.2  # engineering estimate: how sure the moisture after a run is before it is weighed, one sd of it


@dataclass(frozen=True)
class Outcome:
    """What would become of the spool: `name` of the choice, its course every six hours from now, % of dry mass."""

    name: str
    pct: list[float]
    sd: list[float]


def what_may_come(
    simulated: SimulatedShelf, here: Workshop, n: int, lane: Lane, heat: Heat | None
) -> tuple[list[Outcome], float | None]:
    """The choices side by side, all from what the spool holds at the start of this hour, and how long it would dry
    beside plenty of fresh desiccant in a bin, h. Those that do not leave it where it is begin with its water even all
    through, and are kept by everything that they were computed from.
    """
    now_h = hour_of(simulated.shelf.now)
    room = simulated.air(now_h, now_h + 1 + AHEAD_H)
    activity = HEATED_ACTIVITY if lane.run else lane.body_activity
    as_now = KnownMoisture(now_h, simulated.at_hour(n, lane), body_activity=activity)
    spool, course = simulated.spool_events[n].anew(as_now), _heat_course(here, lane, heat)
    key = (
        spool,
        None if course is None else course.tobytes(),
        digest(room.temp_c.tobytes(), room.activity.tobytes()),
    )
    elsewhere = moisture_state().outcomes.get(key, lambda: _elsewhere(spool, room, course))
    dries_h = dries_in([(lane, _container(PlaceKind.GASKET_BIN))], simulated)[lane.spool.pk]
    return [_left(simulated, n, lane), *elsewhere], dries_h


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


def _elsewhere(spool: SpoolEvents, room: Room, heat: Array | None) -> list[Outcome]:
    """What becomes of a spool that is left out, bagged, put in a bin, or dried by a course of heat and put there."""
    now_h, [as_now] = room.first, spool.known
    hours = np.arange(0, AHEAD_H + 1, STEP_H)
    gel = Fill(DesiccantKind.SILICA_GEL, BIN_GEL_G)
    fresh = DesiccantFilled(now_h, gel, desiccant(gel.kind).left_pct)
    bag, bin_ = _container(PlaceKind.ZIP_BAG), _container(PlaceKind.GASKET_BIN)

    def kept(place: int, *known: KnownMoisture, away: int = 0) -> SpoolEvents:
        spans = ((now_h, now_h + away),) if away else ()
        return spool.anew(*known, stays=(SpoolStay(now_h, None, place),), away=spans)

    boxes = [ContainerEvents(bag, now_h), ContainerEvents(bin_, now_h, (fresh,))]
    choices = {"out": kept(OPEN, as_now), "bag": kept(0, as_now), "bin": kept(1, as_now)}
    if heat is not None:
        away, end = heat.size - 1, float(heat[-1])
        dried = KnownMoisture(now_h + away, Quantity(end, AFTER_HEAT_SHARE * end), body_activity=HEATED_ACTIVITY)
        boxes.append(boxes[1])  # a bin of its own
        choices["dry"] = kept(2, as_now, dried, away=away)
    # Side by side in one go, each as if it were alone.
    histories = simulator().simulate(list(choices.values()), boxes, room).spools
    found = [_outcome(name, h.moisture_pct[hours], h.sd_pct[hours]) for name, h in zip(choices, histories, strict=True)]
    if heat is not None:
        found[-1] = replace(
            found[-1], pct=[round(float(heat[h]), 4) if h < away else found[-1].pct[k] for k, h in enumerate(hours)]
        )
    return found


def _left(simulated: SimulatedShelf, n: int, lane: Lane) -> Outcome:
    """Left where it is: as its lane is drawn from now on. The runs that have ended lie before."""
    line = simulated.histories.spools[n]
    moisture, sd = drawn_course(simulated, lane, n) if lane.run else (line.moisture_pct, line.sd_pct)
    now, at = simulated.at_hour(n, lane), hour_of(simulated.shelf.now) - simulated.histories.first
    to_come = at + np.arange(STEP_H, AHEAD_H + 1, STEP_H)
    return _outcome("stay", np.append(now.value, moisture[to_come]), np.append(now.uncertainty, sd[to_come]))


def _outcome(name: str, pct: np.ndarray, sd: np.ndarray) -> Outcome:
    return Outcome(name, [round(max(float(v), 0.0), 4) for v in pct], [round(float(v), 4) for v in sd])
