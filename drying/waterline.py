"""The waterline: how wet a spool is now, from the last time that was known and where it has stood since."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from drying.arrays import Array
from drying.history import Air, storage_history
from drying.materials import Material
from drying.sorption import equilibrium_moisture_pct
from drying.water_state import Body, even_state
from drying.weighing import Quantity

NEW_SPOOL_ACTIVITY = (0.5, 0.2)  # mean and sd of the activity that strand leaves the factory with: an estimate


class Standing(StrEnum):
    """Where the waterline stands against the material's two marks."""

    CLEAN = "clean"
    BETWEEN = "between"
    TROUBLE = "trouble"
    NO_MATTER = "no_matter"


def standing(material: Material, moisture_pct: float) -> Standing:
    """`moisture_pct` (% of dry mass) against the material's marks; a mark itself still counts as below it."""
    if material.clean is None or material.trouble is None:
        return Standing.NO_MATTER
    if moisture_pct <= material.clean.value:
        return Standing.CLEAN
    return Standing.BETWEEN if moisture_pct <= material.trouble.value else Standing.TROUBLE


def new_spool_moisture(material: Material) -> Quantity:
    """The honest prior for strand fresh from the factory, % of dry mass.

    It is cooled in a water bath and often wound without drying; a sealed bag keeps water in as well as out.
    """
    mean, sd = NEW_SPOOL_ACTIVITY
    k1, k3 = material.k1.value, material.k3.value
    slope = k1 + 3.0 * k3 * mean**2
    return Quantity(equilibrium_moisture_pct(material, mean), slope * sd)


@dataclass(frozen=True)
class Known:
    """A spool, its moisture where it was last known (% of dry mass, even through), and the air it met since, hour by
    hour: activity 0..1, NaN where it was sealed and before it was known.
    """

    body: Body
    moisture: Quantity
    activity: Array


NUDGE_PCT = 0.01  # a small change of the start, which tells how much of it is still to be seen


def moistures_now(spools: Sequence[Known], temp_c: Array) -> list[Quantity]:
    """Moisture of each spool after the hours whose room temperatures are `temp_c`, with its standard uncertainty.

    The uncertainty joins what is left of its own with the spread of the sorption data on the part that came from the
    air. With no hours gone it is what was known.
    """
    if not spools or temp_c.size == 0:
        return [s.moisture for s in spools]
    bodies, airs = [s.body for s in spools] * 2, [Air(s.activity) for s in spools] * 2
    starts = [even_state(s.body, s.moisture.value + nudge) for nudge in (0.0, NUDGE_PCT) for s in spools]
    ends = storage_history(bodies, starts, temp_c, airs)[:, -1]
    found = []
    for spool, moisture, nudged in zip(spools, ends[: len(spools)], ends[len(spools) :], strict=True):
        memory = float(np.clip((nudged - moisture) / NUDGE_PCT, 0.0, 1.0))
        from_air = float(moisture) - memory * spool.moisture.value
        spread = from_air * (spool.body.material.k1.spread - 1.0)
        found.append(Quantity(max(float(moisture), 0.0), math.hypot(memory * spool.moisture.uncertainty, spread)))
    return found
