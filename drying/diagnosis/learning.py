"""What closed cases teach of a material's two thresholds.

Whether the water shows in a print of moisture m is taken as a logistic curve in ln m: half of the prints show it at
the trouble threshold and one in twenty at the clean threshold, which gives the curve its width. Cases shift the curve
as a whole, so both thresholds move by the same factor and keep their order. Prior: the trouble threshold with its
log-normal spread; posterior on a grid, so any number of cases, in any order, gives the same.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy.special import expit, ndtri

from drying.diagnosis.bayes import Judgement, VerdictKind
from drying.materials import Material
from drying.quantity import Quantity

_ONE_IN_TWENTY = math.log(19.0)
_GRID_SIGMAS, _GRID_POINTS = 5.0, 801
_MOISTURES = ndtri((np.arange(32) + 0.5) / 32)


@dataclass(frozen=True)
class PastCase:
    """A closed case: moisture at the print, % of dry mass, and the chance (0..1) that the water showed in it."""

    moisture: Quantity
    showed: float


@dataclass(frozen=True)
class Thresholds:
    """Both thresholds, % of dry mass, and the factor by which the trouble threshold may be off (one sigma)."""

    clean_pct: float
    trouble_pct: float
    spread: float


def thresholds_of(material: Material) -> Thresholds | None:
    """A material's thresholds as they stand. None where water does not matter."""
    if material.clean is None or material.trouble is None:
        return None
    spread = material.trouble.spread
    if material.trouble.spread_kind != "factor":
        spread = math.exp(spread / material.trouble.value)
    return Thresholds(material.clean.value, material.trouble.value, spread)


def learned_thresholds(before: Thresholds, cases: Sequence[PastCase]) -> Thresholds:
    """The thresholds after these cases, starting from `before`: the mean of ln(threshold) and its spread."""
    if not cases:
        return before
    sigma, width = math.log(before.spread), math.log(before.trouble_pct / before.clean_pct) / _ONE_IN_TWENTY
    shift = np.linspace(-_GRID_SIGMAS * sigma, _GRID_SIGMAS * sigma, _GRID_POINTS)
    log_weight = -0.5 * (shift / sigma) ** 2
    for case in cases:
        moisture = np.maximum(case.moisture.value + case.moisture.uncertainty * _MOISTURES, 1e-6)
        over = np.log(moisture / before.trouble_pct)
        shows = expit((over[None, :] - shift[:, None]) / width).mean(axis=1)
        log_weight += np.log(case.showed * shows + (1.0 - case.showed) * (1.0 - shows))
    weight = np.exp(log_weight - log_weight.max())
    weight /= weight.sum()
    mean = float(weight @ shift)
    sd = math.sqrt(float(weight @ (shift - mean) ** 2))
    factor = math.exp(mean)
    return Thresholds(before.clean_pct * factor, before.trouble_pct * factor, math.exp(sd))


def chance_it_showed(kind: VerdictKind, found: Judgement) -> float | None:
    """The chance (0..1) that the water showed in a case closed so, by its signs alone: the moisture is left out, since
    it is what the case is to teach about. Where the signs speak against the verdict the case teaches nothing of
    itself (one half). None for no finding.
    """
    if kind is VerdictKind.NO_FINDING:
        return None
    bits = sum(weight.bits for weight in found.weights)
    by_signs = float(expit(bits * math.log(2.0)))
    if kind in (VerdictKind.WATER, VerdictKind.WATER_AND_OTHER):
        return max(by_signs, 0.5)
    return min(by_signs, 0.5)
