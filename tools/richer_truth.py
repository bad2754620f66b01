"""Truths that do not share the core's assumptions: a spool on a fine grid, heat conducted through the winding.

Finite volumes, a stiff integrator, nothing of the core's solver: rings of the winding with a temperature each, vapour
in the gaps between the turns, and shells of the strand in every ring. Beyond what the core knows it has conduction and
latent heat, flanges as a second way for heat and (where they are open) for vapour, and a diffusivity that rises with
moisture.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from scipy.integrate import solve_ivp
from scipy.sparse import lil_matrix

from drying.air import GAS_CONSTANT, ZERO_C_IN_K
from drying.arrays import Array
from drying.materials import REFERENCE_TEMP_K
from drying.runs.record import lasting
from drying.transport import Filament, Segment
from standins.truth import Truth

RINGS, SHELLS = 16, 9
LATENT_KJ_KG = 2400.0
PACK_NODES = RINGS * (SHELLS + 2)


@dataclass(frozen=True)
class Heat:
    """How heat comes in: W/(m·K) in the winding, W/(m²·K) at its outer face and through its flanges, kJ/(kg·K)."""

    conductivity: float = 0.135
    face: float = 15.0
    flange: float = 5.0
    capacity: float = 1.45


@dataclass(frozen=True)
class Spool:
    """A wound spool as it really is. `rise`: how much faster water diffuses at the wet end (`rise_at_pct` and over)
    than when dry, growing evenly between. `open_flange`: share of the flanges' area that lets vapour through.
    """

    body: Filament
    start_pct: float
    start_temp_c: float
    segments: tuple[Segment, ...]
    heat: Heat = Heat()
    rise: float = 1.0
    rise_at_pct: float = 1.0
    open_flange: float = 0.0

    def moisture_pct(self, time_h: Sequence[float] | Array) -> Array:
        """All water, % of dry mass, at rising times in h; the last conditions go on."""
        return _follow(self, np.asarray(time_h, dtype=np.float64))

    def hours_to(self, aim_pct: float, longest_h: float = 400.0) -> float:
        """When it comes to `aim_pct`, h after the start; infinite where it does not within `longest_h`."""
        times = longest_h * np.linspace(0.0, 1.0, 400) ** 2
        moisture = np.minimum.accumulate(self.moisture_pct(times))
        return float(np.interp(-aim_pct, -moisture, times)) if moisture[-1] <= aim_pct else math.inf


class _Grid:
    """Rings of the winding by equal area, shells of the strand thinner towards its surface."""

    def __init__(self, spool: Spool) -> None:
        winding = spool.body.winding
        assert winding is not None
        self.spool, self.winding, self.material = spool, winding, spool.body.material
        low, high = winding.hub_radius_mm / 1000.0, winding.outer_radius_mm / 1000.0
        edges = np.linspace(low, high, RINGS + 1)
        self.width = winding.width_mm / 1000.0
        self.area = (edges[1:] ** 2 - edges[:-1] ** 2) / 2.0  # per radian and width
        self.share = self.area / self.area.sum()
        middle = (edges[1:] + edges[:-1]) / 2.0
        self.between = edges[1:-1] / np.diff(middle)  # geometry of a conductance per radian and width
        self.face, self.half = high, high - middle[-1]
        radius = spool.body.strand_diameter_mm / 2000.0
        walls = radius * (1.0 - (1.0 - np.linspace(0.0, 1.0, SHELLS + 1)) ** 1.6)
        self.shell = np.diff(walls**2) / radius**2
        centre = np.sqrt((walls[1:] ** 2 + walls[:-1] ** 2) / 2.0)
        self.inner = 2.0 * walls[1:-1] / np.diff(centre) / radius**2
        self.outer = 2.0 * walls[-1] / (radius - centre[-1]) / radius**2
        self.solid = (1.0 - winding.gap_share) * self.material.density.value  # kg strand per m³ of winding
        self.gap, self.open = winding.gap_share, winding.gap_share / winding.tortuosity

    def rates(self, segment: Segment, state: Array) -> Array:
        temp, activity, water = state[:RINGS], state[RINGS : 2 * RINGS], state[2 * RINGS :].reshape(RINGS, SHELLS)
        to_gas, water_rate = self._strand(temp, activity, water)
        full = _full_kg_m3(temp)
        vapour = activity * full
        through = 2.5e-5 * ((temp + ZERO_C_IN_K) / 298.15) ** 1.81 * self.open
        flow = self.between * (through[1:] + through[:-1]) / 2.0 * np.diff(vapour)
        gained = np.zeros(RINGS)
        gained[:-1] += flow / self.area[:-1]
        gained[1:] -= flow / self.area[1:]
        inlet = segment.activity * float(_full_kg_m3(np.array(segment.temp_c)))
        if segment.vent_m3_h is None:
            gained[-1] += self.face * through[-1] / self.half * (inlet - vapour[-1]) / self.area[-1]
        else:
            per_face = segment.vent_m3_h / 3600.0 / (2.0 * math.pi * self.face * self.width)
            skin = 1.0 / (1.0 / max(per_face, 1e-12) + self.half / through[-1])
            gained[-1] += self.face * skin * (inlet - vapour[-1]) / self.area[-1]
        if self.spool.open_flange:
            gained += self.spool.open_flange * through * 12.0 / self.width**2 * (inlet - vapour)
        temp_rate = self._warming(segment, temp, to_gas)
        # vapour = activity · full(T): what temperature alone does to the gas is taken out again
        slope = full * 4100.0 / (temp + 235.0) ** 2
        activity_rate = ((gained + to_gas) / self.gap - activity * slope * temp_rate) / full
        return np.concatenate([temp_rate, activity_rate, water_rate.ravel()])

    def _strand(self, temp: Array, activity: Array, water: Array) -> tuple[Array, Array]:
        """What strand gives to the gas, kg/(m³·s) of winding, and how its shells change, %/s."""
        m, spool = self.material, self.spool
        inverse = 1.0 / (temp + ZERO_C_IN_K) - 1.0 / REFERENCE_TEMP_K
        d = (m.d23.value * np.exp(-m.ea.value * 1000.0 / GAS_CONSTANT * inverse))[:, None]
        surface = (m.k1.value * activity + m.k3.value * activity**3)[:, None]
        walls = np.concatenate([(water[:, 1:] + water[:, :-1]) / 2.0, (water[:, -1:] + surface) / 2.0], axis=1)
        faster = 1.0 + (spool.rise - 1.0) * np.clip(walls / spool.rise_at_pct, 0.0, 1.0)
        if spool.rise > 1.0:  # the material's own diffusivity is the one in the middle
            faster = faster / (1.0 + (spool.rise - 1.0) / 2.0)
        moved = d * faster[:, :-1] * self.inner * np.diff(water, axis=1)
        out = d[:, 0] * faster[:, -1] * self.outer * (water[:, -1] - surface[:, 0])
        rate = np.zeros_like(water)
        rate[:, :-1] += moved / self.shell[:-1]
        rate[:, 1:] -= moved / self.shell[1:]
        rate[:, -1] -= out / self.shell[-1]
        return self.solid / 100.0 * out, rate

    def _warming(self, segment: Segment, temp: Array, given: Array) -> Array:
        heat = self.spool.heat
        flow = self.between * heat.conductivity * np.diff(temp)
        gained = np.zeros(RINGS)
        gained[:-1] += flow / self.area[:-1]
        gained[1:] -= flow / self.area[1:]
        skin = 1.0 / (1.0 / heat.face + self.half / heat.conductivity)
        gained[-1] += self.face * skin * (segment.temp_c - temp[-1]) / self.area[-1]
        gained += 2.0 * heat.flange / self.width * (segment.temp_c - temp)
        return (gained - 1000.0 * LATENT_KJ_KG * given) / (self.solid * heat.capacity * 1000.0)

    def sparsity(self) -> lil_matrix:
        found = lil_matrix((PACK_NODES, PACK_NODES))
        for ring in range(RINGS):
            own = [ring, RINGS + ring, *(2 * RINGS + ring * SHELLS + np.arange(SHELLS))]
            beside = [n for r in (ring - 1, ring + 1) if 0 <= r < RINGS for n in (r, RINGS + r)]
            for row in own:
                found[row, [*own, *beside]] = 1.0
        return found


def _full_kg_m3(temp_c: Array) -> Array:
    """Vapour in saturated air, by a Magnus formula: not the core's library."""
    pressure = 610.94 * np.exp(17.625 * temp_c / (temp_c + 243.04))
    return np.asarray(pressure * 0.018015 / (8.314 * (temp_c + ZERO_C_IN_K)))


