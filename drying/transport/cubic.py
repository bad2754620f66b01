"""Water in a winding whose polymer has a cubic isotherm (nylon 6, PVA): integrated in time.

The same nodes and strand modes as in `linear`; only the surface of the strand follows c = k1·a + k3·a³. Each step
takes the modes exactly for a surface that stays, and the gas by backward Euler: one monotone system of the nodes'
activities, solved by Newton. A step is done once whole and once in halves and extrapolated (Richardson), which makes it
second order and keeps the balance of water, as both ways keep it.

Steps grow by a fixed ratio from the moment the conditions began, and what lies between is interpolated. That makes the
course a function of that moment's state and of the time gone since: it does not matter in how many parts a segment is
asked for.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
import numpy.typing as npt
from scipy.linalg.lapack import dposv

from drying.air import vapour_concentration_g_m3
from drying.arrays import Array
from drying.materials import held_pct
from drying.transport.state import (
    REST_WEIGHT,
    STRAND_WEIGHTS,
    Filament,
    Segment,
    State,
    at_temperature,
    face_conductance,
    gas_capacity,
    gas_of_slot,
    slot_water,
    strand_density,
)
from drying.transport.winding import grid, vapour_diffusivity_m2_s

FIRST_STEP_H, GROWTH = 0.03, 1.8
# Newton converges quadratically here: a last step under the tolerance leaves an error of about its square.
_NEWTON_STEPS, _NEWTON_TOLERANCE = 40, 1e-9


class _Conditions:
    """What does not change during a segment: capacities, conductances, the face."""

    def __init__(self, filament: Filament, segment: Segment) -> None:
        assert filament.winding is not None
        cells, temp = grid(filament.winding), segment.temp_c
        self.filament, self.temp_c = filament, temp
        self.material, self.mass = filament.material, cells.mass
        self.rate = filament.strand_rates_per_s(temp)
        self.gas_capacity = gas_capacity(filament.winding, temp)
        self.density = strand_density(filament) / 100.0  # kg/m³ of winding per % of dry mass
        conductivity = vapour_diffusivity_m2_s(filament.winding, temp) * vapour_concentration_g_m3(temp, 100.0) / 1000.0
        self.activity, self.free = segment.activity, segment.vent_m3_h is None
        self.face = np.zeros_like(cells.mass)
        if segment.vent_m3_h is not None:
            self.face[-1] = face_conductance(filament.winding, temp, segment.vent_m3_h)
        self.diagonal = np.diag_indices(self.mass.size)
        self.transport = conductivity * cells.stiffness
        self.transport[self.diagonal] += self.face

    def euler(self, gas: Array, strand: Array, seconds: float, guess: Array) -> tuple[Array, Array]:
        """One backward Euler step: modes exact for the surface at the step's end. Newton begins at `guess`."""
        kept = np.exp(-self.rate * seconds)
        take = STRAND_WEIGHTS * (1.0 - kept)
        k1, k3 = self.material.k1.value, self.material.k3.value
        known = self.gas_capacity * gas + self.density * (REST_WEIGHT * (k1 * gas + k3 * gas**3) + strand @ take)
        target = self.mass * known + seconds * self.face * self.activity
        linear = seconds * self.transport
        linear[self.diagonal] += self.mass * (self.gas_capacity + self.density * (take.sum() + REST_WEIGHT) * k1)
        cubic = self.mass * self.density * (take.sum() + REST_WEIGHT) * k3
        new = guess.copy()
        if self.free:
            new[-1] = self.activity
        inside = gas.size - 1 if self.free else gas.size
        for _ in range(_NEWTON_STEPS):
            slope = linear.copy()
            slope[self.diagonal] += 3.0 * cubic * new**2
            miss = linear @ new + cubic * new**3 - target
            _, step, info = dposv(slope[:inside, :inside], miss[:inside])
            if info != 0:
                raise FloatingPointError("The pack's system of equations could not be solved.")
            new[:inside] -= step
            if np.abs(step).max() < _NEWTON_TOLERANCE:
                break
        surface = k1 * new + k3 * new**3
        return new, surface[:, None] + (strand - surface[:, None]) * kept

    def step(self, gas: Array, strand: Array, seconds: float) -> tuple[Array, Array]:
        """One extrapolated step, second order in time."""
        once_gas, once_strand = self.euler(gas, strand, seconds, gas)
        middle = self.euler(gas, strand, seconds / 2.0, (gas + once_gas) / 2.0)
        half = self.euler(*middle, seconds / 2.0, once_gas)
        # Water is extrapolated, not activity: the two are not proportional, and it is water that must be kept.
        slot = 2.0 * slot_water(self.filament, half[0], self.temp_c) - slot_water(self.filament, once_gas, self.temp_c)
        return gas_of_slot(self.filament, slot, self.temp_c, half[0]), 2.0 * half[1] - once_strand


