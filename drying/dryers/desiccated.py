"""Desiccant in a dryer: the air that it keeps, hour by hour, while it takes up what the spools give off.

The air of the box is in equilibrium with the desiccant, at the box's temperature and with the water it has by then:

    dry·d(mean)/dt of every spool + d(desiccant)/dt = Q·(C_room - C_box)

so that a box with no way out dries until its desiccant is as damp as its spools, and desiccant that is full when it is
warmed wets them first. The few grams that hang in the box's own air are left out. What comes of it is written as free
air in pieces: to the strand it is the same whether the desiccant holds its air so dry, or the weather.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import pairwise, product

import numpy as np
from scipy.interpolate import PchipInterpolator
from scipy.optimize import brentq

from drying.air import Flow, RoomAir, saturated_kg_m3
from drying.arrays import Array
from drying.dryers.changes import AT_ONCE_H, changes_h, pieces_of, segments_at, who_is_in
from drying.dryers.load import Occupant
from drying.dryers.sorbing import AirOver, Coils, Store
from drying.dryers.windings import Inside, Windings, ahead_of, both_ways, mean_in
from drying.grouping import alike
from drying.materials import Material, equilibrium_moisture_pct
from drying.storage import Charge
from drying.transport import (
    STRAND_WEIGHTS,
    Segment,
    State,
    even_state,
    mean_moisture_pct,
    stacked_at,
    warmed_by_piece,
)

PIECE_GROWTH = 2.0  # the air is taken as steady over pieces that grow from every change on
FIRST_STEP_H, STEP_SHARE = 0.25, 0.75  # it is found in finer steps, each this share of the time since the change
FOLLOWED_H = 512.0  # after the last change


@dataclass(frozen=True)
class BoxCourse:
    """What a box does: its segments at its own temperature, the last of which goes on, and the desiccant put in, with
    the hour of each. Its windings begin at `start_temp_c` and warm through with this time constant.
    """

    box: tuple[Segment, ...]
    charges: tuple[tuple[float, Charge], ...]
    start_temp_c: float = 20.0
    warming_h: float = 0.0


@dataclass(frozen=True)
class OverDesiccant:
    """The air of the box as free air, in pieces; the last is where all comes to rest and goes on. `time_h` and
    `load_pct`: water in the desiccant, % of its dry mass, at the start and the end of every piece but the last.
    """

    pieces: tuple[Segment, ...]
    time_h: Array
    load_pct: Array

    def from_h(self, begin_h: float) -> list[Segment]:
        """The pieces that are met from an hour on."""
        found, at = list[Segment](), 0.0
        for piece in self.pieces:
            at += piece.duration_h
            if at - begin_h > 1e-9:
                goes_on = piece.goes_on and bool(found)  # what comes in then meets its air at once
                found.append(replace(piece, duration_h=min(piece.duration_h, at - begin_h), goes_on=goes_on))
        return found or [self.pieces[-1]]

    def load_at(self, time_h: Array) -> Array:
        """Water in the desiccant at some hours, % of its dry mass: between the ends by a curve that bends where they do
        and turns nowhere else (F. N. Fritsch and R. E. Carlson, SIAM Journal on Numerical Analysis 17, 1980, 238).
        """
        return np.asarray(PchipInterpolator(self.time_h, self.load_pct)(np.clip(time_h, 0.0, self.time_h[-1])))


@dataclass(frozen=True)
class _Reached:
    """What is in all windings, and the air with the desiccant and coils."""

    inside: Inside
    over: AirOver


class _Span:
    """A stretch in which nobody comes or goes and no temperature changes, in boxes side by side."""

    def __init__(
        self,
        here: Sequence[Sequence[Occupant]],
        strand: Sequence[Segment],
        box: Sequence[Segment],
        charge: Charge,
        steps_h: Sequence[float],
    ) -> None:
        filaments = [one.filament for one in here[0]]
        self.wound = [n for n, filament in enumerate(filaments) if filament.winding is not None]
        self.free = [n for n, filament in enumerate(filaments) if filament.winding is None]
        self.filaments, self.strand = filaments, strand
        kg = np.array([[one.strand_kg for one in row] for row in here]).reshape(len(here), len(filaments))
        self.windings = Windings([filaments[n] for n in self.wound], strand, kg[:, self.wound]).prepared(steps_h)
        self.coils = Coils([filaments[n] for n in self.free], kg[:, self.free], [s.temp_c for s in strand])
        full, full_box = (np.array([saturated_kg_m3(s.temp_c) for s in of]) for of in (strand, box))
        self.reaches = full / full_box
        self.store = Store(charge, self.reaches, np.array([s.temp_c for s in box]))
        carries = np.array([(s.vent_m3_h or 0.0) for s in strand]) * full  # kg/h
        self.flow = Flow(carries, np.array([s.activity for s in strand]))

    def begun(self, states: Sequence[Sequence[State]], held_kg: Array) -> _Reached:
        """The states of each box, at the temperature of this stretch, and the desiccant with so much water in it."""
        temps = [s.temp_c for s in self.strand]
        wound = [(self.filaments[n], row[n], t) for row, t in zip(states, temps, strict=True) for n in self.wound]
        shape = len(states), len(self.free)
        free = (
            np.array([[row[n].gas[0] for n in self.free] for row in states]).reshape(shape),
            np.array([[row[n].strand[0] for n in self.free] for row in states]).reshape(*shape, STRAND_WEIGHTS.size),
        )
        inside = self.windings.inside(*stacked_at(wound)) if wound else self.windings.nothing
        return _Reached(inside, AirOver(self.flow, self.store, self.coils, held_kg, free))

    def states(self, reached: _Reached) -> list[list[State]]:
        """The same as a list for each box."""
        (gas, strand), temps = reached.over.free, [segment.temp_c for segment in self.strand]
        found = [
            {n: State(gas[b, [k]], strand[b, [k]], temp_c) for k, n in enumerate(self.free)}
            for b, temp_c in enumerate(temps)
        ]
        if self.wound:
            [gas], [strand] = self.windings.arrays([reached.inside])
            for at, (b, n) in enumerate(product(range(len(temps)), self.wound)):
                found[b][n] = State(gas[at], strand[at], temps[b])
        return [[row[n] for n in sorted(row)] for row in found]

    def step(self, now: _Reached, hours: float, activity: Array) -> tuple[_Reached, Array]:
        """What is reached after a step, sought from an activity on, and the mean activity of the air in it."""
        over, inside = now.over, now.inside
        once, half, each = both_ways(self.windings, over, inside, hours, inside.gas, activity)
        ahead, met = ahead_of(once, half), mean_in(each)
        first, second, third = each
        whole = self.coils.after(over.free, hours, first)
        middle = self.coils.after(over.free, hours / 2.0, second)
        halves = self.coils.after(middle, hours / 2.0, third)
        free = 2.0 * halves[0] - whole[0], 2.0 * halves[1] - whole[1]
        lost = self.windings.water_kg(inside) - self.windings.water_kg(ahead)
        return _Reached(ahead, over.with_free(lost, hours, met, free)), met


def _steps(begin_h: float, end_h: float, since_h: float) -> list[float]:
    """Steps from one time to another that grow with the time since the last change."""
    found, at = [], begin_h
    while end_h - at > 1e-9:
        step = min(max(FIRST_STEP_H, STEP_SHARE * (at - since_h)), end_h - at)
        found.append(end_h - at if end_h - at - step < FIRST_STEP_H / 2.0 else step)
        at += found[-1]
    return found


Filled = tuple[Sequence[Occupant], BoxCourse]
"""What lies in a box with desiccant, and what the box does."""


def over_desiccant(filled: Sequence[Filled]) -> list[OverDesiccant]:
    """The air of each of several boxes. Those with the same filaments and desiccant, whose changes come at the same
    hours, are followed side by side, at a third of what they cost one by one.

    What lies in the box before the first occupant comes, and after the last has gone, keeps its water.
    """
    changes = [changes_h(box.box, occupants, (hour for hour, _ in box.charges)) for occupants, box in filled]
    keys = [
        (tuple((one.filament, one.from_h, one.to_h) for one in occupants), box.charges, tuple(when))
        for (occupants, box), when in zip(filled, changes, strict=True)
    ]
    found: dict[int, OverDesiccant] = {}
    for which in alike(keys):
        found.update(zip(which, _side_by_side([filled[n] for n in which], changes[which[0]]), strict=True))
    return [found[n] for n in range(len(filled))]


def _side_by_side(filled: Sequence[Filled], changes: Sequence[float]) -> list[OverDesiccant]:
    walk = _Walk([occupants for occupants, _ in filled], [box for _, box in filled], changes)
    walk.to_end()
    return walk.found()


@dataclass(frozen=True)
class _Done:
    """A step of all boxes: its hours, the activity of their air, and the water in their desiccant at its end, % of its
    dry mass.
    """

    hours: float
    activity: Array
    load_pct: Array


class _Walk:
    """Boxes side by side on their way through the hours. `occupants`: of each box, shape (boxes, occupants); `changes`:
    the hours from which pieces grow.
    """

    def __init__(
        self, occupants: Sequence[Sequence[Occupant]], boxes: Sequence[BoxCourse], changes: Sequence[float]
    ) -> None:
        self.occupants, self.boxes = occupants, boxes
        until = [*changes[1:], changes[-1] + FOLLOWED_H]
        ends = [begin + pieces_of(after - begin, PIECE_GROWTH) for begin, after in zip(changes, until, strict=True)]
        self.edges: list[float] = [0.0, *np.concatenate(ends).tolist()]
        self.since = [begin for begin, its in zip(changes, ends, strict=True) for _ in its]
        self.goes_on = [n > 0 for its in ends for n in range(its.size)]
        lasts = np.diff(self.edges).tolist()
        self.box = [
            [replace(s, duration_h=h) for s, h in zip(segments_at(box.box, self.edges[:-1]), lasts, strict=True)]
            for box in boxes
        ]
        self.strand = [
            warmed_by_piece(pieces, box.start_temp_c, box.warming_h)
            for pieces, box in zip(self.box, boxes, strict=True)
        ]
        self.states: dict[int, list[State]] = {}
        self.charge = boxes[0].charges[0][1]
        self.held_kg = np.full(len(boxes), self.charge.load_pct * self.charge.dry_g / 1e5)
        self.steps: list[list[_Done]] = []

    def to_end(self) -> None:
        """All pieces, as many at one go as nothing else changes in."""
        warms = [any(of[n].temp_c != of[n - 1].temp_c for of in self.strand) for n in range(len(self.goes_on))]
        begins = [n for n, (on, warm) in enumerate(zip(self.goes_on, warms, strict=True)) if warm or not on]
        for first, after in pairwise([*begins, len(self.goes_on)]):
            self._through(range(first, after))

    def _through(self, pieces: range) -> None:
        begin, since = self.edges[pieces[0]], self.since[pieces[0]]
        for at, charge in self.boxes[0].charges:
            if abs(at - begin) < AT_ONCE_H:
                self.charge, self.held_kg = charge, np.full(len(self.boxes), charge.load_pct * charge.dry_g / 1e5)
        here = who_is_in(self.occupants[0], begin)
        for n in here:
            if n not in self.states:
                self.states[n] = [even_state(row[n].filament, row[n].start_pct) for row in self.occupants]
        steps_h = [_steps(self.edges[n], self.edges[n + 1], since) for n in pieces]
        box, strand = ([row[pieces[0]] for row in of] for of in (self.box, self.strand))
        there = [[row[n] for n in here] for row in self.occupants]
        span = _Span(there, strand, box, self.charge, [hours for of_piece in steps_h for hours in of_piece])
        now = span.begun([[self.states[n][b] for n in here] for b in range(len(self.boxes))], self.held_kg)
        activity = span.store.where(self.held_kg, np.zeros(len(self.boxes)))
        for of_piece in steps_h:
            self.steps.append([])
            for hours in of_piece:
                now, activity = span.step(now, hours, activity)
                load_pct = 1e5 * now.over.held_kg / self.charge.dry_g
                self.steps[-1].append(_Done(hours, np.minimum(activity * span.reaches, 1.0), load_pct))
        self.held_kg = now.over.held_kg
        for b, row in enumerate(span.states(now)):
            for n, state in zip(here, row, strict=True):
                self.states[n] = [*self.states[n][:b], state, *self.states[n][b + 1 :]]
        self.last = here, span

    def found(self) -> list[OverDesiccant]:
        """The steps of each piece as free air with their mean activity."""
        first, found = self.boxes[0].charges[0][1], []
        for b, box in enumerate(self.box):
            pieces = [
                replace(_piece(piece, steps, b), goes_on=on)
                for piece, steps, on in zip(box, self.steps, self.goes_on, strict=True)
            ]
            loads = [first.load_pct, *(float(steps[-1].load_pct[b]) for steps in self.steps)]
            last = replace(pieces[-1], duration_h=0.01, room=self._rest(b), goes_on=True)
            found.append(OverDesiccant((*pieces, last), np.array(self.edges), np.array(loads)))
        return found

    def _rest(self, b: int) -> RoomAir:
        """The air of a box in which all has come to rest: the room's where it is vented, else that over spools and
        desiccant which together hold what they do now.
        """
        here, span = self.last
        temp_c = span.strand[b].temp_c
        if span.flow.kg_h[b] > 0.0:
            return _air(temp_c, float(span.flow.incoming[b]))
        there = [self.occupants[b][n] for n in here]
        strands = [(one.filament.material, one.strand_kg) for one in there]
        return _air(temp_c, activity_at_rest(strands, self.charge, self._whole_kg(here, b), temp_c))

    def _whole_kg(self, here: Sequence[int], b: int) -> float:
        """Water in spools and desiccant of a box: as it all began, where nobody came or went since, else as it is."""
        there, charges = [self.occupants[b][n] for n in here], self.boxes[0].charges
        if len(here) == len(self.occupants[b]) and len(charges) == 1 and all(one.from_h == 0.0 for one in there):
            return whole_kg(there, charges[0][1])
        now = [mean_moisture_pct(one.filament, self.states[n][b]) for n, one in zip(here, there, strict=True)]
        return float(self.held_kg[b]) + sum(one.strand_kg * pct / 100.0 for one, pct in zip(there, now, strict=True))


def _piece(box: Segment, steps: Sequence[_Done], b: int) -> Segment:
    """What a box does in a piece as a stretch of free air, with the mean activity of its steps."""
    mean = sum(done.hours * float(done.activity[b]) for done in steps) / sum(done.hours for done in steps)
    return replace(box, room=_air(box.temp_c, mean), vent_m3_h=None)


def whole_kg(occupants: Sequence[Occupant], charge: Charge) -> float:
    """Water in filament as it comes in, and in the desiccant, kg."""
    return charge.load_pct * charge.dry_g / 1e5 + sum(one.strand_kg * one.start_pct / 100.0 for one in occupants)


def activity_at_rest(
    strands: Sequence[tuple[Material, float]], charge: Charge, whole_kg: float, temp_c: float
) -> float:
    """The activity (0..1) at which strands, each with its dry kg, and the desiccant hold `whole_kg` of water together
    at one temperature: where drying ends in a box with no way out.
    """

    def over(activity: float) -> float:
        held = sum(kg * equilibrium_moisture_pct(polymer, activity) for polymer, kg in strands)
        return (held + charge.dry_g / 1000.0 * charge.sorbent.held_pct(activity, temp_c)) / 100.0 - whole_kg

    return 1.0 if over(1.0) <= 0.0 else float(brentq(over, 0.0, 1.0, xtol=1e-9))


def _air(temp_c: float, activity: float) -> RoomAir:
    return RoomAir(temp_c, 100.0 * min(max(activity, 0.0), 1.0))
