"""All that is known of a spool, and what the next two weeks would do to it: left as it is, left out, bagged, dried."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

import numpy as np
from django.http import Http404

from darre.equipment.records import own_scales
from darre.inventory.models import FilamentUse, MoistureReading
from darre.moisture.best import Workshop, workshop
from darre.moisture.lanes import Lane, SimulatedShelf, lanes_of, shelf_now
from darre.moisture.rack import Traced, Window, traced
from darre.moisture.storage import AHEAD_H, STEP_H
from darre.moisture.what_ifs import Outcome, what_may_come
from darre.places.room_air import hour_of, moment
from darre.places.selectors import StayRow
from darre.runs.records import read_forecasts
from darre.runs.selectors import Seen, learned_rate, share_of_strand, weighings_of
from drying.arrays import Array
from drying.diagnosis import thresholds_of
from drying.planning import DampNight, damp_night
from drying.transport import Rate

LONGEST_BACK_H = 366 * 24
POINTS = 220


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
    simulated = shelf_now(now, LONGEST_BACK_H, AHEAD_H)
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
    outcomes, dries_h = what_may_come(simulated, here, index, lane, followed.heat)
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
        dries_h=dries_h,
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
