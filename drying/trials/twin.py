"""A coil cut off a spool and baked: what the spool held."""

from __future__ import annotations

import math

import numpy as np

from drying.air import RoomAir
from drying.errors import require_range
from drying.materials import Material, floor_pct
from drying.trials.points import Points, normal_points
from drying.weighing import Scale


def twin_start(
    polymer: Material, before_g: float, after_g: float, temp_c: float, room: RoomAir, scale: Scale
) -> tuple[Points, Points]:
    """The start moisture of the spool that a coil was cut from, and the floor that its own air left in it, both in % of
    dry mass.

    Raises OutOfRangeError for masses that cannot be.
    """
    require_range("before_g", before_g, 0.001, 1e5, "g")
    require_range("after_g", after_g, 0.5 * before_g, 1.5 * before_g, "g")
    floor = floor_pct(polymer, room, temp_c)
    floor_sd = floor * math.log(polymer.k1.spread)
    dry_g = after_g / (1.0 + floor / 100.0)
    lost = 100.0 * (before_g - after_g) / dry_g
    of_scale = 100.0 * scale.uncertainty_g / dry_g * math.hypot(1.0, before_g / after_g)
    mean, sd = lost + floor, math.hypot(of_scale, floor_sd * (1.0 + lost / 100.0))
    found = normal_points(mean, sd)
    return Points(*np.maximum([found.p05, found.p50, found.p95], 0.0).tolist()), normal_points(floor, floor_sd)
