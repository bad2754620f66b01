"""Was it the water? Bayes over competing causes, from the spool's moisture and from what was looked for.

One main cause is taken to have spoilt the print. The prior of water comes from the chance that the strand was above
its trouble threshold when it was printed, those of the other causes from base rates. Each sign multiplies the odds by
P(sign | cause); "looked for and not seen" by one less it; "not looked" by nothing. Weights are in bits, the binary
logarithm of what the odds of water against everything else are multiplied by (I. J. Good, Probability and the Weighing
of Evidence, 1950). Of signs that come and go together the strongest counts whole and its companions by half.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum

import numpy as np
from scipy.special import ndtr, ndtri

from drying.arrays import Array
from drying.diagnosis.evidence_table import WATER, WET, EvidenceTable
from drying.errors import OutOfRangeError, require_range
from drying.materials import Material, equilibrium_moisture_pct
from drying.quantity import Quantity

COMPANION = 0.5  # how much a sign counts beside a stronger one of its group
TABLE_SD = 0.5  # engineering estimate: how far off each chance of the table may be, one sd of its log odds
_DRAWS = 400
_GRID = ndtri((np.arange(64) + 0.5) / 64)  # equally likely values of a normal quantity
OWN_TIMES_MOST = 1000.0


class ChanceInWords(StrEnum):
    """What the chance amounts to in words."""

    SURELY = "surely"
    PROBABLY = "probably"
    RATHER = "rather"
    OPEN = "open"
    RATHER_NOT = "rather_not"
    PROBABLY_NOT = "probably_not"
    SURELY_NOT = "surely_not"


_IN_WORDS = (
    (0.97, ChanceInWords.SURELY),
    (0.85, ChanceInWords.PROBABLY),
    (0.65, ChanceInWords.RATHER),
    (0.35, ChanceInWords.OPEN),
    (0.15, ChanceInWords.RATHER_NOT),
    (0.03, ChanceInWords.PROBABLY_NOT),
    (-1.0, ChanceInWords.SURELY_NOT),
)


def in_words(p: float) -> ChanceInWords:
    """The words for a chance (0..1) that it was the water."""
    return next(word for least, word in _IN_WORDS if p >= least)


class VerdictKind(StrEnum):
    """How a case can be closed."""

    WATER = "water"
    WATER_AND_OTHER = "water_and_other"
    WET_NOT_CAUSE = "wet_not_cause"
    OTHER = "other"
    NO_FINDING = "no_finding"


@dataclass(frozen=True)
class Prior:
    """Where a case starts. `p_water` before anything was looked for, `p_wet` the chance that the strand was above its
    trouble threshold, `moisture` % of dry mass at the print (`assumed`: nothing was known of it, so what such strand
    usually carries in a room).
    """

    p_water: float
    p_wet: float
    moisture: Quantity
    assumed: bool


def chance_wet(material: Material, moisture: Quantity) -> float:
    """Chance (0..1) that a moisture, % of dry mass, lay above the material's trouble threshold; both are uncertain."""
    if material.trouble is None:
        return 0.0
    values = moisture.value + moisture.uncertainty * _GRID
    over = np.log(np.maximum(values, 1e-6) / material.trouble.value)
    return float(ndtr(over / max(math.log(material.trouble.spread), 1e-3)).mean())


def _usual_wet(table: EvidenceTable, material: Material) -> tuple[Quantity, float]:
    """What such filament usually holds where nobody knows, and the chance that this is above the threshold."""
    usual = table.water
    held = usual.usual_share * equilibrium_moisture_pct(material, usual.usual_activity)
    factor = math.log(usual.usual_factor)
    moisture = Quantity(held, held * factor)
    if material.trouble is None:
        return moisture, 0.0
    over = math.log(held / material.trouble.value) / math.hypot(factor, math.log(material.trouble.spread))
    return moisture, float(ndtr(over))


def prior(table: EvidenceTable, material: Material, moisture: Quantity | None) -> Prior:
    """Where a case starts, from the moisture at the print, % of dry mass (None: nothing is known of it)."""
    if moisture is not None:
        require_range("moisture_pct", moisture.value, 0.0, 100.0, "%")
        require_range("moisture_pct", moisture.uncertainty, 0.0, 100.0, "%")
        p_wet = chance_wet(material, moisture)
        found = moisture
    else:
        found, p_wet = _usual_wet(table, material)
    water = table.water
    p_water = p_wet * water.share_when_wet + (1.0 - p_wet) * water.share_when_not
    return Prior(p_water, p_wet, found, moisture is None)


@dataclass(frozen=True)
class OwnSign:
    """A person's own observation: seen `times` more often when it is the water than when it is something else."""

    name: str
    times: float

    def __post_init__(self) -> None:
        require_range("times", self.times, 1.0 / OWN_TIMES_MOST, OWN_TIMES_MOST, "times")


