"""What measurements found, beside their goals: `make bench` notes each figure here and ends with the table.

The last results are kept in `docs/figures/bench.json`, each with the one before it, so that a change can be compared.
A machine that others share can be twice as fast in one hour as in the next: beside each time stands what a fixed piece
of work took just then.
"""

from __future__ import annotations

import json
import statistics
import time
from datetime import UTC, datetime
from typing import Any

import numpy as np

from tools.install import ROOT

KEPT = ROOT / "docs/figures/bench.json"


def is_met(value: float, at_most: float | None, at_least: float | None) -> bool | None:
    """Whether a figure keeps its goal; None where it has none."""
    if at_most is None and at_least is None:
        return None
    return (at_most is None or value <= at_most) and (at_least is None or value >= at_least)


def yardstick_ms() -> float:
    """What a fixed piece of work takes on this machine now, ms: plain Python and small systems of equations, as in the
    core; the median of seven runs. It fits into the cache, so it cannot see a shortage of memory bandwidth.
    """
    matrix = np.random.default_rng(1).normal(size=(18, 18)) + 9.0 * np.eye(18)

    def once() -> float:
        start = time.perf_counter()
        total = 0
        for n in range(40_000):
            total += n * n
        for _ in range(300):
            np.linalg.solve(matrix, matrix[0])
        return 1000.0 * (time.perf_counter() - start)

    return statistics.median(once() for _ in range(7))


def noted(
    kept: dict[str, Any],
    name: str,
    value: float,
    unit: str,
    at_most: float | None,
    at_least: float | None,
    yardstick: float | None = None,
) -> dict[str, Any]:
    """What is kept of all figures with this one among them; its last value stays beside it, and of times the machine's
    `yardstick` at both, ms.
    """
    last = kept.get(name, {})
    figure = {
        "value": float(f"{value:.4g}"),
        "unit": unit,
        "at_most": at_most,
        "at_least": at_least,
        "met": is_met(float(value), at_most, at_least),
        "before": last.get("value"),
        "yardstick_ms": None if yardstick is None else float(f"{yardstick:.3g}"),
        "yardstick_before_ms": last.get("yardstick_ms"),
        "measured": f"{datetime.now(UTC):%Y-%m-%d}",
    }
    return dict(sorted({**kept, name: figure}.items()))


def kept() -> dict[str, Any]:
    """All figures that are kept."""
    found: dict[str, Any] = json.loads(KEPT.read_text("utf-8")) if KEPT.exists() else {}
    return found


def note(name: str, value: float, unit: str, *, at_most: float | None = None, at_least: float | None = None) -> None:
    """Keep a figure, with the goal that it should stay under or over."""
    yardstick = yardstick_ms() if unit in ("ms", "s") else None
    figures = noted(kept(), name, value, unit, at_most, at_least, yardstick)
    KEPT.write_text(json.dumps(figures, indent=1) + "\n", "utf-8")


def goal_of(figure: dict[str, Any]) -> str:
    """A goal in words; empty where there is none."""
    parts = [f"{low:g} at least" for low in [figure["at_least"]] if low is not None]
    parts += [f"{high:g} at most" for high in [figure["at_most"]] if high is not None]
    return ", ".join(parts)


def machine_of(figure: dict[str, Any]) -> str:
    """How many times as long the machine took for the same work as it did before; empty where that is not known."""
    now, before = figure.get("yardstick_ms"), figure.get("yardstick_before_ms")
    return f"x{now / before:.2f}" if now and before else ""


def table(figures: dict[str, Any]) -> str:
    """All figures with their goals, those that miss theirs marked. A time is compared with the one before by how fast
    the machine was at each.
    """
    rows = [
        f"{name:<58}{figure['value']:>10g} {figure['unit']:<6}{goal_of(figure):<28}"
        f"{'MISSED' if figure['met'] is False else '':<8}{'' if figure['before'] is None else figure['before']:>10}"
        f"{machine_of(figure):>9}"
        for name, figure in figures.items()
    ]
    return "\n".join([f"{'':<58}{'':>10} {'':<6}{'goal':<28}{'':<8}{'before':>10}{'machine':>9}", *rows])


if __name__ == "__main__":
    print(f"\n{table(kept())}")
