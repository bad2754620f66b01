"""Desiccant and coils as more places that water of the air in boxes goes to and comes from, see `drying.air.exchange`.

Both are in equilibrium with the air at every step's end. Numbers of the boxes are (boxes,).
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

import numpy as np

from drying.air import Flow, possible
from drying.arrays import Array
from drying.storage import Charge
from drying.transport import REST_WEIGHT, STRAND_WEIGHTS, Filament, held_over

_NODES = 60  # of an isotherm, closer together where it is dry


Free = tuple[Array, Array]
"""Gas and strand modes of coils."""


class Store:
    """The desiccant of boxes side by side while their temperatures stay: the water in it, kg, against the activity of
    air at the strand's temperature, which is warmer or cooler than it; straight between nodes, (boxes, nodes).
    """

    def __init__(self, charge: Charge, reaches: Array, temp_c: Array) -> None:
        rh = np.unique(np.concatenate([charge.sorbent.rh_pct, 100.0 * np.linspace(0.0, 1.0, _NODES) ** 2]))
        held = np.interp(rh, charge.sorbent.rh_pct, charge.sorbent.held) * charge.dry_g / 1e5
        self.kg = np.tile(held, (reaches.size, 1))
        self.nodes = np.stack([charge.sorbent.activity_of_rh(rh, t) for t in temp_c]) / reaches[:, None]

    def where(self, level: Array, per_unit: Array) -> Array:
        """The activity, shape (boxes,), at which what it holds and `per_unit` for each unit of activity come to a
        level, kg.
        """
        there = self.kg + per_unit[:, None] * self.nodes
        above = np.minimum(np.maximum((there < level[:, None]).sum(axis=1), 1), there.shape[1] - 1)
        box = np.arange(level.size)
        low, high = there[box, above - 1], there[box, above]
        share = (level - low) / np.where(high > low, high - low, 1.0)
        here = self.nodes[box, above - 1]
        return possible(here + share * (self.nodes[box, above] - here))


class Coils:
    """Strand that lies free in boxes side by side, by its modes: gas and strand as in `State`, (boxes, coils, ...)."""

    def __init__(self, filaments: Sequence[Filament], strand_kg: Array, temps_c: Sequence[float]) -> None:
        self.kg = strand_kg / 100.0  # (boxes, coils)
        self.k1 = np.array([filament.material.k1.value for filament in filaments])
        self.k3 = np.array([filament.material.k3.value for filament in filaments])
        rates = [[filament.strand_rates_per_s(temp_c) for filament in filaments] for temp_c in temps_c]
        self.rate = np.array(rates).reshape(*self.kg.shape, STRAND_WEIGHTS.size)

    def held(self, activity: Array) -> Array:
        """What strand in equilibrium with air holds, % of dry mass."""
        return held_over(self.k1, self.k3, activity)

    def water_kg(self, now: Free) -> Array:
        """All water in them, kg, shape (boxes,)."""
        gas, strand = now
        return np.asarray((self.kg * (strand @ STRAND_WEIGHTS + REST_WEIGHT * self.held(gas))).sum(axis=1))

    def after(self, now: Free, hours: float, activity: Array) -> Free:
        """The same after a step in this air, shape (boxes,)."""
        gas = np.repeat(activity[:, None], self.k1.size, axis=1)
        surface = self.held(gas)[:, :, None]
        return gas, surface + (now[1] - surface) * np.exp(-3600.0 * hours * self.rate)

    def rest(self, now: Free, hours: float, activity: Array) -> tuple[Array, Array]:
        """See `Air`: what they give to dry air, kg, and how much less for each unit of activity, by the tangent."""
        kept = np.exp(-3600.0 * hours * self.rate)
        unit = self.kg * (REST_WEIGHT + (1.0 - kept) @ STRAND_WEIGHTS)
        at = activity[:, None]
        slope = self.k1 + 3.0 * self.k3 * at * at
        keeps = self.kg * ((now[1] * kept) @ STRAND_WEIGHTS) + unit * (self.held(at) - slope * at)
        return self.water_kg(now) - keeps.sum(axis=1), (unit * slope).sum(axis=1)


@dataclass(frozen=True)
class AirOver:
    """The air over desiccant that holds so much water, kg, beside coils; see `Air`."""

    flow: Flow
    store: Store
    coils: Coils
    held_kg: Array
    free: Free

    @property
    def straight(self) -> bool:
        """See `Air`."""
        return not np.any(self.coils.k3)

    def rest(self, hours: float, activity: Array) -> tuple[Array, Array]:
        """See `Air`."""
        given, less = self.flow.rest(hours, activity)
        if not self.coils.kg.size:
            return given, less
        of_coils, less_of_coils = self.coils.rest(self.free, hours, activity)
        return given + of_coils, less + less_of_coils

    def activity(self, given: Array, less: Array) -> Array:
        """See `Air`."""
        return self.store.where(self.held_kg + given, less)

    def after(self, lost_kg: Callable[[], Array], hours: float, activity: Array) -> AirOver:
        """See `Air`. What the desiccant takes up is counted by the water that came, so none is made or lost."""
        return self.with_free(lost_kg(), hours, activity, self.coils.after(self.free, hours, activity))

    def with_free(self, lost_kg: Array, hours: float, activity: Array, free: Free) -> AirOver:
        """The same once the coils have come to this."""
        came = lost_kg + self.coils.water_kg(self.free) - self.coils.water_kg(free)
        came -= self.flow.kg_h * hours * (activity - self.flow.incoming)
        return replace(self, held_kg=np.maximum(self.held_kg + came, 0.0), free=free)
