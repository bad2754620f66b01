"""How much water a polymer holds: the sorption isotherm c(a) = k1·a + k3·a³, in percent of the dry mass.

k3 = 0 is Henry's law; the cubic term carries the upturn of nylon 6 and PVA. `a` is water activity, 0..1, that is
relative humidity / 100 at the strand's own temperature. The curve is taken as independent of temperature.
"""

from __future__ import annotations

import math

import numpy as np

from drying.air import RoomAir
from drying.arrays import Array
from drying.errors import require_range
from drying.materials.properties import Material
from drying.quantity import Quantity


def held_pct(material: Material, activity: Array) -> Array:
    """The isotherm for arrays and without bounds, % of dry mass: numerical states may pass 1 or 0 by rounding."""
    return np.asarray(material.k1.value * activity + material.k3.value * activity**3)


def equilibrium_moisture_pct(material: Material, activity: float) -> float:
    """Moisture, % of dry mass, that the strand reaches in the end at water activity `activity` (0..1)."""
    require_range("activity", activity, 0.0, 1.0, "")
    return float(held_pct(material, np.array(activity)))


def floor_pct(material: Material, room: RoomAir, strand_temp_c: float) -> float:
    """The floor: the moisture, % of dry mass, at which drying at `strand_temp_c` ends when the dryer is vented
    with the air of this room. Longer drying goes no lower; hotter, or drier air, does.
    """
    return equilibrium_moisture_pct(material, room.activity_at(strand_temp_c))


def activity_of_moisture(material: Material, moisture_pct: float) -> float:
    """Water activity in equilibrium with `moisture_pct`: the isotherm read backwards.

    Solved by Newton's method; the curve rises and bends upwards, so it converges from above for every material.
    Moisture above the isotherm's end gives an activity over 1: water that the strand cannot hold in solution.
    """
    require_range("moisture_pct", moisture_pct, 0.0, 100.0, "%")
    k1, k3 = material.k1.value, material.k3.value
    activity = moisture_pct / k1  # at or above the root, since k3 >= 0
    for _ in range(60):
        step = (k1 * activity + k3 * activity**3 - moisture_pct) / (k1 + 3.0 * k3 * activity**2)
        activity -= step
        if abs(step) < 1e-14:
            break
    return activity


def most_from_air_pct(material: Material) -> float:
    """The most water that the polymer could take from air, the spread of its data included, % of dry mass."""
    return material.k1.value * material.k1.spread**2 + material.k3.value * material.k3.spread**2


def most_held_pct(material: Material) -> float:
    """The most water that the polymer could hold, be it from air or from lying in water, % of dry mass."""
    from_air = most_from_air_pct(material)
    return from_air if material.soaked is None else max(from_air, material.soaked.value * material.soaked.spread**2)


def soaked_pct(material: Material) -> float:
    """What strand holds that lay in water until it took up no more, % of dry mass; as much as it takes from saturated
    air where that is not known.
    """
    return equilibrium_moisture_pct(material, 1.0) if material.soaked is None else material.soaked.value


def after_soaking(material: Material, before: Quantity) -> Quantity:
    """What strand holds that lay in water nobody knows how long, % of dry mass: anything from what it held `before` to
    all that it can, one as likely as the other.
    """
    most = max(soaked_pct(material), before.value)
    return Quantity(
        (before.value + most) / 2.0, math.hypot((most - before.value) / math.sqrt(12.0), before.uncertainty)
    )
