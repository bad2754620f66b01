"""Before against after: whether a strand's diameter varies more, and by how many percent a strength changed."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

import numpy as np
from scipy.special import chdtrc, chdtri, fdtrc, fdtri, stdtrit

from drying.arrays import Array
from drying.errors import OutOfRangeError, require_range

USUAL_SPREAD_MM = 0.03  # engineering estimate: sd of a purged dry strand's diameter under pocket calipers
FEWEST_READINGS = 4
_LEVEL = 0.05


class SpreadFinding(StrEnum):
    """What caliper readings tell."""

    WIDER = "wider"
    NOT_WIDER = "not_wider"
    NO_FINDING = "no_finding"


@dataclass(frozen=True)
class SpreadTest:
    """Spread of the suspect strand, mm, against that of a dry one (measured, or the usual). `ratio` of the two with its
    90 % interval; `p_value`: chance of such a ratio were they alike.
    """

    sd_mm: float
    dry_sd_mm: float
    ratio: float
    low: float
    high: float
    p_value: float
    finding: SpreadFinding


def spread_test(suspect_mm: Sequence[float], dry_mm: Sequence[float] = ()) -> SpreadTest:
    """Whether a strand's diameter varies more than that of a dry one: spreads are compared, not means.

    Against a measured dry strand by Levene's test about the medians (M. B. Brown and A. B. Forsythe, JASA 69, 1974),
    one-sided; against the usual spread by chi-squared. The interval of the ratio is that of normal readings (F).
    Wider: p under 5 %. Not wider: the ratio is under 1.5 for sure. Else no finding.

    Raises OutOfRangeError for fewer than four readings and for diameters that no strand has.
    """
    _require_readings("suspect_mm", suspect_mm)
    n = len(suspect_mm)
    sd = max(float(np.std(suspect_mm, ddof=1)), 1e-4)
    if dry_mm:
        _require_readings("dry_mm", dry_mm)
        dry_sd, m = max(float(np.std(dry_mm, ddof=1)), 1e-4), len(dry_mm)
        two_sided = _levene(np.asarray(suspect_mm), np.asarray(dry_mm))
        p = two_sided / 2.0 if sd > dry_sd else 1.0 - two_sided / 2.0
        quantiles = fdtri(n - 1, m - 1, [0.95, 0.05])
    else:
        dry_sd = USUAL_SPREAD_MM
        p = float(chdtrc(n - 1, (n - 1) * (sd / dry_sd) ** 2))
        quantiles = chdtri(n - 1, [0.05, 0.95]) / (n - 1)
    ratio = sd / dry_sd
    low, high = (ratio / math.sqrt(float(q)) for q in quantiles)
    not_wider = SpreadFinding.NOT_WIDER if high < 1.5 else SpreadFinding.NO_FINDING
    finding = SpreadFinding.WIDER if p < _LEVEL else not_wider
    return SpreadTest(sd, dry_sd, ratio, low, high, p, finding)


def _levene(one: Array, other: Array) -> float:
    """Two-sided p of Levene's test about the medians: a variance analysis of two samples' distances from them."""
    away = [np.abs(x - np.median(x)) for x in (one, other)]
    within = sum(float(((d - d.mean()) ** 2).sum()) for d in away)
    between = (away[0].mean() - away[1].mean()) ** 2 / (1.0 / one.size + 1.0 / other.size)
    freedom = one.size + other.size - 2
    if within == 0.0:
        return 0.0 if between > 0.0 else 1.0
    return float(fdtrc(1, freedom, between * freedom / within))


def _require_readings(name: str, values: Sequence[float]) -> None:
    if len(values) < FEWEST_READINGS:
        raise OutOfRangeError(
            name, f"{len(values)} readings tell nothing of a spread: take at least {FEWEST_READINGS}."
        )
    for value in values:
        require_range(name, value, 0.1, 10.0, "mm")


@dataclass(frozen=True)
class Change:
    """By how many percent the mean changed, with its standard uncertainty and 95 % interval (None: a single value a
    side, or values all alike, tell no uncertainty). `finding`: the interval leaves zero out.
    """

    before: float
    after: float
    change_pct: float
    uncertainty_pct: float | None
    low_pct: float | None
    high_pct: float | None
    finding: bool


def change(before: Sequence[float], after: Sequence[float]) -> Change:
    """Change of the mean from before to after, in percent of before.

    Uncertainty of the ratio by the first-order law (JCGM 100:2008, 5.1.2), with Welch-Satterthwaite degrees of freedom.
    Raises OutOfRangeError for an empty side and for values that are not over zero.
    """
    for name, values in (("before", before), ("after", after)):
        if not values:
            raise OutOfRangeError(name, "Give at least one value each, before and after.")
        for value in values:
            require_range(name, value, 1e-9, 1e9, "")
    b, a = float(np.mean(before)), float(np.mean(after))
    percent = 100.0 * (a / b - 1.0)
    if len(before) < 2 or len(after) < 2:
        return Change(b, a, percent, None, None, None, finding=False)
    terms = [float(np.var(v, ddof=1)) / len(v) / m**2 for v, m in ((before, b), (after, a))]
    total = sum(terms)
    if total == 0.0:
        return Change(b, a, percent, None, None, None, finding=False)  # readings all alike tell no spread
    freedom = total**2 / sum(t**2 / (len(v) - 1) for t, v in zip(terms, (before, after), strict=True))
    u = 100.0 * (a / b) * math.sqrt(total)
    reach = float(stdtrit(freedom, 0.975)) * u
    return Change(b, a, percent, u, percent - reach, percent + reach, finding=abs(percent) > reach)
