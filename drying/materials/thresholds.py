"""The moisture history against a material's two thresholds, and where it begins for a new spool."""

from __future__ import annotations

from enum import StrEnum

from drying.materials.properties import Material
from drying.materials.sorption import equilibrium_moisture_pct
from drying.quantity import Quantity

NEW_SPOOL_ACTIVITY = (0.5, 0.2)  # mean and sd of the activity that strand leaves the factory with: an estimate


class MoistureLevel(StrEnum):
    """Where the moisture history stands against the material's two thresholds."""

    CLEAN = "clean"
    BETWEEN = "between"
    TROUBLE = "trouble"
    NO_MATTER = "no_matter"


def moisture_level(material: Material, moisture_pct: float) -> MoistureLevel:
    """`moisture_pct` (% of dry mass) against the material's thresholds; a value on a threshold counts as below it."""
    if material.clean is None or material.trouble is None:
        return MoistureLevel.NO_MATTER
    if moisture_pct <= material.clean.value:
        return MoistureLevel.CLEAN
    return MoistureLevel.BETWEEN if moisture_pct <= material.trouble.value else MoistureLevel.TROUBLE


def snaps(material: Material, moisture_pct: float) -> bool:
    """Whether cold filament of this moisture, % of dry mass, is likely to snap when it is bent."""
    return material.brittle is not None and moisture_pct > material.brittle.value


def new_spool_moisture(material: Material) -> Quantity:
    """The honest prior for strand fresh from the factory, % of dry mass.

    It is cooled in a water bath and often wound without drying; a sealed bag keeps water in as well as out.
    """
    mean, sd = NEW_SPOOL_ACTIVITY
    k1, k3 = material.k1.value, material.k3.value
    slope = k1 + 3.0 * k3 * mean**2
    return Quantity(equilibrium_moisture_pct(material, mean), slope * sd)
