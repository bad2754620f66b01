"""Waterlines through the weeks: every spool and container followed from its first fact to an hour to come.

Time is cut into blocks of three days on a fixed grid. In a block, spools that share a container belong together; each
such company is computed from where the block before left it, and kept by a digest of all that it was computed from. So
a change of an old fact recomputes from its block on, and only those whom it concerns; entering it late or at once
gives the same.
"""

from __future__ import annotations

import hashlib
import math
import threading
from bisect import bisect_left, bisect_right
from collections import deque
from collections.abc import Sequence
from dataclasses import dataclass
from typing import TypeVar

import numpy as np

from drying.arrays import Array
from drying.cache import Cache
from drying.moisture.block import BoxAt, BoxWeek, SpoolWeek, Week
from drying.moisture.events import ContainerStory, Filled, Known, SpoolAt, SpoolStory, Used, Weighed
from drying.quantity import Quantity
from drying.storage.balance import Hours, HourSteps
from drying.storage.container import AWAY, OPEN

BLOCK_H = 72


@dataclass(frozen=True)
class Room:
    """The room's air from hour `first` on: °C and activity (0..1) in each hour."""

    first: int
    temp_c: Array
    activity: Array

    @property
    def end(self) -> int:
        """The hour after the last."""
        return self.first + self.temp_c.size


@dataclass
class _Company:
    """Spools and containers that a block computes together, by their numbers."""

    spools: list[int]
    boxes: list[int]
    digest: bytes = b""


@dataclass(frozen=True)
class _Block:
    """What a block made of a company: lines of spools (moisture, sd) and containers (activity), and their ends."""

    moisture: Array
    sd: Array
    activity: Array
    spools: list[SpoolAt]
    boxes: list[BoxAt]


@dataclass(frozen=True)
class Line:
    """A line from hour `first` on, one value an hour: moisture in % of dry mass with its standard uncertainty."""

    first: int
    moisture_pct: Array
    sd_pct: Array

    def at(self, hour: float) -> Quantity:
        """The value at an hour, between hours by a straight line; NaN where nothing is known."""
        steps = np.arange(self.moisture_pct.size)
        return Quantity(
            float(np.interp(hour - self.first, steps, self.moisture_pct)),
            float(np.interp(hour - self.first, steps, self.sd_pct)),
        )


@dataclass(frozen=True)
class Chronicle:
    """Lines of the spools, and the air of the containers (activity 0..1, NaN before they were there), hour by hour."""

    lines: list[Line]
    first: int
    activity: Array


class _Pieces:
    """Where a spool is from when on, for quick answers about a stretch: stays in order of time, runs laid over them."""

    def __init__(self, first: int, story: SpoolStory) -> None:
        cuts: dict[int, int] = {first: OPEN}
        for stay in story.stays:
            cuts[max(stay.since, first)] = stay.place
            if stay.until is not None:
                cuts[max(stay.until, first)] = OPEN
        for begin, end in story.away:
            after = max((hour for hour in cuts if hour <= end), default=first)
            place = cuts[after]
            cuts = {hour: it for hour, it in cuts.items() if not begin <= hour < end}
            cuts[max(begin, first)], cuts[max(end, first)] = AWAY, place
        self.starts = sorted(cuts)
        self.places = [cuts[hour] for hour in self.starts]

    def row(self, begin: int, end: int) -> np.ndarray:
        """Where it is in each hour of a stretch."""
        found = np.full(end - begin, OPEN)
        for since, place in self.between(begin, end):
            found[since - begin :] = place
        return found

    @property
    def rows(self) -> list[tuple[int, int]]:
        """All pieces."""
        return list(zip(self.starts, self.places, strict=True))

    def between(self, begin: int, end: int) -> list[tuple[int, int]]:
        """Pieces as (from when, where), the first from `begin` on."""
        low, high = bisect_right(self.starts, begin) - 1, bisect_left(self.starts, end)
        return [(max(s, begin), p) for s, p in zip(self.starts[low:high], self.places[low:high], strict=True)]


