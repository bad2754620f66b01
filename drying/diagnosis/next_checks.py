"""What would settle it: checks not yet done, by what each tells about the water for a minute of the person's time.

What a check tells is the expected fall of the entropy of "it is the water", in bits (D. V. Lindley, Annals of
Mathematical Statistics 27, 1956).
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from itertools import product

import numpy as np

from drying.arrays import Array
from drying.diagnosis.bayes import OwnSign, Prior, Scene, answers_row, log_posterior, own_row, scene, shares
from drying.diagnosis.evidence_table import WATER, Check, EvidenceTable


@dataclass(frozen=True)
class NextCheck:
    """What a check not yet done would tell: expected bits about whether it is the water, its minutes and hours, signs
    that are still to be looked for; the chance that it will speak for water and what p would then be, and against.
    """

    check: Check
    signs: tuple[str, ...]
    bits: float
    p_for: float
    after_for: float
    after_against: float

    @property
    def bits_per_minute(self) -> float:
        """What it tells for a minute of the person's own time."""
        return self.bits / self.check.minutes


def _entropy(p: Array) -> Array:
    q = np.clip(p, 1e-12, 1.0 - 1e-12)
    return np.asarray(-(q * np.log2(q) + (1.0 - q) * np.log2(1.0 - q)))


def next_checks(
    table: EvidenceTable,
    begin: Prior,
    observed: Mapping[str, bool],
    own: Sequence[OwnSign] = (),
    done: frozenset[str] = frozenset(),
) -> tuple[NextCheck, ...]:
    """Checks not yet done, by what they tell for a minute of the person's time, most first.

    A check with several signs is taken with all outcomes of those not looked for yet. `done`: signs
    that are not to be offered although nothing is said of them, such as `wet` once the spool was weighed and dried.
    """
    numbers = scene(table, begin)
    mine = own_row(numbers, own)
    base = answers_row(numbers, observed)
    now = shares(log_posterior(numbers, base)[0] + mine)
    known = done | set(observed)
    found = []
    for check in table.checks.values():
        left = tuple(s for s in check.signs if s not in known)
        if left:
            found.append(_expect(numbers, check, left, base, now, mine))
    return tuple(sorted(found, key=lambda n: -n.bits_per_minute))


def _expect(numbers: Scene, check: Check, left: tuple[str, ...], base: Array, now: Array, mine: Array) -> NextCheck:
    water = numbers.causes.index(WATER)
    at = [numbers.ids.index(s) for s in left]
    outcomes = np.array(list(product((-1, 1), repeat=len(left))))
    answers = np.repeat(base, len(outcomes), axis=0)
    answers[:, at] = outcomes
    each = np.where(outcomes[:, :, None] > 0, numbers.log_p[at, 1][None], numbers.log_p[at, 0][None])
    chance = np.exp(each.sum(axis=1)) @ now
    after = shares(log_posterior(numbers, answers) + mine)[:, water]
    p = float(now[water])
    bits = float(_entropy(np.array([p]))[0] - (chance * _entropy(after)).sum())
    up = after > p
    p_for = float(chance[up].sum())
    after_for = float((chance * after)[up].sum() / p_for) if p_for > 0.0 else p
    after_against = float((chance * after)[~up].sum() / (1.0 - p_for)) if p_for < 1.0 else p
    return NextCheck(check, left, max(bits, 0.0), p_for, after_for, after_against)