@dataclass(frozen=True, eq=False)
class Scene:
    """A case's table as numbers. `log_p` [sign, not seen or seen, cause]; `strength` [sign, not seen or seen] how much
    either tells about water alone, for which of a group counts whole; `start` the log prior of each cause.
    """

    ids: tuple[str, ...]
    causes: tuple[str, ...]
    groups: tuple[tuple[int, ...], ...]
    log_p: Array
    strength: Array
    start: Array


def scene(table: EvidenceTable, begin: Prior) -> Scene:
    """A case's table as numbers, the sign `wet` last: it follows from the prior itself."""
    others = np.array([0.0 if c == WATER else table.base_rates[c] for c in table.causes])
    others /= others.sum()
    water = table.causes.index(WATER)
    ids = (*table.signs, WET)
    seen = np.array([[s.p[c] for c in table.causes] for s in table.signs.values()] + [_wet_row(table, begin)])
    chance = np.stack([1.0 - seen, seen], axis=1)
    strength = np.abs(np.log(chance[:, :, water] / (chance @ others)))
    names = [table.signs[i].like if i != WET else "" for i in ids]
    groups = tuple(tuple(n for n, like in enumerate(names) if like == g) for g in dict.fromkeys(names) if g)
    start = np.log((1.0 - begin.p_water) * others + 1e-300)
    start[water] = math.log(begin.p_water)
    return Scene(ids, table.causes, groups, np.log(chance), strength, start)


def _wet_row(table: EvidenceTable, begin: Prior) -> list[float]:
    """Chance that weighing says "above the threshold" under each cause, consistent with the prior."""
    share, right = table.water.share_when_wet, table.water.weighed_rightly
    wet_if_water = begin.p_wet * share / begin.p_water
    wet_if_not = begin.p_wet * (1.0 - share) / (1.0 - begin.p_water)
    said = [wet_if_water if c == WATER else wet_if_not for c in table.causes]
    return [right * p + (1.0 - right) * (1.0 - p) for p in said]


def counted(numbers: Scene, answers: Array) -> Array:
    """How much each sign counts, shape (cases, signs): 1, half beside a stronger one of its group, 0 not looked for.

    `answers` (cases, signs) holds 1 seen, -1 not seen, 0 not looked for.
    """
    looked = answers != 0
    weights = looked.astype(float)
    for group in numbers.groups:
        at = list(group)
        chance = np.where(answers[:, at] > 0, numbers.strength[at, 1], numbers.strength[at, 0])
        chance = np.where(looked[:, at], chance, -1.0)
        most = np.argmax(chance, axis=1)
        half = np.full(chance.shape, COMPANION)
        half[np.arange(len(most)), most] = 1.0
        weights[:, at] *= half
    return np.asarray(weights)


def log_posterior(numbers: Scene, answers: Array) -> Array:
    """Logs of what each cause is in proportion to, shape (cases, causes), for answers as in `counted`."""
    weights = counted(numbers, answers)
    seen, unseen = weights * (answers > 0), weights * (answers < 0)
    return np.asarray(numbers.start + seen @ numbers.log_p[:, 1, :] + unseen @ numbers.log_p[:, 0, :])


def posterior(numbers: Scene, answers: Array) -> Array:
    """Chance of each cause, shape (cases, causes), for answers as in `counted`."""
    return shares(log_posterior(numbers, answers))


def shares(logs: Array) -> Array:
    """Chances out of logs of what is only in proportion, over the last axis."""
    raised = np.exp(logs - logs.max(axis=-1, keepdims=True))
    return np.asarray(raised / raised.sum(axis=-1, keepdims=True))


@dataclass(frozen=True)
class Weight:
    """One observation as it counts: bits it moved the odds of water by, after those before it; the chance then; what
    the chance would be without it; and its share (half beside a stronger one of its group).
    """

    sign: str
    seen: bool
    bits: float
    p_after: float
    p_without: float
    share: float


@dataclass(frozen=True)
class Judgement:
    """What the evidence amounts to. `low`, `high`: where the chance lies in nine of ten tables that are off by as much
    as estimates may be. `suggested`: how the case would be closed now, `other`: the likeliest other cause.
    """

    prior: Prior
    start_bits: float
    p_water: float
    causes: Mapping[str, float]
    weights: tuple[Weight, ...]
    low: float
    high: float
    in_words: ChanceInWords
    suggested: VerdictKind
    other: str


