"""How wide is the interval of the time to the aim against the narrowest honest one? The same runs by a particle filter
that knows exactly how the truths were drawn: `python -m tools.bench_particles RUNS`.

Henry's law alone, whose moisture is straight in the start: each particle is all else that was drawn, and its starts are
weighed up on a grid.
"""

from __future__ import annotations

import math
import sys
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from drying.arrays import Array
from drying.dryers import Load
from drying.dryers.setup import at_rate
from drying.runs import CourseCache, Planned, RunSoFar, TimedWeighing, judge
from drying.runs.record import lasting
from drying.transport import Case, Segment, as_it_warms, courses, even_state
from drying.weighing import Scale, Weighing
from standins.truth import Truth, drawn, read_off
from tools.bench_endpoint import TARE, WEIGHED, planned_run
from tools.measured import note

RUNS, PARTICLES, STARTS, REACH_SD = 60, 300, 81, 4.0
POINTS, LONGEST = 160, 8.0  # of a course, and how far it is followed, in planned hours
FROM_NTH = 3


@dataclass(frozen=True)
class Particles:
    """Everything that may be so but the start: at `time_h` the moisture, % of dry mass, is `base + gain · start`; shape
    (particles, times). `starts` with their chances.
    """

    time_h: Array
    base: Array
    gain: Array
    starts: Array
    chances: Array
    dry_g: float

    def moisture_at(self, time_h: float) -> Array:
        """Moisture of every particle from every start, shape (particles, starts)."""
        base, gain = (
            np.array([np.interp(time_h, self.time_h, row) for row in rows]) for rows in (self.base, self.gain)
        )
        return base[:, None] + gain[:, None] * self.starts

    def hours_to(self, aim_pct: float) -> Array:
        """When each comes to the aim, h; infinite where it does not within the course."""
        found = np.full((self.base.shape[0], self.starts.size), math.inf)
        for n, (base, gain) in enumerate(zip(self.base, self.gain, strict=True)):
            for m, start in enumerate(self.starts):
                course = np.minimum.accumulate(base + gain * start)
                if course[-1] <= aim_pct:
                    found[n, m] = np.interp(-aim_pct, -course, self.time_h)
        return found

    def misfit(self, time_h: Sequence[float], loss_g: Sequence[float], sd_g: float) -> Array:
        """Chi-square of each particle and start by the losses since the first weighing, each weighing off by `sd_g`."""
        first = self.moisture_at(0.0)
        off = np.stack(
            [self.dry_g * (first - self.moisture_at(t)) / 100.0 - loss for t, loss in zip(time_h, loss_g, strict=True)]
        )
        # All share the first weighing's error: the inverse of I + 1·1ᵀ, by Sherman and Morrison.
        squares = np.sum(off**2, axis=0) - np.sum(off, axis=0) ** 2 / (1.0 + off.shape[0])
        return np.asarray(squares / sd_g**2)

    def weights(self, time_h: Sequence[float], loss_g: Sequence[float], sd_g: float) -> Array:
        """Chance of every particle and start, as in `misfit`."""
        chi2 = self.misfit(time_h, loss_g, sd_g)
        found = np.exp(-0.5 * (chi2 - chi2.min())) * self.chances
        return np.asarray(found / found.sum())


def particles(load: Load, truths: Sequence[Truth], longest_h: float) -> Particles:
    """Truths that were drawn for a load, followed side by side from two starts each."""
    times = longest_h * np.linspace(0.0, 1.0, POINTS) ** 2
    cases: list[Case] = []
    for start in (0.0, load.start.value):
        for truth in truths:
            met: list[Segment] = lasting(truth.segments, longest_h + 1.0)
            if truth.start_temp_c is not None:
                met = as_it_warms(truth.body, met, truth.start_temp_c, slower=truth.slower_warming)
            cases.append((truth.body, even_state(truth.body, start), at_rate(met, truth.rate)))
    found = np.array(courses(cases, [times] * len(cases))).reshape(2, len(truths), POINTS)
    sd = load.start.uncertainty
    starts = np.linspace(max(load.start.value - REACH_SD * sd, 1e-4), load.start.value + REACH_SD * sd, STARTS)
    chances = np.exp(-0.5 * ((starts - load.start.value) / sd) ** 2)
    gain = (found[1] - found[0]) / load.start.value
    return Particles(times, found[0], gain, starts, chances, load.dry_mass_g or 1000.0)


