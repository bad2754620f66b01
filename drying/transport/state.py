"""What the water moves in, under which conditions, and where it is: bodies, segments and states.

Strand: the modes of J. Crank's cylinder (see `strand`), the fastest lumped in bands and a rest that follows the gas at
once. A winding has a set of modes at each of its nodes (see `wound_spool`) and the gas in the gaps there.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property, lru_cache
from typing import Any

import numpy as np
from scipy.special import jn_zeros

from drying.air import RoomAir, saturated_kg_m3
from drying.arrays import Array
from drying.errors import OutOfRangeError, require_range
from drying.materials import Material, activity_of_moisture, held_pct
from drying.transport.winding import DEFAULT_WINDING, Winding, grid, radius_m

_EXACT_MODES, _BANDS = 9, (13, 19, 29, 46, 80)  # modes 1..9 as they are; 10..13, 14..19, ... lumped; the rest follows


def _strand_modes() -> tuple[Array, Array, float]:
    """Squares of the modes' eigenvalues, their weights, and the weight of the rest."""
    alpha = np.asarray(jn_zeros(0, _BANDS[-1]), dtype=np.float64)
    weight = 4.0 / alpha**2
    rates, weights = list(alpha[:_EXACT_MODES] ** 2), list(weight[:_EXACT_MODES])
    for low, high in zip((_EXACT_MODES, *_BANDS), _BANDS, strict=False):
        weights.append(weight[low:high].sum())
        rates.append(weights[-1] / (weight[low:high] / alpha[low:high] ** 2).sum())  # keeps the band's mean time
    return np.array(rates), np.array(weights), 1.0 - float(np.sum(weights))


STRAND_RATES, STRAND_WEIGHTS, REST_WEIGHT = _strand_modes()
SAME_MOMENT = 1.0 + 1e-12  # times are sums of hours: the same one comes out a last digit apart


@dataclass(frozen=True)
class Segment:
    """A stretch of time under one set of conditions.

    `duration_h` in h; `temp_c` of strand and box; `room`: the air that the box exchanges, or that the strand lies in;
    `vent_m3_h`: exchange flow Q of a box in m³/h, None for free air all round. Sealed is `vent_m3_h` 0. `goes_on`: its
    air changes slowly on from that of the segment before, without a jump.
    """

    duration_h: float
    temp_c: float
    room: RoomAir
    vent_m3_h: float | None = None
    goes_on: bool = False

    def __post_init__(self) -> None:
        require_range("duration_h", self.duration_h, 0.0, 1e6, "h")
        require_range("temp_c", self.temp_c, -40.0, 200.0, "°C")
        if self.vent_m3_h is not None:
            require_range("vent_m3_h", self.vent_m3_h, 0.0, 1e4, "m³/h")

    @cached_property
    def activity(self) -> float:
        """Water activity (0..1) of the incoming air, brought to the temperature of the box."""
        return self.room.activity_at(self.temp_c)

    def is_like(self, other: Segment) -> bool:
        """Whether both are under the same conditions, however long."""
        return (self.temp_c, self.vent_m3_h, self.room) == (other.temp_c, other.vent_m3_h, other.room)


@dataclass(frozen=True)
class Filament:
    """What the water moves in: material, strand diameter in mm, and the winding (None for a loose coil)."""

    material: Material
    strand_diameter_mm: float = 1.75
    winding: Winding | None = DEFAULT_WINDING

    def __post_init__(self) -> None:
        radius_m(self.strand_diameter_mm)

    def strand_rates_per_s(self, temp_c: float) -> Array:
        """How fast each strand mode decays at `temp_c`, 1/s."""
        return _rates_of(self, temp_c)


@lru_cache(maxsize=1024)
def _rates_of(filament: Filament, temp_c: float) -> Array:
    found = STRAND_RATES * filament.material.diffusivity_m2_s(temp_c) / radius_m(filament.strand_diameter_mm) ** 2
    found.flags.writeable = False  # as all who ask have the same one
    return found


@dataclass(frozen=True)
class State:
    """Where the water is. `gas[i]`: activity in the gaps at node i, at `temp_c`; `strand[i, n]`: strand mode n there,
    in % of dry mass. A coil has one node. Plain values: they can be saved, and the course resumed from them.

    Cubic isotherms are integrated from the moment their conditions began: `since` is the state then and the segment as
    far as it has run, so that it does not matter in how many parts a segment is asked for. `clock_h`: hours since they
    last changed abruptly.
    """

    gas: Array
    strand: Array
    temp_c: float
    since: tuple[State, Segment] | None = None
    clock_h: float = 0.0


def saved(state: State) -> dict[str, Any]:
    """The state as plain lists and numbers, fit for JSON."""
    found: dict[str, Any] = {"gas": state.gas.tolist(), "strand": state.strand.tolist(), "temp_c": state.temp_c}
    if state.clock_h:
        found["clock_h"] = state.clock_h
    if state.since is not None:
        begin, segment = state.since
        room = {"temp_c": segment.room.temp_c, "rh_pct": segment.room.rh_pct}
        found["since"] = {
            "begin": saved(begin),
            "segment": {
                "duration_h": segment.duration_h, "temp_c": segment.temp_c, "room": room,
                "vent_m3_h": segment.vent_m3_h, "goes_on": segment.goes_on,
            },
        }  # fmt: skip
    return found


