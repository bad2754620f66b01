"""Test the judgement by simulation: are stated chances right, and do ranked checks settle a case sooner?"""

from __future__ import annotations

import sys

import numpy as np

from drying.diagnosis import (
    GROUP_RHO,
    WATER,
    HiddenCase,
    answers_row,
    brier,
    calibration,
    draw_case,
    log_p_together,
    posterior,
    scene,
    shares,
)
from drying.diagnosis.evidence_table import evidence_table
from drying.diagnosis.next_checks import next_checks

SURE, MOST_MINUTES = 0.9, 60.0
FIXED_ORDER = ("look", "push", "caliper", "snap", "break", "ask", "swap", "weigh", "after_drying")


def _looked(rng: np.random.Generator, case: HiddenCase) -> dict[str, bool]:
    """What someone looked for: each check done or not by the toss of a coin, `wet` left out."""
    checks = evidence_table(case.material).checks.values()
    done = [s for c in checks if rng.random() < 0.5 for s in c.signs]
    return {s: case.signs[s] for s in done if s in evidence_table(case.material).signs}


def _chance(case: HiddenCase, looked: dict[str, bool]) -> float:
    numbers = scene(evidence_table(case.material), case.begin)
    return float(posterior(numbers, answers_row(numbers, looked))[0, numbers.causes.index(WATER)])


def _known_chance(case: HiddenCase, looked: dict[str, bool], rho: float) -> float:
    """What a judge states who knows exactly how the cases are drawn."""
    table = evidence_table(case.material)
    numbers = scene(table, case.begin)
    return float(shares(numbers.start + log_p_together(table, looked, rho))[numbers.causes.index(WATER)])


def bench_calibration(cases: int, rho: float) -> None:
    """Stated chances against drawn truth, and against a judge who knows how the cases are drawn."""
    rng = np.random.default_rng(11)
    drawn = [draw_case(rng, rho=rho) for _ in range(cases)]
    looked = [_looked(rng, case) for case in drawn]
    stated = [_chance(*pair) for pair in zip(drawn, looked, strict=True)]
    known = np.array([_known_chance(*pair, rho) for pair in zip(drawn, looked, strict=True)])
    truth = [case.cause == WATER for case in drawn]
    print(f"Stated chances, {cases} cases, signs of a group correlated by {rho:g}; {np.mean(truth):.0%} were water")
    scores = {
        "stated": stated,
        "the prior alone": [case.begin.p_water for case in drawn],
        "'always wet'": [1.0] * cases,
        "a judge who knows how they are drawn": known.tolist(),
    }
    print("  Brier score: " + ", ".join(f"{name} {brier(said, truth):.4f}" for name, said in scores.items()))
    part = np.minimum((np.array(stated) * 10).astype(int), 9)
    worst_drawn = worst_known = 0.0
    for tenth in calibration(stated, truth):
        expected = float(known[part == round(tenth.low * 10)].mean())
        worst_drawn = max(worst_drawn, abs(tenth.stated - tenth.happened))
        worst_known = max(worst_known, abs(tenth.stated - expected))
        print(
            f"  {tenth.low:.1f} to {tenth.high:.1f}: {tenth.count:5d} cases, stated {tenth.stated:6.1%}, was so "
            f"{tenth.happened:6.1%} (±{(tenth.happened_high - tenth.happened_low) / 2:.1%}), expected {expected:6.1%}"
        )
    print(f"  worst tenth: {worst_known:.1%} off what is expected, {worst_drawn:.1%} off what was drawn")


def _minutes(case: HiddenCase, ranked: bool) -> float:
    """Minutes of the person's time until the chance is 90 % either way; `MOST_MINUTES` and more counts as not."""
    table = evidence_table(case.material)
    observed: dict[str, bool] = {}
    spent = 0.0
    left = list(FIXED_ORDER)
    while True:
        p = _chance(case, observed)
        if p >= SURE or p <= 1.0 - SURE or not left:
            return spent if left or p >= SURE or p <= 1.0 - SURE else MOST_MINUTES
        name = next_checks(table, case.begin, observed)[0].check.id if ranked else left[0]
        left.remove(name)
        spent += table.checks[name].minutes
        observed |= {s: case.signs[s] for s in table.checks[name].signs}


def bench_minutes(cases: int) -> None:
    """Ranked checks against a fixed order, the same cases."""
    rng = np.random.default_rng(12)
    drawn = [draw_case(rng) for _ in range(cases)]
    ranked = np.array([_minutes(c, ranked=True) for c in drawn])
    fixed = np.array([_minutes(c, ranked=False) for c in drawn])
    print(f"Minutes of one's own time to 90 % either way, {cases} cases")
    for name, found in (("ranked", ranked), ("fixed order", fixed)):
        print(f"  {name}: median {np.median(found):.0f}, mean {found.mean():.1f}")
    print(f"  ratio of means {fixed.mean() / ranked.mean():.1f}x")


def bench_evidence(cases: int = 5000) -> None:
    """Print the whole table."""
    bench_calibration(cases, GROUP_RHO)
    bench_calibration(cases, 0.0)
    bench_calibration(10 * cases, GROUP_RHO)  # so that the middle tenths hold enough to tell 3 points
    bench_minutes(min(cases, 1000))


if __name__ == "__main__":
    bench_evidence(int(sys.argv[1]) if len(sys.argv) > 1 else 5000)
