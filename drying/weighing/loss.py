"""Net mass and loss between two weighings, in grams and percent."""

from __future__ import annotations

import math
from dataclasses import dataclass

from drying.errors import Amount, OutOfRangeError, require_range
from drying.quantity import COVERAGE, NOTHING, Quantity
from drying.weighing.scale import Weighing
from drying.weighing.tare import Tare


def net(weighing: Weighing, tare: Tare) -> Quantity:
    """Mass of the strand, g: gross less tare.

    Raises OutOfRangeError where the gross mass is below the tare: then one of the two is wrong.
    """
    if not weighing.gross_g >= tare.mass_g:
        raise OutOfRangeError(
            "gross_g",
            "Gross ",
            Amount(weighing.gross_g, "g"),
            " is below the tare of ",
            Amount(tare.mass_g, "g"),
            ": one of the two is wrong.",
        )
    return Quantity(weighing.mass_g - tare.mass_g, math.hypot(weighing.uncertainty_g, tare.uncertainty_g))


@dataclass(frozen=True)
class Loss:
    """Mass lost between two weighings (negative: gained).

    `mass_g`: what left the scale. `filament_g`: that less what the empty spool gave off; the same for plastic.
    `dry_basis_pct`: the strand's loss in percent of the dry strand; `wet_basis_pct`: of the strand as first weighed.
    `finding` is False where the strand's loss lies within two standard uncertainties of nothing: then it is not zero
    and not success, it is not known. `detectable_g` is the smallest loss that would have been a finding.
    """

    mass_g: Quantity
    filament_g: Quantity
    dry_basis_pct: Quantity
    wet_basis_pct: Quantity
    finding: bool
    detectable_g: float


def loss(
    first: Weighing, last: Weighing, tare: Tare, moisture_left_pct: float = 0.0, spool_water_g: Quantity = NOTHING
) -> Loss:
    """Loss from the first weighing to the last, same spool, nothing printed in between.

    `moisture_left_pct`: what the filament still holds at the last weighing (% of dry mass), to get the dry mass from
    the last net mass. `spool_water_g`: water that the empty spool itself gave off meanwhile. The tare cancels in grams
    and enters only the percentages.
    Raises OutOfRangeError where a gross mass is not above the tare.
    """
    require_range("moisture_left_pct", moisture_left_pct, 0.0, 100.0, "%")
    u_first, u_last = first.uncertainty_g, last.uncertainty_g
    left_scale = Quantity(first.mass_g - last.mass_g, math.hypot(u_first, u_last))
    lost = left_scale.value - spool_water_g.value
    u_lost = math.hypot(left_scale.uncertainty, spool_water_g.uncertainty)
    first_net, last_net = net(first, tare).value, net(last, tare).value
    if last_net <= 0.0 or first_net <= 0.0:
        raise OutOfRangeError(
            "gross_g", "The gross mass equals the tare: there is no filament to take a percentage of."
        )
    wetness = 1.0 + moisture_left_pct / 100.0
    dry = last_net / wetness
    ratio_dry, ratio_wet = lost / dry, lost / first_net
    # First-order propagation with the exact partial derivatives; gross masses and tare are independent.
    u_dry = math.sqrt(
        (u_first / dry) ** 2
        + (u_last * (-1.0 / dry - ratio_dry / last_net)) ** 2
        + (tare.uncertainty_g * ratio_dry / last_net) ** 2
        + (spool_water_g.uncertainty / dry) ** 2
    )
    of_tare = tare.uncertainty_g * ratio_wet
    u_wet = math.hypot(u_first * (1.0 - ratio_wet), u_last, spool_water_g.uncertainty, of_tare) / first_net
    return Loss(
        mass_g=left_scale,
        filament_g=Quantity(lost, u_lost),
        dry_basis_pct=Quantity(100.0 * ratio_dry, 100.0 * u_dry),
        wet_basis_pct=Quantity(100.0 * ratio_wet, 100.0 * u_wet),
        finding=abs(lost) >= COVERAGE * u_lost,
        detectable_g=COVERAGE * u_lost,
    )
