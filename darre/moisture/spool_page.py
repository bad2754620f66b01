"""All that is known of a spool, and what the next two weeks would do to it: left as it is, left out, bagged, dried."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime

import numpy as np
from django.http import Http404

from darre.equipment.records import own_scales
from darre.inventory.models import FilamentUse, MoistureReading
from darre.moisture.apps import moisture_state, simulator
from darre.moisture.best import Workshop, workshop
from darre.moisture.lanes import Lane, SimulatedShelf, lanes_of, shelf_now
from darre.moisture.rack import Traced, Window, drawn_course, traced
from darre.moisture.storage import dries_in
from darre.places.room_air import hour_of, moment
from darre.places.selectors import StayRow
from darre.runs.records import read_forecasts
from darre.runs.selectors import Seen, learned_rate, share_of_strand, weighings_of
from drying.arrays import Array
from drying.cache import digest
from drying.diagnosis import thresholds_of
from drying.moisture import ContainerEvents, DesiccantFilled, KnownMoisture, Room, SpoolEvents, SpoolStay
from drying.planning import DampNight, damp_night
from drying.quantity import Quantity
from drying.storage import INGRESS, OPEN, Container, DesiccantKind, Fill, PlaceKind
from drying.storage.desiccant import desiccant
from drying.transport import Rate

AHEAD_H, STEP_H = 14 * 24, 6
LONGEST_BACK_H = 366 * 24
POINTS = 220
BIN_GEL_G = 200.0
HEATED_ACTIVITY = 0.08  # engineering estimate: of the air in a heated box, for a card body that comes out of it
AFTER_HEAT_SHARE = 0.2  # engineering estimate: how sure the moisture after a run is before it is weighed, one sd of it


@dataclass(frozen=True)
class Outcome:
    """What would become of the spool: `name` of the choice, its course every six hours from now, % of dry mass."""

    name: str
    pct: list[float]
    sd: list[float]


@dataclass(frozen=True)
class Learned:
    """How fast this spool dries in a dryer against what is computed, by the runs so far."""

    dryer_name: str
    rate: Rate
    runs: int


@dataclass(frozen=True)
class SpoolPage:
    """All that is known of a spool, and what may come. `dries_h`: hours to its clean threshold beside plenty of fresh
    desiccant in a gasket bin. `damp_night`: what a night in the open would do, and who could tell.
    """

    traced: Traced
    start: datetime
    step_h: int
    moisture_readings: list[MoistureReading]
    stays: list[StayRow]
    uses: list[FilamentUse]
    weighings: list[Seen]
    learned: list[Learned]
    outcomes: list[Outcome]
    outcome_at: list[datetime]
    dries_h: float | None
    damp_night: DampNight | None


def spool_page(spool_id: int, now: datetime) -> SpoolPage:
    """Everything of one spool. Raises Http404."""
    simulated = shelf_now(now, LONGEST_BACK_H)
    shelf = simulated.shelf
    index = next((n for n, s in enumerate(shelf.spools) if s.pk == spool_id), None)
    if index is None:
        raise Http404
    spool = shelf.spools[index]
    [lane] = lanes_of(simulated, [spool_id])
    now_h = hour_of(now)
    first = max(simulated.spool_events[index].known[0].hour, now_h - LONGEST_BACK_H)
    seen = Window(first, now_h + AHEAD_H // 2, max(1, round((now_h + AHEAD_H // 2 - first) / POINTS)))
    read_forecasts(shelf.drawn(moment(seen.first), [spool_id]))
    here = workshop(now, shelf.book)
    [followed] = traced([(lane, index)], simulated, seen, here)
    hours = np.arange(0, AHEAD_H + 1, STEP_H)
    outcomes = _outcomes(simulated, index, lane, _heat_course(here, followed))
    return SpoolPage(
        traced=followed,
        start=moment(seen.first),
        step_h=seen.step,
        moisture_readings=list(spool.moisture_readings.all()),
        stays=simulated.shelf.stays[spool.pk],
        uses=list(spool.uses.all()),
        weighings=weighings_of(spool),
        learned=_learned(simulated, lane, here),
        outcomes=outcomes,
        outcome_at=[moment(float(now_h + h)) for h in hours],
        dries_h=dries_in([(lane, _container(PlaceKind.GASKET_BIN))], simulated)[spool.pk],
        damp_night=_damp_night(lane, hours.astype(np.float64), outcomes),
    )


def _damp_night(lane: Lane, hours: Array, outcomes: Sequence[Outcome]) -> DampNight | None:
    """What a night in the open would do to a spool that stands somewhere else, or is dried for it first."""
    known = thresholds_of(lane.material)
    out = next((outcome for outcome in outcomes if outcome.name == "out"), None)
    if known is None or out is None:
        return None
    dry_g = None if lane.net_g is None else lane.net_g / (1.0 + lane.moisture.value / 100.0)
    gross_g = None if lane.net_g is None else lane.net_g + lane.spool.tare_g
    return damp_night(hours, np.array(out.pct), dry_g, gross_g, own_scales(), known.trouble_pct)


def _learned(simulated: SimulatedShelf, lane: Lane, here: Workshop) -> list[Learned]:
    spool, share = lane.spool, share_of_strand(lane.spool, lane.material, "", lane.net_g)
    used = {r.batch.dryer_id: r.dryer.name for r in simulated.shelf.runs[spool.pk] if r.learned_log_rate is not None}
    runs = [r.batch.dryer_id for r in simulated.shelf.runs[spool.pk] if r.learned_log_rate is not None]
    return [Learned(name, learned_rate(spool, pk, share, here.past), runs.count(pk)) for pk, name in used.items()]


def _heat_course(here: Workshop, traced: Traced) -> Array | None:
    """The course of the run that would be planned, hour by hour; None where none would be."""
    heat = traced.heat
    if heat is None:
        return None
    dryer = next(dryer for dryer in here.dryers if dryer.pk == heat.dryer)
    hours = np.arange(0.0, max(round(heat.duration_h), 1) + 1.0)
    setup = here.setup([traced.lane], dryer)
    return moisture_state().heat_courses.get(
        (setup, heat.temp_c, hours.size), lambda: setup.courses(heat.temp_c, hours)[0]
    )


def _container(kind: PlaceKind) -> Container:
    ingress, _, air_l = INGRESS[kind]
    return Container(ingress, air_l)


def _outcomes(simulated: SimulatedShelf, n: int, lane: Lane, heat: Array | None) -> list[Outcome]:
    """The choices side by side, all from what it holds at the start of this hour. Those that do not leave it where it
    is begin with its water even all through, and are kept by everything that they were computed from.
    """
    now_h = hour_of(simulated.shelf.now)
    room = simulated.air(now_h, now_h + 1 + AHEAD_H)
    activity = HEATED_ACTIVITY if lane.run else lane.body_activity
    as_now = KnownMoisture(now_h, simulated.at_hour(n, lane), body_activity=activity)
    spool = simulated.spool_events[n].anew(as_now)
    course = None if heat is None else heat.tobytes()
    key = (spool, course, digest(room.temp_c.tobytes(), room.activity.tobytes()))
    elsewhere = moisture_state().outcomes.get(key, lambda: _elsewhere(spool, room, heat))
    return [_left(simulated, n, lane), *elsewhere]


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
