"""Windings in boxes side by side through a step of time: how they answer to the air, and the air that they make.

The air of a box is one unknown more: what all its windings give off must be what goes elsewhere. By Henry's law a
winding answers to its air in proportion, exactly in time, and is kept as amplitudes that decay each by itself. Cubic
isotherms take backward Euler steps. Numbers of the boxes run along the first axis, (boxes,), those of the windings box
by box, (cases, ...).
"""

from __future__ import annotations

import copy
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
import numpy.typing as npt

from drying.air import Air, possible
from drying.arrays import Array
from drying.transport import (
    Conditions,
    Filament,
    FreeAir,
    Segment,
    Sought,
    extrapolated,
    is_stepped,
    strand_density,
    water_in,
)

# Newton converges quadratically: a last move under the tolerance leaves its square, 0.02 % of a spool's start at most,
# where the steps in time leave 0.1 to 0.4 %. Water is balanced on its own.
_NEWTON_STEPS, _NEWTON_TOLERANCE = 40, 1e-2
_BALANCED = 1e-6  # a last move of the activity


@dataclass(frozen=True)
class Inside:
    """Where the water is in the windings of all boxes: of Henry's law as amplitudes (see `FreeAir`), of the others what
    the slots between turns hold (see `Slots`), about the gas that follows from that, and the strand.
    """

    amplitudes: Array
    slot: Array
    gas: Array
    strand: Array


@dataclass(frozen=True)
class _Henry:
    """What windings of Henry's law do in a step of one length: the share that is left of their amplitudes, what a unit
    of the air's activity adds, and the water of that in each box, kg.
    """

    left: Array
    unit: Array
    unit_kg: Array


