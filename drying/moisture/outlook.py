"""What storage will bring: when a spool crosses a threshold, what fresh desiccant could do, and what leaks in."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

import numpy as np

from drying.air import vapour_concentration_g_m3
from drying.arrays import Array
from drying.moisture.events import ContainerEvents, DesiccantFilled, KnownMoisture, SpoolEvents, SpoolStay
from drying.moisture.histories import MoistureHistory, Room
from drying.moisture.history import MoistureSimulator
from drying.moisture.timeline import BLOCK_H
from drying.quantity import Quantity
from drying.storage import CardBody, Container, DesiccantKind, Fill
from drying.storage.desiccant import desiccant

DRIES_WITHIN_H = 120 * 24
STRETCHES = (2, 3, 5, 8, 13, 21)  # blocks, tried in turn: what is over early is not followed for months
RISES_FOR_H = 48
AMPLE_G = 1000.0  # of fresh desiccant: what desiccant can do at best
SPENT_SHARE = 0.8  # of what it can usefully hold: above this it counts as spent
WEIGHED_SPREAD = 1.15  # engineering estimate: an ingress measured by weighing may be off by this factor


@dataclass(frozen=True)
class Crossing:
    """When a spool rises above a threshold: hours from now, most likely and at the two ends; None: not in this time."""

    hours: float | None
    early_h: float | None
    late_h: float | None


NEVER = Crossing(None, None, None)


def crossing(middle: Array, dry: Array, damp: Array, now_pct: float, threshold_pct: float | None) -> Crossing:
    """When hourly moistures (% of dry mass, from the next hour on) first exceed a threshold.

    `dry`, `damp`: the same with as little and as much ingress as is plausible. A spool above its threshold already, or
    without one, crosses nothing.
    """
    if threshold_pct is None or now_pct > threshold_pct:
        return NEVER
    found = [np.flatnonzero(row > threshold_pct) for row in (middle, damp, dry)]
    return Crossing(*(float(hours[0]) + 1.0 if hours.size else None for hours in found))


@dataclass(frozen=True)
class BesideDesiccant:
    """A spool as it would be put beside plenty of fresh desiccant: its moisture now, % of dry mass, and where."""

    spool: SpoolEvents
    moisture_pct: float
    container: Container

    @property
    def clean_pct(self) -> float | None:
        """Where it begins to print clean; None where it does already or needs no drying."""
        clean = self.spool.filament.material.clean
        return None if clean is None or self.moisture_pct <= clean.value else clean.value

    def alone(self, place: int, now_h: int) -> SpoolEvents:
        """It and nothing else in a container from now on."""
        now = KnownMoisture(now_h, Quantity(round(self.moisture_pct, 3), 0.0))
        return self.spool.anew(now, stays=(SpoolStay(now_h, None, place),))


def hours_to_dry_beside_desiccant(
    simulator: MoistureSimulator,
    spools: Sequence[BesideDesiccant],
    room: tuple[int, float, float],
    kind: DesiccantKind = DesiccantKind.SIEVE,
) -> list[float | None]:
    """Hours until each spool prints clean beside plenty of fresh desiccant, each in a container of its own.

    `room`: the present hour, °C and activity, which are taken to stay. None where it prints clean already or needs no
    drying, and where it would take more than four months. They are followed side by side.
    """
    now_h, temp_c, activity = room
    fresh = DesiccantFilled(now_h, Fill(kind, AMPLE_G), desiccant(kind).left_pct)
    found: list[float | None] = [None] * len(spools)
    left = [(n, spools[n], clean) for n, clean in enumerate(each.clean_pct for each in spools) if clean is not None]
    # Each ends with a block, so that the next goes on from there.
    ends = [(now_h // BLOCK_H + blocks) * BLOCK_H - now_h for blocks in STRETCHES]
    for span in (*ends, DRIES_WITHIN_H):
        steady = Room(now_h, np.full(span, temp_c), np.full(span, activity))
        alone = [each.alone(place, now_h) for place, (_, each, _) in enumerate(left)]
        beside = [ContainerEvents(each.container, now_h, (fresh,)) for _, each, _ in left]
        undecided = []
        for asked, line in zip(left, simulator.simulate(alone, beside, steady).spools, strict=True):
            n, _, clean = asked
            under = np.flatnonzero(line.moisture_pct <= clean)
            if under.size:
                found[n] = float(under[0])
            # In a room that stays as it is the desiccant only fills: a spool that has begun to take up water again
            # never gets drier than it was.
            elif line.moisture_pct[-1] <= line.moisture_pct[-1 - RISES_FOR_H]:
                undecided.append(asked)
        left = undecided
    return found


@dataclass(frozen=True)
class DesiccantLoad:
    """Water in a desiccant now and the most it can usefully hold, both % of its dry mass, and whether it is spent."""

    load_pct: float
    useful_pct: float
    spent: bool


def desiccant_load(kind: DesiccantKind, activity: float, most_activity: float) -> DesiccantLoad:
    """How full desiccant is in air of this activity, where its spools print clean up to `most_activity` (0..1)."""
    substance = desiccant(kind)
    load, useful = substance.held_pct(activity), max(substance.held_pct(most_activity), substance.left_pct)
    return DesiccantLoad(load, useful, load >= SPENT_SHARE * useful)


def water_difference_g_m3(temp_c: Array, room_activity: Array, inside_activity: Array) -> Array:
    """Water in the room's air less that in a container's, g/m³, hour by hour (arrays of one length)."""
    saturated = np.array([vapour_concentration_g_m3(float(t), 100.0) for t in temp_c])
    return np.asarray(saturated * (room_activity - inside_activity))


def water_in_g_day(difference_g_m3: Array, ingress_m3_day: float) -> float | None:
    """Water that leaks in, g a day, by the mean of the hours known; None where none is."""
    known = difference_g_m3[~np.isnan(difference_g_m3)]
    return float(known.mean()) * ingress_m3_day if known.size else None


@dataclass(frozen=True)
class AirOver:
    """The air in a container and in the room, hour by hour from `first` on: activities (0..1), NaN where not known."""

    first: int
    inside: Array
    room: Array

    def of_card(self, body: CardBody, begin: int, end: int, *, came_in: bool) -> float:
        """Water, g, that a card body gives off between two hours; one that came in at the first has been at rest in the
        room's air.
        """
        before, after = (self.room if came_in else self.inside)[begin - self.first], self.inside[end - self.first]
        if math.isnan(before) or math.isnan(after):
            return 0.0
        return body.mass_g / 100.0 * (body.kind.held_pct(float(before)) - body.kind.held_pct(float(after)))


def handed_over_g(
    spools: Iterable[tuple[SpoolEvents, MoistureHistory]], container: int, begin: int, end: int, air: AirOver
) -> float:
    """Water that spools and their card bodies gave off in a container between two hours, g; what is not known counts
    as nothing.
    """
    given = 0.0
    for spool, history in spools:
        for since, until in ((s.since, s.until or end) for s in spool.stays if s.place == container):
            low, high = max(since, begin), min(until, end)
            if low < high:
                lost = spool.dry_g / 100.0 * (history.at(low).value - history.at(high).value)
                given += 0.0 if math.isnan(lost) else lost
                given += air.of_card(spool.body, low, high, came_in=since >= begin) if spool.body else 0.0
    return given


def ingress_spread(usual_spread: float, *, measured: bool) -> float:
    """The factor by which an ingress may be off: the spread of its kind, less where it was measured."""
    return min(usual_spread, WEIGHED_SPREAD) if measured else usual_spread


def exposure_g_d_m3(difference_g_m3: Sequence[float] | Array) -> float:
    """The difference of water outside and inside summed over days, g·d/m³, from hourly values; unknown hours count
    as no difference.
    """
    return float(np.nansum(difference_g_m3)) / 24.0
