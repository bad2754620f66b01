"""A stretch of hours, such as a week, for some spools and containers side by side: followed from fact to fact."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from itertools import pairwise

import numpy as np
import numpy.typing as npt

from drying.arrays import Array
from drying.cache import digest
from drying.moisture.events import (
    ContainerEvents,
    DesiccantFilled,
    FilamentUsed,
    KnownMoisture,
    SpoolEvents,
    SpoolState,
    SpoolWeighed,
    after_event,
    sd_of,
)
from drying.storage import OPEN, Container, Hours, HourSteps, Inside, follow_hours
from drying.storage.desiccant import desiccant
from drying.transport import secant

UNKNOWN_ACTIVITY = 0.5  # what a spool is taken to meet where nothing says it


@dataclass(frozen=True, slots=True)  # many thousands are kept
class ContainerState:
    """A container at an hour; `inside` None before it was there."""

    container: Container
    inside: Inside | None = None


@dataclass
class SpoolInBlock:
    """A spool in these hours: its record, how it stands, its events, and the container it is in, hour by hour."""

    record: SpoolEvents
    at: SpoolState
    events: Sequence[KnownMoisture | SpoolWeighed | FilamentUsed]
    where: Array


@dataclass
class ContainerInBlock:
    """A container in these hours."""

    record: ContainerEvents
    at: ContainerState
    fills: Sequence[DesiccantFilled]


class BlockSimulation:
    """Follows spools and containers from hour `begin` on through the hours of the room's air.

    After `run`: `moisture` and `sd` of each spool and what its next grams hold (`next_pct`), `activity` of each
    container at every hour, ends included; NaN where nothing is known. Each spool and container then stands as at the
    end.
    """

    def __init__(
        self, begin: int, hours: Hours, spools: list[SpoolInBlock], boxes: list[ContainerInBlock], steps: HourSteps
    ) -> None:
        self.begin, self.end, self.hours, self.steps = begin, begin + hours.temp_c.size, hours, steps
        self.spools, self.boxes = spools, boxes
        span = hours.temp_c.size + 1
        self.moisture, self.sd = np.full((len(spools), span), math.nan), np.full((len(spools), span), math.nan)
        self.next_pct = np.full((len(spools), span), math.nan)
        self.activity = np.full((len(boxes), span), math.nan)

    def run(self) -> None:
        """Follow all of it."""
        for n, spool in enumerate(self.spools):
            if spool.at.kept is not None:  # its isotherm is taken anew for the air it is about to meet
                taken = secant(spool.record.filament.material, spool.at.moisture, self._met(spool, self.begin))
                if taken != spool.at.kept.taken:
                    spool.at = replace(spool.at, kept=replace(spool.at.kept, taken=taken))
                self._note(n, self.begin)
        cuts = self._cuts()
        for cut, after in pairwise(cuts):
            for box in self.boxes:
                self._container_events(box, cut)
            for n, spool in enumerate(self.spools):
                self._spool_events(n, spool, cut)
            self._follow(cut, after)

    def _cuts(self) -> list[int]:
        hours = {f.hour for s in self.spools for f in s.events} | {f.hour for b in self.boxes for f in b.fills}
        hours |= {b.record.since for b in self.boxes if self.begin < b.record.since < self.end}
        return sorted({self.begin, self.end, *hours})

    def _room(self, hour: int) -> float:
        return float(self.hours.activity[hour - self.begin])

    def _container_events(self, box: ContainerInBlock, cut: int) -> None:
        if box.at.inside is None and cut >= box.record.since:
            box.at = ContainerState(box.at.container, Inside(self._room(cut)))
        for event in box.fills:
            if event.hour == cut:
                activity = desiccant(event.fill.kind).activity_at(event.load_pct) if event.fill else self._room(cut)
                box.at = ContainerState(replace(box.at.container, fill=event.fill), Inside(activity))

    def _spool_events(self, n: int, spool: SpoolInBlock, cut: int) -> None:
        here = [event for event in spool.events if event.hour == cut]
        for event in here:
            spool.at = after_event(spool.at, event, spool.record, self._met(spool, cut), self._about(spool, cut))
        if here:
            self._note(n, cut)
            self._forget_answer(int(spool.where[cut - self.begin]))

    def _forget_answer(self, place: int) -> None:
        """A spool in this container starts anew: how its air answered to the old start says nothing of the new one."""
        at = self.boxes[place].at if place >= 0 else None
        if at is not None and at.inside is not None:
            self.boxes[place].at = replace(at, inside=replace(at.inside, answer=0.0))

    def _note(self, n: int, hour: int) -> None:
        """Write a spool's point as it stands."""
        at, spread = self.spools[n].at, self.spools[n].record.filament.material.k1.spread
        if at.kept is not None:
            self.moisture[n, hour - self.begin] = at.moisture
            self.next_pct[n, hour - self.begin] = at.next_pct
            self.sd[n, hour - self.begin] = sd_of(at.moisture, at.memory, at.anchor, spread)

    def _about(self, spool: SpoolInBlock, hour: int) -> float | None:
        """The room's activity where a spool stands open, None where it does not."""
        return self._room(hour) if spool.where[hour - self.begin] == OPEN else None

    def _met(self, spool: SpoolInBlock, hour: int) -> float:
        """The mean activity that a spool is about to meet, a container's taken as it stands now."""
        row, room = spool.where[hour - self.begin :], self.hours.activity[hour - self.begin :]
        total, count = float(room[row == OPEN].sum()), int((row == OPEN).sum())
        for box in set(row[row >= 0].tolist()):
            inside, times = self.boxes[box].at.inside, int((row == box).sum())
            if inside is not None:
                total, count = total + inside.activity * times, count + times
        return total / count if count else UNKNOWN_ACTIVITY

    def _follow(self, cut: int, after: int) -> None:
        """Follow those that are there from one cut to the next, and write what came of it."""
        there = [n for n, s in enumerate(self.spools) if s.at.kept is not None]
        held = [b for b, box in enumerate(self.boxes) if box.at.inside is not None]
        if not there and not held:
            return
        here, out = slice(cut - self.begin, after - self.begin), slice(cut - self.begin + 1, after - self.begin + 1)
        # Containers that are there in their new order; one that is not there yet leaves its spools in the room's air.
        place = np.full(len(self.boxes) + 2, OPEN)
        place[-2:] = (-2, -1)
        place[held] = range(len(held))
        where = (
            place[np.stack([self.spools[n].where[here] for n in there])] if there else np.zeros((0, after - cut), int)
        )
        found = follow_hours(
            [kept for n in there if (kept := self.spools[n].at.kept) is not None],
            where,
            [self.boxes[b].at.container for b in held],
            [inside for b in held if (inside := self.boxes[b].at.inside) is not None],
            Hours(self.hours.temp_c[here], self.hours.activity[here]),
            self.steps,
        )
        for k, n in enumerate(there):
            spool = self.spools[n]
            spread, kept = spool.record.filament.material.k1.spread, spool.at.kept
            assert kept is not None
            self.moisture[n, out] = found.moisture_pct[k]
            self.next_pct[n, out] = found.next_pct[k]
            self.sd[n, out] = sd_of(found.moisture_pct[k], found.memory[k], spool.at.anchor, spread)
            # A copy, so that it does not keep the array of all spools alive.
            spool.at = replace(spool.at, kept=replace(kept, pct=found.kept[k].copy(), body=found.bodies[k]))
        for k, b in enumerate(held):
            inside = self.boxes[b].at.inside
            assert inside is not None
            self.activity[b, out.start - 1] = inside.activity
            self.activity[b, out] = found.activity[k]
            self.boxes[b].at = replace(self.boxes[b].at, inside=found.inside[k])


