"""What a lot that somebody thinks of would tell, with each of their scales."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from darre.common.errors import Refusal
from darre.equipment.models import Scale
from darre.equipment.records import core_scale
from darre.inventory.material_book import material_book
from darre.inventory.models import Spool
from darre.moisture.lanes import lane_of
from darre.places.selectors import room_now
from darre.trials.models import Trial
from drying.materials import equilibrium_moisture_pct, floor_pct, soaked_pct
from drying.trials import Design, Plan, design, expected, least_seen
from drying.weighing import coil_mass_g

FRESH_SHARE = 0.2  # of what it holds: what a coil is taken to hold before it takes water up


@dataclass(frozen=True)
class Wanted:
    """The lot that somebody thinks of: coils of `coil_m` metres."""

    kind: str
    spool: Spool
    scale: Scale
    temp_c: float
    rh_pct: float | None
    soaked: bool
    coils: int
    coil_m: float


@dataclass(frozen=True)
class ByScale:
    """What the same times would tell by one of the scales; `takes_it`: a coil is not too heavy for it."""

    scale: Scale
    diffusivity_factor: float
    change_pm_pct: float
    takes_it: bool


@dataclass(frozen=True)
class Designed:
    """The design, and what would make it surer."""

    plan: Plan
    design: Design
    more_coils_factor: float
    scales: Sequence[ByScale]


def designed(wanted: Wanted, now: datetime) -> Designed:
    """When to take the coils out, and how sure it will be.

    Raises Refusal where nothing would change; OutOfRangeError for numbers out of range.
    """
    lane = lane_of(wanted.spool.pk, now)
    polymer, now_pct = lane.material, lane.moisture.value
    coil_g = coil_mass_g(polymer, wanted.spool.strand_diameter_mm, wanted.coil_m).value
    soaked = soaked_pct(polymer)
    if wanted.kind == Trial.Kind.UPTAKE:
        end = soaked if wanted.rh_pct is None else equilibrium_moisture_pct(polymer, wanted.rh_pct / 100.0)
        start = min(now_pct, FRESH_SHARE * end) if now_pct < end else now_pct
    else:
        end = floor_pct(polymer, room_now(now).air, wanted.temp_c)
        start = soaked if wanted.soaked else now_pct
    rises = wanted.kind == Trial.Kind.UPTAKE
    if (end <= start) if rises else (start <= end):
        says = (
            f"{wanted.spool.name} would take nothing up there: it holds as much already."
            if rises
            else f"{wanted.spool.name} would lose nothing there: soak the coils first, or choose a hotter place."
        )
        raise Refusal("nothing_moves", says, "temp_c", 400)
    plan = Plan(polymer.diffusivity_m2_s(wanted.temp_c), wanted.spool.strand_diameter_mm, start, end, coil_g)
    found = design(plan, core_scale(wanted.scale), wanted.coils)
    more = design(plan, core_scale(wanted.scale), min(2 * wanted.coils, 60))
    scales = [
        ByScale(scale, *expected(plan, core_scale(scale), found.times_h), coil_g <= scale.max_g)
        for scale in Scale.objects.all()
    ]
    return Designed(plan, found, more.diffusivity_factor, scales)


CALIPER_SD_MM = 0.02  # of one reading, of a length, by hand


def least_swelling(
    spool: Spool, pieces: int, readings: int, length_mm: float, now: datetime
) -> tuple[float | None, float]:
    """The least swelling that pieces printed dry show once they rest in the room's air, % for each percent of water
    (None where they would take nothing up), and what they will hold then, % of dry mass.

    Raises OutOfRangeError for numbers out of range.
    """
    holds = equilibrium_moisture_pct(material_book()[spool.material], room_now(now).air.rh_pct / 100.0)
    least = least_seen(pieces, readings, length_mm, holds, CALIPER_SD_MM) if holds > 0.0 else None
    return least, holds
