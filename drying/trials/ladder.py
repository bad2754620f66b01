"""A ladder: the same print at planned moistures, rated blind. At which moisture does the water show?

Whether it shows in a print of moisture m is a logistic curve in ln m, as in `diagnosis.learning`: half of the prints
show it at the mark. Unknown are the mark and the curve's width; both are followed on a grid. The doubt of a rung's
moisture is common to all its prints.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy.special import chdtrc, expit, ndtri

from drying.arrays import Array, weighted_points
from drying.errors import OutOfRangeError, require_range
from drying.quantity import Quantity
from drying.trials.points import SIGMAS, Points

ONE_IN_TWENTY = math.log(19.0)  # from the mark down to where one print in twenty shows it, in widths
WIDTH_SPREAD = 1.5  # engineering estimate, one sigma
MOST_PRINTS, MOST_RUNGS, LEAST_RUNGS = 60, 9, 3
NEIGHBOURS = 1.25  # of two rungs, at least: nearer ones cannot be told apart by the weighings of coils
TOLD_FACTOR = 1.3  # a mark counts as found when it is known to this factor, 9 times in 10
_REACH, _MARKS, _WIDTHS, _DOUBTS = 4.0, 241, 25, 15
_MISFIT_P = 0.01


@dataclass(frozen=True)
class Prior:
    """What is thought of the mark before: its value, % of dry mass, the factor by which it may be off (one sigma), and
    the moisture under which hardly any print shows it.
    """

    mark_pct: float
    spread: float
    clean_pct: float

    def __post_init__(self) -> None:
        require_range("mark_pct", self.mark_pct, 1e-4, 50.0, "%")
        require_range("spread", self.spread, 1.01, 10.0, "")
        if not 0.0 < self.clean_pct < self.mark_pct:
            raise OutOfRangeError("clean_pct", "The clean threshold lies over 0 and under the mark.")

    @property
    def width(self) -> float:
        """The width of the curve in ln m."""
        return math.log(self.mark_pct / self.clean_pct) / ONE_IN_TWENTY

    @property
    def factor(self) -> float:
        """The factor within which the mark is known, 9 times in 10."""
        return math.exp(SIGMAS * math.log(self.spread))


@dataclass(frozen=True)
class Rung:
    """Prints at one moisture, % of dry mass: in how many of them the water showed."""

    moisture: Quantity
    prints: int
    showed: int

    def __post_init__(self) -> None:
        require_range("moisture_pct", self.moisture.value, 1e-4, 50.0, "%")
        require_range("prints", self.prints, 1, 1000, "")
        if not 0 <= self.showed <= self.prints:
            raise OutOfRangeError("showed", f"{self.showed} of {self.prints} prints cannot have shown it.")


@dataclass(frozen=True)
class Mark:
    """Where the water begins to show: the mark, and the moisture at which one print in twenty shows it, % of dry mass.
    `fits`: whether one rising curve can give these rungs.
    """

    mark_pct: Points
    clean_pct: Points
    fits: bool

    @property
    def factor(self) -> float:
        """The factor within which the mark is known, 9 times in 10."""
        return math.sqrt(self.mark_pct.p95 / self.mark_pct.p05)

    @property
    def told(self) -> bool:
        """Whether it is known to 30 %."""
        return self.factor <= TOLD_FACTOR


def _axes(prior: Prior) -> tuple[Array, Array, Array]:
    """Logs of the marks, the widths, and their prior weights, shape (marks, widths)."""
    marks = np.linspace(-_REACH, _REACH, _MARKS)
    widths = np.linspace(-2.5, 2.5, _WIDTHS)
    weight = np.exp(-0.5 * (marks[:, None] ** 2 + widths[None, :] ** 2))
    log_mark = math.log(prior.mark_pct) + math.log(prior.spread) * marks
    return log_mark, prior.width * WIDTH_SPREAD**widths, weight / weight.sum()


def _moistures(rung: Rung) -> Array:
    """Evenly likely logs of the rung's moisture."""
    relative = math.log1p(rung.moisture.uncertainty / rung.moisture.value)
    return np.asarray(math.log(rung.moisture.value) + relative * ndtri((np.arange(_DOUBTS) + 0.5) / _DOUBTS))


def _likelihood(rung: Rung, log_mark: Array, width: Array) -> Array:
    """Of what a rung showed, shape (marks, widths)."""
    over = (_moistures(rung)[:, None, None] - log_mark[None, :, None]) / width[None, None, :]
    shows, hides = expit(over), expit(-over)
    return np.asarray((shows**rung.showed * hides ** (rung.prints - rung.showed)).mean(axis=0))


