"""The rack: every spool's moisture history, hour by hour, from its events, and the lane drawn from it."""

import math
from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from datetime import datetime
from functools import cached_property

from django.http import Http404

from darre.common.written import Written
from darre.inventory.material_book import MaterialBook
from darre.inventory.models import Spool
from darre.moisture.apps import moisture_state, simulator
from darre.moisture.events import container_events_of, needed_events, stands_open
from darre.moisture.shelf import Shelf, shelf_of
from darre.moisture.state import minute_of, moment_of, state_of_records
from darre.places.models import Place
from darre.places.room_air import hour_of, hours_of_room
from darre.places.selectors import StayRow, present_stay
from darre.runs.apps import run_caches
from darre.runs.models import Run
from darre.runs.plausible import explained_after, last_sd_g
from darre.runs.records import ClosedAir, hours_between, planned
from darre.runs.selectors import run_so_far
from drying.air import HourlyRoomAir
from drying.materials import Material, MoistureLevel, moisture_level, new_spool_moisture, snaps
from drying.moisture import NEXT_ACT_H, ContainerEvents, MoistureHistories, Room, SpoolEvents, first_hour
from drying.quantity import Quantity
from drying.runs import Posterior, next_grams, update_posterior
from drying.transport import NEXT_G, tells_apart
from drying.weighing import Explained, coil_mass_g

KEPT_AHEAD_H = 18 * 24  # what the longest rack shows
NEAR_AHEAD_H = NEXT_ACT_H  # what lanes need, and racks of three weeks
KEPT_BACK_H = 366 * 24  # what a spool's page shows


def shelf_now(now: datetime, back_h: int = 0, ahead_h: int = NEAR_AHEAD_H) -> "SimulatedShelf":
    """The shelf as the records have it, at least `back_h` back and `ahead_h` ahead. Shared by all who ask within a
    minute, as long as no record is written: read it, and change nothing of it.

    There is but one, which reaches a year back, so that an act is followed once for all pages; only who asks for what
    is older has another simulated. That one reaches whole years back, so that the next such question shares it. It
    reaches a week ahead at first, and as far as any page shows once a page asks for it.
    """
    kept_h = KEPT_BACK_H * max(math.ceil(back_h / KEPT_BACK_H), 1)
    state = state_of_records(now)
    here = moment_of(state, now)

    def simulated() -> SimulatedShelf:
        found = simulate_shelf(shelf_of(state, here), KEPT_AHEAD_H, kept_h, near=True)
        moisture_state().giving_back.now_and_then()
        return found

    shelves, key = moisture_state().shelves, (kept_h, state)
    found = shelves.once(key, simulated)
    if ahead_h > NEAR_AHEAD_H and found.histories.further is not None:
        with moisture_state().turn:
            found = replace(found, histories=found.histories.further())
        shelves.put(key, found)
    return found


@dataclass(frozen=True)
class SimulatedShelf:
    """The shelf simulated: a moisture history for each spool in the shelf's order, and the air of each container."""

    shelf: Shelf
    boxes: list[Place]
    spool_events: list[SpoolEvents]
    container_events: list[ContainerEvents]
    histories: MoistureHistories
    room: HourlyRoomAir

    @cached_property
    def box_of(self) -> dict[int, int]:
        """The place of each container among the boxes."""
        return {place.pk: n for n, place in enumerate(self.boxes)}

    def air(self, begin: int, end: int | None = None) -> Room:
        """The room's air from one hour to another, or on to the last."""
        here = slice(begin - self.room.first, None if end is None else end - self.room.first)
        return Room(begin, self.room.temp_c[here], self.room.activity[here])

    def now_of(self, n: int) -> Quantity:
        """What is computed of a spool now, % of dry mass."""
        now_h = self.shelf.now.timestamp() / 3600.0
        last = self.spool_events[n].known[-1].hour
        if last == int(now_h):  # known within this very hour: it counts from its own minute on
            moisture_readings = [m.at for m in self.shelf.spools[n].moisture_readings.all() if m.at <= self.shelf.now]
            begin = max(moisture_readings).timestamp() / 3600.0 if moisture_readings else now_h
            now_h = last + (now_h - begin)
        found = self.histories.spools[n].at(now_h)
        if math.isnan(found.value):
            return new_spool_moisture(self.spool_events[n].filament.material)
        return Quantity(max(found.value, 0.0), found.uncertainty)

    def at_hour(self, n: int, lane: "Lane") -> Quantity:
        """What a spool holds at the start of this hour, % of dry mass. What-ifs begin with it, so that their answers
        hold for the whole hour. In a run: what its lane says, to three decimals.
        """
        found = self.histories.spools[n].at(hour_of(self.shelf.now))
        if lane.run is not None or math.isnan(found.value):
            return Quantity(round(lane.moisture.value, 3), lane.moisture.uncertainty)
        return Quantity(max(found.value, 0.0), found.uncertainty)

    def next_share_of(self, n: int, at: datetime) -> float:
        """What the next grams of a spool hold at a moment, as a share of the whole spool's moisture; 1 where nothing
        else is known.
        """
        line, hour = self.histories.spools[n], at.timestamp() / 3600.0
        share = line.next_at(hour) / max(line.at(hour).value, 1e-9)
        return 1.0 if math.isnan(share) else max(share, 0.0)


