"""The temperatures that a run must not pass: what filament and empty spools withstand, and what the dryer can do."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from drying.dryers.load import Load
from drying.dryers.setup import Setup
from drying.errors import Amount, OutOfRangeError

SOFT_MARGIN_C = 5.0  # engineering estimate: kept under the softening temperature


class LimitKind(StrEnum):
    """What sets a limit to the air temperature."""

    FILAMENT_SOFT = "filament_soft"
    FILAMENT_FUSE = "filament_fuse"
    SPOOL_SAG = "spool_sag"
    DRYER_MAX = "dryer_max"
    DRYER_MIN = "dryer_min"


@dataclass(frozen=True)
class Limit:
    """Air temperature in °C that this run should not pass (`DRYER_MIN`: not go under), and why.

    `spool`: which of the loads it protects, None where it is the dryer's own. `hot_side_c`: what the dryer's hot side
    took off it. `overridable`: the person may go past it with a reason of their own. Melting the strand has no reason.
    """

    kind: LimitKind
    temp_c: float
    spool: int | None = None
    hot_side_c: float = 0.0
    overridable: bool = True

    def broken_by(self, air_c: float) -> bool:
        """True where an air temperature of `air_c` goes past this limit."""
        if self.kind is LimitKind.DRYER_MIN:
            return air_c < self.temp_c - 1e-9
        if self.kind is LimitKind.FILAMENT_FUSE:
            return air_c >= self.temp_c - 1e-9
        return air_c > self.temp_c + 1e-9


PROVEN_EXCESS_C = 5.0  # a hot side that is only thought to be so much over the air does not forbid a usual method


def _soft_c(load: Load, excess_c: float, *, assumed: bool) -> float:
    """The air that keeps the filament from softening. Its own usual method is proven in dryers of a common kind, so a
    hot side that nobody has measured does not forbid it as long as the filament itself stays hard there.
    """
    found, usual = load.material.soft.value - excess_c - SOFT_MARGIN_C, load.material.programmes.get("usual")
    if not assumed or usual is None or excess_c > PROVEN_EXCESS_C or usual.temp_c + excess_c > load.material.soft.value:
        return found
    return max(found, usual.temp_c)


def _of_load(load: Load, spool: int, excess_c: float, *, assumed: bool) -> list[Limit]:
    found = [
        Limit(LimitKind.FILAMENT_SOFT, _soft_c(load, excess_c, assumed=assumed), spool, excess_c),
        Limit(LimitKind.FILAMENT_FUSE, load.material.fuse.value - excess_c, spool, excess_c, overridable=False),
    ]
    if load.empty_spool.sag_c is not None:
        found.append(Limit(LimitKind.SPOOL_SAG, load.empty_spool.sag_c - excess_c - SOFT_MARGIN_C, spool, excess_c))
    return found


def limits(setup: Setup) -> tuple[Limit, ...]:
    """Every limit to the air temperature of this run, the hot side of the dryer taken off, the lowest first."""
    excess = setup.dryer.used("hot_side_excess_c")
    assumed = setup.dryer.hot_side_excess_c is None
    found = [limit for at, load in enumerate(setup.loads) for limit in _of_load(load, at, excess, assumed=assumed)]
    found.append(Limit(LimitKind.DRYER_MAX, setup.dryer.max_c))
    found.append(Limit(LimitKind.DRYER_MIN, setup.dryer.min_c))
    return tuple(sorted(found, key=lambda x: x.temp_c))


def broken_limits(setup: Setup, air_c: float) -> tuple[Limit, ...]:
    """The limits that an air temperature of `air_c` goes past, those without a way round first."""
    return tuple(sorted((x for x in limits(setup) if x.broken_by(air_c)), key=lambda x: x.overridable))


def ceiling(setup: Setup) -> Limit:
    """The limit that is met first on the way up."""
    return min(
        (x for x in limits(setup) if x.kind is not LimitKind.DRYER_MIN and x.overridable), key=lambda x: x.temp_c
    )


def hottest_c(setup: Setup) -> float:
    """The hottest air in °C that this dryer can hold and that harms none of the load.

    Raises OutOfRangeError where no temperature of this dryer is safe for the load.
    """
    found = setup.dryer.hottest_c(ceiling(setup).temp_c)
    if broken_limits(setup, found):
        raise OutOfRangeError("dryer", "No temperature of this dryer is safe for what is to go in.")
    return found


def hottest_to_plan_c(setup: Setup) -> float:
    """The hottest air in °C that a run which a person asks for is planned at: that of `hottest_c`, or, where even the
    dryer's least goes past a limit that may be overridden, that least: the plan then carries the limit as a caution.

    Raises OutOfRangeError where the dryer cannot but ruin the load, and for a pot that does not heat.
    """
    dryer = setup.dryer
    least = min(dryer.levels_c, default=dryer.min_c)
    found = dryer.hottest_c(max(ceiling(setup).temp_c, least))
    if any(not limit.overridable for limit in broken_limits(setup, found)):
        raise OutOfRangeError(
            "dryer",
            "This dryer's least, ",
            Amount(least, "°C"),
            ", would stick the turns of what is to go in together.",
        )
    return found


def above_tg(load: Load, air_c: float) -> bool:
    """True where the run passes the strand's glass transition although its usual drying stays under it."""
    usual, tg = load.material.programmes.get("usual"), load.material.tg.value
    return usual is not None and usual.temp_c <= tg < air_c
