"""What measurements found, beside their goals: `make bench` notes each figure here and ends with the table.

The last results are kept in `docs/figures/bench.json`, each with the one before it, so that a change can be compared.
"""

from __future__ import annotations

import json
from datetime import UTC, datetime
from typing import Any

from tools.install import ROOT

KEPT = ROOT / "docs/figures/bench.json"


def is_met(value: float, at_most: float | None, at_least: float | None) -> bool | None:
    """Whether a figure keeps its goal; None where it has none."""
    if at_most is None and at_least is None:
        return None
    return (at_most is None or value <= at_most) and (at_least is None or value >= at_least)


def noted(
    kept: dict[str, Any], name: str, value: float, unit: str, at_most: float | None, at_least: float | None
) -> dict[str, Any]:
    """What is kept of all figures with this one among them; its last value stays beside it."""
    before = kept.get(name, {}).get("value")
    figure = {
        "value": float(f"{value:.4g}"),
        "unit": unit,
        "at_most": at_most,
        "at_least": at_least,
        "met": is_met(float(value), at_most, at_least),
        "before": before,
        "measured": f"{datetime.now(UTC):%Y-%m-%d}",
    }
    return dict(sorted({**kept, name: figure}.items()))


def kept() -> dict[str, Any]:
    """All figures that are kept."""
    found: dict[str, Any] = json.loads(KEPT.read_text("utf-8")) if KEPT.exists() else {}
    return found


def note(name: str, value: float, unit: str, *, at_most: float | None = None, at_least: float | None = None) -> None:
    """Keep a figure, with the goal that it should stay under or over."""
    KEPT.write_text(json.dumps(noted(kept(), name, value, unit, at_most, at_least), indent=1) + "\n", "utf-8")


def goal_of(figure: dict[str, Any]) -> str:
    """A goal in words; empty where there is none."""
    parts = [f"{low:g} at least" for low in [figure["at_least"]] if low is not None]
    parts += [f"{high:g} at most" for high in [figure["at_most"]] if high is not None]
    return ", ".join(parts)


def table(figures: dict[str, Any]) -> str:
    """All figures with their goals, those that miss theirs marked."""
    rows = [
        f"{name:<58}{figure['value']:>10g} {figure['unit']:<6}{goal_of(figure):<28}"
        f"{'MISSED' if figure['met'] is False else '':<8}{'' if figure['before'] is None else figure['before']:>10}"
        for name, figure in figures.items()
    ]
    return "\n".join([f"{'':<58}{'':>10} {'':<6}{'goal':<28}{'':<8}{'before':>10}", *rows])


if __name__ == "__main__":
    print(f"\n{table(kept())}")
