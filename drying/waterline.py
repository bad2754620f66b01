"""The waterline: how wet a spool is now, from the last time that was known and where it has stood since."""

from __future__ import annotations

import math
from collections.abc import Sequence
from enum import StrEnum

from drying.materials import Material
from drying.strand import Stage, course_loose
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
    return Quantity(k1 * mean + k3 * mean**3, slope * sd)


def moisture_after(material: Material, strand_diameter_mm: float, known: Quantity, stages: Sequence[Stage]) -> Quantity:
    """Moisture now, % of dry mass with standard uncertainty, after `stages` in order since it was `known`.

    The strand is taken as loose, which for a wound spool is the fastest it can change. The uncertainty joins what is
    left of its own with the spread of the sorption data on the part that came from the air.
    """
    if not stages:
        return known
    course = course_loose(material, strand_diameter_mm, known.value, stages)
    moisture, memory = float(course.moisture_pct[-1]), float(course.memory[-1])
    from_air = moisture - memory * known.value
    spread = from_air * (material.k1.spread - 1.0)
    return Quantity(moisture, math.hypot(memory * known.uncertainty, spread))