def middle_and_ends(values: Array, weights: Array) -> tuple[float, float, float]:
    """The 5, 50 and 95 % points of weighted values."""
    order = np.argsort(values, axis=None)
    sums = np.cumsum(weights.ravel()[order])
    low, middle, high = (
        float(values.ravel()[order][min(int(np.searchsorted(sums, at)), sums.size - 1)]) for at in (0.05, 0.5, 0.95)
    )
    return low, middle, high


@dataclass(frozen=True)
class Compared:
    """One judgement: width of our interval against the filter's, whether each holds the truth, and by how much each is
    off, as a share of the run.
    """

    ratio: float
    ours_holds: bool
    filter_holds: bool
    ours_off: float
    filter_off: float


def compared(rng: np.random.Generator, scale: Scale, count: int = PARTICLES) -> list[Compared]:
    """One run by Henry's law against so many particles, judged from the third weigh-in on, up to its aim."""
    while True:
        load, room, dryer, choice = planned_run(rng)
        if load.material.k3.value == 0.0:
            break
    hours = choice.duration_h
    segments = dryer.segments(load.material, room, choice.temp_c, hours * WEIGHED[-1])
    one = (load, segments, TARE.mass_g, TARE.uncertainty_g, rng, room.temp_c)
    truth, others = drawn(*one), [drawn(*one) for _ in range(count)]
    at = [share * hours for share in WEIGHED]
    shown = [
        TimedWeighing(t, Weighing(read_off(float(g), scale, rng), scale))
        for t, g in zip(at, truth.gross_g(at), strict=True)
    ]
    done, known, cache = truth.hours_to(load.aim_pct), particles(load, others, LONGEST * hours), CourseCache(1)
    ready, first_g, found = known.hours_to(load.aim_pct), shown[0].weighing.mass_g, []
    for nth in range(FROM_NTH, len(at) + 1):
        now = at[nth - 1]
        if not now < done < math.inf:
            continue
        so_far = RunSoFar(load, segments, load.aim_pct, TARE, shown[:nth], start_temp_c=room.temp_c)
        left = judge(so_far, now, Planned(hours), cache).to_aim
        losses = [first_g - w.weighing.mass_g for w in shown[1:nth]]
        weights = known.weights(at[1:nth], losses, scale.uncertainty_g)
        low, middle, high = (max(x - now, 0.0) for x in middle_and_ends(ready, weights))
        if left.p05 is None or left.p95 is None or not 0.0 < high - low < math.inf:
            continue
        found.append(
            Compared(
                (left.p95 - left.p05) / (high - low),
                left.p05 <= done - now <= left.p95,
                low <= done - now <= high,
                abs((math.inf if left.p50 is None else left.p50) - (done - now)) / done,
                abs(middle - (done - now)) / done,
            )
        )
    return found


def main(runs: int = RUNS) -> None:
    rng, scale = np.random.default_rng(21), Scale(0.1, 0.05, 0.02)
    found = [one for _ in range(runs) for one in compared(rng, scale)]
    ratio = float(np.median([one.ratio for one in found]))
    ours = 100.0 * float(np.mean([one.ours_holds for one in found]))
    its = 100.0 * float(np.mean([one.filter_holds for one in found]))
    print(
        f"\nTime to the aim against a particle filter with the exact prior, 0.1 g: {runs} runs, {len(found)} judgements"
    )
    print(
        f"  interval {ratio:.2f} times as wide (median; goal 1.5); truth held by ours {ours:.0f} %, by its {its:.0f} %"
    )
    off, least = (
        100.0 * float(np.median([getattr(one, name) for one in found])) for name in ("ours_off", "filter_off")
    )
    print(f"  stop time off by {off:.1f} % of the run, by its middle {least:.1f} %")
    note("end point: width against an exact particle filter", ratio, "times", at_most=1.5)
    note("end point: stop time off, of the run, in the particle filter's runs", off, "%")
    note("end point: stop time off, of the run, by the particle filter itself", least, "%")


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else RUNS)
