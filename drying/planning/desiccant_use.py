"""Desiccant in a dryer: what a run asks of it, when it is spent, and how much of it a run needs."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from drying.dryers import Setup, dried, occupant
from drying.materials import activity_of_moisture, equilibrium_moisture_pct
from drying.storage import DesiccantKind
from drying.storage.desiccant import desiccant

FLOOR_SHARE = 0.8  # desiccant is enough where drying over it ends this far under the aim
LEAST_HELD_PCT = 0.1  # of its dry mass: one that takes up less at such dry air is no help


@dataclass(frozen=True)
class DesiccantUse:
    """What a run asks of the desiccant in its dryer: its dry mass in g, the water in it before and after, % of that,
    and in all what it takes up, g. `gives_off_g`: what it first gives off as it warms, which is not the spools' water.
    `spent_h`: from when on it is too damp for the aim; None where it lasts. `needed_g`: fresh desiccant of this kind
    that brings all to their aims; None where none of it can, and where a vent brings in the room's water.
    """

    kind: DesiccantKind
    dry_g: float
    before_pct: float
    after_pct: float
    takes_g: float
    gives_off_g: float
    spent_h: float | None
    needed_g: float | None


def _activity_wanted(setup: Setup, share: float) -> float:
    """The activity at which the load that is the hardest to dry comes to this share of its aim."""
    return min(activity_of_moisture(load.material, share * load.aim_pct) for load in setup.loads)


def grams_needed(setup: Setup, air_c: float, kind: DesiccantKind) -> float | None:
    """Freshly regenerated desiccant, g dry, that in a closed box at `air_c` brings every load under its aim and then
    holds the water that they gave; None where it cannot hold air so dry.
    """
    sorbent, wanted = desiccant(kind), min(_activity_wanted(setup, FLOOR_SHARE), 1.0)
    takes_pct = sorbent.held_pct(wanted, air_c) - sorbent.left_pct
    if takes_pct < LEAST_HELD_PCT:
        return None
    loads = [occupant(load) for load in setup.loads]
    water_kg = sum(o.strand_kg * (o.start_pct - equilibrium_moisture_pct(o.filament.material, wanted)) for o in loads)
    return max(1000.0 * water_kg / takes_pct, 0.0)


def desiccant_use(setup: Setup, air_c: float, duration_h: float) -> DesiccantUse | None:
    """What a run at `air_c` asks of the desiccant in its dryer; None where none lies in it."""
    charge = setup.dryer.desiccant
    if charge is None:
        return None
    [over] = dried([(setup, air_c)])
    times = np.unique(np.append(over.time_h[over.time_h < duration_h], duration_h))
    held = over.load_at(times)
    full_pct = charge.sorbent.held_pct(min(_activity_wanted(setup, 1.0), 1.0), air_c)
    spent = np.flatnonzero(held > full_pct)
    return DesiccantUse(
        kind=charge.kind,
        dry_g=charge.dry_g,
        before_pct=charge.load_pct,
        after_pct=float(held[-1]),
        takes_g=float(held[-1] - charge.load_pct) * charge.dry_g / 100.0,
        gives_off_g=float(charge.load_pct - held.min()) * charge.dry_g / 100.0,
        spent_h=None if spent.size == 0 else _crossing_h(times, held, int(spent[0]), full_pct),
        needed_g=grams_needed(setup, air_c, charge.kind) if setup.dryer.has_no_vent else None,
    )


def _crossing_h(times: np.ndarray, held: np.ndarray, after: int, level: float) -> float:
    """When a rising line has come to a level, between its points by a straight line."""
    return 0.0 if after == 0 else float(np.interp(level, held[after - 1 : after + 1], times[after - 1 : after + 1]))
