"""Runs that go otherwise than told, and runs of which more is known than the scale says: for the end point's bench.

Each turns what is told and what is true into another pair. What a card body holds comes from the wood isotherm of the
Wood Handbook (W. T. Simpson's two-hydrate fit), which knows the temperature and shares nothing with the core's table.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from drying.arrays import Array
from drying.dryers import Load
from drying.materials import empty_spool_kind, floor_pct, most_held_pct
from drying.quantity import Quantity
from drying.runs import PastRun, RunSoFar, rate_from
from drying.runs.record import lasting
from drying.transport import Lesson, Segment, strand_share
from drying.trials import twin_start
from drying.weighing import Scale, coil_mass_g
from standins.truth import AIR_SD_C, Truth, read_off
from tools.richer_truth import RicherTruth

FINE = Scale(0.01, 0.005, 0.002)
COIL_M, STEP_H = 20.0, 0.05
CARD, START_OFF_SD = empty_spool_kind("card"), 2.5


def wood_held_pct(temp_c: float, activity: float) -> float:
    """Water in wood that has come to rest in air of this temperature and activity (0..1), % of its dry mass."""
    w = 349.0 + 1.29 * temp_c + 0.0135 * temp_c**2
    k = 0.805 + 7.36e-4 * temp_c - 2.73e-6 * temp_c**2
    k1 = 6.27 - 9.38e-3 * temp_c - 3.03e-4 * temp_c**2
    k2 = 1.91 + 4.07e-2 * temp_c - 2.93e-4 * temp_c**2
    x = k * activity
    return 1800.0 / w * (x / (1.0 - x) + (k1 * x + 2.0 * k1 * k2 * x**2) / (1.0 + k1 * x + k1 * k2 * x**2))


@dataclass(frozen=True)
class CardWater:
    """Water that a card body has lost since the weigh-in, g: `share` of what as much wood would, at its own pace."""

    body_g: float
    share: float
    constant_h: float
    segments: tuple[Segment, ...]

    def lost_g(self, time_h: Array) -> Array:
        """After each of the hours."""
        room = self.segments[0].room
        begin = held = wood_held_pct(room.temp_c, room.rh_pct / 100.0)
        clock = np.arange(0.0, float(time_h.max()) + 2.0 * STEP_H, STEP_H)
        lost, part, ends = np.zeros(clock.size), 0, self.segments[0].duration_h
        steps = lasting(self.segments, float(clock[-1]) + 1.0)
        for n in range(1, clock.size):
            while clock[n] > ends and part + 1 < len(steps):
                part += 1
                ends += steps[part].duration_h
            rest = wood_held_pct(steps[part].temp_c, steps[part].activity)
            held = rest + (held - rest) * math.exp(-STEP_H / self.constant_h)
            lost[n] = begin - held
        return np.asarray(np.interp(time_h, clock, lost) * self.share * self.body_g / 100.0)


@dataclass(frozen=True)
class FilmWater:
    """Water that stood on soaked strand or between its turns and has left, g."""

    all_g: float
    constant_h: float

    def lost_g(self, time_h: Array) -> Array:
        """After each of the hours."""
        return np.asarray(self.all_g * (1.0 - np.exp(-time_h / self.constant_h)))


@dataclass(frozen=True)
class Beside:
    """A truth on whose scale other water than the strand's leaves too."""

    base: Truth | RicherTruth
    water: CardWater | FilmWater

    def moisture_pct(self, time_h: Array) -> Array:
        """Of the strand, % of dry mass."""
        return self.base.moisture_pct(time_h)

    def gross_g(self, time_h: Array) -> Array:
        """What stands on the scale, g, against what it would be had nothing but the strand's water left."""
        times = np.asarray(time_h, dtype=np.float64)
        return np.asarray(self.base.gross_g(times) - self.water.lost_g(times))

    def hours_to(self, aim_pct: float) -> float:
        """When the strand comes to `aim_pct`, h after the start."""
        return self.base.hours_to(aim_pct)


Pair = tuple[RunSoFar, Truth | RicherTruth | Beside]


def on_card(told: RunSoFar, truth: Truth, rng: np.random.Generator) -> Pair:
    """Wound on a card body, which is told."""
    load = replace(told.load, empty_spool=CARD)
    water = CardWater(truth.tare_g, float(rng.uniform(0.6, 0.95)), float(np.exp(rng.uniform(0.0, 1.4))), truth.segments)
    return replace(told, load=load), Beside(truth, water)