class _Teller:
    """Tells the chronicle, block by block; lines are written from `shown` on."""

    def __init__(
        self,
        spools: Sequence[SpoolStory],
        boxes: Sequence[ContainerStory],
        room: Room,
        shown: int,
        blocks: Cache[_Block],
        steps: HourSteps,
    ) -> None:
        self.blocks, self.steps = blocks, steps
        self.spools, self.boxes, self.room, self.shown = spools, boxes, room, shown
        self.facts = [_by_block(_facts_of(s)) for s in spools]
        self.fills = [_by_block(b.fills) for b in boxes]
        self.spool_at = [SpoolAt() for _ in spools]
        self.box_at = [BoxAt(b.container) for b in boxes]
        self.marks = [
            _digest(repr((s.body.pack, s.body.strand_diameter_mm, s.dry_g, s.body_sd_g)), _numbers(s)) for s in spools
        ]
        self.box_marks = [_digest(repr((b.container, b.since))) for b in boxes]
        self.first_marks, self.first_box_marks = list(self.marks), list(self.box_marks)
        self.pieces = [_Pieces(room.first, story) for story in spools]
        size = room.temp_c.size
        self.moisture, self.sd = np.full((len(spools), size + 1), math.nan), np.full((len(spools), size + 1), math.nan)
        self.activity = np.full((len(boxes), size + 1), math.nan)

    def is_alike(self, other: _Teller) -> bool:
        """Whether both tell of the same spools and containers from the same hour on, whatever happened to them."""
        return (
            self.room.first == other.room.first
            and self.shown <= other.shown
            and self.first_marks == other.first_marks
            and self.first_box_marks == other.first_box_marks
        )

    def tell(self, like: _Teller | None) -> Chronicle:
        """Tell it all, or what came after `like` began to differ."""
        begin = self.room.first
        self.standing: dict[int, _Standing] = {}
        if like is not None:
            begin = self._resume(like)
        while begin < self.room.end:
            self.standing[begin] = (list(self.spool_at), list(self.box_at), list(self.marks), list(self.box_marks))
            end = min((begin // BLOCK_H + 1) * BLOCK_H, self.room.end)
            self._block(begin, end)
            begin = end
        first = self.room.first
        lines = [Line(first, m, s) for m, s in zip(self.moisture, self.sd, strict=True)]
        return Chronicle(lines, first, self.activity)

    def _resume(self, like: _Teller) -> int:
        """Take over what was told before anything differs; the hour from which on to tell."""
        differs = _first_difference(like, self)
        begin = max((hour for hour in like.standing if hour <= differs), default=self.room.first)
        if begin > self.room.first:
            self.standing = {hour: at for hour, at in like.standing.items() if hour < begin}
            spools, boxes, marks, box_marks = like.standing[begin]
            self.spool_at, self.box_at = list(spools), list(boxes)
            self.marks, self.box_marks = list(marks), list(box_marks)
            before = slice(0, begin - self.room.first + 1)
            for mine, theirs in (
                (self.moisture, like.moisture), (self.sd, like.sd), (self.activity, like.activity)
            ):  # fmt: skip
                mine[:, before] = theirs[:, before]
        return begin

    def _block(self, begin: int, end: int) -> None:
        first = self.room.first
        here = slice(begin - first, end - first)
        air = _digest(repr((begin, end)), self.room.temp_c[here].tobytes(), self.room.activity[here].tobytes())
        companies = self._companies(begin, end)
        missing = []
        for company in companies:
            company.digest = self._digest_of(company, begin, end, air)
            kept = self.blocks.peek(company.digest)
            if kept is None:
                missing.append(company)
            else:
                self._take(company, kept, begin, end)
        if missing:
            for company, block in zip(missing, self._compute(missing, begin, end), strict=True):
                self.blocks.put(company.digest, block)
                self._take(company, block, begin, end)

    def _companies(self, begin: int, end: int) -> list[_Company]:
        """Who shares a container in these hours, directly or through others."""
        head = list(range(len(self.boxes)))

        def root(box: int) -> int:
            while head[box] != box:
                box = head[box]
            return box

        visited = [sorted({p for _, p in it.between(begin, end) if p >= 0}) for it in self.pieces]
        for boxes in visited:
            for box in boxes[1:]:
                head[root(box)] = root(boxes[0])
        found: dict[int, _Company] = {}
        for box in range(len(self.boxes)):
            found.setdefault(root(box), _Company([], [])).boxes.append(box)
        alone = []
        for n, boxes in enumerate(visited):
            if boxes:
                found[root(boxes[0])].spools.append(n)
            else:
                alone.append(_Company([n], []))
        return [*alone, *found.values()]

    def _facts(self, n: int, begin: int, end: int) -> list[Known | Weighed | Used]:
        return [f for f in self.facts[n].get(begin // BLOCK_H, ()) if begin <= f.hour < end]

    def _fills(self, box: int, begin: int, end: int) -> list[Filled]:
        return [f for f in self.fills[box].get(begin // BLOCK_H, ()) if begin <= f.hour < end]

    def _digest_of(self, company: _Company, begin: int, end: int, air: bytes) -> bytes:
        place = {box: n for n, box in enumerate(company.boxes)}
        parts: list[bytes | str] = [air]
        for n in company.spools:
            stood = [(since, place.get(p, p)) for since, p in self.pieces[n].between(begin, end)]
            parts += [self.marks[n], repr((self._facts(n, begin, end), stood))]
        for box in company.boxes:
            parts += [self.box_marks[box], repr(self._fills(box, begin, end))]
        return _digest(*parts)

    def _take(self, company: _Company, block: _Block, begin: int, end: int) -> None:
        to, written = slice(begin - self.room.first, end - self.room.first + 1), end >= self.shown
        for k, n in enumerate(company.spools):
            if written:
                self.moisture[n, to], self.sd[n, to] = block.moisture[k], block.sd[k]
            self.spool_at[n], self.marks[n] = block.spools[k], _digest(company.digest, f"spool {k}")
        for k, box in enumerate(company.boxes):
            if written:
                self.activity[box, to] = block.activity[k]
            self.box_at[box], self.box_marks[box] = block.boxes[k], _digest(company.digest, f"box {k}")

    def _compute(self, companies: list[_Company], begin: int, end: int) -> list[_Block]:
        """Compute some companies at once: side by side, each as if alone."""
        first = self.room.first
        here = slice(begin - first, end - first)
        boxes = [b for c in companies for b in c.boxes]
        place = np.full(len(self.boxes) + 2, OPEN)  # the last two: AWAY and OPEN themselves, as -2 and -1
        place[-2:] = (AWAY, OPEN)
        place[boxes] = range(len(boxes))
        spools = [
            SpoolWeek(self.spools[n], self.spool_at[n], self._facts(n, begin, end), place[it.row(begin, end)])
            for n, it in ((n, self.pieces[n]) for c in companies for n in c.spools)
        ]
        held = [BoxWeek(self.boxes[b], self.box_at[b], self._fills(b, begin, end)) for b in boxes]
        week = Week(begin, Hours(self.room.temp_c[here], self.room.activity[here]), spools, held, self.steps)
        week.run()
        found, spool, box = [], 0, 0
        for company in companies:
            of_spools = slice(spool, spool + len(company.spools))
            of_boxes = slice(box, box + len(company.boxes))
            spool, box = of_spools.stop, of_boxes.stop
            found.append(
                _Block(
                    week.moisture[of_spools],
                    week.sd[of_spools],
                    week.activity[of_boxes],
                    [s.at for s in week.spools[of_spools]],
                    [b.at for b in week.boxes[of_boxes]],
                )
            )
        return found


SpoolFact = Known | Weighed | Used
Fact = TypeVar("Fact", SpoolFact, Filled)


def _facts_of(story: SpoolStory) -> list[SpoolFact]:
    """At one hour: what was printed, then what is known by itself, then the weighing that goes with it."""
    return [*story.used, *story.known, *story.weighed]


def _hour_of(fact: SpoolFact | Filled) -> int:
    return fact.hour


def _by_block(facts: Sequence[Fact]) -> dict[int, list[Fact]]:
    """Facts by the block they fall into, in order of time."""
    found: dict[int, list[Fact]] = {}
    for fact in sorted(facts, key=_hour_of):
        found.setdefault(fact.hour // BLOCK_H, []).append(fact)
    return found


def _digest(*parts: bytes | str) -> bytes:
    found = hashlib.blake2b(digest_size=16)
    for part in parts:
        raw = part.encode() if isinstance(part, str) else part
        found.update(len(raw).to_bytes(4, "little"))
        found.update(raw)
    return found.digest()


def _numbers(story: SpoolStory) -> str:
    """The material's numbers that a waterline stands on."""
    it = story.body.material
    return repr((it.density.value, it.k1.value, it.k1.spread, it.k3.value, it.d23.value, it.ea.value))


class MoistureSimulator:
    """Simulates moisture histories and remembers what it computed, so that the same question is cheap the next time.

    Whoever asks often owns one. It keeps blocks by a digest of everything they came from, and the last few simulations
    of several spools, from which the next one goes on at the first hour that differs. Bounded; safe between threads.
    """

    def __init__(self, blocks: int = 60_000, recent: int = 4) -> None:
        self._blocks: Cache[_Block] = Cache(blocks)
        self._steps = HourSteps(32)
        self._recent: deque[_Teller] = deque(maxlen=recent)
        self._lock = threading.Lock()

    def simulate(
        self,
        spools: Sequence[SpoolStory],
        boxes: Sequence[ContainerStory],
        room: Room,
        shown: int | None = None,
    ) -> Chronicle:
        """Follow spools and containers through all hours of the room's air.

        Lines are given from the block of hour `shown` on (NaN before), and all of them where it is None. Between stays
        a spool counts as standing open in the room. Before its first known moisture it has no line (NaN).
        """
        first = room.first if shown is None else shown
        teller = _Teller(spools, boxes, room, first, self._blocks, self._steps)
        with self._lock:
            recent = list(self._recent)
        likes = [it for it in recent if it.is_alike(teller)]
        like = max(likes, key=lambda it: _first_difference(it, teller), default=None)
        chronicle = teller.tell(like)
        if len(spools) > 1:  # a single spool is cheap to simulate again
            with self._lock:
                self._recent.append(teller)
        return chronicle


_Standing = tuple[list[SpoolAt], list[BoxAt], list[bytes], list[bytes]]


def _first_difference(old: _Teller, new: _Teller) -> int:
    """The first hour at which two tellers of the same spools and containers differ."""
    common = min(old.room.end, new.room.end)
    span = common - new.room.first
    apart = np.flatnonzero(
        (old.room.temp_c[:span] != new.room.temp_c[:span]) | (old.room.activity[:span] != new.room.activity[:span])
    )
    hours = [common, *(new.room.first + int(apart[0]) for _ in apart[:1])]
    for before, after in zip(old.pieces, new.pieces, strict=True):
        hours.append(_first_unlike(before.rows, after.rows, common))
    for facts, others in zip(old.facts, new.facts, strict=True):
        hours.append(_first_unlike(_in_order(facts), _in_order(others), common))
    for fills, others_fills in zip(old.fills, new.fills, strict=True):
        hours.append(_first_unlike(_in_order(fills), _in_order(others_fills), common))
    return min(hours)


def _in_order(facts: dict[int, list[Fact]]) -> list[tuple[int, object]]:
    return [(fact.hour, fact) for block in sorted(facts) for fact in facts[block]]


def _first_unlike(old: Sequence[tuple[int, object]], new: Sequence[tuple[int, object]], end: int) -> int:
    """The hour of the first of two lists' rows that differ."""
    if old == new:
        return end
    for before, after in zip(old, new, strict=False):
        if before != after:
            return min(before[0], after[0])
    return (old if len(old) > len(new) else new)[min(len(old), len(new))][0]
