"""What a trial will tell before it is begun: when to take coils out, and how sure it will be.

The times are those of an optimal design (see `planning.weighing_times`): of all that can be had, the ones that leave
the least spread of the diffusivity, taken one after the other and each improved against the rest.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from drying.arrays import Array
from drying.errors import OutOfRangeError, require_range
from drying.transport import radius_m
from drying.transport.strand import fraction_exchanged
from drying.trials.points import SIGMAS
from drying.weighing import Scale

CANDIDATES, EXCHANGED_FIRST, EXCHANGED_LAST = 40, 0.12, 0.985
SWEEPS = 4
PRIOR = np.array([math.log(3.0), math.log(2.0), 1.0])  # of log D, log of the change in all, log of the lesser's share
STEP = 1e-4


@dataclass(frozen=True)
class Plan:
    """What is planned of a lot: the diffusivity that is expected, m²/s, moisture at the start and in the end, % of dry
    mass, of coils of so many grams.
    """

    diffusivity_m2_s: float
    strand_diameter_mm: float
    start_pct: float
    end_pct: float
    coil_g: float

    def __post_init__(self) -> None:
        require_range("diffusivity_m2_s", self.diffusivity_m2_s, 1e-17, 1e-7, "m²/s")
        require_range("coil_g", self.coil_g, 0.01, 1e5, "g")
        if abs(self.start_pct - self.end_pct) < 1e-9:
            raise OutOfRangeError("start_pct", "Nothing would change: the coils begin where they end.")

    @property
    def slowness_h(self) -> float:
        """r²/D, h: what times of such a strand are measured by."""
        return radius_m(self.strand_diameter_mm) ** 2 / self.diffusivity_m2_s / 3600.0


@dataclass(frozen=True)
class Design:
    """When to take the coils out, h, and what that will tell: the factor within which the diffusivity will be known
    (9 chances in 10), and the ± of what is gained or lost in all, % of dry mass.
    """

    times_h: tuple[float, ...]
    diffusivity_factor: float
    change_pm_pct: float


def design(plan: Plan, scale: Scale, coils: int) -> Design:
    """The times that tell most, for so many coils that are each weighed once.

    Raises OutOfRangeError for fewer than two coils and more than 60.
    """
    require_range("coils", coils, 2, 60, "coils")
    at = _candidates(plan)
    rows, gap = _rows(plan, scale, at), max(CANDIDATES // (coils + 1), 1)

    def next_to(rest: list[int]) -> int:
        """The one that tells most beside the rest, at a time of its own: only so is seen whether the curve is right."""
        free = [k for k in range(at.size) if all(abs(k - other) >= gap for other in rest)]
        return min(free or range(at.size), key=lambda k: _variance(rows[[*rest, k]]))

    chosen: list[int] = []
    for _ in range(coils):
        chosen.append(next_to(chosen))
    for _ in range(SWEEPS):
        for n in range(coils):
            chosen[n] = next_to(chosen[:n] + chosen[n + 1 :])
    times = sorted(_as_set(float(at[k])) for k in chosen)
    return Design(tuple(times), *expected(plan, scale, times))


def expected(plan: Plan, scale: Scale, times_h: Sequence[float]) -> tuple[float, float]:
    """What coils that are taken out at these times will tell: as in `Design`."""
    spread = _posterior(_rows(plan, scale, np.asarray(times_h, dtype=float)))
    change = abs(plan.start_pct - plan.end_pct)
    factor = math.exp(SIGMAS * math.sqrt(spread[0, 0]))
    return factor, SIGMAS * math.sqrt(spread[1, 1]) * change


def _candidates(plan: Plan) -> Array:
    """Times between an early and a late share of what moves, evenly spread in the share."""
    shares = np.linspace(EXCHANGED_FIRST, EXCHANGED_LAST, CANDIDATES)
    at = np.geomspace(1e-4, 3.0, 400)
    moved = fraction_exchanged(at)
    return np.asarray(np.interp(shares, moved, at) * plan.slowness_h)


def _as_set(hours: float) -> float:
    """A time as people keep it: to five minutes under an hour, a quarter under four, else a half."""
    step = 1.0 / 12.0 if hours < 1.0 else 0.25 if hours < 4.0 else 0.5
    return max(round(hours / step), 1) * step


def _rows(plan: Plan, scale: Scale, times_h: Array) -> Array:
    """How each reading (as what it changed by) moves with each unknown, over its standard uncertainty."""

    def moved_pct(log_d: float, log_change: float, log_lesser: float) -> Array:
        change = abs(plan.start_pct - plan.end_pct) * math.exp(log_change)
        lesser = min(plan.start_pct, plan.end_pct) * math.exp(log_lesser + log_change)
        start = lesser + change if plan.start_pct > plan.end_pct else lesser
        share = fraction_exchanged(times_h / plan.slowness_h * math.exp(log_d))
        return np.asarray(change * share / (1.0 + start / 100.0))

    here = moved_pct(0.0, 0.0, 0.0)
    slopes = [(moved_pct(*(STEP * np.eye(3)[k])) - here) / STEP for k in range(3)]
    sd_pct = 100.0 * math.sqrt(2.0) * scale.uncertainty_g / plan.coil_g
    return np.column_stack(slopes) / sd_pct


def _posterior(rows: Array) -> Array:
    return np.asarray(np.linalg.inv(rows.T @ rows + np.diag(1.0 / PRIOR**2)))


def _variance(rows: Array) -> float:
    """The spread of the diffusivity, and a little of that of the change, so that no end is left out."""
    found = _posterior(rows)
    return float(math.log(found[0, 0]) + 0.5 * math.log(found[1, 1]))
