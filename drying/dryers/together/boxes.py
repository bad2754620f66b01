"""The same bodies in each of several boxes: what stays of them, how they begin, and where they come to.

Numbers of the boxes run along the first axis, (boxes,), those of windings box by box, (cases, ...).
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from itertools import product
from typing import TYPE_CHECKING

import numpy as np
import numpy.typing as npt

from drying.air import saturated_kg_m3
from drying.arrays import Array
from drying.transport import (
    REST_WEIGHT,
    STRAND_WEIGHTS,
    Conditions,
    Filament,
    FreeAir,
    Segment,
    State,
    is_stepped,
    stacked_at,
    strand_density,
)

if TYPE_CHECKING:
    from drying.dryers.together.bodies import Around, Coils, Course, CubicWindings, LinearWindings

Stored = tuple[Array, Array]
"""Activities of air at the strand's temperature, and the water in the desiccant there, kg, (boxes, nodes)."""


class Together:
    """Bodies in boxes side by side, at the warmth of the boxes' segments and with their exchange flows.

    `strand_kg`: dry strand, (boxes, bodies); where it is not given, all are wound and fill their windings.
    """

    def __init__(
        self,
        filaments: Sequence[Filament],
        segments: Sequence[Segment],
        strand_kg: Array | None = None,
        stored: Stored | None = None,
    ) -> None:
        from drying.dryers.together.bodies import Company

        self.filaments, self.temps_c = filaments, [segment.temp_c for segment in segments]
        self.wound = [n for n, filament in enumerate(filaments) if filament.winding is not None]
        self.loose = [n for n, filament in enumerate(filaments) if filament.winding is None]
        free = [replace(segment, vent_m3_h=None) for segment in segments]
        cases = [(filaments[n], segment) for segment in free for n in self.wound]
        stepped = np.array([is_stepped(filament) for filament, _ in cases], dtype=bool)
        self.linear_at, self.cubic_at = np.flatnonzero(~stepped), np.flatnonzero(stepped)
        linear = [(cases[n][0], cases[n][1].temp_c) for n in self.linear_at]
        self.free_air = FreeAir(linear) if linear else None
        self.conditions = Conditions([cases[n] for n in self.cubic_at]) if any(stepped) else None
        if strand_kg is None:
            volume = np.array([filament.winding.volume_m3 for filament, _ in cases if filament.winding is not None])
        else:
            volume = strand_kg[:, self.wound].ravel() / np.array([strand_density(filament) for filament, _ in cases])
        loose_kg = np.zeros((len(segments), 0)) if strand_kg is None else strand_kg[:, self.loose]
        self.around = _around(segments, stored)
        self.company = Company(self._linear(volume), self._cubic(volume), self._coils(loose_kg), self.around)

    def _linear(self, volume: Array) -> LinearWindings:
        from drying.dryers.together.bodies import LinearWindings

        if self.free_air is None:
            return LinearWindings(*np.empty((3, 0, 0)))
        water = self.free_air.water * volume[self.linear_at, None]
        return LinearWindings(self.free_air.rate, self.free_air.at_rest, water)

    def _cubic(self, volume: Array) -> CubicWindings:
        from drying.dryers.together.bodies import CubicWindings
        from drying.transport.wound import Stays

        if self.conditions is None:
            none = np.empty((0, 0))
            return CubicWindings(Stays(none, np.empty((0, 0, 0)), none, STRAND_WEIGHTS, none, 0), np.empty(0))
        return CubicWindings(self.conditions.stays, volume[self.cubic_at])

    def _coils(self, strand_kg: Array) -> Coils:
        from drying.dryers.together.bodies import Coils

        filaments = [self.filaments[n] for n in self.loose]
        k1, k3 = (np.array([getattr(f.material, k).value for f in filaments], dtype=np.float64) for k in ("k1", "k3"))
        rates = [[filament.strand_rates_per_s(temp_c) for filament in filaments] for temp_c in self.temps_c]
        rate = np.array(rates).reshape(*strand_kg.shape, STRAND_WEIGHTS.size)
        return Coils(np.ascontiguousarray(strand_kg / 100.0), k1, k3, rate, STRAND_WEIGHTS, REST_WEIGHT)

    def begun(self, states: Sequence[Sequence[State]], held_kg: Array | None = None) -> Course:
        """Where all begins: the state of each body in each box once it has the box's temperature, and the water in the
        desiccant, kg, (boxes,).
        """
        from drying.dryers.together.bodies import Course

        boxes, activity = len(self.temps_c), self.around.incoming
        if held_kg is not None:
            there = zip(held_kg, self.around.held_kg, self.around.activity, strict=True)
            activity = np.clip([np.interp(*of_box) for of_box in there], 0.0, 1.0)
        warm = [(self.filaments[n], row[n], t) for row, t in zip(states, self.temps_c, strict=True) for n in self.wound]
        gas, strand = stacked_at(warm) if warm else (np.empty((0, 0)), np.empty((0, 0, 0)))
        linear, cubic = self.linear_at, self.cubic_at
        amplitudes = self.free_air.amplitudes(gas[linear], strand[linear]) if self.free_air else np.empty((0, 0))
        slot = self.conditions.slots.water(gas[cubic]) if self.conditions else gas[cubic]
        coils = [[(row[n].gas[0], row[n].strand[0]) for n in self.loose] for row in states]
        coil_gas = np.array([[of for of, _ in row] for row in coils]).reshape(boxes, len(self.loose))
        coil_strand = np.array([[of for _, of in row] for row in coils]).reshape(*coil_gas.shape, STRAND_WEIGHTS.size)
        held = np.zeros(boxes) if held_kg is None else held_kg
        begun = amplitudes, slot, gas[cubic], strand[cubic], coil_gas, coil_strand, held, activity
        return Course(*(np.ascontiguousarray(of)[None] for of in begun))

    def followed(self, course: Course, steps_h: Sequence[float]) -> Course:
        """The same, and the moments after so many more steps. Raises FloatingPointError where they have no solution."""
        from drying.dryers.together import steps
        from drying.dryers.together.bodies import Course

        found = Course(*(np.concatenate([of, np.empty((len(steps_h), *of.shape[1:]))]) for of in course))
        if not steps.follow(self.company, np.array(steps_h, dtype=np.float64), found):
            raise FloatingPointError("The air of a box could not be found.")
        return found

    def arrays(self, course: Course, first: int) -> tuple[Array, Array]:
        """Gas and strand modes of all windings from a moment on, (moments, cases, ...)."""
        parts: list[tuple[npt.NDArray[np.intp], Array, Array]] = []
        if self.free_air is not None:
            parts.append((self.linear_at, *self.free_air.states(course.amplitudes[first:])))
        if self.conditions is not None:
            gas = self.conditions.slots.gas_of(course.slot[first:], course.gas[first:])
            parts.append((self.cubic_at, gas, course.strand[first:]))
        back = np.argsort(np.concatenate([at for at, _, _ in parts]))
        gas, strand = (np.concatenate([part[k] for part in parts], axis=1)[:, back] for k in (1, 2))
        return np.ascontiguousarray(gas), np.ascontiguousarray(strand)

    def states(self, course: Course) -> list[list[State]]:
        """The state of each body in each box at the last moment."""
        coil_gas, coil_strand, last = course.coil_gas[-1], course.coil_strand[-1], len(course.activity) - 1
        found = [
            {n: State(coil_gas[b, [k]], coil_strand[b, [k]], temp_c) for k, n in enumerate(self.loose)}
            for b, temp_c in enumerate(self.temps_c)
        ]
        if self.wound:
            [gas], [strand] = self.arrays(course, last)
            for case, (b, n) in enumerate(product(range(len(found)), self.wound)):
                found[b][n] = State(gas[case], strand[case], self.temps_c[b])
        return [[row[n] for n in sorted(row)] for row in found]


def _around(segments: Sequence[Segment], stored: Stored | None) -> Around:
    from drying.dryers.together.bodies import Around

    flow = np.array([(s.vent_m3_h or 0.0) * saturated_kg_m3(s.temp_c) for s in segments])
    none = np.empty((len(segments), 0))
    return Around(flow, np.array([s.activity for s in segments]), *(stored or (none, none)))