def fit_ladder(prior: Prior, rungs: Sequence[Rung]) -> Mark:
    """The mark that these prints tell. Raises OutOfRangeError where there is no rung."""
    if not rungs:
        raise OutOfRangeError("rungs", "Nothing was printed yet: give at least one rung.")
    log_mark, width, weight = _axes(prior)
    each = [_likelihood(rung, log_mark, width) for rung in rungs]
    log_weight = np.log(weight) + np.sum(np.log(np.maximum(each, 1e-300)), axis=0)
    weight = np.exp(log_weight - log_weight.max())
    weight /= weight.sum()
    clean = log_mark[:, None] - ONE_IN_TWENTY * width[None, :]
    mark = np.broadcast_to(log_mark[:, None], weight.shape)
    points = [Points(*np.exp(weighted_points(x.ravel(), weight.ravel()))) for x in (mark, clean)]
    return Mark(points[0], points[1], _fits(rungs, log_mark, width, weight))


def _fits(rungs: Sequence[Rung], log_mark: Array, width: Array, weight: Array) -> bool:
    """Pearson's statistic of the rungs about the curve that is likeliest now. One rung lies on some rising curve,
    however far from where the mark was thought to be.
    """
    if len(rungs) < 2:
        return True
    at = np.unravel_index(int(np.argmax(weight)), weight.shape)
    total = 0.0
    for rung in rungs:
        p = float(expit((_moistures(rung) - log_mark[at[0]]) / width[at[1]]).mean())
        variance = rung.prints * p * (1.0 - p)
        doubt = rung.prints * float(np.std(expit((_moistures(rung) - log_mark[at[0]]) / width[at[1]])))
        total += (rung.showed - rung.prints * p) ** 2 / max(variance + doubt**2, 0.05)
    return bool(chdtrc(len(rungs) - 1, total) >= _MISFIT_P)


@dataclass(frozen=True)
class LadderDesign:
    """Moistures to print at, % of dry mass, how many prints each, and the factor within which the mark will then be
    known, 9 times in 10.
    """

    moistures_pct: tuple[float, ...]
    prints: int
    factor: float

    @property
    def tells(self) -> bool:
        """Whether the mark will be known to 30 %."""
        return self.factor <= TOLD_FACTOR


def _expected_factor(prior: Prior, log_moisture: Array, prints: int) -> float:
    """By the information that the prints bring at each mark that is likely before, averaged over these."""
    sigma = math.log(prior.spread)
    marks = math.log(prior.mark_pct) + sigma * ndtri((np.arange(41) + 0.5) / 41)
    p = expit((log_moisture[None, :] - marks[:, None]) / prior.width)
    information = 1.0 / sigma**2 + prints * (p * (1.0 - p)).sum(axis=1) / prior.width**2
    return math.exp(SIGMAS * float(np.mean(1.0 / np.sqrt(information))))


def design_ladder(prior: Prior, rungs: int, prints: int) -> LadderDesign:
    """Where to put so many rungs with so many prints each: evenly in ln m about the mark, as far apart as tells."""
    require_range("rungs", rungs, 2, MOST_RUNGS, "")
    require_range("prints", prints, 1, MOST_PRINTS, "")
    steps = np.linspace(-1.0, 1.0, rungs)
    least = math.log(NEIGHBOURS) * (rungs - 1) / 2.0
    spans = np.maximum(np.geomspace(0.15, 3.0, 40) * math.log(prior.spread) * 2.0, least)
    tried = [math.log(prior.mark_pct) + span * steps for span in spans]
    best = min(tried, key=lambda at: _expected_factor(prior, at, prints))
    moistures = tuple(float(f"{m:.2g}") for m in np.exp(best))  # as people set them
    return LadderDesign(moistures, prints, _expected_factor(prior, np.log(moistures), prints))


def least_ladder(prior: Prior) -> LadderDesign:
    """The ladder of the fewest prints that tells the mark to 30 %; where none of at most `MOST_PRINTS` does, the one
    that tells most.
    """
    tried = [
        design_ladder(prior, rungs, prints)
        for rungs in range(LEAST_RUNGS, MOST_RUNGS + 1)
        for prints in range(1, MOST_PRINTS // rungs + 1)
    ]
    telling = [one for one in tried if one.tells]
    if telling:
        return min(telling, key=lambda one: (len(one.moistures_pct) * one.prints, one.factor))
    return min(tried, key=lambda one: one.factor)
