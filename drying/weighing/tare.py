"""The mass of an empty spool (tare): how it was found and how sure it is."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from drying.errors import require_range


class TareMethod(StrEnum):
    """How the mass of the empty spool is known."""

    MEASURED = "measured"
    TWIN = "twin"
    NOMINAL = "nominal"


TWIN_SPREAD_G = 3.0  # engineering estimate: emptied spools of one make differ by this much (one sd)


NOMINAL_SPREAD_G = 10.0  # engineering estimate: strand wound on a new "1000 g" spool differs by this much (one sd)


MEASURED_SPREAD_G = 0.5  # engineering estimate: what stuck to the empty spool or fell off it (one sd)


def tare_spread_g(method: TareMethod) -> float:
    """Standard uncertainty, g, of a tare that is known in this way, where nothing else is said."""
    spread = {TareMethod.TWIN: TWIN_SPREAD_G, TareMethod.NOMINAL: NOMINAL_SPREAD_G}
    return spread.get(method, MEASURED_SPREAD_G)


@dataclass(frozen=True)
class Tare:
    """Mass of the empty spool in g, its standard uncertainty, and how it is known."""

    mass_g: float
    uncertainty_g: float
    method: TareMethod

    def __post_init__(self) -> None:
        require_range("tare_g", self.mass_g, 0.0, 20000.0, "g")
        require_range("tare_sd_g", self.uncertainty_g, 0.0, 1000.0, "g")
