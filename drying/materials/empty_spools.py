"""Empty spools: the heat they stand and the water they hold themselves. Values from `data/empty_spools.toml`."""

from __future__ import annotations

import math
import tomllib
from dataclasses import dataclass
from functools import cache
from importlib import resources

from drying.errors import UnknownMaterialError
from drying.quantity import Quantity

EMPTY_SPOOL_TIME_H = 2.0  # engineering estimate: card follows the air within hours


@dataclass(frozen=True)
class EmptySpoolKind:
    """What a empty spool is made of.

    `sag_c`: temperature in °C from which it sags, None where it stands any drying heat. `water_low_pct`,
    `water_high_pct`: the water it may hold, % of its own mass (0 for plastics).
    """

    id: str
    name: str
    sag_c: float | None
    water_low_pct: float
    water_high_pct: float

    def water_given_off_g(self, body_mass_g: float, time_h: float) -> Quantity:
        """Water, g with standard uncertainty, that a body of this mass has given off after `time_h` in a dryer.

        All that it may hold (taken as even between the two bounds) leaves with a time constant of two hours.
        """
        share = (1.0 - math.exp(-max(time_h, 0.0) / EMPTY_SPOOL_TIME_H)) * body_mass_g / 100.0
        middle, width = (self.water_low_pct + self.water_high_pct) / 2.0, self.water_high_pct - self.water_low_pct
        return Quantity(share * middle, share * width / math.sqrt(12.0))


@cache
def empty_spool_kinds() -> dict[str, EmptySpoolKind]:
    """Every kind of body by id."""
    table = tomllib.loads(resources.files(__package__).joinpath("data/empty_spools.toml").read_text("utf-8"))
    return {
        key: EmptySpoolKind(
            key, raw["name"], raw.get("sag_c"), raw.get("water_low_pct", 0.0), raw.get("water_high_pct", 0.0)
        )
        for key, raw in table.items()
    }


def empty_spool_kind(kind_id: str) -> EmptySpoolKind:
    """The kind with this id. Raises UnknownMaterialError, which lists the known ids."""
    try:
        return empty_spool_kinds()[kind_id]
    except KeyError:
        known = ", ".join(empty_spool_kinds())
        raise UnknownMaterialError("empty_spool_kind", f"There is no body kind '{kind_id}'. Known: {known}.") from None


def usual_sizes_mm(nominal_g: float) -> tuple[float, float, float]:
    """Outer and hub diameter and width, mm, of an empty spool that is sold with so much filament, g: those of a common
    one for 1 kg, of which larger and smaller ones keep the proportions (engineering estimate).
    """
    scale = (nominal_g / 1000.0) ** (1.0 / 3.0)
    return 200.0 * scale, 90.0 * scale, 60.0 * scale