def soaked(told: RunSoFar, truth: Truth, rng: np.random.Generator) -> Pair:
    """Out of a bath, which is told: as full as the strand gets, and with water on it or between its turns."""
    full = 0.8 * most_held_pct(told.load.material)
    load = replace(told.load, start=Quantity(full, 0.2 * full), soaked=True)
    winding = truth.body.winding
    if winding is None:
        strand_m2 = math.pi / 4.0 * (truth.body.strand_diameter_mm / 1000.0) ** 2
        metres = truth.dry_g / (1000.0 * truth.body.material.density.value * strand_m2)
        film = 0.016 * metres * float(np.exp(rng.normal(0.0, 0.4))) * (1.0 if rng.random() < 0.5 else 1.0 / 3.0)
        water = FilmWater(film, float(rng.uniform(0.3, 1.0)))
    else:
        water = FilmWater(1.0e6 * winding.volume_m3 * float(rng.uniform(0.0, 0.2)), float(rng.uniform(1.5, 5.0)))
    start = full * float(np.clip(rng.normal(1.0, 0.2), 0.4, 1.2))
    return replace(told, load=load), Beside(replace(truth, start_pct=start), water)


def dryer_off(told: RunSoFar, truth: Truth, rng: np.random.Generator) -> Pair:
    """The heat was off for one to three hours in the middle, and nobody knows."""
    *before, last = truth.segments
    done = sum(s.duration_h for s in before)
    on, off = float(rng.uniform(0.2, 0.7)) * last.duration_h, float(rng.uniform(1.0, 3.0))
    cold = replace(last, duration_h=off, temp_c=last.room.temp_c)
    rest = replace(last, duration_h=max(last.duration_h - on - off, 1.0))
    return told, replace(truth, segments=(*before, replace(last, duration_h=max(on - done, 0.5)), cold, rest))


def wrong_start(told: RunSoFar, truth: Truth, rng: np.random.Generator) -> Pair:
    """What was thought of the start is off by 2.5 of its standard uncertainties."""
    start, sign = told.load.start, 1.0 if rng.random() < 0.7 else -1.0
    really = start.value + sign * START_OFF_SD * start.uncertainty
    return told, replace(truth, start_pct=max(really, 0.05 * start.value))


def with_twin(told: RunSoFar, truth: Truth, rng: np.random.Generator) -> Pair:
    """A coil of the same spool, as long as the plan offers, was baked dry before the run at the brisk temperature, and
    weighed to a hundredth of a gram.
    """
    polymer, room = told.load.material, truth.segments[-1].room
    dry_g = coil_mass_g(polymer, told.load.strand_diameter_mm, COIL_M).value
    bake_c = polymer.programmes["brisk"].temp_c
    left = floor_pct(truth.body.material, room, bake_c + float(rng.normal(0.0, AIR_SD_C)))
    before, after = (read_off(dry_g * (1.0 + pct / 100.0), FINE, rng) for pct in (truth.start_pct, left))
    start, _floor = twin_start(polymer, before, after, bake_c, room, FINE)
    known = Quantity(start.p50, (start.p95 - start.p05) / 3.29)
    return replace(told, load=replace(told.load, start=known)), truth


def in_other_air(truth: Truth, told: Sequence[Segment], rng: np.random.Generator) -> Truth:
    """The same spool and dryer in another run, whose air is off by a draw of its own."""
    off_c = float(rng.normal(0.0, AIR_SD_C))
    pairs = zip(truth.segments, told, strict=True)
    return replace(truth, segments=tuple(replace(real, temp_c=thought.temp_c + off_c) for real, thought in pairs))


def another_run(truth: Truth, told: Sequence[Segment], load: Load, rng: np.random.Generator) -> Truth:
    """The same with a start of its own."""
    found = in_other_air(truth, told, rng)
    return replace(found, start_pct=max(load.start.value * float(rng.normal(1.0, 0.3)), 0.2 * load.start.value))


Taught = tuple[float, float, Lesson | None]  # log rate, its standard uncertainty, and the whole lesson


def after_three_runs(
    ended: Callable[[RunSoFar, Truth], Taught | None],
) -> Callable[[RunSoFar, Truth, np.random.Generator], Pair]:
    """The spool was dried in this dryer three times before; `ended` says what each of those runs taught."""

    def learned(told: RunSoFar, truth: Truth, rng: np.random.Generator) -> Pair:
        past, load = [], told.load
        share = strand_share(load.filament, told.segments[-1].temp_c)
        for _ in range(3):
            taught = ended(told, another_run(truth, told.segments, load, rng))
            if taught is not None:
                log_rate, uncertainty, lesson = taught
                past.append(PastRun(load.material.id, 1, 1, log_rate, uncertainty, share, lesson))
        return replace(told, rate=rate_from(past, load.material.id, 1, 1, share)), truth

    return learned


MISHAPS: Mapping[str, Callable[[RunSoFar, Truth, np.random.Generator], Pair]] = {
    "card": on_card,
    "soaked": soaked,
    "dryer off": dryer_off,
    "wrong start": wrong_start,
}
