"""Cases with a hidden truth, drawn from the evidence table: to practise on, and to test the judgement itself by.

Signs of a group are drawn together: under each cause a common normal factor with correlation `GROUP_RHO` (a one-factor
Gaussian copula), so that each keeps its own chance but they come and go together, as real ones do.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy.special import betaincinv, ndtr, ndtri

from drying.arrays import Array
from drying.diagnosis.bayes import Prior, prior
from drying.diagnosis.evidence_table import WATER, WET, EvidenceTable, evidence_table
from drying.errors import require_range
from drying.materials import Material, material
from drying.quantity import Quantity

GROUP_RHO = 0.6  # engineering estimate: how strongly signs of a group come and go together within a cause
MATERIALS = ("pa6", "pa12", "tpu", "petg", "asa", "abs", "pla", "pla-filled", "pla-tough", "pc", "pva")


@dataclass(frozen=True)
class HiddenCase:
    """A bad print with its truth: main cause, and for every sign (and `wet`) whether it would be seen if looked for."""

    material: str
    begin: Prior
    cause: str
    signs: dict[str, bool]


def draw_case(rng: np.random.Generator, materials: Sequence[str] = MATERIALS, rho: float = GROUP_RHO) -> HiddenCase:
    """Draw a bad print: material, the posterior of its moisture, its cause, and its signs."""
    polymer = material(str(rng.choice(list(materials))))
    table = evidence_table(polymer.id)
    begin = prior(table, polymer, _expected(rng, polymer))
    wet = bool(rng.random() < begin.p_wet)
    share = table.water.share_when_wet if wet else table.water.share_when_not
    if rng.random() < share:
        cause = WATER
    else:
        rates = np.array(list(table.base_rates.values()))
        cause = str(rng.choice(list(table.base_rates), p=rates / rates.sum()))
    signs = draw_signs(rng, table, cause, rho)
    said = wet if rng.random() < table.water.weighed_rightly else not wet
    return HiddenCase(polymer.id, begin, cause, {**signs, WET: said})


def _expected(rng: np.random.Generator, polymer: Material) -> Quantity | None:
    """A spool's moisture as expected: half to twice its threshold, known to 10 to 40 %; sometimes nothing."""
    if polymer.trouble is None or rng.random() < 0.15:
        return None
    value = polymer.trouble.value * math.exp(rng.normal(0.0, 0.6))
    return Quantity(value, value * rng.uniform(0.1, 0.4))


def draw_signs(rng: np.random.Generator, table: EvidenceTable, cause: str, rho: float = GROUP_RHO) -> dict[str, bool]:
    """Whether each sign would be seen under a cause, those of a group together."""
    signs = list(table.signs.values())
    own, common = rng.normal(size=len(signs)), rng.normal(size=len(signs))
    groups = [sign.like or sign.id for sign in signs]
    together = np.array([groups.index(g) for g in groups])  # a group shares the common part of its first
    share = np.where([bool(sign.like) for sign in signs], rho, 0.0)
    level = np.sqrt(share) * common[together] + np.sqrt(1.0 - share) * own
    cut = ndtri([sign.p[cause] for sign in signs])
    return {sign.id: bool(seen) for sign, seen in zip(signs, level < cut, strict=True)}


def log_p_together(table: EvidenceTable, observed: dict[str, bool], rho: float = GROUP_RHO) -> Array:
    """Log chance of these very observations under each cause, groups drawn as `draw_signs` draws them: what a judge who
    knew how the cases are made would use. Gauss-Hermite over the common factor.
    """
    nodes, weights = np.polynomial.hermite_e.hermegauss(40)
    weights = weights / weights.sum()
    total = np.zeros(len(table.causes))
    for n, cause in enumerate(table.causes):
        by_group: dict[str, Array] = {}
        for key, seen in observed.items():
            sign = table.sign(key)
            if sign.like:
                cut = (ndtri(sign.p[cause]) - math.sqrt(rho) * nodes) / math.sqrt(1.0 - rho)
                chance = ndtr(cut if seen else -cut)
                by_group[sign.like] = by_group.get(sign.like, np.ones_like(nodes)) * chance
            else:
                total[n] += math.log(sign.p[cause] if seen else 1.0 - sign.p[cause])
        total[n] += sum(math.log(float(weights @ chance)) for chance in by_group.values())
    return total


@dataclass(frozen=True)
class Tenth:
    """Stated chances between two bounds: how many, their mean, how often it was so, and where that share may lie (90 %,
    Jeffreys).
    """

    low: float
    high: float
    count: int
    stated: float
    happened: float
    happened_low: float
    happened_high: float


def calibration(stated: Sequence[float], truth: Sequence[bool], bins: int = 10) -> list[Tenth]:
    """Stated chances against what was so, in equal parts of 0..1; empty parts are left out."""
    p, t = np.asarray(stated, dtype=float), np.asarray(truth, dtype=float)
    for value in p.tolist():
        require_range("stated", value, 0.0, 1.0, "")
    part = np.minimum((p * bins).astype(int), bins - 1)
    found = []
    for n in range(bins):
        here = part == n
        count, hits = int(here.sum()), float(t[here].sum())
        if count:
            low, high = betaincinv(hits + 0.5, count - hits + 0.5, [0.05, 0.95])
            found.append(
                Tenth(n / bins, (n + 1) / bins, count, float(p[here].mean()), hits / count, float(low), float(high))
            )
    return found


def brier(stated: Sequence[float], truth: Sequence[bool]) -> float:
    """Mean squared distance of stated chances from what was so: 0 is perfect, 0.25 is always saying one half
    (G. W. Brier, Monthly Weather Review 78, 1950).
    """
    return float(np.mean((np.asarray(stated, dtype=float) - np.asarray(truth, dtype=float)) ** 2))
