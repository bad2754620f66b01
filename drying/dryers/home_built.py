"""A box that somebody builds: how warm its heater makes it, and how much hotter the side of a spool near the heater is.

Heat in is heat out: power = wall area × U × (inside - room) + what the exchanged air carries. U is the wall between two
films of air, ISO 6946's way of adding resistances. The side that faces the heater gets its radiation besides, and gives
it off by its own film and radiation. Spread of the warmth: 1.25 (estimate), leaks and bridges among it.
"""

from __future__ import annotations

import math
import tomllib
from dataclasses import dataclass
from functools import cache
from importlib import resources

from drying.air import ZERO_C_IN_K
from drying.errors import require_range
from drying.quantity import Quantity

SPREAD = 1.25  # of the rise over the room, one sigma of a log-normal
OUTSIDE_W_M2K = 8.0  # film and radiation of an upright wall in a room
STILL_W_M2K, BLOWN_W_M2K = 9.0, 18.0  # inside without and with a fan, radiation among it
AIR_J_M3K = 1200.0  # what a cubic metre of air takes for a degree
RADIATED = {"lamp": 0.8, "open": 0.4, "plate": 0.2}  # of the power, by kind of heater; engineering estimates
ABSORBED = 0.9
STEFAN_BOLTZMANN = 5.670e-8
SIZE_MM, AWAY_CM = (100.0, 3000.0), (1.0, 200.0)


@dataclass(frozen=True)
class Wall:
    """What a box is made of: thickness in mm, conductivity in W/(m·K); `stands_c`: what it stands, °C, None for any
    drying heat.
    """

    thickness_mm: float
    w_mk: float
    stands_c: float | None = None


@cache
def walls() -> dict[str, Wall]:
    """Every wall by id, in the order of the data file."""
    table = tomllib.loads(resources.files(__package__).joinpath("data/walls.toml").read_text("utf-8"))
    return {key: Wall(**raw) for key, raw in table.items()}


@dataclass(frozen=True)
class HomeBuilt:
    """A box as somebody means to build it: heater in W and its kind (`RADIATED`), outside sizes in mm, its wall,
    whether a fan stirs the air, and how far the spool stands from the heater, cm. `vent_m3_h`: air that it exchanges.
    """

    heater_w: float
    sizes_mm: tuple[float, float, float]
    wall: str
    heater: str = "plate"
    fan: bool = False
    away_cm: float = 10.0
    vent_m3_h: float = 0.1

    def __post_init__(self) -> None:
        require_range("heater_w", self.heater_w, 1.0, 3000.0, "W")
        for size in self.sizes_mm:
            require_range("sizes_mm", size, *SIZE_MM, "mm")
        require_range("away_cm", self.away_cm, *AWAY_CM, "cm")
        require_range("vent_m3_h", self.vent_m3_h, 0.0, 100.0, "m³/h")


@dataclass(frozen=True)
class Warmth:
    """What a box comes to: its air, °C, with its standard uncertainty; how much hotter the side near the heater is, °C;
    what it loses for each degree over the room, W/K; `harms_wall`: it may get hotter than its own wall stands.
    """

    air_c: Quantity
    hot_side_excess_c: float
    loss_w_k: float
    harms_wall: bool


def warmth_of(box: HomeBuilt, room_c: float) -> Warmth:
    """How warm the air of a box gets with its heater always on, in a room of `room_c`."""
    require_range("room_c", room_c, -20.0, 50.0, "°C")
    wall, film = walls()[box.wall], BLOWN_W_M2K if box.fan else STILL_W_M2K
    a, b, c = (size / 1000.0 for size in box.sizes_mm)
    area = 2.0 * (a * b + b * c + c * a)
    u = 1.0 / (1.0 / film + wall.thickness_mm / 1000.0 / wall.w_mk + 1.0 / OUTSIDE_W_M2K)
    loss = area * u + box.vent_m3_h * AIR_J_M3K / 3600.0
    rise = box.heater_w / loss
    air = Quantity(room_c + rise, rise * math.log(SPREAD))
    harms = wall.stands_c is not None and room_c + rise * SPREAD > wall.stands_c
    return Warmth(air, _hot_side(box, min(air.value, 200.0), film), loss, harms)


def _hot_side(box: HomeBuilt, air_c: float, film: float) -> float:
    """How much over the air the side comes that faces the heater: its radiation, spread over a sphere as wide as the
    way to the spool, against what the side gives off.
    """
    away_m = box.away_cm / 100.0
    arrives = ABSORBED * RADIATED[box.heater] * box.heater_w / (4.0 * math.pi * away_m**2)
    return arrives / (film + 4.0 * STEFAN_BOLTZMANN * (air_c + ZERO_C_IN_K) ** 3)
