"""Moisture histories through the weeks: every spool and container followed from its first fact to an hour to come.

Time is cut into blocks of three days on a fixed grid. Within a block, spools that share a container form a group; each
group is computed from its state at the end of the block before, and cached by a digest of everything it was computed
from. So correcting an old event recomputes from its block on, and only the groups it concerns; recording an event late
or at once gives the same history.
"""

from __future__ import annotations

import math
import threading
from collections import deque
from collections.abc import Sequence
from copy import copy
from dataclasses import dataclass
from typing import Any

import numpy as np

from drying.cache import Cache, digest
from drying.moisture.block import (
    BlockSimulation,
    ComputedBlock,
    ContainerInBlock,
    ContainerState,
    SpoolInBlock,
)
from drying.moisture.events import (
    ContainerEvents,
    DesiccantFilled,
    FilamentUsed,
    KnownMoisture,
    SpoolEvents,
    SpoolState,
    SpoolWeighed,
)
from drying.moisture.groups import Group, groups_of
from drying.moisture.histories import MoistureHistories, MoistureHistory, Room
from drying.moisture.timeline import BLOCK_H, Prepared, by_block, first_unlike, in_order, prepared_for
from drying.storage import AWAY, OPEN, Hours, HourSteps

# Of computed blocks: 150 spools of a year take about 32 MB, and each move some more. A simulation that goes on from the
# one before it has no need of the older ones.
MOST_BYTES = 40_000_000
LAST_BLOCKS = 32  # of three days, those ahead among them


@dataclass(frozen=True)
class _Standing:
    """How all stand at an hour: spools and containers, with digests of that, and of each spool's history so far."""

    spools: list[SpoolState]
    boxes: list[ContainerState]
    digests: list[bytes]
    container_digests: list[bytes]
    history_digests: list[bytes]


