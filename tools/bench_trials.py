"""Trials with hidden truth: how often the 90 % intervals hold it, and how often a wrong reading is named."""

from __future__ import annotations

import math
import sys
import time
from collections.abc import Callable

import numpy as np

from drying.air import RoomAir
from drying.quantity import Quantity
from drying.trials import (
    LotFit,
    Points,
    Prior,
    Rung,
    Sponge,
    SwellingSample,
    duel,
    fit_drying,
    fit_ladder,
    fit_swelling,
    fit_uptake,
)
from drying.weighing import Scale
from standins.lots import LotTruth, drying_lot, mistyped, uptake_lot
from standins.truth import read_off
from tools.bench_endpoint import share
from tools.measured import note

TRIALS, SLIPS = 400, 100
HELD = {"at_least": 87.0, "at_most": 93.0}
FINE = Scale(0.01, 0.005)
SWELLING_SD_G = 0.01


def holds(found: Points | None, truth: float) -> bool:
    return found is not None and found.p05 <= truth <= found.p95


def of_lots(trials: int, draw: Callable[[np.random.Generator], tuple[LotFit, LotTruth]]) -> list[list[bool]]:
    """For each unknown, whether each trial's interval holds it."""
    rng = np.random.default_rng(17)
    found: list[list[bool]] = [[], [], [], []]
    for _ in range(trials):
        fit, truth = draw(rng)
        pairs = (
            (fit.diffusivity_m2_s, truth.diffusivity_m2_s),
            (fit.start_pct, truth.start_pct),
            (fit.end_pct, truth.end_pct),
            (fit.film_g_per_m, truth.film_g_per_m),
        )
        for row, (points, value) in zip(found, pairs, strict=True):
            if points is not None:
                row.append(holds(points, value))
    return found


def dried(rng: np.random.Generator, *, soaked: bool, baked: bool) -> tuple[LotFit, LotTruth]:
    lot, truth = drying_lot(rng, FINE, soaked=soaked, baked=baked)
    return fit_drying(lot), truth


def took_up(rng: np.random.Generator, *, in_water: bool, baked: bool) -> tuple[LotFit, LotTruth]:
    lot, truth = uptake_lot(rng, FINE, in_water=in_water, baked=baked)
    return fit_uptake(lot), truth


LOTS: dict[str, Callable[[np.random.Generator], tuple[LotFit, LotTruth]]] = {
    "drying, soaked, with a baked twin": lambda rng: dried(rng, soaked=True, baked=True),
    "drying, from air, without": lambda rng: dried(rng, soaked=False, baked=False),
    "uptake in water, with a baked twin": lambda rng: took_up(rng, in_water=True, baked=True),
    "uptake in water, without": lambda rng: took_up(rng, in_water=True, baked=False),
    "uptake from air, with a baked twin": lambda rng: took_up(rng, in_water=False, baked=True),
}


def sponge_ratios(trials: int) -> list[bool]:
    """Whether the interval of the ratio of two dryers holds the true one."""
    rng, found, scale = np.random.default_rng(5), [], Scale(0.1, 0.08)
    for _ in range(trials):
        rates, hours = rng.uniform(0.3, 6.0, 2), float(rng.uniform(1.0, 4.0))
        pair = []
        for name, rate in zip("ab", rates, strict=True):
            dry, wet = float(rng.uniform(8, 15)), float(rng.uniform(60, 90))
            start, end = (read_off(m, scale, rng) for m in (wet, wet - float(rate) * hours))
            pair.append(Sponge(name, start, end, dry, hours, RoomAir(20, 50)))
        found.append(holds(duel(pair, scale)[1]["a", "b"], float(rates[0] / rates[1])))
    return found


def swellings(trials: int) -> list[bool]:
    """Whether the interval of the strain holds the true one."""
    rng, found = np.random.default_rng(6), []
    for _ in range(trials):
        strain, sd = float(rng.uniform(0.1, 2.0)), float(rng.uniform(0.01, 0.04))
        samples = []
        for _ in range(3):
            size = float(rng.uniform(10, 40))
            before = tuple(rng.normal(size, sd, 5).round(2).tolist())
            after = tuple(rng.normal(size * (1 + strain / 100), sd, 5).round(2).tolist())
            samples.append(SwellingSample(before, after, 5.0, 5.0 * 1.05))
        found.append(holds(fit_swelling(samples).strain_pct, strain))
    return found


