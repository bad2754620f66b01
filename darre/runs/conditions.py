"""What the spools of a run met: what the box did, what others beside them gave off, what desiccant took up."""

import math
from dataclasses import dataclass, replace
from datetime import datetime, timedelta

import numpy as np

from darre.equipment.records import DESICCANT
from darre.inventory.material_book import MaterialBook
from darre.runs.apps import run_caches
from darre.runs.models import Batch, EventKind, Run
from darre.runs.records import (
    dryer_then,
    heats,
    hours_between,
    is_off,
    joined_h,
    of_run,
    pauses,
    planned_h,
    room_then,
    shares_box,
    stays,
)
from drying.dryers import Load, OverDesiccant, Pause, Stay, air_beside, box_course, occupant, over_desiccant
from drying.dryers.setup import SHARED_WARM_UP_PARTS, all_warmed_through, going_on
from drying.runs import segments_of_run
from drying.storage import Charge, DesiccantKind
from drying.transport import Segment

LEAST_AHEAD_H = 1.0
OFF_STEP_H = 0.25


def start_temp_c(run: Run) -> float | None:
    """How warm a spool went in, °C: as its room. None where what it met is at its own temperature already."""
    own_warmth = dryer_then(run.batch).desiccant is None and shares_box(run) and joined_h(run) == 0.0
    return None if own_warmth else room_then(run.batch).temp_c


def _ahead(run: Run, until: datetime) -> tuple[list[Pause], float]:
    """When the heat of a run's box was off, and up to which hour of the box it is followed."""
    batch = run.batch
    off, until_h = pauses(batch, until), hours_between(batch.started_at, until)
    if is_off(batch, until):  # as it would go on if the heat came back now
        until_h = math.ceil(until_h / OFF_STEP_H) * OFF_STEP_H  # the same for a while, so that courses can be kept
        off = pauses(batch, batch.started_at + timedelta(hours=until_h))
        return off, until_h + max(planned_h(run), LEAST_AHEAD_H)
    # as it goes on, or would have: the same at every moment of the run and after it
    return off, max(until_h, joined_h(run) + planned_h(run))


def conditions_met(run: Run, load: Load, book: MaterialBook, until: datetime) -> list[Segment]:
    """What the spool met from its start on: what the box did, and beside others the water that they gave off."""
    batch = run.batch
    dryer, room, set_to = dryer_then(batch), room_then(batch), heats(batch)
    if dryer.desiccant is not None:
        return over_its_desiccant(run, book, until, dryer.desiccant).from_h(joined_h(run))
    off, until_h = _ahead(run, until)
    if not shares_box(run):
        begin, off = joined_h(run), of_run(run, off)
        set_to = [(max(since - begin, 0.0), air_c) for since, air_c in set_to]
        return segments_of_run(dryer, load.material, room, set_to, until_h - begin, off)
    together, me = _together(run, book)
    box = segments_of_run(dryer, together[0].load.material, room, set_to, until_h, off, SHARED_WARM_UP_PARTS)
    if joined_h(run) == 0.0:
        box = all_warmed_through([stay.load for stay in together], going_on(box), room.temp_c, dryer.fan)
    *before, steady = box
    box = [*before, replace(steady, duration_h=1.0)]  # the last goes on: how long it has lasted changes nothing
    return run_caches().airs.get(repr((together, me, box)), lambda: air_beside(together, me, box))


def _together(run: Run, book: MaterialBook) -> tuple[list[Stay], int]:
    """All that was in the box, this run's load as if it stayed, and which that is."""
    together, me = stays(run.batch, book), [other.pk for other in run.batch.runs.all()].index(run.pk)
    together[me] = replace(together[me], to_h=None)
    return together, me


def _charges(batch: Batch, first: Charge) -> list[tuple[float, Charge]]:
    """The desiccant of a batch, from when on, h after its start: what lay in it, and as much fresh each time that it
    was changed.
    """
    fresh = replace(first, load_pct=first.sorbent.left_pct)
    changed = [hours_between(batch.started_at, e.at) for e in batch.events.all() if e.kind == EventKind.DESICCANT]
    return [(0.0, first), *((at, fresh) for at in changed)]


def over_its_desiccant(run: Run, book: MaterialBook, until: datetime, charge: Charge) -> OverDesiccant:
    """The air that the desiccant of a run's box keeps, and its water, by the clock of the batch."""
    batch = run.batch
    dryer, room = dryer_then(batch), room_then(batch)
    off, until_h = _ahead(run, until)
    together, _ = _together(run, book)
    box = segments_of_run(dryer, together[0].load.material, room, heats(batch), until_h, off, SHARED_WARM_UP_PARTS)
    loads = [stay.load for stay in together]
    course = box_course(loads, box, _charges(batch, charge), room.temp_c, dryer.fan)
    there = [occupant(stay.load, stay.from_h, stay.to_h) for stay in together]
    return run_caches().over_desiccant.get(repr((there, course)), lambda: over_desiccant([(there, course)])[0])


@dataclass(frozen=True)
class DesiccantInRun:
    """The desiccant in a run's box: its kind, its dry mass in g, the water in it at the start and by now, % of that,
    and what it took up, g. `changed`: fresh was put in meanwhile, so that it took up more than it holds.
    """

    kind: DesiccantKind
    dry_g: float
    before_pct: float
    now_pct: float
    takes_g: float
    changed: bool


def desiccant_in(run: Run, book: MaterialBook, now: datetime) -> DesiccantInRun | None:
    """The desiccant of a run's box as it is by now, or was when the run ended; None where none lay in it."""
    charge = dryer_then(run.batch).desiccant
    if charge is None:
        return None
    at = min(now, run.ended_at or now)
    begin_h, at_h = joined_h(run), max(hours_between(run.batch.started_at, at), 0.0)
    over = over_its_desiccant(run, book, at, charge)
    changed = any(begin_h < since <= at_h for since, _ in _charges(run.batch, charge)[1:])
    before, held = over.load_at(np.array([begin_h, at_h])).tolist()
    return DesiccantInRun(charge.kind, charge.dry_g, before, held, (held - before) * charge.dry_g / 100.0, changed)


def desiccant_left_pct(run: Run, book: MaterialBook, at: datetime) -> float | None:
    """The water that a run leaves in the desiccant of its dryer when it ends at `at`, % of its dry mass. None where
    another goes on beside it, and where what lies in the dryer now is not what was known at the start.
    """
    batch = run.batch
    known = {name: batch.dryer_then.get(name) for name in DESICCANT}
    others = any(other.pk != run.pk and other.ended_at is None for other in batch.runs.all())
    if others or not known["desiccant_kind"] or known != {name: getattr(batch.dryer, name) for name in DESICCANT}:
        return None
    found = desiccant_in(run, book, at)
    return None if found is None else round(found.now_pct, 3)