def simulate_shelf(
    shelf: Shelf, ahead_h: int = 0, back_h: int = 0, factor: float = 1.0, *, near: bool = False
) -> SimulatedShelf:
    """Simulate the shelf up to now and `ahead_h` on; values are given from `back_h` ago on. `factor`: on what leaks
    into the containers. `near`: for now no further than most pages need.
    """
    boxes = [p for p in shelf.places if not stands_open(p)]
    index = {p.pk: n for n, p in enumerate(boxes)}
    now_h = hour_of(shelf.now)
    events = [needed_events(shelf, s, index, back_h) for s in shelf.spools]
    fills = [[hour_of(f.at) for f in p.fills.all() if f.at <= shelf.now] for p in boxes]
    first = first_hour(events, fills, now_h)
    room = hours_of_room(first, max(now_h, first) + 1 + ahead_h, shelf.now)
    containers = [container_events_of(p, shelf.now, first, factor) for p in boxes]
    air = Room(first, room.temp_c, room.activity)
    until = now_h + 1 + NEAR_AHEAD_H if near else None
    with moisture_state().turn:
        histories = simulator().simulate(events, containers, air, now_h - back_h, again=factor == 1.0, until=until)
    return SimulatedShelf(shelf, boxes, events, containers, histories, room)


@dataclass(frozen=True)
class NextNow:
    """What the `mass_g` that are printed next hold, % of dry mass."""

    mass_g: float
    pct: float


@dataclass(frozen=True)
class Lane:
    """A spool on the rack: its moisture now, where it stands, the run it is in; `next_pct`: what the grams that are
    printed next hold, by which `moisture_level` goes; `explained`: what it may weigh now by water alone, None where it
    was never weighed; `closed`: the air of the container that it stands in; `written`: itself in answers.
    """

    spool: Spool
    material: Material
    moisture: Quantity
    next_pct: float
    moisture_level: MoistureLevel
    stay: StayRow | None
    run: Run | None
    net_g: float | None
    explained: Explained | None
    closed: ClosedAir | None = None
    written: Written = field(default_factory=Written, compare=False, repr=False)

    @property
    def next_apart(self) -> NextNow | None:
        """What the next grams hold where that is worth telling beside the mean."""
        return NextNow(NEXT_G, self.next_pct) if tells_apart(self.moisture.value, self.next_pct) else None

    @property
    def body_activity(self) -> float | None:
        """The activity that a card body is at where it stands in a container; None where it stands open."""
        return None if self.closed is None else self.closed.activity

    @property
    def snaps(self) -> bool:
        """Whether what is printed next is likely to snap when it is bent cold."""
        return snaps(self.material, self.next_pct)

    @property
    def filament_g_per_m(self) -> float:
        """What a metre of its strand weighs, g."""
        return coil_mass_g(self.material, self.spool.strand_diameter_mm, 1.0).value

    @property
    def wetness(self) -> float:
        """Moisture against its own trouble threshold; under zero where water does not matter."""
        return self.moisture.value / self.material.trouble.value if self.material.trouble else -1.0


def lanes(now: datetime, only: Sequence[int] | None = None) -> list[Lane]:
    """The lane of every spool on the rack (or of some, archived ones too), wettest against its own trouble threshold
    first.

    Takes a constant number of queries.
    """
    return lanes_of(shelf_now(now), only)


def lanes_of(simulated: SimulatedShelf, only: Sequence[int] | None = None) -> list[Lane]:
    """The lanes of a simulated shelf, wettest first."""
    shelf, running = simulated.shelf, simulated.shelf.running
    found = [
        _lane_now(simulated, n, spool, running.get(spool.pk))
        for n, spool in enumerate(shelf.spools)
        if (spool.archived_at is None if only is None else spool.pk in only)
    ]
    return sorted(found, key=lambda lane: lane.wetness, reverse=True)


@dataclass(frozen=True)
class KeptLane:
    """A lane with what it stands on: the spool's records as its events, a digest of its history, and the minute."""

    events: SpoolEvents
    history: bytes
    minute: int
    lane: Lane

    def holds(self, events: SpoolEvents, history: bytes, minute: int) -> bool:
        """Whether nothing of it is another: the same events are one object, as long as no act concerns the spool."""
        return self.events is events and self.history == history and self.minute == minute