def slips(trials: int) -> list[bool]:
    """Whether a mistyped reading is the one that is named."""
    rng, found = np.random.default_rng(9), []
    for _ in range(trials):
        lot, which = mistyped(drying_lot(rng, FINE, soaked=False, baked=False)[0], rng)
        found.append(fit_drying(lot).doubtful == which)
    return found


def swelling_slopes(trials: int) -> list[bool]:
    """Whether the interval of the strain for each percent of water holds the true one: three pieces, each measured once
    before and in three climates, on calipers and a scale that scatter.
    """
    rng, found = np.random.default_rng(7), []
    for _ in range(trials):
        slope, sd = float(rng.uniform(0.05, 0.4)), float(rng.uniform(0.01, 0.04))
        samples = []
        for piece in "abc":
            size, grams = float(rng.uniform(60, 120)), float(rng.uniform(3, 10))
            before = tuple(rng.normal(size, sd, 5).round(2).tolist())
            dry = float(rng.normal(grams, SWELLING_SD_G))
            for water in (1.0, 2.5, 5.0):
                really = size * (1.0 + slope * water / 100.0)
                after = tuple(rng.normal(really, sd, 5).round(2).tolist())
                wet = float(rng.normal(grams * (1.0 + water / 100.0), SWELLING_SD_G))
                samples.append(SwellingSample(before, after, dry, wet, piece))
        told = fit_swelling(samples, SWELLING_SD_G).strain_per_pct
        assert told is not None
        found.append(holds(told, slope))
    return found


def ladders(trials: int) -> list[bool]:
    """Whether a mark's interval holds what is hidden; ladders of five rungs of four prints, moistures off by 10 %."""
    rng, prior, found = np.random.default_rng(6), Prior(0.22, 1.8, 0.08), []
    for _ in range(trials):
        mark = prior.mark_pct * math.exp(rng.normal(0.0, math.log(prior.spread)))
        width = prior.width * math.exp(rng.normal(0.0, math.log(1.5)))
        rungs = []
        for planned in (0.08, 0.14, 0.24, 0.42, 0.7):
            true = planned * math.exp(rng.normal(0.0, 0.1))
            showed = int(rng.binomial(4, 1.0 / (1.0 + math.exp(-math.log(true / mark) / width))))
            rungs.append(Rung(Quantity(planned, 0.1 * planned), 4, showed))
        found.append(holds(fit_ladder(prior, rungs).mark_pct, mark))
    return found


def main(trials: int = TRIALS) -> None:
    print(f"\nTrials: {trials} of each kind; how often the 90 % intervals hold the truth (goal 87 to 93 %)")
    for name, draw in LOTS.items():
        start = time.perf_counter()
        rows = of_lots(trials, draw)
        for what, row in zip(("diffusivity", "start", "end", "film"), rows, strict=True):
            if row:
                note(f"trials: {name}, {what} held", 100 * float(np.mean(row)), "%", **HELD)
        d, begin, end, film = map(share, rows)
        each = (time.perf_counter() - start) / trials
        print(f"  {name:36} diffusivity {d}  start {begin}  end {end}  film {film}  ({1000 * each:.0f} ms each)")
    others = {
        "sponges: ratio": sponge_ratios,
        "swelling: strain": swellings,
        "swelling: slope": swelling_slopes,
        "ladders: mark": ladders,
    }
    for what, draws in others.items():
        held = draws(1000)
        print(f"  {what} {share(held)}")
        note(f"trials: {what} held", 100 * float(np.mean(held)), "%", **HELD)
    named = slips(SLIPS)
    print(f"  a mistyped reading is named in {share(named)} of {SLIPS} lots (goal 80 %)")
    note("trials: mistyped reading named", 100 * float(np.mean(named)), "%", at_least=80.0)


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else TRIALS)