def answers_row(numbers: Scene, observed: Mapping[str, bool]) -> Array:
    """Observations as a row of `answers`. Raises OutOfRangeError for an unknown sign."""
    row = np.zeros((1, len(numbers.ids)))
    for sign, seen in observed.items():
        if sign not in numbers.ids:
            known = ", ".join(numbers.ids[:-1])
            raise OutOfRangeError("observations", f"There is no sign '{sign}'. Known: {known}.")
        row[0, numbers.ids.index(sign)] = 1 if seen else -1
    return row


def _bits(logs: Array, water: int) -> float:
    """Binary log of the odds of water against all else, from logs: a chance near one has no digits left for it."""
    others = np.delete(logs, water)
    return float(logs[water] - np.logaddexp.reduce(others)) / math.log(2.0)


def judge(table: EvidenceTable, begin: Prior, observed: Mapping[str, bool], own: Sequence[OwnSign] = ()) -> Judgement:
    """What the observations amount to, in the order in which they are given.

    `observed`: True seen, False looked for and not seen. Raises OutOfRangeError for an unknown sign.
    """
    numbers = scene(table, begin)
    water = numbers.causes.index(WATER)
    answers = answers_row(numbers, observed)
    share = counted(numbers, answers)[0]
    own_rows = [own_row(numbers, [o]) for o in own]
    mine = own_row(numbers, own)
    looked = [(numbers.ids.index(s), s, seen) for s, seen in observed.items()]
    parts = [share[n] * numbers.log_p[n, int(seen)] for n, _, seen in looked] + own_rows
    named = [(s, seen, share[n]) for n, s, seen in looked] + [(o.name, True, 1.0) for o in own]
    whole = numbers.start + np.sum([np.zeros(len(numbers.causes)), *parts], axis=0)
    without = [_without(numbers, observed, left, mine) for _, left, _ in looked]
    without += [float(shares(whole - row)[water]) for row in own_rows]
    weights, logs, before = [], numbers.start, _bits(numbers.start, water)
    for (name, seen, part_share), part, left_out in zip(named, parts, without, strict=True):
        logs = logs + part
        now = _bits(logs, water)
        weights.append(Weight(name, seen, now - before, float(shares(logs)[water]), left_out, float(part_share)))
        before = now
    return _judged(numbers, begin, weights, shares(whole), _range(numbers, looked, share, mine))


def own_row(numbers: Scene, own: Sequence[OwnSign]) -> Array:
    """What a person's own observations add to the logs of the causes."""
    row = np.zeros(len(numbers.causes))
    row[numbers.causes.index(WATER)] = sum(math.log(o.times) for o in own)
    return row


def _without(numbers: Scene, observed: Mapping[str, bool], left: str, mine: Array) -> float:
    """The chance of water had one sign not been looked for: a companion of it may then count whole."""
    rest = {sign: seen for sign, seen in observed.items() if sign != left}
    logs = log_posterior(numbers, answers_row(numbers, rest))[0] + mine
    return float(shares(logs)[numbers.causes.index(WATER)])


def _range(numbers: Scene, order: list[tuple[int, str, bool]], share: Array, mine: Array) -> tuple[float, float]:
    """Where nine of ten chances lie when every number of the table is off by as much as estimates may be."""
    rng = np.random.default_rng(7)  # always the same draws, so that the same case reads the same
    water = numbers.causes.index(WATER)
    logs = np.tile(numbers.start + mine, (_DRAWS, 1))
    logs[:, water] += rng.normal(0.0, TABLE_SD, _DRAWS)
    for n, _, seen in order:
        p = np.exp(numbers.log_p[n, int(seen)])
        odds = np.log(p / (1.0 - p)) + rng.normal(0.0, TABLE_SD, (_DRAWS, p.size))
        logs += share[n] * -np.logaddexp(0.0, -odds)
    low, high = np.quantile(shares(logs)[:, water], [0.05, 0.95])
    return float(low), float(high)


def _judged(
    numbers: Scene, begin: Prior, weights: Sequence[Weight], found: Array, between: tuple[float, float]
) -> Judgement:
    causes = {c: float(p) for c, p in zip(numbers.causes, found, strict=True)}
    p = causes[WATER]
    other = max((c for c in numbers.causes if c != WATER), key=lambda c: causes[c])
    start = _bits(numbers.start, numbers.causes.index(WATER))
    closed_as = _suggested(p, causes[other], begin)
    return Judgement(begin, start, p, causes, tuple(weights), *between, in_words(p), closed_as, other)


def _suggested(p: float, p_other: float, begin: Prior) -> VerdictKind:
    if p >= 0.85:
        return VerdictKind.WATER
    if p >= 0.65 and p_other >= 0.15:
        return VerdictKind.WATER_AND_OTHER
    if p > 0.15:
        return VerdictKind.NO_FINDING
    return VerdictKind.WET_NOT_CAUSE if begin.p_wet >= 0.5 else VerdictKind.OTHER