def _follow(spool: Spool, times: Array) -> Array:
    grid, material = _Grid(spool), spool.body.material
    activity = max(spool.start_pct, 1e-6) / material.k1.value
    for _ in range(40):
        miss = material.k1.value * activity + material.k3.value * activity**3 - spool.start_pct
        activity -= miss / (material.k1.value + 3.0 * material.k3.value * activity**2)
    state = np.concatenate(
        [np.full(RINGS, spool.start_temp_c), np.full(RINGS, activity), np.full(RINGS * SHELLS, spool.start_pct)]
    )
    found, begin, sparsity = np.full(times.shape, spool.start_pct), 0.0, grid.sparsity()
    last = float(times.max())
    scale = np.concatenate([np.full(RINGS, 0.02), np.full(RINGS, 1e-6), np.full(RINGS * SHELLS, 1e-6)])
    for segment in lasting(spool.segments, last + 0.01):
        if begin >= last:
            break
        end = min(begin + segment.duration_h, last + 0.01)
        inside = (times > begin) & (times <= end)
        at = np.unique(np.append(times[inside], end))
        solved = solve_ivp(
            lambda _t, y, here=segment: 3600.0 * grid.rates(here, y), (begin, end), state, "BDF", at, rtol=1e-4,
            atol=scale, jac_sparsity=sparsity,
        )  # fmt: skip
        if not solved.success:
            raise RuntimeError(solved.message)
        mean = np.einsum("rst,r,s->t", solved.y[2 * RINGS :].reshape(RINGS, SHELLS, -1), grid.share, grid.shell)
        found[inside] = np.interp(times[inside], solved.t, mean)
        state, begin = solved.y[:, -1], end
    return found


