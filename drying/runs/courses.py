"""Computed drying courses for the starts, rates and shapes that a run may have."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace
from functools import cached_property, lru_cache

import numpy as np
from scipy.interpolate import CubicSpline

from drying.arrays import Array
from drying.dryers import Load
from drying.materials import Material
from drying.runs.record import USUAL_WARMING, RunSoFar, lasting
from drying.transport import (
    COMPUTED,
    FLOOR_SIGMAS,
    TORTUOSITY_SPREAD,
    UNKNOWN_RATE,
    Filament,
    Segment,
    courses,
    even_state,
    rate_sigma,
)

_STARTS, _RATES, _REACH, _NEGLIGIBLE = 51, 41, 3.5, 1e-6


_KNOTS = 193


_RATE_KNOTS, _RATE_KNOTS_CUBIC = 5, 3  # cubic isotherms cost ten times as much


_MORE_KNOTS = 2  # where the heat was off, courses of different rates are no longer one another's stretched


def _times(segments: Sequence[Segment], until_h: float) -> Array:
    """Times close together at the start, where the course is steep, and at every change of the air."""
    times = until_h * np.linspace(0.0, 1.0, _KNOTS) ** 3
    changes = np.cumsum([s.duration_h for s in segments[:-1]])
    return np.unique(np.concatenate([times, changes[changes < until_h]]))


SHAPE_SIGMAS = math.sqrt(3.0)  # where Gauss and Hermite put a normal's outer points


# Where water diffuses faster the wetter a strand is (nylons, poly(vinyl alcohol): 4 to 9 times from dry to wet) its
# last takes longer, as if time were stretched by 1/(1 + TAIL · what is left). Down to a twentieth that is within 12 %
# of the hours of a cylinder whose diffusivity rises ninefold, where one diffusivity is off by 37 % (`test_courses`).
TAIL = 1.5


COOLER_K = 2.0  # a segment so much cooler than one before it means that the heat was off


def _cools_down(segments: Sequence[Segment]) -> bool:
    hottest = -math.inf
    for segment in segments:
        if segment.temp_c < hottest - COOLER_K:
            return True
        hottest = max(hottest, segment.temp_c)
    return False


# Names of the shapes beside the computed one, two on each axis, in the order in which they are computed.
STRAND = ("strand_slower", "strand_faster")
WARMING = ("warms_faster", "warms_slower")
PROBED = ("warms_faster_than_probed", "warms_slower_than_probed")  # of this run alone: no other has its probe
DRY_END = ("slower_when_dry", "faster_when_dry")


def shape_chances(count: int) -> Array:
    """Chances of so many shapes, the computed one first: normals independent of one another, by the points of Gauss
    and Hermite on each axis (A. H. Stroud, Approximate Calculation of Multiple Integrals, 1971: degree three).
    """
    return np.array([1.0 - (count - 1) / 6.0, *[1.0 / 6.0] * (count - 1)])


def log_chance_of_cells(count: int) -> Array:
    """Log chances of floors (rows) and so many shapes before anything is learned, but for a constant."""
    of_shape = np.log(np.maximum(shape_chances(count), _NO_CHANCE))
    return np.asarray(-0.5 * FLOOR_SIGMAS[:, None] ** 2 + of_shape)


_NO_CHANCE = 1e-300  # with shapes on three axes the middle has none


class Courses:
    """Computed courses as the share of the start that still lies above the floor, over real time: for the load as it is
    thought to be, for other starts, and for strand and pack faster or slower against each other (the shape).

    By Henry's law the share is the same from every start. A rate other than one stretches all times, but not the
    clock's: courses are computed for a few rates, so that warm-up and pauses stand where they were.

    Where the heat was off, strand takes up water again from the cooler, damper air: a last row then holds what one that
    began at the floor has over it, % of dry mass, and the shares are those of what is over that.
    """

    def __init__(self, run: RunSoFar, until_h: float) -> None:
        load, self.floor = run.load, run.floor_pct
        self.interrupted = _cools_down(run.segments)
        self.times = _times(run.segments if self.interrupted else (), until_h)
        middle = math.log(run.rate.median)
        knots = _RATE_KNOTS if load.material.k3.value == 0.0 else _RATE_KNOTS_CUBIC
        knots += _MORE_KNOTS if self.interrupted else 0
        self.log_rates = middle + run.rate.sigma * np.linspace(-_REACH, _REACH, knots)
        self.starts = self._starts(load)
        filaments, apart = _of_other_shape(load.filament)
        mid = float(self.starts[self.starts.size // 2])
        met = self.met = run.met(until_h)
        wanted = [(load.filament, [float(start) for start in self.starts]), *((f, [mid]) for f in filaments)]
        own, *rest = self._shares(met, wanted)
        others = [shares for shares, *_ in rest]
        warmed = self._warmed(run, own, until_h)
        rows = [*own[:-1], *others, *warmed]
        self.shares = np.array([*rows, own[-1]] if self.interrupted else rows)
        slower = self._at_one_pace(run, [load.filament, *filaments], mid)
        strand_share = 1.0 if not filaments else (1.0 - (slower[1] - slower[0]) / (2.0 * apart)) / 2.0
        tailed = self._tailed(load.material, min(max(strand_share, 0.0), 1.0))
        of_warming = WARMING if run.warming == USUAL_WARMING else PROBED
        shapes = {STRAND: filaments, of_warming: warmed, DRY_END: tailed}
        self.shape_names = (COMPUTED, *(name for names, found in shapes.items() if found for name in names))
        self.shapes = len(self.shape_names)
        self.shares = np.concatenate([self.shares, tailed]) if tailed else self.shares
        known = run.rate.sigma / UNKNOWN_RATE.sigma
        self.sigma = known * rate_sigma(load.material, run.segments[-1].temp_c, min(max(strand_share, 0.0), 1.0))

    def _starts(self, load: Load) -> Array:
        apart = 0.02 * load.most_pct
        middle = load.start.value if abs(load.start.value - self.floor) > apart else self.floor + apart
        if load.material.k3.value == 0.0:
            return np.array([middle])
        reach = 2.0 * load.start.uncertainty
        low, high = max(middle - reach, self.floor + apart), min(middle + reach, load.most_pct)
        return np.array([min(low, 0.9 * middle), middle, max(high, 1.1 * middle)])

    def _warmed(self, run: RunSoFar, own: list[Array], until_h: float) -> list[Array]:
        """Shares from the middle start where the winding warms through slower, and faster, than is computed; none where
        it does not have to.

        Warming late is being late: the delay is found once, at the middle rate, and is the same by the clock at others.
        """
        if run.start_temp_c is None or run.load.filament.winding is None:
            return []
        middle, knot, found = own[self.starts.size // 2], self.log_rates.size // 2, []
        start, rate = float(self.starts[self.starts.size // 2]), math.exp(self.log_rates[self.log_rates.size // 2])
        for sign in (-1.0, 1.0):
            met = run.met(until_h, math.exp(sign * SHAPE_SIGMAS * run.warming.uncertainty))
            other = (self._course(met, run.load.filament, start, rate) - self.floor) / (start - self.floor)
            if self.interrupted:
                taken_up = (self._course(met, run.load.filament, self.floor, rate) - self.floor) / (start - self.floor)
                found.append(middle + (other - taken_up - middle[knot]))
                continue
            at = np.interp(-other, -np.minimum.accumulate(middle[knot]), self.times)
            found.append(np.array([np.interp(at, self.times, row) for row in middle]))
        return found

    def _tailed(self, material: Material, strand_share: float) -> list[Array]:
        """Shares from the middle start where water diffuses the slower the drier the strand is, and the other way
        round; none where it does not, and where the heat was off.

        Time is stretched by how far the strand's share of it has come, see `TAIL`; both come to half of their loss when
        the load as it is thought to be does.
        """
        if not material.slows_when_dry or self.interrupted:
            return []
        middle = self.shares[self.starts.size // 2]
        found = []
        for sign in (1.0, -1.0):
            rows = []
            for row in middle:
                left = np.minimum.accumulate(np.clip(row, 0.0, 1.0))
                slower = strand_share * (1.0 + TAIL * left) ** -sign + 1.0 - strand_share
                late = np.concatenate([[0.0], np.cumsum((slower[1:] + slower[:-1]) / 2.0 * np.diff(self.times))])
                half = [float(np.interp(-0.5, -left, times)) for times in (self.times, late)]
                late *= half[0] / half[1] if half[1] > 0.0 else 1.0
                rows.append(np.interp(np.cbrt(self.times), np.cbrt(late), row))
            found.append(np.array(rows))
        return found

    def _shares(self, segments: Sequence[Segment], wanted: Sequence[tuple[Filament, list[float]]]) -> list[list[Array]]:
        """Of each filament shares from each of its starts, (rates, times), and last what one from the floor has taken
        up; all side by side.
        """
        rates = [math.exp(log) for log in self.log_rates]
        begins = [(f, s) for f, starts in wanted for s in [*starts, *([self.floor] if self.interrupted else [])]]
        asked = [(filament, start, rate) for filament, start in begins for rate in rates]
        over = iter(np.array(self._courses(segments, asked)).reshape(len(begins), len(rates), -1) - self.floor)
        found = []
        for _, starts in wanted:
            own = [next(over) for _ in starts]
            taken_up = next(over) if self.interrupted else np.zeros((len(rates), self.times.size))
            found.append([*((o - taken_up) / (s - self.floor) for o, s in zip(own, starts, strict=True)), taken_up])
        return found

    def _courses(self, segments: Sequence[Segment], asked: Sequence[tuple[Filament, float, float]]) -> list[Array]:
        """Moisture of each filament from its start, at `self.times` times its rate: stretched time."""
        cases, times = [], [self.times * rate for _, _, rate in asked]
        for (filament, start, rate), until in zip(asked, times, strict=True):
            stretched = [replace(s, duration_h=s.duration_h * rate) for s in segments]
            cases.append((filament, even_state(filament, start), lasting(stretched, float(until[-1]))))
        return courses(cases, times)

    def _course(self, segments: Sequence[Segment], filament: Filament, start: float, rate: float) -> Array:
        return self._courses(segments, [(filament, start, rate)])[0]

    def _at_one_pace(self, run: RunSoFar, filaments: list[Filament], start: float) -> list[float]:
        """Bring the other shapes to half of their loss when the load as it is thought to be comes there, so that a
        shape is not a rate; the logs of how much slower each was.
        """
        own, middle = self.starts.size, self.starts.size // 2
        if self.interrupted:  # a pause stays where it is by the clock: the other shapes go at another rate instead
            steady = [self._course(run.segments[-1:], f, start, run.rate.median) for f in filaments]
            logs = [self._log_slower(steady[0] - self.floor, other - self.floor) for other in steady[1:]]
            for row, log in enumerate(logs, start=own):
                at = np.clip(self.log_rates + log, self.log_rates[0], self.log_rates[-1])
                self.shares[row] = CubicSpline(self.log_rates, self.shares[row])(at)
            return logs
        found = []
        for row in range(own, own + len(filaments) - 1):
            logs = []
            for knot in range(self.log_rates.size):
                here = self.shares[row, knot]
                log = self._log_slower(self.shares[middle, knot], here)
                self.shares[row, knot] = np.interp(np.cbrt(self.times * math.exp(log)), np.cbrt(self.times), here)
                logs.append(log)
            found.append(float(np.mean(logs)))
        return found

    def _log_slower(self, base: Array, here: Array) -> float:
        """By how much (log) one course takes longer than another to half of its start."""
        ours, theirs = (float(np.interp(-0.5, -np.minimum.accumulate(x / x[0]), self.times)) for x in (base, here))
        return math.log(max(theirs, 1e-6) / max(ours, 1e-6))

    def shares_at_rates(self, rates: Array) -> Array:
        """Share above the floor over `self.times`; shape (courses, rates, times)."""
        if self.interrupted:
            within = np.clip(np.log(rates), self.log_rates[0], self.log_rates[-1])
            return np.asarray(CubicSpline(self.log_rates, self.shares, axis=1)(within))
        found = np.empty((self.shares.shape[0], rates.size, self.times.size))
        for column, log in enumerate(np.log(rates)):
            at = int(np.clip(np.searchsorted(self.log_rates, log) - 1, 0, self.log_rates.size - 2))
            low, high = self.log_rates[at], self.log_rates[at + 1]
            share = min(max((log - low) / (high - low), 0.0), 1.0)
            found[:, column] = (1.0 - share) * self._stretched(at, log) + share * self._stretched(at + 1, log)
        return found

    def _stretched(self, knot: int, log: float) -> Array:
        """The courses of a knot as they are at another rate; shape (courses, times)."""
        roots = self._roots
        wanted = roots * math.exp((log - self.log_rates[knot]) / 3.0)
        at = np.clip(np.searchsorted(roots, wanted), 1, roots.size - 1)
        on = np.clip((wanted - roots[at - 1]) / (roots[at] - roots[at - 1]), 0.0, 1.0)
        here = self.shares[:, knot]
        return np.asarray((1.0 - on) * here[:, at - 1] + on * here[:, at])

    @cached_property
    def _roots(self) -> Array:
        """Third roots of the times: even, as the times stand close together where a course is steep."""
        return np.cbrt(self.times)

    def weights(self, starts: Array) -> Array:
        """How the computed courses add up to that of each start and shape; shape (starts, shapes, courses)."""
        own = self.starts.size
        found = np.zeros((starts.size, self.shapes, self.shares.shape[0]))
        hats = [np.interp(starts, self.starts, row) for row in np.eye(own)] if own > 1 else [np.ones(starts.size)]
        found[:, :, :own] = np.stack(hats, axis=1)[:, None, :]
        for shape in range(1, self.shapes):
            found[:, shape, own + shape - 1] += 1.0
            found[:, shape, own // 2] -= 1.0
        return found


def _of_other_shape(filament: Filament) -> tuple[list[Filament], float]:
    """The winding with its strand slow and its gaps fast, and the other way round, and by how much (log); a loose coil
    has but one shape.
    """
    if filament.winding is None:
        return [], 0.0
    apart = SHAPE_SIGMAS * math.hypot(math.log(filament.material.d23.spread), math.log(TORTUOSITY_SPREAD)) / 2.0
    found = []
    for sign in (-1.0, 1.0):
        d23 = replace(filament.material.d23, value=filament.material.d23.value * math.exp(sign * apart))
        tortuosity = max(1.0, filament.winding.tortuosity * math.exp(sign * apart))
        found.append(
            replace(
                filament,
                material=_kept(replace(filament.material, d23=d23)),
                winding=replace(filament.winding, tortuosity=tortuosity),
            )
        )
    return found, apart


@lru_cache(maxsize=64)
def _kept(material: Material) -> Material:
    """The one material of these values: solutions are kept by it."""
    return material
