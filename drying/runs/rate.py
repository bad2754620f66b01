"""How fast a spool dries against the forecast, and what earlier runs teach about the next.

The log of the rate is thought of as a sum of four parts: the material's data, this spool (its winding), this dryer
(its flow, its layers), and the single run. An ended run tells the sum; runs that share a part tell of each other (best
linear prediction under a normal model; G. K. Robinson, Statistical Science 6, 1991).

Strand and winding are learned apart. A coil tells of the strand alone, and a wound spool's time hangs on its strand for
a share only: what they have in common counts for that share, so a coil never moves a spool's log rate by more than the
share of its own. Of a spool's winding a coil tells nothing.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from scipy.special import logsumexp

from drying.arrays import Array
from drying.runs.courses import WARMING, log_chance_of_cells, shape_chances
from drying.transport import (
    COMPUTED,
    DRYER_SD,
    FLOOR_SIGMAS,
    MATERIAL_SD,
    OPEN_SD,
    RATE_SIGMA,
    RUN_SD,
    SPOOL_SD,
    UNKNOWN_RATE,
    Lesson,
    Rate,
    RateCells,
    cells,
)

_Key = tuple[str, int, int, float]
NO_WARMING = (0.0, 0.0)


@dataclass(frozen=True)
class PastRun:
    """What an ended run shows by itself: the log of its rate, with a standard uncertainty, and what it shares.
    `strand_share`: how much of its time the strand took, 1 for a coil. `lesson`: what it says of rate, floor and shape
    together, where that was kept, and `warming` what it says of its winding's warming through, see `warming_by`.
    """

    material: str
    spool: int
    dryer: int
    log_rate: float
    uncertainty: float
    strand_share: float
    lesson: Lesson | None = None
    warming: tuple[float, float] = NO_WARMING

    @property
    def key(self) -> _Key:
        """What it shares with others: material, spool, dryer, and how much of its time the strand took."""
        return self.material, self.spool, self.dryer, self.strand_share


def _alike(one: float, other: float) -> float:
    """How far two runs hang on the same way out, 0..1, by their strand shares: 1 for equal ones, a coil and a wound
    spool by the spool's share.
    """
    return one * other + math.sqrt((1.0 - one**2) * (1.0 - other**2))


def as_in_common_winding(past: PastRun) -> PastRun:
    """A run in which every turn dried as if it lay free, as it tells of runs where that is not so: of its strand."""
    return replace(past, uncertainty=math.hypot(past.uncertainty, OPEN_SD), strand_share=1.0, lesson=None)


def rate_by_data_alone(before: Rate, after_log: float, after_sd: float) -> tuple[float, float] | None:
    """What the weighings by themselves say about the log rate: the posterior with the prior taken out. None where
    they say next to nothing.
    """
    precision = 1.0 / after_sd**2 - 1.0 / before.sigma**2
    if precision < 0.2 / before.sigma**2:
        return None
    mean = (after_log / after_sd**2 - math.log(before.median) / before.sigma**2) / precision
    return mean, 1.0 / math.sqrt(precision)


def _shared(one: _Key, other: _Key) -> float:
    """Variance that two runs have in common."""
    alike = _alike(one[3], other[3])
    of_strand = MATERIAL_SD**2 * (one[0] == other[0]) + DRYER_SD**2 * (one[2] == other[2])
    same_kind = (one[3] == 1.0) == (other[3] == 1.0)
    return alike * of_strand + SPOOL_SD**2 * (one[1] == other[1] and same_kind)


def rate_from(past: Sequence[PastRun], material: str, spool: int, dryer: int, strand_share: float) -> Rate:
    """What earlier runs teach of a run of this spool of this material in this dryer; `strand_share`: how much of its
    time the strand will take, 1 for a coil. With the floor and the shape, where runs of the spool left a lesson.
    """
    if not past:
        return UNKNOWN_RATE
    new = (material, spool, dryer, strand_share)
    own = [run for run in past if _is_lesson_of(run, spool, strand_share)]
    others = [run for run in past if not _is_lesson_of(run, spool, strand_share)]
    mean, among = _by_rates_alone(others, [*(run.key for run in own), new])
    warming = _of_warming([run for run in past if run.spool != spool and run.dryer == dryer])
    if not own and warming == NO_WARMING:
        return Rate(math.exp(mean[-1]), math.sqrt(max(among[-1, -1], RUN_SD**2)))
    return _put_together([_for_dryer(run, dryer) for run in own], mean, among, warming)


def _is_lesson_of(run: PastRun, spool: int, strand_share: float) -> bool:
    """Whether a run left a lesson of this very spool as it is wound, or of a coil of it where a coil is asked about."""
    return run.lesson is not None and run.spool == spool and (run.strand_share == 1.0) == (strand_share == 1.0)


def _by_rates_alone(past: Sequence[PastRun], wanted: Sequence[_Key]) -> tuple[Array, Array]:
    """Mean and covariance of the log rates of the `wanted` runs, by the rates that others had."""
    keys = [run.key for run in past]
    to_wanted = np.array([[_shared(a, b) for b in keys] for a in wanted]).reshape(len(wanted), len(keys))
    own = np.array([[_shared(a, b) for b in wanted] for a in wanted]) + RUN_SD**2 * np.eye(len(wanted))
    if not past:
        return np.zeros(len(wanted)), own
    among = np.array([[_shared(a, b) for b in keys] for a in keys])
    noise = np.diag([RUN_SD**2 + run.uncertainty**2 for run in past])
    weights = np.linalg.solve(among + noise, to_wanted.T).T
    return weights @ np.array([run.log_rate for run in past]), own - weights @ to_wanted.T


def _of_warming(past: Sequence[PastRun]) -> tuple[float, float]:
    """How much likelier it has become that windings warm through faster, and slower, than computed: logs, by other
    spools in the same dryer.
    """
    faster, slower = np.sum([run.warming for run in past], axis=0) if past else (0.0, 0.0)
    return float(faster), float(slower)


LAG_IN_COMMON = 0.5  # engineering estimate: of the doubt of how slowly windings warm through, the dryer's share


def _by_dryers_lag() -> Array:
    """Chances that a winding warms as computed, faster or slower (columns), where its dryer is one that warms windings
    as computed, faster or slower (rows): two normals of this correlation at the three points of Gauss and Hermite,
    by F. G. Mehler's expansion up to squares.
    """
    at, weights = np.array([0.0, -math.sqrt(3.0), math.sqrt(3.0)]), shape_chances(3)
    squares = at**2 - 1.0
    line, curve = np.multiply.outer(at, at), np.multiply.outer(squares, squares)
    return np.asarray(weights * (1.0 + LAG_IN_COMMON * line + 0.5 * LAG_IN_COMMON**2 * curve))


def warming_by(lesson: Lesson) -> tuple[float, float]:
    """How much likelier a run's weighings are in a dryer that warms windings through faster, and slower, than in one
    that does as computed: logs, over every floor and rate, and over what is the winding's own.
    """
    if WARMING[0] not in lesson.shapes:
        return NO_WARMING
    level, slope, curvature = lesson.at((COMPUTED, *WARMING))
    flatter = 1.0 + RATE_SIGMA**2 * curvature
    logs = level + 0.5 * (RATE_SIGMA**2 * slope**2 / flatter - np.log(flatter))
    of_winding = logsumexp(logs - 0.5 * FLOOR_SIGMAS[:, None] ** 2, axis=0)
    computed, faster, slower = np.log(_by_dryers_lag() @ np.exp(of_winding - of_winding.max()))
    return float(faster - computed), float(slower - computed)


def _for_dryer(run: PastRun, dryer: int) -> Lesson:
    """The lesson of a run for a dryer: in another one its winding warmed through as it may."""
    assert run.lesson is not None
    if run.dryer == dryer:
        return run.lesson
    kept = tuple(shape for shape in run.lesson.shapes if shape not in WARMING)
    return Lesson(kept, *(cells(of) for of in run.lesson.at(kept)))


def _put_together(own: Sequence[Lesson], mean: Array, among: Array, warming: tuple[float, float]) -> Rate:
    """Lessons of a spool's runs with what is thought of their log rates, and last of that of the run to come: `mean`,
    and `among` them the covariance. Each floor and shape is a sum of parabolas under a normal prior.
    """
    shapes = (COMPUTED, *dict.fromkeys(s for lesson in own for s in lesson.shapes if s != COMPUTED))
    shapes = (*shapes, *(s for s in WARMING if s not in shapes)) if warming != NO_WARMING else shapes
    level = np.zeros((FLOOR_SIGMAS.size, len(shapes)))
    for shape, log in zip(WARMING, warming, strict=True):
        if shape in shapes:
            level[:, shapes.index(shape)] += log
    means, variances = np.full(level.shape, mean[-1]), np.full(level.shape, among[-1, -1])
    if own:
        levels, slopes, curvatures = (np.array(of) for of in zip(*(lesson.at(shapes) for lesson in own), strict=True))
        gained, means, variances = _under_normal(slopes, curvatures, mean, among)
        level += levels.sum(axis=0) + gained
    chances = level + log_chance_of_cells(len(shapes))
    chances = np.exp(chances - chances.max())
    chances /= chances.sum()
    middle = float((chances * means).sum())
    variance = float((chances * (variances + (means - middle) ** 2)).sum())
    found = RateCells(shapes, cells(level - level.max()), cells(means), cells(np.sqrt(variances)))
    return Rate(math.exp(middle), math.sqrt(max(variance, RUN_SD**2)), found)


def _under_normal(slopes: Array, curvatures: Array, mean: Array, among: Array) -> tuple[Array, Array, Array]:
    """The log of the mean of exp(Σ slope·r - curvature·r²/2) over normal r, of which the last is not seen, and mean and
    variance of that last one given the others; slopes and curvatures (seen, floors, shapes).
    """
    unseen = np.zeros((1, *slopes.shape[1:]))
    slope, seen = (np.moveaxis(np.concatenate([of, unseen]), 0, -1) for of in (slopes, curvatures))
    pull = slope - seen * mean
    widened = np.eye(mean.size) + among * seen[..., None, :]
    spread = np.linalg.solve(widened, np.broadcast_to(among, widened.shape))
    moved = np.einsum("fqij,fqj->fqi", spread, pull)
    _, log_det = np.linalg.slogdet(widened)
    level = slope @ mean - 0.5 * seen @ mean**2 + 0.5 * np.einsum("fqi,fqi->fq", pull, moved) - 0.5 * log_det
    return level, mean[-1] + moved[..., -1], np.maximum(spread[..., -1, -1], RUN_SD**2)
