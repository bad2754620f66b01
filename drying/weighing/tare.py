"""The mass of an empty spool (tare): how it was found and how sure it is."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

from drying.errors import Amount, OutOfRangeError, require_range


class TareMethod(StrEnum):
    """How the mass of the empty spool is known."""

    MEASURED = "measured"
    TWIN = "twin"
    NOMINAL = "nominal"
    UNKNOWN = "unknown"


TWIN_SPREAD_G = 3.0  # engineering estimate: emptied spools of one make differ by this much (one sd)


NOMINAL_SPREAD_G = 10.0  # engineering estimate: strand wound on a new "1000 g" spool differs by this much (one sd)


MEASURED_SPREAD_G = 0.5  # engineering estimate: what stuck to the empty spool or fell off it (one sd)


USUAL_EMPTY_G, USUAL_EMPTY_POWER, USUAL_EMPTY_SHARE = 200.0, 0.75, 0.22
"""Engineering estimates: what an empty spool for 1 kg weighs, how that grows with its size, and one sd of it."""


def tare_spread_g(method: TareMethod) -> float:
    """Standard uncertainty, g, of a tare that is known in this way, where nothing else is said."""
    spread = {TareMethod.TWIN: TWIN_SPREAD_G, TareMethod.NOMINAL: NOMINAL_SPREAD_G}
    return spread.get(method, MEASURED_SPREAD_G)


NOMINAL_SIZES_G = (100.0, 10000.0)  # between these lie the spools that are sold


@dataclass(frozen=True)
class Tare:
    """Mass of the empty spool in g, its standard uncertainty, and how it is known."""

    mass_g: float
    uncertainty_g: float
    method: TareMethod

    def __post_init__(self) -> None:
        require_range("tare_g", self.mass_g, 0.0, 20000.0, "g")
        require_range("tare_sd_g", self.uncertainty_g, 0.0, 1000.0, "g")


def usual_tare(nominal_g: float) -> Tare:
    """What an empty spool weighs of which nothing is known but how much filament it held when new, g.

    Raises OutOfRangeError for a mass that no spool is sold with.
    """
    require_range("nominal_g", nominal_g, *NOMINAL_SIZES_G, "g")
    mass = USUAL_EMPTY_G * (nominal_g / 1000.0) ** USUAL_EMPTY_POWER
    return Tare(mass, USUAL_EMPTY_SHARE * mass, TareMethod.UNKNOWN)


def twin_tare(emptied_g: Sequence[float]) -> Tare:
    """What an empty spool weighs of whose make some were weighed when they were empty, g.

    Two of one make differ by the spread of a twin: so one alone tells as much as a twin does, and many tell the mean of
    the make, from which this one still differs. Raises OutOfRangeError where none was weighed.
    """
    if not emptied_g:
        raise OutOfRangeError("emptied_g", "No spool of this make was weighed empty yet.")
    spread = TWIN_SPREAD_G * math.sqrt((1.0 + 1.0 / len(emptied_g)) / 2.0)
    return Tare(math.fsum(emptied_g) / len(emptied_g), spread, TareMethod.TWIN)


def nominal_tare(gross_g: float, nominal_g: float) -> Tare:
    """A new spool's mass less the filament that its label names, g.

    Raises OutOfRangeError for a label that no spool has, or for more filament than the whole weighs.
    """
    require_range("nominal_g", nominal_g, *NOMINAL_SIZES_G, "g")
    if gross_g <= nominal_g:
        raise OutOfRangeError(
            "gross_g", Amount(gross_g, "g"), " is less than the ", Amount(nominal_g, "g"),
            " on its label: it is not new. Choose another way to know the empty spool.",
        )  # fmt: skip
    return Tare(gross_g - nominal_g, NOMINAL_SPREAD_G * max(nominal_g / 1000.0, 0.5), TareMethod.NOMINAL)
