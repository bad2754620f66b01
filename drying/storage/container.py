"""Places and containers: what lets air in, how much air they hold, and the desiccant in them."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from drying.errors import require_range
from drying.storage.desiccant import DesiccantKind

OPEN, AWAY = -1, -2  # where a spool is: in the room's air; nowhere that changes it (in a run, not yet there)


class PlaceKind(StrEnum):
    """What a place is: decides how the room's air reaches what stands there."""

    SHELF = "shelf"
    PRINTER = "printer"
    ZIP_BAG = "zip_bag"
    VACUUM_BAG = "vacuum_bag"
    GASKET_BIN = "gasket_bin"
    DRY_BOX = "dry_box"
    WARM_BOX = "warm_box"
    VACUUM_POT = "vacuum_pot"
    DRYER = "dryer"


OPEN_KINDS = (PlaceKind.SHELF, PlaceKind.PRINTER, PlaceKind.WARM_BOX)


# Ingress by kind, m³/day of room air that would bring in as much water, with its spread as a factor, and the air it
# holds in litres. Engineering estimates: area × transmission rate of usual films and walls at 20 °C, and a leak.
INGRESS: dict[PlaceKind, tuple[float, float, float]] = {
    PlaceKind.ZIP_BAG: (0.030, 2.0, 3.0),
    PlaceKind.VACUUM_BAG: (0.010, 2.0, 0.2),
    PlaceKind.GASKET_BIN: (0.030, 2.5, 30.0),
    PlaceKind.DRY_BOX: (0.120, 2.5, 12.0),
    PlaceKind.VACUUM_POT: (0.003, 3.0, 8.0),
    PlaceKind.DRYER: (0.400, 2.5, 15.0),  # switched off: a vent, and a lid without a gasket
}


WARMEST_C = 80.0  # over the room: a dryer on hold


@dataclass(frozen=True)
class Fill:
    """Desiccant in a container: kind, dry mass in g."""

    kind: DesiccantKind
    dry_g: float

    def __post_init__(self) -> None:
        require_range("dry_g", self.dry_g, 0.1, 100000.0, "g")


@dataclass(frozen=True)
class Container:
    """A place as the computation takes it. `ingress_m3_day`: None for a place that is open to the room. `warm_c`: kept
    so much over the room.
    """

    ingress_m3_day: float | None
    air_l: float = 10.0
    warm_c: float = 0.0
    fill: Fill | None = None

    def __post_init__(self) -> None:
        if self.ingress_m3_day is not None:
            require_range("ingress_m3_day", self.ingress_m3_day, 0.0, 100.0, "m³/day")
        require_range("air_l", self.air_l, 0.0, 5000.0, "l")
        require_range("warm_c", self.warm_c, 0.0, WARMEST_C, "°C", difference=True)