def at_once(spool: Spool) -> Spool:
    """The same spool with its strand as warm as the air at once: conduction and films beyond all measure."""
    heat = Heat(1e3, 1e4, 1e4, spool.heat.capacity)
    return replace(spool, heat=heat, start_temp_c=spool.segments[0].temp_c)


@dataclass(frozen=True)
class RicherTruth:
    """A run as it really is, for the scale: a truth of the stand-ins whose water goes as this spool's does."""

    base: Truth
    spool: Spool

    def moisture_pct(self, time_h: Sequence[float] | Array) -> Array:
        """All water, % of dry mass."""
        return self.spool.moisture_pct(time_h)

    def gross_g(self, time_h: Sequence[float] | Array) -> Array:
        """What stands on the scale, g."""
        return np.asarray(self.base.tare_g + self.base.dry_g * (1.0 + self.moisture_pct(time_h) / 100.0))

    def hours_to(self, aim_pct: float) -> float:
        """When it comes to `aim_pct`, h after the start; infinite where it does not."""
        return self.spool.hours_to(aim_pct)


RISE_LOW, RISE_HIGH = 4.0, 9.0  # published for nylons and PVA: diffusivity from dry to wet


def with_conduction(base: Truth, rng: np.random.Generator, *, rich: bool = False) -> Truth | RicherTruth:
    """The same truth with heat conducted through its winding, values drawn from their ranges; a coil stays as it is.

    `rich`: also a diffusivity that rises with moisture, and flanges that let some vapour through.
    """
    if base.body.winding is None or base.start_temp_c is None:
        return base
    heat = Heat(*(float(rng.uniform(low, high)) for low, high in ((0.12, 0.15), (9.0, 18.0), (3.0, 7.0), (1.2, 1.8))))
    material = base.body.material
    rise, flange = 1.0, 0.0
    if rich:
        curved = material.k3.value > 0.0 or material.id.startswith("pa")
        rise, flange = (
            float(rng.uniform(RISE_LOW, RISE_HIGH) if curved else rng.uniform(1.0, 1.5)),
            float(rng.uniform(0.0, 0.15)),
        )
    spool = Spool(
        base.body, base.start_pct, base.start_temp_c, base.segments, heat, rise, max(base.start_pct, 1e-3), flange
    )
    return RicherTruth(base, spool)