def one_step(filament: Filament, segment: Segment, state: State) -> State:
    """The state after one extrapolated step as long as the segment: for those who choose their steps themselves."""
    now = at_temperature(filament, state, segment.temp_c)
    gas, strand = _Conditions(filament, segment).step(now.gas, now.strand, segment.duration_h * 3600.0)
    return State(gas, strand, segment.temp_c)


@dataclass(frozen=True)
class _Run:
    """States at fixed times in h after the conditions began; shapes (times, nodes), modes (times, nodes, modes)."""

    time_h: Array
    slot: Array
    strand: Array
    gas: Array


def _run(filament: Filament, segment: Segment, state: State) -> _Run:
    """Step from the beginning of the conditions until two knots lie beyond the segment's end."""
    conditions = _Conditions(filament, segment)
    now = at_temperature(filament, state, segment.temp_c)
    gas, strand = [now.gas], [now.strand]
    times, width = [0.0], FIRST_STEP_H
    while len(times) < 4 or times[-3] < segment.duration_h:
        more = conditions.step(gas[-1], strand[-1], width * 3600.0)
        gas.append(more[0])
        strand.append(more[1])
        times.append(times[-1] + width)
        width *= GROWTH
    slots = [slot_water(filament, g, segment.temp_c) for g in gas]
    return _Run(np.array(times), np.array(slots), np.array(strand), np.array(gas))


def four_knots(knot_h: Array, time_h: Array) -> tuple[npt.NDArray[np.intp], Array]:
    """The four knots about each time and their weights, shapes (times, 4): a cubic in the square root of time, in which
    diffusion is smooth. Which knots these are depends on the time alone; two must lie beyond the last one asked for.
    """
    first = np.clip(np.searchsorted(knot_h, time_h, side="right") - 2, 0, knot_h.size - 4)
    rows = first[:, None] + np.arange(4)
    knots, x = np.sqrt(knot_h[rows]), np.sqrt(time_h)
    weights = np.ones((time_h.size, 4))
    for i in range(4):
        for j in range(4):
            if i != j:
                weights[:, i] *= (x - knots[:, j]) / (knots[:, i] - knots[:, j])
    return rows, weights


def _at(filament: Filament, run: _Run, temp_c: float, time_h: Array) -> tuple[Array, Array]:
    """Gas (times, nodes) and strand modes (times, nodes, modes) at any times of a run.

    Water is what is interpolated, so none is made or lost.
    """
    rows, weights = four_knots(run.time_h, time_h)
    slot = np.einsum("tk,tkm->tm", weights, run.slot[rows])
    strand = np.einsum("tk,tkmn->tmn", weights, run.strand[rows])
    return gas_of_slot(filament, slot, temp_c, np.einsum("tk,tkm->tm", weights, run.gas[rows])), strand


def _resumed(segment: Segment, state: State) -> tuple[State, float]:
    """Where the present conditions began, and the hours gone since."""
    if state.since is not None:
        begin, so_far = state.since
        if replace(so_far, duration_h=segment.duration_h) == segment:
            return begin, so_far.duration_h
    return replace(state, since=None), 0.0


def advance(filament: Filament, segment: Segment, state: State, time_h: Array) -> tuple[Array, State]:
    """Mean moisture, % of dry mass, at times in h after the segment's beginning, and the state at its end."""
    assert filament.winding is not None
    begin, gone = _resumed(segment, state)
    whole = replace(segment, duration_h=gone + segment.duration_h)
    times = gone + np.append(time_h, segment.duration_h)
    gas, strand = _at(filament, _run(filament, whole, begin), segment.temp_c, times)
    local = strand @ STRAND_WEIGHTS + REST_WEIGHT * held_pct(filament.material, gas)
    return local[:-1] @ grid(filament.winding).mass, State(gas[-1], strand[-1], segment.temp_c, (begin, whole))