_OF_BLOCK, _OF_STATE = 1200, 600  # of objects around the numbers, bytes
Few = npt.NDArray[np.float32]
"""Numbers of which few digits matter and many thousands are kept."""


def _digest_of(state: SpoolState) -> bytes:
    kept = state.kept
    what = repr((state.anchor, state.weighed, state.used, state.weighed_body_g))
    if kept is None:
        return digest(what)
    return digest(what, repr((kept.dry_g, kept.taken, kept.body)), kept.pct.tobytes())


@dataclass(frozen=True)
class ComputedBlock:
    """A group in a block: histories of its spools (moisture, sd, next grams) and containers (activity), and its final
    state. Of each spool's history and of each final state a digest of its numbers, whatever they were computed from.
    """

    moisture: Array
    sd: Few
    next_pct: Few
    activity: Array
    spools: list[SpoolState]
    boxes: list[ContainerState]

    @cached_property
    def history_digests(self) -> list[bytes]:
        """A digest for each spool's history."""
        rows = zip(self.moisture, self.sd, self.next_pct, strict=True)
        return [digest(*(row.tobytes() for row in of_spool)) for of_spool in rows]

    @cached_property
    def spool_digests(self) -> list[bytes]:
        """A digest for each spool's final state."""
        return [_digest_of(state) for state in self.spools]

    @cached_property
    def container_digests(self) -> list[bytes]:
        """A digest for each container's final state."""
        return [digest(repr(state)) for state in self.boxes]

    @property
    def weight(self) -> int:
        """About how many bytes it holds."""
        arrays = self.moisture.nbytes + self.sd.nbytes + self.next_pct.nbytes + self.activity.nbytes
        states = sum(state.kept.pct.nbytes for state in self.spools if state.kept is not None)
        return arrays + states + _OF_BLOCK + _OF_STATE * (len(self.spools) + len(self.boxes))
