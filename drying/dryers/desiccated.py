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
from itertools import pairwise

import numpy as np
from scipy.interpolate import PchipInterpolator
from scipy.optimize import brentq

from drying.air import RoomAir, saturated_kg_m3
from drying.arrays import Array
from drying.dryers.changes import AT_ONCE_H, changes_h, pieces_of, segments_at, who_is_in
from drying.dryers.load import Occupant
from drying.dryers.together import Together
from drying.grouping import alike
from drying.materials import Material, equilibrium_moisture_pct
from drying.storage import Charge
from drying.transport import (
    Segment,
    State,
    even_state,
    mean_moisture_pct,
    warmed_by_piece,
)

PIECE_GROWTH = 2.0  # the air is taken as steady over pieces that grow from every change on
FIRST_STEP_H, STEP_SHARE = 0.25, 0.75  # it is found in finer steps, each this share of the time since the change
FOLLOWED_H = 512.0  # after the last change
_NODES = 60  # of an isotherm


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


def _stored(charge: Charge, reaches: Array, temps_c: Sequence[float]) -> tuple[Array, Array]:
    """Activities of the air over desiccant in boxes at these temperatures, at the strand's own, where air that is full
    there reaches so much of full in the box; and the water that the desiccant then holds, kg. Shape (boxes, nodes),
    closer together where it is dry.
    """
    rh = np.unique(np.concatenate([charge.sorbent.rh_pct, 100.0 * np.linspace(0.0, 1.0, _NODES) ** 2]))
    held = np.interp(rh, charge.sorbent.rh_pct, charge.sorbent.held) * charge.dry_g / 1e5
    activity = np.stack([charge.sorbent.activity_of_rh(rh, temp_c) for temp_c in temps_c]) / reaches[:, None]
    return activity, np.tile(held, (reaches.size, 1))


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
        full, full_box = (np.array([saturated_kg_m3(s.temp_c) for s in of]) for of in (strand, box))
        stored = _stored(self.charge, full / full_box, [s.temp_c for s in box])
        kg = np.array([[row[n].strand_kg for n in here] for row in self.occupants]).reshape(len(box), len(here))
        there = Together([self.occupants[0][n].filament for n in here], strand, kg, stored)
        course = there.begun([[self.states[n][b] for n in here] for b in range(len(box))], self.held_kg)
        course = there.followed(course, [hours for of_piece in steps_h for hours in of_piece])
        self._keep(steps_h, np.minimum(course.activity * full / full_box, 1.0), course.held_kg)
        for n, row in zip(here, zip(*there.states(course), strict=True), strict=True):
            self.states[n] = list(row)
        self.last = here, strand, there.around

    def _keep(self, steps_h: Sequence[Sequence[float]], activity: Array, held_kg: Array) -> None:
        """The steps of each piece, from activities and the desiccant's water after each of them, (1 + steps, boxes)."""
        load_pct, at = 1e5 * held_kg / self.charge.dry_g, 1
        for of_piece in steps_h:
            self.steps.append([_Done(h, activity[at + k], load_pct[at + k]) for k, h in enumerate(of_piece)])
            at += len(of_piece)
        self.held_kg = held_kg[-1]

    def found(self) -> list[OverDesiccant]:
        """The steps of each piece as free air with their mean activity."""
        first, found = self.boxes[0].charges[0][1], []
        for b, box in enumerate(self.box):
            each = zip(box, self.steps, self.goes_on, strict=True)
            pieces = [_piece(piece, steps, b, goes_on=goes_on) for piece, steps, goes_on in each]
            loads = [first.load_pct, *(float(steps[-1].load_pct[b]) for steps in self.steps)]
            last = replace(pieces[-1], duration_h=0.01, room=self._rest(b), goes_on=True)
            found.append(OverDesiccant((*pieces, last), np.array(self.edges), np.array(loads)))
        return found

    def _rest(self, b: int) -> RoomAir:
        """The air of a box in which all has come to rest: the room's where it is vented, else that over spools and
        desiccant which together hold what they do now.
        """
        here, strand, around = self.last
        temp_c = strand[b].temp_c
        if around.flow[b] > 0.0:
            return _air(temp_c, float(around.incoming[b]))
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


def _piece(box: Segment, steps: Sequence[_Done], b: int, *, goes_on: bool) -> Segment:
    """What a box does in a piece as a stretch of free air, with the mean activity of its steps."""
    mean = sum(done.hours * float(done.activity[b]) for done in steps) / sum(done.hours for done in steps)
    return replace(box, room=_air(box.temp_c, mean), vent_m3_h=None, goes_on=goes_on)


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