class Simulation:
    """Simulates the histories block by block; values are written from hour `shown` on."""

    def __init__(
        self,
        spools: Sequence[SpoolEvents],
        boxes: Sequence[ContainerEvents],
        room: Room,
        shown: int,
        blocks: Cache[ComputedBlock],
        steps: HourSteps,
        before: Sequence[Simulation] = (),
    ) -> None:
        self.blocks, self.steps, self.turn = blocks, steps, threading.Lock()
        self.spools, self.boxes, self.room, self.shown = spools, boxes, room, shown
        # The same object means the same events: what was prepared for it is taken over.
        same = {
            id(spool): one
            for other in before
            if other.room.first == room.first
            for spool, one in zip(other.spools, other.prepared, strict=True)
        }
        self.prepared: list[Prepared] = [same.get(id(s)) or prepared_for(s, room.first) for s in spools]
        self.fills = [by_block(b.fills) for b in boxes]
        self.spool_states = [SpoolState() for _ in spools]
        self.container_states = [ContainerState(b.container) for b in boxes]
        self.digests = [one.digest for one in self.prepared]
        self.container_digests = [digest(repr((b.container, b.since))) for b in boxes]
        self.history_digests = [b""] * len(spools)
        self.first_digests, self.first_container_digests = list(self.digests), list(self.container_digests)
        self.kept_from = max(room.first, shown // BLOCK_H * BLOCK_H)  # what lies before is followed, and not kept

    def __getstate__(self) -> dict[str, Any]:
        """What another simulation can go on from; what it computed with is its simulator's."""
        return {name: value for name, value in vars(self).items() if name not in ("blocks", "steps", "turn")}

    def taken_over(self, blocks: Cache[ComputedBlock], steps: HourSteps) -> Simulation:
        """Itself, out of a file, with what its new simulator computes with."""
        self.blocks, self.steps, self.turn = blocks, steps, threading.Lock()
        return self

    def to_go_on_from(self) -> Simulation:
        """Itself, with where everything stood in the last blocks alone: what changes is seldom older."""
        found = copy(self)
        found.states_at = dict(list(self.states_at.items())[-LAST_BLOCKS:])
        return found

    @property
    def histories(self) -> MoistureHistories:
        """What was simulated."""
        first = self.kept_from
        spools = [MoistureHistory(first, *each) for each in zip(self.moisture, self.sd, self.next_pct, strict=True)]
        digests = {hour: at.history_digests for hour, at in list(self.states_at.items())[-LAST_BLOCKS:]}
        digests[self.done] = list(self.history_digests)
        further = self.go_on if self.done < self.room.end else None
        return MoistureHistories(spools, first, self.activity, digests, further)

    @property
    def reach(self) -> int:
        """How many hours it shows."""
        return self.room.end - self.shown

    def is_alike(self, other: Simulation) -> bool:
        """Whether both simulate the same spools and containers from the same hour on, whatever happened to them."""
        return (
            self.room.first == other.room.first
            and self.shown <= other.shown
            and self.first_digests == other.first_digests
            and self.first_container_digests == other.first_container_digests
        )

    def is_same(self, other: Simulation) -> bool:
        """Whether nothing differs at all."""
        return (
            (self.room.end, self.kept_from) == (other.room.end, other.kept_from)
            and self.is_alike(other)
            and _first_difference(other, self) == self.room.end
        )

    def simulate_all(self, like: Simulation | None, until: int | None = None) -> MoistureHistories:
        """Simulate everything, or only what comes after `like` begins to differ; `until`: as far as this for now."""
        size = max(self.room.end - self.kept_from, 0) + 1
        self.moisture = np.empty((len(self.spools), size))
        self.sd, self.next_pct = np.empty((2, len(self.spools), size), np.float32)
        self.activity = np.empty((len(self.boxes), size))
        self.states_at: dict[int, _Standing] = {}
        self.done = self.room.first if like is None else self._resume(like)
        known = max(self.done - self.kept_from + 1, 0) if self.done > self.room.first else 0
        for values in (self.moisture, self.sd, self.next_pct, self.activity):
            values[:, known:] = math.nan
        return self.go_on(until)

    def go_on(self, until: int | None = None) -> MoistureHistories:
        """Simulate on to the end of an hour's block, or to the end, where that was not done yet."""
        with self.turn:
            while self.done < min(self.room.end if until is None else until, self.room.end):
                self.states_at[self.done] = _Standing(
                    list(self.spool_states),
                    list(self.container_states),
                    list(self.digests),
                    list(self.container_digests),
                    list(self.history_digests),
                )
                end = min((self.done // BLOCK_H + 1) * BLOCK_H, self.room.end)
                self._block(self.done, end)
                self.done = end
            return self.histories

    def _resume(self, like: Simulation) -> int:
        """Take over what was simulated before anything differs; returns the hour from which to go on."""
        differs = _first_difference(like, self)
        states_at = dict(list(like.states_at.items()))  # it may be going on meanwhile
        begin = max((hour for hour in states_at if hour <= differs), default=self.room.first)
        if begin > self.room.first:
            self.states_at = {hour: at for hour, at in states_at.items() if hour < begin}
            at = states_at[begin]
            self.spool_states, self.container_states = list(at.spools), list(at.boxes)
            self.digests, self.container_digests = list(at.digests), list(at.container_digests)
            self.history_digests = list(at.history_digests)
            count = max(begin - self.kept_from + 1, 0)
            theirs_from = self.kept_from - like.kept_from
            for mine, theirs in (
                (self.moisture, like.moisture), (self.sd, like.sd), (self.next_pct, like.next_pct),
                (self.activity, like.activity),
            ):  # fmt: skip
                mine[:, :count] = theirs[:, theirs_from : theirs_from + count]
        return begin

    def _block(self, begin: int, end: int) -> None:
        first = self.room.first
        here = slice(begin - first, end - first)
        air = digest(repr((begin, end)), self.room.temp_c[here].tobytes(), self.room.activity[here].tobytes())
        visited = [sorted({p for _, p in one.pieces.between(begin, end) if p >= 0}) for one in self.prepared]
        groups = groups_of(visited, len(self.boxes))
        missing = []
        for group in groups:
            group.block_digest = self._digest_of(group, begin, end, air)
            kept = self.blocks.peek(group.block_digest)
            if kept is None:
                missing.append(group)
            else:
                self._take(group, kept, begin, end)
        if missing:
            for group, block in zip(missing, self._compute(missing, begin, end), strict=True):
                self.blocks.put(group.block_digest, block)
                self._take(group, block, begin, end)

    def _events(self, n: int, begin: int, end: int) -> list[KnownMoisture | SpoolWeighed | FilamentUsed]:
        return [f for f in self.prepared[n].events.get(begin // BLOCK_H, ()) if begin <= f.hour < end]

    def _fills(self, box: int, begin: int, end: int) -> list[DesiccantFilled]:
        return [f for f in self.fills[box].get(begin // BLOCK_H, ()) if begin <= f.hour < end]

    def _digest_of(self, group: Group, begin: int, end: int, air: bytes) -> bytes:
        place = {box: n for n, box in enumerate(group.boxes)}
        parts: list[bytes | str] = [air]
        for n in group.spools:
            stood = [(since, place.get(p, p)) for since, p in self.prepared[n].pieces.between(begin, end)]
            parts += [self.digests[n], repr((self._events(n, begin, end), stood))]
        for box in group.boxes:
            parts += [self.container_digests[box], repr(self._fills(box, begin, end))]
        return digest(*parts)

    def _take(self, group: Group, block: ComputedBlock, begin: int, end: int) -> None:
        to, written = slice(begin - self.kept_from, end - self.kept_from + 1), begin >= self.kept_from
        for k, n in enumerate(group.spools):
            if written:
                self.moisture[n, to], self.sd[n, to] = block.moisture[k], block.sd[k]
                self.next_pct[n, to] = block.next_pct[k]
                self.history_digests[n] = digest(self.history_digests[n], block.history_digests[k])
            # By what it is and not by where that comes from: a neighbour that went on to another container and left
            # it as it was touches nothing of the blocks to come.
            self.spool_states[n], self.digests[n] = block.spools[k], self.prepared[n].digest + block.spool_digests[k]
        for k, box in enumerate(group.boxes):
            if written:
                self.activity[box, to] = block.activity[k]
            self.container_states[box] = block.boxes[k]
            self.container_digests[box] = self.first_container_digests[box] + block.container_digests[k]

    def _compute(self, groups: list[Group], begin: int, end: int) -> list[ComputedBlock]:
        """Compute several groups at once, each as if it were alone."""
        first = self.room.first
        here = slice(begin - first, end - first)
        # Always in the same order, so that the hours prepared for these spools are found again.
        boxes, order = sorted(b for c in groups for b in c.boxes), sorted(n for c in groups for n in c.spools)
        place = np.full(len(self.boxes) + 2, OPEN)  # the last two: AWAY and OPEN themselves, as -2 and -1
        place[-2:] = (AWAY, OPEN)
        place[boxes] = range(len(boxes))
        spools = [
            SpoolInBlock(
                self.spools[n], self.spool_states[n], self._events(n, begin, end), place[piece.row(begin, end)]
            )
            for n, piece in ((n, self.prepared[n].pieces) for n in order)
        ]
        held = [ContainerInBlock(self.boxes[b], self.container_states[b], self._fills(b, begin, end)) for b in boxes]
        block = BlockSimulation(
            begin, Hours(self.room.temp_c[here], self.room.activity[here]), spools, held, self.steps
        )
        block.run()
        spool, box = {n: k for k, n in enumerate(order)}, {b: k for k, b in enumerate(boxes)}
        found = []
        for group in groups:
            of_spools, of_boxes = [spool[n] for n in group.spools], [box[b] for b in group.boxes]
            found.append(
                ComputedBlock(
                    block.moisture[of_spools],
                    block.sd[of_spools].astype(np.float32),
                    block.next_pct[of_spools].astype(np.float32),
                    block.activity[of_boxes],
                    [block.spools[k].at for k in of_spools],
                    [block.boxes[k].at for k in of_boxes],
                )
            )
        return found


class MoistureSimulator:
    """Simulates moisture histories and remembers what it computed, so that the same question is cheap the next time.

    Whoever asks often owns one. It keeps blocks by a digest of everything they came from, and the last few simulations
    that will be asked for again, from which the next one goes on at the first hour that differs. Bounded; safe between
    threads.
    """

    def __init__(self, most_bytes: int = MOST_BYTES, recent: int = 4) -> None:
        self._blocks: Cache[ComputedBlock] = Cache(most_bytes, lambda block: block.weight)
        self._steps = HourSteps(32)
        self._recent: deque[Simulation] = deque(maxlen=recent)
        self._lock = threading.Lock()

    def simulate(
        self,
        spools: Sequence[SpoolEvents],
        boxes: Sequence[ContainerEvents],
        room: Room,
        shown: int | None = None,
        *,
        again: bool = False,
        until: int | None = None,
    ) -> MoistureHistories:
        """Follow spools and containers through all hours of the room's air.

        Values are given from the block of hour `shown` on, from the beginning where it is None. Between
        stays a spool counts as standing open in the room. Before its first known moisture its history is NaN. `again`:
        these will be asked for again when something has changed; the next then goes on from where that begins.
        `until`: only as far as the block of this hour, the rest when `further` is asked for.
        """
        first = room.first if shown is None else shown
        with self._lock:
            recent = list(self._recent)
        simulation = Simulation(spools, boxes, room, first, self._blocks, self._steps, recent)
        same = next((other for other in recent if simulation.is_same(other)), None)
        if same is not None:
            return same.go_on(until)
        likes = [other for other in recent if other.is_alike(simulation)]
        like = max(likes, key=lambda other: (_first_difference(other, simulation), other.shown), default=None)
        histories = simulation.simulate_all(like, until)
        if again:
            with self._lock:
                if like is not None and like.reach == simulation.reach and like in self._recent:
                    self._recent.remove(like)  # what goes on from it takes its place
                self._recent.append(simulation)
        return histories

    def computed(self, most_bytes: int) -> Computed:
        """What the next simulations can go on from: the last of each reach, and the blocks that were asked for last."""
        blocks, room = [], most_bytes
        for key, block in reversed(self._blocks.items()):
            room -= block.weight
            if room < 0:
                break
            blocks.append((key, block))
        with self._lock:
            last = {each.reach: each.to_go_on_from() for each in self._recent}
        return blocks[::-1], list(last.values())

    def take_computed(self, computed: Computed) -> None:
        """Go on from what another simulator had computed by the same code."""
        for key, block in computed[0]:
            self._blocks.put(key, block)
        with self._lock:
            self._recent.extend(each.taken_over(self._blocks, self._steps) for each in computed[1])


Computed = tuple[list[tuple[object, ComputedBlock]], list[Simulation]]


def _first_difference(old: Simulation, new: Simulation) -> int:
    """The first hour at which two simulations of the same spools and containers differ."""
    common = min(old.room.end, new.room.end)
    span = common - new.room.first
    apart = np.flatnonzero(
        (old.room.temp_c[:span] != new.room.temp_c[:span]) | (old.room.activity[:span] != new.room.activity[:span])
    )
    hours = [common, *(new.room.first + int(apart[0]) for _ in apart[:1])]
    for before, after in zip(old.prepared, new.prepared, strict=True):
        if before is not after:
            hours.append(first_unlike(before.pieces.rows, after.pieces.rows, common))
            hours.append(first_unlike(in_order(before.events), in_order(after.events), common))
    for fills, others_fills in zip(old.fills, new.fills, strict=True):
        hours.append(first_unlike(in_order(fills), in_order(others_fills), common))
    return min(hours)