def _lane_now(simulated: SimulatedShelf, n: int, spool: Spool, run: Run | None) -> Lane:
    """A spool's lane: the very one that was drawn before in this minute where no act and no neighbour touched it. In a
    run it is drawn anew, as that hangs on more than the spool's events.
    """
    if run is not None:
        return _lane(simulated, n, spool, run)
    now = simulated.shelf.now
    stands_on = simulated.spool_events[n], simulated.histories.digest(n, hour_of(now)), minute_of(now)
    kept = moisture_state().lanes.peek(spool.pk)
    if kept is None or not kept.holds(*stands_on):
        kept = KeptLane(*stands_on, _lane(simulated, n, spool, None))
        moisture_state().lanes.put(spool.pk, kept)
    return kept.lane


def _lane(simulated: SimulatedShelf, n: int, spool: Spool, run: Run | None) -> Lane:
    polymer = simulated.shelf.book[spool.material]
    now = simulated.shelf.now
    stay = present_stay(simulated.shelf.stays[spool.pk], now)
    if run:
        moisture, next_pct = _drying_moisture(run, simulated.shelf.book, now)
    else:
        moisture = simulated.now_of(n)
        next_pct = moisture.value * simulated.next_share_of(n, now)
    return Lane(
        spool=spool,
        material=polymer,
        moisture=moisture,
        next_pct=next_pct,
        moisture_level=moisture_level(polymer, next_pct),
        stay=stay,
        run=run,
        net_g=simulated.shelf.net_g(spool),
        explained=_explained(simulated.shelf, spool),
        closed=_closed_air(simulated, stay),
    )


def _closed_air(simulated: SimulatedShelf, stay: StayRow | None) -> ClosedAir | None:
    """The air about a spool that stands in a container, as it is simulated to be now."""
    box = None if stay is None else simulated.box_of.get(stay.place.pk)
    if stay is None or box is None:
        return None
    row, first = simulated.histories.activity[box], simulated.histories.first
    now = float(row[min(max(hour_of(simulated.shelf.now) - first, 0), row.size - 1)])
    return None if math.isnan(now) else ClosedAir(now, stay.since)


def _explained(shelf: Shelf, spool: Spool) -> Explained | None:
    last = max((w for w in shelf.weighings[spool.pk] if w.at <= shelf.now), key=lambda w: (w.at, w.id), default=None)
    if last is None:
        return None
    return explained_after(last, spool, spool.uses.all(), shelf.book, shelf.now, last_sd_g(last))


def course_of(run: Run, book: MaterialBook, now: datetime) -> tuple[Posterior, float]:
    """The posterior of a run that goes on, and when the run will be over, h after its start: at its planned end, or now
    where that is past. Good for moistures up to then.
    """
    end_h = max(hours_between(run.started_at, now), planned(run, now).end_h)
    return update_posterior(run_so_far(run, book, now), end_h, run_caches().courses), end_h


def _drying_moisture(run: Run, book: MaterialBook, now: datetime) -> tuple[Quantity, float]:
    """The moisture of a spool in a run, and what its next grams hold."""
    now_h, (course, _) = hours_between(run.started_at, now), course_of(run, book, now)
    estimate = course.estimate_at(now_h)
    moisture = Quantity(max(estimate.mean, 0.0), estimate.sd)
    outer = next_grams(course.run, now_h, estimate)
    return moisture, moisture.value if outer is None else outer.p50


def lane_of(spool_id: int, now: datetime) -> Lane:
    """One spool's lane. Raises Http404 where there is no such spool."""
    found = lanes(now, only=[spool_id])
    if not found:
        raise Http404
    return found[0]


def moistures_at(moments: Sequence[tuple[int, datetime]], now: datetime) -> list[Quantity | None]:
    """What the next grams of spools held at earlier moments, % of dry mass, each a spool's id and a moment; None where
    nothing was known then.
    """
    if not moments:
        return []
    back_h = max(math.ceil((now - min(at for _, at in moments)).total_seconds() / 3600.0) + 2, 2)
    simulated = shelf_now(now, back_h=back_h)
    index = {spool.pk: n for n, spool in enumerate(simulated.shelf.spools)}
    # A spool may have been removed since its moments were read.
    return [_moisture_at(simulated, index[spool_id], at) if spool_id in index else None for spool_id, at in moments]


def _moisture_at(simulated: SimulatedShelf, n: int, at: datetime) -> Quantity | None:
    hour = at.timestamp() / 3600.0
    known = simulated.spool_events[n].known
    if not known or hour < known[0].hour:
        return None
    late = hour >= simulated.shelf.now.timestamp() / 3600.0 - 1.0
    found = simulated.now_of(n) if late else simulated.histories.spools[n].at(hour)
    share = simulated.next_share_of(n, at)
    return None if math.isnan(found.value) else Quantity(max(found.value * share, 0.0), found.uncertainty * share)
