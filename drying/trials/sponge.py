"""Dryer against dryer: wet sponges, grams an hour, and the exchange flow that they mean."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import combinations

from drying.air import RoomAir, vapour_concentration_g_m3
from drying.errors import OutOfRangeError, require_range
from drying.trials.points import SIGMAS, Points, normal_points
from drying.weighing import Scale

LEAST_LEFT = 0.2  # of its water: with less a sponge is nearly dry, and dry sponges all tie
AIR_SHARE_SD = 0.05  # engineering estimate: how well a meter knows what the leaving air carries more than the room's


@dataclass(frozen=True)
class Sponge:
    """A wet sponge in a dryer: mass at the start, at the end and dry, g; hours; the box's air where it was measured,
    and the room's. `desiccant`: some lay in the box and took part.
    """

    name: str
    start_g: float
    end_g: float
    dry_g: float
    hours: float
    room: RoomAir
    air: RoomAir | None = None
    desiccant: bool = False

    def __post_init__(self) -> None:
        require_range("dry_g", self.dry_g, 0.01, 1e5, "g")
        require_range("hours", self.hours, 0.01, 1000.0, "h")
        for name, value in (("start_g", self.start_g), ("end_g", self.end_g)):
            require_range(name, value, self.dry_g, 1e6, "g")
        if self.start_g <= self.dry_g:
            raise OutOfRangeError("start_g", f"The sponge in {self.name} was dry at the start: wet it first.")

    @property
    def told(self) -> bool:
        """Whether it says anything of the dryer."""
        return (self.end_g - self.dry_g) >= LEAST_LEFT * (self.start_g - self.dry_g) and not self.desiccant


@dataclass(frozen=True)
class SpongeFinding:
    """Grams an hour and the exchange flow, m³/h; None where the weighings do not show it."""

    name: str
    told: bool
    g_per_h: Points | None
    vent_m3_h: Points | None


def _rate(sponge: Sponge, scale: Scale) -> tuple[float, float]:
    return (sponge.start_g - sponge.end_g) / sponge.hours, math.sqrt(2.0) * scale.uncertainty_g / sponge.hours


def _finding(sponge: Sponge, scale: Scale) -> SpongeFinding:
    if not sponge.told:
        return SpongeFinding(sponge.name, False, None, None)
    rate, sd = _rate(sponge, scale)
    vent = None
    if sponge.air is not None:
        more = vapour_concentration_g_m3(sponge.air.temp_c, sponge.air.rh_pct) - vapour_concentration_g_m3(
            sponge.room.temp_c, sponge.room.rh_pct
        )
        if more > 0.0:
            flow = rate / more
            vent = normal_points(flow, math.hypot(sd / more, AIR_SHARE_SD * flow))
    return SpongeFinding(sponge.name, True, normal_points(rate, sd), vent)


def _ratio(one: Sponge, other: Sponge, scale: Scale) -> Points | None:
    """How many times as fast the first is as the second, by Fieller's interval; None where the weighings do not
    show it, or the second may not have lost anything.
    """
    (a, u), (b, v) = _rate(one, scale), _rate(other, scale)
    if not (one.told and other.told) or b <= 2.0 * v:
        return None
    g = (SIGMAS * v / b) ** 2
    ratio = a / b
    reach = SIGMAS / b * math.sqrt(u**2 * (1.0 - g) + ratio**2 * v**2)
    return Points((ratio - reach) / (1.0 - g), ratio, (ratio + reach) / (1.0 - g))


def duel(sponges: Sequence[Sponge], scale: Scale) -> tuple[list[SpongeFinding], dict[tuple[str, str], Points | None]]:
    """What each sponge tells of its dryer, and the ratio of each pair.

    Raises OutOfRangeError where two dryers have the same name.
    """
    names = [sponge.name for sponge in sponges]
    if len(set(names)) < len(names):
        raise OutOfRangeError("name", f"Two of the dryers have the same name: {', '.join(names)}.")
    ratios = {(a.name, b.name): _ratio(a, b, scale) for a, b in combinations(sponges, 2)}
    return [_finding(sponge, scale) for sponge in sponges], ratios