def resumed(found: Mapping[str, Any]) -> State:
    """The state that `saved` wrote, to the last digit. Raises OutOfRangeError where its shape is not a state's."""
    gas, strand = np.array(found["gas"], dtype=np.float64), np.array(found["strand"], dtype=np.float64)
    if gas.ndim != 1 or strand.shape != (gas.size, STRAND_RATES.size):
        raise OutOfRangeError("state", f"A state has {STRAND_RATES.size} strand modes at each node; this one has not.")
    since = None
    if found.get("since"):
        segment = dict(found["since"]["segment"])
        segment["room"] = RoomAir(**segment["room"])
        since = (resumed(found["since"]["begin"]), Segment(**segment))
    return State(gas, strand, float(found["temp_c"]), since, float(found.get("clock_h", 0.0)))


def even_state(filament: Filament, moisture_pct: float, temp_c: float = 20.0) -> State:
    """The same moisture (% of dry mass) all through, the gas in the gaps in equilibrium with it."""
    require_range("moisture_pct", moisture_pct, 0.0, 100.0, "%")
    nodes = 1 if filament.winding is None else grid(filament.winding).mass.size
    gas = np.full(nodes, activity_of_moisture(filament.material, moisture_pct))
    return State(gas, np.full((nodes, STRAND_RATES.size), moisture_pct), temp_c)


def local_moisture_pct(filament: Filament, state: State) -> Array:
    """Mean moisture of the strand at each node, % of dry mass."""
    return np.asarray(state.strand @ STRAND_WEIGHTS + REST_WEIGHT * held_pct(filament.material, state.gas))


def mean_moisture_pct(filament: Filament, state: State) -> float:
    """Mean moisture of all the strand, % of dry mass."""
    local = local_moisture_pct(filament, state)
    return float(local[0] if filament.winding is None else grid(filament.winding).mass @ local)


def gas_capacity(winding: Winding, temp_c: float) -> float:
    """Vapour in the gaps per volume of winding and unit activity, kg/m³."""
    return winding.gap_share * saturated_kg_m3(temp_c)


def strand_density(filament: Filament) -> float:
    """Dry strand per volume of winding, kg/m³."""
    assert filament.winding is not None
    return (1.0 - filament.winding.gap_share) * filament.material.density.value


def water_kg_m3(filament: Filament, state: State) -> float:
    """All water in a winding, strand and gaps, kg per m³ of winding: what a balance is drawn up from."""
    assert filament.winding is not None
    vapour = gas_capacity(filament.winding, state.temp_c) * float(grid(filament.winding).mass @ state.gas)
    return strand_density(filament) * mean_moisture_pct(filament, state) / 100.0 + vapour


def held_over(k1: Array, k3: Array, activity: Array) -> Array:
    """What strands with these isotherms hold in equilibrium with air, % of dry mass."""
    return np.asarray(activity * (k1 + k3 * activity * activity))


@lru_cache(maxsize=1024)
def _slots_of(filament: Filament, temp_c: float) -> tuple[float, ...]:
    assert filament.winding is not None
    density, polymer = strand_density(filament) / 100.0, filament.material
    return gas_capacity(filament.winding, temp_c), density, density * REST_WEIGHT, polymer.k1.value, polymer.k3.value


class Slots:
    """Several windings side by side, each at its own warmth: the vapour in the gaps and the part of the strand that
    follows it at once. Arrays end with (cases, nodes).
    """

    def __init__(self, cases: Sequence[tuple[Filament, float]]) -> None:
        self.each = np.array([_slots_of(*case) for case in cases])
        """Gaps, strand in kg/m³ per %, what of it follows at once, and isotherm of each, shape (cases, 5)."""
        self.gas_capacity, self.density, self.rest, self.k1, self.k3 = self.each.T[:, :, None]

    def held(self, gas: Array) -> Array:
        """What strand in equilibrium with the gas holds, % of dry mass."""
        return held_over(self.k1, self.k3, gas)

    def water(self, gas: Array) -> Array:
        """What they hold, kg per m³ of winding."""
        return self.water_beside(gas, self.held(gas))

    def water_beside(self, gas: Array, held: Array) -> Array:
        """The same where what the strand there holds in equilibrium is known, % of dry mass."""
        return np.asarray(self.gas_capacity * gas + self.rest * held)

    def gas_of(self, water: Array, guess: Array) -> Array:
        """The activity at which they hold so much, sought from a guess on."""
        from drying.transport.wound import gases_of  # compiled: loaded where it is needed

        found, moments = np.empty(water.shape), (-1, *water.shape[-2:])
        held, near = (np.ascontiguousarray(of.reshape(moments)) for of in (water, guess))
        gases_of(self.each, held, near, found.reshape(moments))
        return found


def at_temperature(filament: Filament, state: State, temp_c: float) -> State:
    """The state a moment after a change of temperature: no water has moved, so the gas in the gaps, with the part of
    the strand that follows it at once, has another activity.
    """
    if filament.winding is None or temp_c == state.temp_c:
        return replace(state, temp_c=temp_c)
    before, after = Slots([(filament, state.temp_c)]), Slots([(filament, temp_c)])
    [gas] = after.gas_of(before.water(state.gas[None]), state.gas[None])
    return State(gas, state.strand, temp_c)


def face_conductance(winding: Winding, temp_c: float, vent_m3_h: float) -> float:
    """Vapour that the exchange flow carries off, kg/s per m³ of winding and unit activity over the incoming air."""
    return vent_m3_h / 3600.0 * saturated_kg_m3(temp_c) / winding.volume_m3
