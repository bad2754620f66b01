"""The percent sum: what a coil held, on the dry basis, and which slip gives a number that differs."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from drying.errors import require_range

LEAST_APART_PCT = 0.005


class Slip(StrEnum):
    """How the sum goes wrong."""

    WET_BASIS = "wet_basis"  # divided by the wet mass
    TWIN_FORGOTTEN = "twin_forgotten"  # what was in the strand before the soak is left out
    GROSS = "gross"  # divided by the mass with spool, tag or pouch
    SIGN = "sign"  # the difference the wrong way round
    TWIN_FORGOTTEN_WET = "twin_forgotten_wet"  # left out, and divided by the wet mass


@dataclass(frozen=True)
class WaterSum:
    """A coil's water in % of its dry mass: gained in the soak, and there before as the baked twin tells."""

    gained_pct: float
    before_pct: float

    @property
    def total_pct(self) -> float:
        """All the water, % of dry mass."""
        return self.gained_pct + self.before_pct

    @property
    def wet_basis_pct(self) -> float:
        """The same water, % of the wet mass."""
        return 100.0 * self.total_pct / (100.0 + self.total_pct)


def water_sum(before_g: float, soaked_g: float, twin_before_g: float | None, twin_after_g: float | None) -> WaterSum:
    """What a coil held after a soak. `before_g`, `soaked_g`: the coil as it was cut and as it came out; the twin: one
    of the same lot before and after it was baked dry, None where there is none (then nothing is known of what was
    there before, and it counts as zero).

    Raises OutOfRangeError for masses that cannot be.
    """
    require_range("before_g", before_g, 0.001, 1e6, "g")
    require_range("soaked_g", soaked_g, 0.5 * before_g, 2.0 * before_g, "g")
    before_pct = 0.0
    if twin_before_g is not None and twin_after_g is not None:
        require_range("twin_after_g", twin_after_g, 0.5 * twin_before_g, 1.01 * twin_before_g, "g")
        before_pct = 100.0 * (twin_before_g - twin_after_g) / twin_after_g
    dry_g = before_g / (1.0 + before_pct / 100.0)
    return WaterSum(100.0 * (soaked_g - before_g) / dry_g, before_pct)


def slip_behind(typed_pct: float, found: WaterSum, known_pct: float, with_body: float | None = None) -> Slip | None:
    """Which slip gives the number that somebody typed; None where it is right within `known_pct` (± of the sum), and
    where no slip explains it. `with_body`: gross over net mass, where something else was on the scale.
    """
    near = max(known_pct, LEAST_APART_PCT)
    if abs(typed_pct - found.total_pct) <= near:
        return None
    gained_wet = 100.0 * found.gained_pct / (100.0 + found.total_pct)
    slips = [
        (Slip.WET_BASIS, found.wet_basis_pct),
        (Slip.TWIN_FORGOTTEN, found.gained_pct),
        (Slip.TWIN_FORGOTTEN_WET, gained_wet),
        (Slip.SIGN, -found.total_pct),
        (Slip.SIGN, found.before_pct - found.gained_pct),
    ]
    if with_body is not None and with_body > 1.0:
        slips.append((Slip.GROSS, found.total_pct / with_body))
    apart, slip = min((abs(typed_pct - value), which) for which, value in slips)
    return slip if apart <= near else None