class Windings:
    """The same windings in every box, at the warmth of the boxes' segments. `strand_kg`: their dry strand, (boxes,
    windings); where it is not given, what fills the volume of each.
    """

    def __init__(
        self, filaments: Sequence[Filament], segments: Sequence[Segment], strand_kg: Array | None = None
    ) -> None:
        self.boxes = len(segments)
        free = [replace(segment, vent_m3_h=None) for segment in segments]
        cases = [(filament, segment) for segment in free for filament in filaments]
        stepped = np.array([is_stepped(filament) for filament, _ in cases], dtype=bool)
        self.henry_at, self.cubic_at = np.flatnonzero(~stepped), np.flatnonzero(stepped)
        self.cubic_cases = [cases[n] for n in self.cubic_at]
        self.free_air = FreeAir([(cases[n][0], cases[n][1].temp_c) for n in self.henry_at]) if any(~stepped) else None
        self.cubic = Conditions(self.cubic_cases) if self.cubic_cases else None
        self.box_of_cubic = np.repeat(np.arange(self.boxes), len(self.cubic_at) // self.boxes)
        self.volume = np.array([w.volume_m3 for filament, _ in cases if (w := filament.winding) is not None])
        if strand_kg is not None:
            self.volume = strand_kg.ravel() / np.array([strand_density(filament) for filament, _ in cases])
        self._steps: dict[float, _Henry] = {}

    @property
    def nothing(self) -> Inside:
        """What is inside where there are no windings."""
        return Inside(np.empty((0, 0)), np.empty((0, 1)), np.empty((0, 1)), np.empty((0, 1, 1)))

    def inside(self, gas: Array, strand: Array) -> Inside:
        """From gas (cases, nodes) and strand modes (cases, nodes, modes) of all windings."""
        henry, cubic = self.henry_at, self.cubic_at
        amplitudes = self.free_air.amplitudes(gas[henry], strand[henry]) if self.free_air else np.empty((0, 0))
        slot = self.cubic.slots.water(gas[cubic]) if self.cubic is not None else gas[cubic]
        return Inside(amplitudes, slot, gas[cubic], strand[cubic])

    def arrays(self, found: Sequence[Inside]) -> tuple[Array, Array]:
        """Gas and strand modes of all windings at several moments, (moments, cases, ...)."""
        parts: list[tuple[npt.NDArray[np.intp], Array, Array]] = []
        if self.free_air is not None:
            parts.append((self.henry_at, *self.free_air.states(np.stack([one.amplitudes for one in found]))))
        if self.cubic is not None:
            slot, near, strand = (np.stack([getattr(one, k) for one in found]) for k in ("slot", "gas", "strand"))
            parts.append((self.cubic_at, self.cubic.slots.gas_of(slot, near), strand))
        back = np.argsort(np.concatenate([at for at, _, _ in parts]))
        gas, strand = (np.concatenate([part[k] for part in parts], axis=1)[:, back] for k in (1, 2))
        return np.ascontiguousarray(gas), np.ascontiguousarray(strand)

    def water_kg(self, inside: Inside) -> Array:
        """All water in the windings of each box, shape (boxes,)."""
        found = np.zeros(self.boxes)
        if self.free_air is not None:
            found += self.henry_kg(inside.amplitudes)
        if self.cubic is not None:
            found += self.cubic_kg(water_in(self.cubic, inside.slot, inside.strand))
        return found

    def henry_kg(self, amplitudes: Array) -> Array:
        """Water in those of Henry's law in each box, kg."""
        assert self.free_air is not None
        return self._in_boxes(self.free_air.water_kg_m3(amplitudes) * self.volume[self.henry_at])

    def cubic_kg(self, each_kg_m3: Array) -> Array:
        """What so much in each of the others, kg per m³ of winding, is in each box, kg; shape (..., boxes)."""
        return self._in_boxes(each_kg_m3 * self.volume[self.cubic_at])

    def _in_boxes(self, each: Array) -> Array:
        return np.asarray(each.reshape(*each.shape[:-1], self.boxes, -1).sum(axis=-1))

    def of_cubic(self, of_boxes: Array) -> Array:
        """A number of each box, for each of its windings with a cubic isotherm."""
        return np.asarray(of_boxes[self.box_of_cubic])

    def of_henry(self, of_boxes: Array) -> Array:
        """The same for each of its others, as a column."""
        return np.repeat(of_boxes, len(self.henry_at) // self.boxes)[:, None]

    def henry(self, hours: float) -> _Henry:
        """How those of Henry's law go through a step of this length."""
        if hours not in self._steps:
            self._steps = self._henry([hours])
        return self._steps[hours]

    def prepared(self, steps_h: Sequence[float]) -> Windings:
        """The same for steps of these lengths, h, whole and halved: what each needs is worked out together."""
        other = copy.copy(self)
        other._steps = self._henry(steps_h)
        return other

    def _henry(self, steps_h: Sequence[float]) -> dict[float, _Henry]:
        found: dict[float, _Henry] = {}
        if self.free_air is not None:
            for hours in {h * part for h in steps_h for part in (1.0, 0.5)}:
                left = self.free_air.left(hours * 3600.0)
                unit = self.free_air.at_rest * (1.0 - left)
                found[hours] = _Henry(left, unit, self.henry_kg(unit))
        return found


Thrice = tuple[Array, Array, Array]
"""The activities in a step taken once whole, and in its halves."""


def both_ways(
    windings: Windings, air: Air, now: Inside, hours: float, guess: Array, activity: Array
) -> tuple[Inside, Inside, Thrice]:
    """What is inside after a step taken once whole and once in halves, and the activities in all three, sought from gas
    and activity on that are likely to be come to.
    """
    once, first = _euler(windings, air, now, hours, guess, activity)
    middle, second = _euler(windings, air, now, hours / 2.0, (now.gas + once.gas) / 2.0, first)
    later = air.after(lambda: windings.water_kg(now) - windings.water_kg(middle), hours / 2.0, second)
    half, third = _euler(windings, later, middle, hours / 2.0, once.gas, first)
    return once, half, (first, second, third)


def ahead_of(once: Inside, half: Inside) -> Inside:
    """Extrapolated, see `extrapolated`."""
    cubic = extrapolated((once.slot, once.gas, once.strand), (half.slot, half.gas, half.strand))
    return Inside(2.0 * half.amplitudes - once.amplitudes, *cubic)


def mean_in(activities: Thrice) -> Array:
    """The mean activity in an extrapolated step."""
    first, second, third = activities
    return possible(second + third - first)


def stepped(
    windings: Windings, air: Air, now: Inside, hours: float, guess: Array, activity: Array
) -> tuple[Inside, Array]:
    """What is inside after a step, and the mean activity in it, extrapolated: second order in time."""
    once, half, activities = both_ways(windings, air, now, hours, guess, activity)
    return ahead_of(once, half), mean_in(activities)


def _euler(
    windings: Windings, air: Air, now: Inside, hours: float, guess: Array, activity: Array
) -> tuple[Inside, Array]:
    """One step in which the air of each box stays at what makes its water balance. Over saturation no winding takes up
    more.
    """
    given, less = np.zeros(windings.boxes), np.zeros(windings.boxes)
    amplitudes = now.amplitudes
    if windings.free_air is not None:
        step = windings.henry(hours)
        amplitudes = amplitudes * step.left
        given, less = windings.henry_kg(now.amplitudes - amplitudes), step.unit_kg
    if windings.cubic is None:
        activity, cubic = _alone(air, hours, (given, less), activity), (now.slot, now.gas, now.strand)
    else:
        sought = Sought(windings.cubic, now.slot, now.strand, hours)
        gas, move, activity = _with_air(windings, air, hours, sought, (given, less), guess, activity)
        cubic = sought.after(gas, move)
    if windings.free_air is not None:
        amplitudes = amplitudes + windings.of_henry(activity) * step.unit
    return Inside(amplitudes, *cubic), activity


def _alone(air: Air, hours: float, henry: tuple[Array, Array], activity: Array) -> Array:
    """The activity that balances where no winding has a cubic isotherm."""
    settled = np.zeros(activity.shape, dtype=bool)  # these stay put: no box depends on those beside it
    for _ in range(_NEWTON_STEPS):
        given, less = air.rest(hours, activity)
        onward = air.activity(given + henry[0], less + henry[1])
        settled, activity = np.abs(onward - activity) < _BALANCED, np.where(settled, activity, onward)
        if air.straight or settled.all():
            break
    return activity


def _with_air(
    windings: Windings,
    air: Air,
    hours: float,
    sought: Sought,
    henry: tuple[Array, Array],
    guess: Array,
    activity: Array,
) -> tuple[Array, Array, Array]:
    """The gas of windings with cubic isotherms, its last move, and the activities of their boxes at the end of a step,
    sought at once by Newton, from guesses on. `henry`: what the other windings give to dry air, kg, and how much less
    for each unit of activity.
    """
    gas = guess.copy()
    gas[:, -1] = windings.of_cubic(activity)  # the face is the air's own
    move, settled = np.zeros_like(gas), np.zeros(windings.boxes, dtype=bool)
    for _ in range(_NEWTON_STEPS):
        dry, with_air, of_cubic = sought.newton(gas)
        of_cubic, less_of_cubic = windings.cubic_kg(of_cubic)
        given, less = air.rest(hours, activity)
        given = given + henry[0] + of_cubic + less_of_cubic * activity
        onward = air.activity(given, less + henry[1] + less_of_cubic)
        face = windings.of_cubic(onward)[:, None]
        now = np.concatenate([dry + with_air * face, face], axis=1)
        change = now - gas
        if settled.any():  # these stay put: no box depends on those beside it
            stays = windings.of_cubic(settled)[:, None]
            now, change = np.where(stays, gas, now), np.where(stays, move, change)
            onward = np.where(settled, activity, onward)
        gas, move, activity = now, change, onward
        settled |= np.abs(move).reshape(windings.boxes, -1).max(axis=1) < _NEWTON_TOLERANCE
        if settled.all():
            break
    return gas, move, activity
