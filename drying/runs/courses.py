"""Computed drying courses for the starts, rates and shapes that a run may have."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace
from functools import lru_cache

import numpy as np

from drying.arrays import Array
from drying.dryers import Load
from drying.materials import Material, most_held_pct
from drying.runs.record import RunSoFar
from drying.transport import TORTUOSITY_SPREAD, UNKNOWN_RATE, Filament, Segment, even_state, rate_sigma
from drying.transport import course as course_of

_STARTS, _RATES, _REACH, _NEGLIGIBLE = 51, 41, 3.5, 1e-6


_KNOTS = 193


_RATE_KNOTS, _RATE_KNOTS_CUBIC = 5, 3  # cubic isotherms cost ten times as much


def _lasting(segments: Sequence[Segment], hours: float) -> list[Segment]:
    """The segments with the last one drawn out, so that they last for `hours`."""
    *before, last = segments
    rest = hours - sum(s.duration_h for s in before)
    return [*before, replace(last, duration_h=max(last.duration_h, rest))]


class Courses:
    """Computed courses as the share of the start that still lies above the floor, over real time: for the load as it is
    thought to be, for other starts, and for strand and pack faster or slower against each other (the shape).

    By Henry's law the share is the same from every start. A rate other than one stretches all times, but not the
    clock's: courses are computed for a few rates, so that warm-up and pauses stand where they were.
    """

    def __init__(self, run: RunSoFar, until_h: float) -> None:
        load, self.floor = run.load, run.floor_pct
        self.times = until_h * np.linspace(0.0, 1.0, _KNOTS) ** 3
        middle = math.log(run.rate.median)
        knots = _RATE_KNOTS if load.material.k3.value == 0.0 else _RATE_KNOTS_CUBIC
        self.log_rates = middle + run.rate.sigma * np.linspace(-_REACH, _REACH, knots)
        self.starts = self._starts(load)
        filaments, apart = _of_other_shape(load.filament)
        self.shapes = 1 + len(filaments)
        mid = float(self.starts[self.starts.size // 2])
        pairs = [(load.filament, float(s)) for s in self.starts] + [(filament, mid) for filament in filaments]
        self.shares = np.array([[self._share(run, b, s, math.exp(r)) for r in self.log_rates] for b, s in pairs])
        slower = self._at_one_pace()
        strand_share = 1.0 if not filaments else (1.0 - (slower[1] - slower[0]) / (2.0 * apart)) / 2.0
        known = run.rate.sigma / UNKNOWN_RATE.sigma
        self.sigma = known * rate_sigma(load.material, run.segments[-1].temp_c, min(max(strand_share, 0.0), 1.0))

    def _starts(self, load: Load) -> Array:
        apart = 0.02 * most_held_pct(load.material)
        middle = load.start.value if abs(load.start.value - self.floor) > apart else self.floor + apart
        if load.material.k3.value == 0.0:
            return np.array([middle])
        reach = 2.0 * load.start.uncertainty
        low, high = max(middle - reach, self.floor + apart), min(middle + reach, most_held_pct(load.material))
        return np.array([min(low, 0.9 * middle), middle, max(high, 1.1 * middle)])

    def _share(self, run: RunSoFar, filament: Filament, start: float, rate: float) -> Array:
        """At `self.times` times the rate of its column: stretched time."""
        stretched = [replace(s, duration_h=s.duration_h * rate) for s in run.segments]
        times = self.times * rate
        moisture = course_of(filament, even_state(filament, start), _lasting(stretched, float(times[-1])), times)
        return np.asarray((moisture - self.floor) / (start - self.floor))

    def _at_one_pace(self) -> list[float]:
        """Bring the other shapes to half of their loss when the load as it is thought to be comes there, so that a
        shape is not a rate; the logs of how much slower each was.
        """
        own, middle = self.starts.size, self.starts.size // 2
        found = []
        for row in range(own, self.shares.shape[0]):
            logs = []
            for knot in range(self.log_rates.size):
                here, base = self.shares[row, knot], self.shares[middle, knot]
                ours, theirs = (float(np.interp(-0.5, -np.minimum.accumulate(x), self.times)) for x in (base, here))
                stretch = max(theirs, 1e-6) / max(ours, 1e-6)
                self.shares[row, knot] = np.interp(np.cbrt(self.times * stretch), np.cbrt(self.times), here)
                logs.append(math.log(stretch))
            found.append(float(np.mean(logs)))
        return found

    def shares_at_rates(self, rates: Array) -> Array:
        """Share above the floor over `self.times`; shape (courses, rates, times)."""
        found = np.empty((self.shares.shape[0], rates.size, self.times.size))
        for column, log in enumerate(np.log(rates)):
            at = int(np.clip(np.searchsorted(self.log_rates, log) - 1, 0, self.log_rates.size - 2))
            for row in range(self.shares.shape[0]):
                found[row, column] = self._blend(row, at, float(log))
        return found

    def _blend(self, row: int, at: int, log: float) -> Array:
        def stretched(knot: int) -> Array:
            wanted = self.times * math.exp(log - self.log_rates[knot])
            return np.asarray(np.interp(np.cbrt(wanted), np.cbrt(self.times), self.shares[row, knot]))

        low, high = self.log_rates[at], self.log_rates[at + 1]
        share = min(max((log - low) / (high - low), 0.0), 1.0)
        return np.asarray((1.0 - share) * stretched(at) + share * stretched(at + 1))

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

    @property
    def shape_chances(self) -> Array:
        """Chances of the shapes: a normal, by the three points of Gauss and Hermite."""
        return np.array([2.0 / 3.0, 1.0 / 6.0, 1.0 / 6.0]) if self.shapes == 3 else np.ones(1)


def _of_other_shape(filament: Filament) -> tuple[list[Filament], float]:
    """The winding with its strand slow and its gaps fast, and the other way round, and by how much (log); a loose coil
    has but one shape.
    """
    if filament.winding is None:
        return [], 0.0
    apart = math.sqrt(3.0) * math.hypot(math.log(filament.material.d23.spread), math.log(TORTUOSITY_SPREAD)) / 2.0
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
