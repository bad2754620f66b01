"""What a scale tells: net mass, loss, percent on dry and wet basis, each with its standard uncertainty.

Uncertainties follow the Guide to the Expression of Uncertainty in Measurement (JCGM 100:2008): a reading rounded to
d carries d/sqrt(12) (clause F.2.2.1); independent terms add in quadrature (equation 10).
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from enum import StrEnum

from drying.errors import OutOfRangeError, require_range

USUAL_REPEATABILITY_STEPS = 0.5  # engineering estimate, in steps of the scale: where no one has tried it out
COVERAGE = 2.0  # a loss is a finding from this many standard uncertainties on; about 95 %


@dataclass(frozen=True)
class Scale:
    """A scale: smallest step shown, repeatability and drift between two weighings as standard deviations, all in g."""

    resolution_g: float
    repeatability_g: float = 0.0
    drift_g: float = 0.0

    def __post_init__(self) -> None:
        require_range("resolution_g", self.resolution_g, 1e-6, 100.0, "g")
        require_range("repeatability_g", self.repeatability_g, 0.0, 100.0, "g")
        require_range("drift_g", self.drift_g, 0.0, 100.0, "g")

    @property
    def uncertainty_g(self) -> float:
        """Standard uncertainty of one weighing, g: resolution/sqrt(12), repeatability and drift in quadrature."""
        return math.sqrt(self.resolution_g**2 / 12.0 + self.repeatability_g**2 + self.drift_g**2)


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
    """Mass of the empty spool body in g, its standard uncertainty, and how it is known."""

    mass_g: float
    uncertainty_g: float
    method: TareMethod

    def __post_init__(self) -> None:
        require_range("tare_g", self.mass_g, 0.0, 20000.0, "g")
        require_range("tare_sd_g", self.uncertainty_g, 0.0, 1000.0, "g")


def tare_measured(empty_g: float, scale: Scale) -> Tare:
    """Tare of this very body, weighed empty."""
    return Tare(empty_g, scale.uncertainty_g, TareMethod.MEASURED)


def tare_from_twin(twin_empty_g: float, scale: Scale, spread_g: float = TWIN_SPREAD_G) -> Tare:
    """Tare taken from an emptied spool of the same make; bodies of one make differ by `spread_g` (one sd)."""
    return Tare(twin_empty_g, math.hypot(scale.uncertainty_g, spread_g), TareMethod.TWIN)


def tare_from_nominal(
    new_gross_g: float, nominal_net_g: float, scale: Scale, spread_g: float = NOMINAL_SPREAD_G
) -> Tare:
    """Tare as the gross mass of the new spool less the strand's nominal mass, which is off by `spread_g` (one sd).

    Raises OutOfRangeError where the gross mass is below the nominal net mass.
    """
    return Tare(new_gross_g - nominal_net_g, math.hypot(scale.uncertainty_g, spread_g), TareMethod.NOMINAL)


# Engineering estimates, one sd: air rising off a hot spool lifts it and the pan; drops left on a soaked one weigh.
WARM_SD_G = 0.15
SURFACE_WET_SD_G = 1.0


@dataclass(frozen=True)
class Weighing:
    """One weighing: gross mass in g, the scale it was made on, and whether the spool was still `warm` from the dryer
    or `surface_wet` (water on it, not in it), either of which makes the reading less sure.
    """

    gross_g: float
    scale: Scale
    warm: bool = False
    surface_wet: bool = False

    @property
    def uncertainty_g(self) -> float:
        """Standard uncertainty of this weighing, g: the scale's, and what warmth and surface water add."""
        return math.hypot(self.scale.uncertainty_g, WARM_SD_G * self.warm, SURFACE_WET_SD_G * self.surface_wet)


@dataclass(frozen=True)
class Quantity:
    """A value with its standard uncertainty, in one unit."""

    value: float
    uncertainty: float

    @property
    def plus_minus(self) -> float:
        """What stands after the ± on the screen: two standard uncertainties, about 95 %."""
        return COVERAGE * self.uncertainty


NOTHING = Quantity(0.0, 0.0)


def net(weighing: Weighing, tare: Tare) -> Quantity:
    """Mass of the strand, g: gross less tare.

    Raises OutOfRangeError where the gross mass is below the tare: then one of the two is wrong.
    """
    if not weighing.gross_g >= tare.mass_g:
        raise OutOfRangeError(
            "gross_g", f"Gross {weighing.gross_g:g} g is below the tare of {tare.mass_g:g} g: one of the two is wrong."
        )
    return Quantity(weighing.gross_g - tare.mass_g, math.hypot(weighing.uncertainty_g, tare.uncertainty_g))


@dataclass(frozen=True)
class Loss:
    """Mass lost between two weighings (negative: gained).

    `mass_g`: what left the scale. `strand_g`: that less what the spool's own body gave off; the same for plastic.
    `dry_basis_pct`: the strand's loss in percent of the dry strand; `wet_basis_pct`: of the strand as first weighed.
    `finding` is False where the strand's loss lies within two standard uncertainties of nothing: then it is not zero
    and not success, it is not known. `detectable_g` is the smallest loss that would have been a finding.
    """

    mass_g: Quantity
    strand_g: Quantity
    dry_basis_pct: Quantity
    wet_basis_pct: Quantity
    finding: bool
    detectable_g: float


def loss(
    first: Weighing, last: Weighing, tare: Tare, moisture_left_pct: float = 0.0, body_g: Quantity = NOTHING
) -> Loss:
    """Loss from the first weighing to the last, same spool, nothing printed in between.

    `moisture_left_pct` is what the strand still holds at the last weighing (% of dry mass); it makes the dry mass out
    of the last net mass. `body_g` is the water that the spool's own body gave off in the meantime. The tare
    cancels in grams and enters the percents only.
    Raises OutOfRangeError where a gross mass is not above the tare.
    """
    require_range("moisture_left_pct", moisture_left_pct, 0.0, 100.0, "%")
    u_first, u_last = first.uncertainty_g, last.uncertainty_g
    left_scale = Quantity(first.gross_g - last.gross_g, math.hypot(u_first, u_last))
    lost = left_scale.value - body_g.value
    u_lost = math.hypot(left_scale.uncertainty, body_g.uncertainty)
    first_net, last_net = net(first, tare).value, net(last, tare).value
    if last_net <= 0.0 or first_net <= 0.0:
        raise OutOfRangeError("gross_g", "The gross mass equals the tare: there is no strand to take a percentage of.")
    wetness = 1.0 + moisture_left_pct / 100.0
    dry = last_net / wetness
    ratio_dry, ratio_wet = lost / dry, lost / first_net
    # First-order propagation with the exact partial derivatives; gross masses and tare are independent.
    u_dry = math.sqrt(
        (u_first / dry) ** 2
        + (u_last * (-1.0 / dry - ratio_dry / last_net)) ** 2
        + (tare.uncertainty_g * ratio_dry / last_net) ** 2
        + (body_g.uncertainty / dry) ** 2
    )
    u_wet = math.sqrt(
        (u_first * (1.0 - ratio_wet)) ** 2 + u_last**2 + body_g.uncertainty**2 + (tare.uncertainty_g * ratio_wet) ** 2
    ) / first_net  # fmt: skip
    return Loss(
        mass_g=left_scale,
        strand_g=Quantity(lost, u_lost),
        dry_basis_pct=Quantity(100.0 * ratio_dry, 100.0 * u_dry),
        wet_basis_pct=Quantity(100.0 * ratio_wet, 100.0 * u_wet),
        finding=abs(lost) >= COVERAGE * u_lost,
        detectable_g=COVERAGE * u_lost,
    )
