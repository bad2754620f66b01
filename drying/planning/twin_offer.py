"""Would a baked coil pay? What a twin of the spool, baked dry before the run, would tell of the hour at which it is
ready.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from drying.arrays import Array
from drying.dryers import Load, Setup
from drying.materials import floor_pct
from drying.planning.forecast import BAND_SIGMAS, Forecast
from drying.planning.ready import by_clock, coming
from drying.planning.tells import COILS_M, OwnScale
from drying.planning.ticket import Ticket
from drying.weighing import coil_mass_g

PAYS_SHARE = 0.8  # of the hours without it: with less left of them it is worth the trouble
NEAR_SHARE = 1.1  # of the best that any length gives: so near to it a shorter one does


@dataclass(frozen=True)
class TwinOffer:
    """A coil to bake: its length in m, the scale, how hot, °C, and between which hours from the start the spool is then
    ready in 9 of 10 cases, and without it.
    """

    length_m: float
    scale: int
    bake_c: float
    early_h: float
    late_h: float
    without_early_h: float
    without_late_h: float


def _bake_c(load: Load, setup: Setup) -> float:
    """As hot as the material and the dryer allow: the less is left in the coil, the less hangs on the isotherm."""
    brisk = load.material.programmes.get("brisk")
    return setup.dryer.max_c if brisk is None else min(brisk.temp_c, setup.dryer.max_c)


def _start_u_pct(load: Load, setup: Setup, mass_g: float, own: OwnScale) -> float:
    """How well a baked coil of this mass would tell the start, % of dry mass: its two weighings, and what baking in
    this room leaves in it.
    """
    of_scale = 100.0 * own.scale.uncertainty_g / mass_g * math.sqrt(2.0)
    left = floor_pct(load.material, setup.room, _bake_c(load, setup)) * math.log(load.material.k1.spread)
    return math.hypot(of_scale, left)


def _known(course: Forecast, from_start: Array, share: float) -> Forecast:
    """The forecast where only `share` of the doubt of the start is left."""
    sd = (course.high_pct - course.moisture_pct) / BAND_SIGMAS
    others = np.maximum(sd**2 - from_start**2, 0.0)
    narrower = BAND_SIGMAS * np.sqrt(others + (from_start * share) ** 2)
    low = np.maximum(course.moisture_pct - narrower, 0.0)
    return replace(course, low_pct=low, high_pct=course.moisture_pct + narrower)


def twin_offer(setup: Setup, ticket: Ticket, scales: Sequence[OwnScale]) -> TwinOffer | None:
    """The coil that pays for the spool asked about; None where the hours would be hardly fewer, or are not known."""
    load, course = setup.lead, ticket.followed[0]
    from_start, now = course.from_start_pct, ticket.members[0]
    without_early, without_late = now.ready_early_h, now.ready_late_h
    if load.start.uncertainty <= 0.0 or from_start is None or load.form != "wound":
        return None
    if without_early is None or without_late is None:
        return None
    masses = {length: coil_mass_g(load.material, load.strand_diameter_mm, length).value for length in COILS_M}
    found = [
        (_start_u_pct(load, setup, mass, own), length, own.key)
        for length, mass in masses.items()
        for own in scales
        if mass <= own.max_g and (load.net_g is None or 2.0 * mass <= load.net_g)
    ]
    if not found:
        return None
    least = min(u for u, _, _ in found)
    u_pct, length, scale = min((one for one in found if one[0] <= NEAR_SHARE * least), key=lambda one: one[1])
    if u_pct >= load.start.uncertainty:
        return None
    surer = coming(load.aim_pct, _known(course, from_start, u_pct / load.start.uncertainty), ticket.duration_h)
    then = by_clock(surer, ticket.off)
    if then.early_h is None or then.late_h is None:
        return None
    if then.late_h - then.early_h > PAYS_SHARE * (without_late - without_early):
        return None
    return TwinOffer(length, scale, _bake_c(load, setup), then.early_h, then.late_h, without_early, without_late)
