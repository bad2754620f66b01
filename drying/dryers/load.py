"""What goes into a dryer: a spool or coil as a run needs to know it."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

from drying.air import RoomAir
from drying.errors import require_range
from drying.materials import EmptySpoolKind, Material, full_g, most_from_air_pct, most_held_pct
from drying.quantity import Quantity
from drying.transport import DEFAULT_WINDING, UNKNOWN_RATE, Filament, Rate, winding_of_mass
from drying.transport.winding import LEAST_WOUND_G, MOST_WOUND_G


@dataclass(frozen=True)
class MakersSheet:
    """What the data sheet of this very spool says: °C, hours, and whether it asks for drying only once opened."""

    temp_c: float
    duration_h: float
    only_if_opened: bool = False

    def __post_init__(self) -> None:
        require_range("sheet_temp_c", self.temp_c, 20.0, 200.0, "°C")
        require_range("sheet_hours", self.duration_h, 0.25, 400.0, "h")


@dataclass(frozen=True)
class Load:
    """A spool that goes in: what it is made of, how wet it is, how large.

    `start` moisture in % of dry mass with standard uncertainty; `net_g` mass of the strand as it is now, None where
    the spool was never weighed (then it is taken as full). `form` is "wound" or "loose"; hub radius, width and outer
    diameter of the spool in mm. `aim`: where drying is to end, % of dry mass; None for the clean threshold. `rate`:
    how fast it dries against what is computed, as earlier runs teach. `soaked`: it lay in water, so that some hangs on
    the strand and between the turns. `open_winding`: every turn of it dries as if it lay free, see
    `Dryer.opens_winding`.
    """

    material: Material
    empty_spool: EmptySpoolKind
    strand_diameter_mm: float
    start: Quantity
    net_g: float | None
    form: str = "wound"
    hub_radius_mm: float = DEFAULT_WINDING.hub_radius_mm
    width_mm: float = DEFAULT_WINDING.width_mm
    diameter_mm: float = 200.0
    sheet: MakersSheet | None = None
    aim: float | None = None
    rate: Rate = UNKNOWN_RATE
    soaked: bool = False
    open_winding: bool = False

    @property
    def filament(self) -> Filament:
        """What the water moves in."""
        winding = None
        if self.is_wound:
            winding = winding_of_mass(
                self.assumed_net_g, self.material.density.value, self.hub_radius_mm, self.width_mm
            )
        return Filament(self.material, self.strand_diameter_mm, winding)

    @property
    def assumed_net_g(self) -> float:
        """Net mass, g: that of a full spool of its sizes where it is not known."""
        full = full_g(self.diameter_mm, 2.0 * self.hub_radius_mm, self.width_mm)
        return min(max(full if self.net_g is None else self.net_g, LEAST_WOUND_G), MOST_WOUND_G)

    @property
    def assumed_dry_g(self) -> float:
        """Mass of the strand without its water, g: that of a full spool where it is not known."""
        return self.assumed_net_g / (1.0 + self.start.value / 100.0)

    @property
    def is_wound(self) -> bool:
        """Whether the vapour must find its way between the turns."""
        return self.form == "wound" and not self.open_winding

    @property
    def aim_pct(self) -> float:
        """Where drying is to end, % of dry mass."""
        return self.material.aim_pct if self.aim is None else self.aim

    @property
    def most_pct(self) -> float:
        """The most that it may hold, % of dry mass: from air, or from the water that it lay in."""
        return most_held_pct(self.material) if self.soaked else most_from_air_pct(self.material)

    @property
    def dry_mass_g(self) -> float | None:
        """Mass of the strand without its water, g, from the net mass and the moisture now."""
        return None if self.net_g is None else self.net_g / (1.0 + self.start.value / 100.0)


FIGURES = 3  # of a moisture: an hour more or less on the shelf changes the fourth


def _to_figures(value: float) -> float:
    return float(f"{value:.{FIGURES}g}")


def as_planned(load: Load) -> Load:
    """A load with no more digits than are known of it, so that a question asked again a minute later, or on another
    screen, has the same answer: moisture to three figures, mass to a gram.
    """
    start = Quantity(_to_figures(load.start.value), _to_figures(load.start.uncertainty))
    return replace(load, start=start, net_g=None if load.net_g is None else max(round(load.net_g), 1.0))


def room_as_planned(room: RoomAir) -> RoomAir:
    """The room's air with no more digits than a meter is good for: half a degree, one per cent."""
    return RoomAir(round(2.0 * room.temp_c) / 2.0, float(round(room.rh_pct)))


def common_rate(loads: Sequence[Load]) -> float:
    """How fast the spools that share a box dry against what is computed, all in all: the geometric mean."""
    logs = [math.log(load.rate.median) for load in loads if load.is_wound]
    return math.exp(sum(logs) / len(logs)) if logs else 1.0


@lru_cache(maxsize=256)
def filament_at_rate(filament: Filament, rate: float) -> Filament:
    """A filament whose strand and gaps let water through `rate` times as fast. Kept, since solutions are kept by it.

    Gaps cannot be straighter than straight: a tortuosity stays at one or above.
    """
    if abs(rate - 1.0) < 1e-9:
        return filament
    d23 = replace(filament.material.d23, value=filament.material.d23.value * rate)
    winding = filament.winding
    if winding is not None:
        winding = replace(winding, tortuosity=max(1.0, winding.tortuosity / rate))
    return replace(filament, material=replace(filament.material, d23=d23), winding=winding)


@dataclass(frozen=True)
class Occupant:
    """Filament in the box from one hour to another (None: it stays), and its moisture as it comes in, % of dry mass.
    `dry_g`: its strand without water; a winding is as thick as its net mass makes it.
    """

    filament: Filament
    start_pct: float
    dry_g: float
    from_h: float = 0.0
    to_h: float | None = None

    @property
    def strand_kg(self) -> float:
        """Dry strand, kg."""
        return self.dry_g / 1000.0


def occupant(load: Load, from_h: float = 0.0, to_h: float | None = None) -> Occupant:
    """A load as one of those that give their water to a box's desiccant, at the pace at which it dries."""
    filament = filament_at_rate(load.filament, load.rate.median)
    return Occupant(filament, load.start.value, load.assumed_dry_g, from_h, to_h)
