"""Lots of coils as they really are: drawn truths, uneven films, a scale's noise, and now and then a slip of the pen."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np

from drying.air import RoomAir
from drying.transport.strand import fraction_exchanged
from drying.trials import DryingLot, Reading, Sample, Twin, UptakeLot
from drying.weighing import Scale
from standins.truth import read_off

DIAMETER_MM, DENSITY, WARM_C, ROOM = 1.75, 1130.0, 65.0, RoomAir(21.0, 50.0)
UNEVEN, BAKED_LEFT_PCT = 0.35, 0.02
# How different truths are from one another, one sigma, as a factor: the floor against the air's share of the start,
# what was there before a soak against a fifth of what is held, the film of a usual coil.
FLOOR, BEFORE, FILM = 1.8, 2.0, 2.2
STAGES = (0.02, 0.05, 0.1, 0.2, 0.4, 0.8, 1.5)  # of the time that diffusion takes across the strand


@dataclass(frozen=True)
class LotTruth:
    """What is hidden: diffusivity in m²/s, start and end in % of dry mass, film in g/m; how many coils were taken."""

    diffusivity_m2_s: float
    start_pct: float
    end_pct: float
    film_g_per_m: float
    coils: int = 8


class _Bench:
    """A person at the scale with coils of this lot."""

    def __init__(self, truth: LotTruth, scale: Scale, rng: np.random.Generator) -> None:
        self.truth, self.scale, self.rng = truth, scale, rng
        self.tau_h = (DIAMETER_MM / 2000.0) ** 2 / truth.diffusivity_m2_s / 3600.0

    def weigh(self, dry_g: float, moisture_pct: float, *, film: bool = False) -> float:
        wet = 0.0
        if film:
            metres = dry_g / (DENSITY * math.pi / 4.0 * (DIAMETER_MM / 1000.0) ** 2 * 1000.0)
            wet = self.truth.film_g_per_m * metres * max(1.0 + float(self.rng.normal(0.0, UNEVEN)), 0.0)
        return read_off(dry_g * (1.0 + moisture_pct / 100.0) + wet, self.scale, self.rng)

    def moisture(self, hours: float) -> float:
        moved = float(fraction_exchanged(hours / self.tau_h))
        return self.truth.start_pct + (self.truth.end_pct - self.truth.start_pct) * moved

    def samples(self, *, film_first: bool, film_after: bool) -> tuple[Sample, ...]:
        found = []
        for _ in range(self.truth.coils):
            dry_g = float(self.rng.uniform(4.0, 8.0))
            first = self.weigh(dry_g, self.truth.start_pct, film=film_first)
            stages = np.sort(self.rng.choice(STAGES, int(self.rng.integers(1, 4)), replace=False))
            readings = [
                Reading(float(s) * self.tau_h, self.weigh(dry_g, self.moisture(float(s) * self.tau_h), film=film_after))
                for s in stages
            ]
            found.append(Sample(first, tuple(readings)))
        return tuple(found)

    def baked(self, *, film: bool) -> Twin:
        dry_g = float(self.rng.uniform(4.0, 8.0))
        left = float(self.rng.normal(0.0, BAKED_LEFT_PCT))
        return Twin(self.weigh(dry_g, self.truth.start_pct, film=film), self.weigh(dry_g, left))


def _times(rng: np.random.Generator, spread: float) -> float:
    return spread ** float(rng.normal())


def drying_lot(rng: np.random.Generator, scale: Scale, *, soaked: bool, baked: bool) -> tuple[DryingLot, LotTruth]:
    """A lot that dries, and the truth of it."""
    start = float(rng.uniform(2.0, 9.0) if soaked else rng.uniform(0.5, 2.5))
    floor = start * ROOM.activity_at(WARM_C) * _times(rng, FLOOR)
    film = 0.011 * _times(rng, FILM) if soaked else 0.0
    truth = LotTruth(3e-12 * math.exp(float(rng.normal(0.0, 0.6))), start, floor, film)
    bench = _Bench(truth, scale, rng)
    samples = bench.samples(film_first=soaked, film_after=False)
    twin = bench.baked(film=soaked) if baked else None
    return DryingLot(DIAMETER_MM, DENSITY, WARM_C, scale, samples, twin, ROOM, soaked), truth


def uptake_lot(rng: np.random.Generator, scale: Scale, *, in_water: bool, baked: bool) -> tuple[UptakeLot, LotTruth]:
    """A lot that takes up water, and the truth of it."""
    capacity = float(rng.uniform(1.0, 9.0))
    start = capacity / 5.0 * _times(rng, BEFORE)
    film = 0.011 * _times(rng, FILM) if in_water else 0.0
    truth = LotTruth(3e-12 * math.exp(float(rng.normal(0.0, 0.6))), start, capacity, film)
    bench = _Bench(truth, scale, rng)
    samples = bench.samples(film_first=False, film_after=in_water)
    twin = bench.baked(film=False) if baked else None
    return UptakeLot(DIAMETER_MM, DENSITY, 23.0, scale, samples, twin, None if in_water else 60.0), truth


def mistyped(lot: DryingLot, rng: np.random.Generator) -> tuple[DryingLot, tuple[int, int]]:
    """The same lot with one reading typed wrong by some tenths of a gram, and which."""
    n = int(rng.integers(len(lot.samples)))
    k = int(rng.integers(len(lot.samples[n].readings)))
    sample = lot.samples[n]
    wrong = replace(sample.readings[k], gross_g=sample.readings[k].gross_g + float(rng.choice([-0.5, -0.3, 0.3, 0.5])))
    readings = (*sample.readings[:k], wrong, *sample.readings[k + 1 :])
    samples = (*lot.samples[:n], replace(sample, readings=readings), *lot.samples[n + 1 :])
    return replace(lot, samples=samples), (n, k)
