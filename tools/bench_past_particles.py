"""What three earlier runs of a spool could teach at most: a filter that knows how the truths were drawn is given the
weighings of all four runs; ours is judged on the same: `python -m tools.bench_past_particles RUNS`.

Wound spools by Henry's law alone, whose moisture is straight in the start: each particle is a spool and its dryer, with
a draw of its own of what every run draws anew, and its starts are weighed up on a grid.
"""

from __future__ import annotations

import math
import sys
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy.special import logsumexp

from drying.arrays import Array
from drying.runs import TimedWeighing
from drying.weighing import Scale
from standins.truth import drawn
from tools.bench_endpoint import TARE, WEIGHED, WEIGHED_BEFORE, a_run, planned_run, weighed
from tools.bench_particles import LONGEST, STARTS, Particles, middle_and_ends, particles
from tools.measured import note
from tools.mishaps import another_run, in_other_air

RUNS, PARTICLES, FROM_NTH = 45, 500, 3
SCALE = Scale(0.1, 0.05, 0.02)


@dataclass(frozen=True)
class Judged:
    """A judgement by the filter: by how much its middle is off, as a share of the run, and whether its interval holds
    the truth.
    """

    off: float
    holds: bool


def by_filter(rng: np.random.Generator, count: int = PARTICLES) -> list[Judged] | None:
    """One spool's four runs; None where it is none that the filter can follow."""
    load, room, dryer, choice = planned_run(rng)
    if load.material.k3.value != 0.0 or load.form != "wound":
        return None
    hours, draws = choice.duration_h, np.random.default_rng(int(rng.integers(1 << 31)))
    told = dryer.segments(load.material, room, choice.temp_c, hours * WEIGHED[-1])
    one = (load, told, TARE.mass_g, TARE.uncertainty_g)
    truth = drawn(*one, rng, room.temp_c)
    others = [drawn(*one, draws, room.temp_c) for _ in range(count)]
    of_spool = np.zeros(count)
    for _ in range(3):
        before = another_run(truth, told, load, rng)
        seen = weighed(before, [share * hours for share in WEIGHED_BEFORE], SCALE, rng)
        theirs = particles(load, [in_other_air(it, told, draws) for it in others], hours)
        of_spool += logsumexp(log_chances(theirs, seen), axis=1)
    at = [share * hours for share in WEIGHED]
    shown, done = weighed(truth, at, SCALE, rng), truth.hours_to(load.aim_pct)
    known = particles(load, others, LONGEST * hours)
    ready, found = known.hours_to(load.aim_pct), []
    for nth in range(FROM_NTH, len(at) + 1):
        now = at[nth - 1]
        if now < done < math.inf:
            logs = log_chances(known, shown[:nth]) + of_spool[:, None]
            weights = np.exp(logs - logs.max())
            low, middle, high = (max(x - now, 0.0) for x in middle_and_ends(ready, weights / weights.sum()))
            found.append(Judged(abs(middle - (done - now)) / done, low <= done - now <= high))
    return found


def log_chances(known: Particles, seen: Sequence[TimedWeighing]) -> Array:
    """Log chances of weighings and of the start, of particles against one another as well; (particles, starts)."""
    losses = [seen[0].weighing.mass_g - w.weighing.mass_g for w in seen[1:]]
    chi2 = known.misfit([w.time_h for w in seen[1:]], losses, SCALE.uncertainty_g)
    return np.asarray(np.log(known.chances) - 0.5 * chi2)


def main(runs: int = RUNS) -> None:
    ours, its = [], []
    for n in range(runs):
        found = by_filter(np.random.default_rng((20, n)))
        if found is None:
            continue
        its += found
        ours += [s for s in a_run(np.random.default_rng((20, n)), SCALE, "three runs") if s.nth >= FROM_NTH]
    off = 100.0 * float(np.median([s.time_error for s in ours if s.time_error is not None]))
    held = 100.0 * float(np.mean([s.in_time for s in ours if s.in_time is not None]))
    least = 100.0 * float(np.median([one.off for one in its]))
    print(f"\nAfter three runs of the spool, 0.1 g: {len(its)} judgements of the stop time, {STARTS} starts a particle")
    print(
        f"  off by {off:.1f} % of the run, held {held:.0f} %; a filter that knows how truths are drawn: off by", end=" "
    )
    print(f"{least:.1f} %, held {100.0 * float(np.mean([one.holds for one in its])):.0f} %")
    note("end point: stop time off after three runs, in the filter's runs", off, "%")
    note("end point: stop time off after three runs, by the filter itself", least, "%")


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else RUNS)
