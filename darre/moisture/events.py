"""The records of spools and containers as the core's events."""

import math
from dataclasses import replace
from datetime import datetime

from darre.inventory.models import Spool
from darre.inventory.records import core_load
from darre.moisture.shelf import KeptEvents, Shelf, dried_itself, net_g
from darre.places.models import DesiccantFill, Place
from darre.places.room_air import hour_of
from darre.runs.records import body_activity_after, core_weighing
from drying.materials import new_spool_moisture
from drying.moisture import (
    ContainerEvents,
    DesiccantFilled,
    FilamentUsed,
    KnownMoisture,
    SpoolEvents,
    SpoolStay,
    SpoolWeighed,
    as_needed,
)
from drying.quantity import NOTHING, Quantity
from drying.storage import INGRESS, OPEN, OPEN_KINDS, CardBody, Container, DesiccantKind, Fill, PlaceKind

MASS_STEP_G = 5.0  # a winding's mass is rounded to this, so that a small change does not tell its whole past anew


def needed_events(shelf: Shelf, spool: Spool, places: dict[int, int], back_h: int) -> SpoolEvents:
    """Of a spool's events up to the shelf's moment those that its moisture in the last `back_h` hours depends on; where
    nothing has changed, the same object as before. `places`: index of each of the shelf's containers.
    """
    kept = shelf.kept_events.get((spool.pk, back_h))
    if kept is None or not kept.holds(shelf.now):
        events = as_needed(spool_events(shelf, spool, places), hour_of(shelf.now) - back_h)
        kept = KeptEvents(events, shelf.now, shelf.next_change(spool))
        if spool.created_at <= shelf.now:  # else it is as a new spool at every moment
            shelf.kept_events[spool.pk, back_h] = kept
    return kept.events


def spool_events(shelf: Shelf, spool: Spool, places: dict[int, int]) -> SpoolEvents:
    """A spool's events up to the shelf's moment. `places`: index of each container; places not in it are open."""
    now, runs, weighings = shelf.now, shelf.runs[spool.pk], shelf.weighings[spool.pk]
    polymer = shelf.book[spool.material]
    net = net_g(spool, weighings, now)
    load = core_load(spool, polymer, NOTHING, net)
    load = replace(load, net_g=MASS_STEP_G * max(round(load.assumed_net_g / MASS_STEP_G), 1))
    moisture_readings = sorted((m for m in spool.moisture_readings.all() if m.at <= now), key=lambda m: (m.at, m.id))
    after = (
        {r.ended_at: body_activity_after(r.batch) for r in runs if dried_itself(r)} if load.empty_spool.isotherm else {}
    )
    known = [
        KnownMoisture(hour_of(m.at), Quantity(m.moisture_pct, m.sd_pct), m.next_pct, after.get(m.at))
        for m in moisture_readings
    ]
    inside = [(r.started_at, r.ended_at or datetime.max.replace(tzinfo=now.tzinfo)) for r in runs]
    outside = [w for w in weighings if w.at <= now and not any(begin < w.at < end for begin, end in inside)]
    stays = [s for s in shelf.stays[spool.pk] if s.since <= now]
    return SpoolEvents(
        filament=load.filament,
        dry_g=load.assumed_dry_g,
        # Where the clock was put back, all that was noted lies ahead: it is then as a new spool.
        known=tuple(known) or (KnownMoisture(hour_of(min(spool.created_at, now)), new_spool_moisture(polymer)),),
        weighed=tuple(
            SpoolWeighed(hour_of(w.at), Quantity(w.gross_g, core_weighing(w).uncertainty_g)) for w in outside
        ),
        used=tuple(FilamentUsed(hour_of(u.at), Quantity(u.mass_g, u.sd_g)) for u in spool.uses.all() if u.at <= now),
        stays=tuple(
            SpoolStay(
                hour_of(s.since),
                None if s.until is None or s.until > now else hour_of(s.until),
                places.get(s.place.pk, OPEN),
            )
            for s in stays
        ),
        away=tuple(
            (hour_of(r.started_at), hour_of(r.ended_at) if r.ended_at and r.ended_at <= now else FOR_GOOD)
            for r in runs
            if r.started_at <= now and dried_itself(r)
        ),
        body=CardBody(load.empty_spool, spool.tare_g, 0.0) if load.empty_spool.isotherm else None,
    )


FOR_GOOD = 10**9  # an hour that never comes


def stands_open(place: Place) -> bool:
    """Whether the room's air reaches what stands there, at the room's own warmth."""
    return place.kind in OPEN_KINDS and place.warm_c == 0.0


def core_container(place: Place, factor: float = 1.0) -> Container:
    """A place as the core takes it; `factor` on what gets in."""
    kind = PlaceKind(place.kind)
    usual, _, air_l = INGRESS.get(kind, (math.nan, 1.0, 10.0))
    ingress = None if kind in OPEN_KINDS else (place.ingress_m3_day or usual) * factor
    return Container(ingress, place.air_l if place.air_l is not None else air_l, place.warm_c)


def core_fill(fill: DesiccantFill) -> Fill | None:
    """Desiccant as the core takes it; None for none."""
    return Fill(DesiccantKind(fill.kind), fill.dry_g) if fill.kind else None


def container_events_of(place: Place, now: datetime, since: int, factor: float = 1.0) -> ContainerEvents:
    """A container with what was put into it up to `now`; its air begins with the first hour that is simulated."""
    fills = [DesiccantFilled(hour_of(f.at), core_fill(f), f.load_pct) for f in place.fills.all() if f.at <= now]
    return ContainerEvents(core_container(place, factor), max(hour_of(place.since), since), tuple(fills))
