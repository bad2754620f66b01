"""Draw the house from its imports: `docs/figures/house.svg`, one box a package, each floor on what it stands on.

Python's imports are read with `ast`, those of the page by their `from "…"`. A package stands one floor above the
highest package that it imports. Run by `make figures`; a test fails where the drawing does not match the imports.
"""

from __future__ import annotations

import ast
import re
from collections import defaultdict
from collections.abc import Mapping
from functools import cache
from html import escape
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
FIGURE = ROOT / "docs/figures/house.svg"
SKIPPED = {"tests", "migrations", "management", "serve", "settings", "urls", "wsgi", "__main__"}

BOX_W, BOX_H, GAP_X, GAP_Y, PAD = 92, 32, 12, 32, 20
INK, LINE, PAPER, GROUND = "#14201f", "#8a9997", "#fbfcfa", "#e8edeb"

Graph = dict[str, set[str]]


@cache
def _imported(path: Path) -> frozenset[str]:
    found: set[str] = set()
    for node in ast.walk(ast.parse(path.read_text("utf-8"))):
        if isinstance(node, ast.ImportFrom) and node.module:
            found |= {node.module, *(f"{node.module}.{name.name}" for name in node.names)}
        elif isinstance(node, ast.Import):
            found |= {name.name for name in node.names}
    return frozenset(found)


def python_graph(root: str) -> Graph:
    """Packages of `drying` or `darre` and the packages of the same root that each imports."""
    found: Graph = defaultdict(set)
    for path in sorted((ROOT / root).rglob("*.py")):
        parts = path.relative_to(ROOT / root).with_suffix("").parts
        if len(parts) < 2 or SKIPPED & set(parts):
            continue
        found[parts[0]] |= {
            name.split(".")[1] for name in _imported(path) if name.startswith(f"{root}.") and name.count(".") >= 1
        }
    return {one: {other for other in others if other in found and other != one} for one, others in found.items()}


def page_graph() -> Graph:
    """Folders of the page and the folders that each imports; each feature counts as a folder."""
    source = ROOT / "web/src"

    def folder(path: Path) -> str:
        parts = path.relative_to(source).parts
        return parts[1] if parts[0] == "features" else parts[0]

    found: Graph = defaultdict(set)
    for path in sorted(source.rglob("*.ts*")):
        for target in re.findall(r'from "(\.[^"]+)"', path.read_text("utf-8")):
            found[folder(path)].add(folder((path.parent / target).resolve()))
    return {one: {other for other in others if other != one} for one, others in found.items()}


def floors(graph: Mapping[str, set[str]]) -> dict[str, int]:
    """The floor of each package, from 0. Packages that import one another (the page's features do) share a floor."""
    reach = {one: _reach(graph, one) for one in graph}
    level: dict[str, int] = {}

    def floor(one: str) -> int:
        if one not in level:
            below = {other for other in reach[one] if one not in reach[other]}
            level[one] = max((floor(other) + 1 for other in below), default=0)
        return level[one]

    for one in graph:
        floor(one)
    return level


def _reach(graph: Mapping[str, set[str]], start: str) -> set[str]:
    found: set[str] = set()
    left = [start]
    while left:
        for other in graph.get(left.pop(), ()):
            if other not in found:
                found.add(other)
                left.append(other)
    return found - {start}


def _wing(title: str, graph: Graph, left: float, height: float) -> tuple[list[str], float]:
    """One wing of the house as SVG, its left edge at `left`, and its width."""
    level = floors(graph)
    rows: dict[int, list[str]] = defaultdict(list)
    for name, floor in sorted(level.items()):
        rows[floor].append(name)
    width = max(len(row) for row in rows.values()) * (BOX_W + GAP_X) - GAP_X
    at: dict[str, tuple[float, float]] = {}
    for floor, row in rows.items():
        begin = left + (width - (len(row) * (BOX_W + GAP_X) - GAP_X)) / 2
        for n, name in enumerate(row):
            at[name] = (begin + n * (BOX_W + GAP_X), height - PAD - BOX_H - floor * (BOX_H + GAP_Y))
    lines, boxes = [], [f'<text x="{left:.0f}" y="22" font-weight="bold">{escape(title)}</text>']
    for one, others in sorted(graph.items()):
        for other in sorted(others):
            if level[other] < level[one]:
                (x1, y1), (x2, y2) = at[one], at[other]
                lines.append(
                    f'<path d="M{x1 + BOX_W / 2:.0f} {y1 + BOX_H:.0f} L{x2 + BOX_W / 2:.0f} {y2:.0f}" '
                    f'stroke="{LINE}" fill="none"/>'
                )
    for name, (x, y) in sorted(at.items()):
        boxes.append(
            f'<rect x="{x:.0f}" y="{y:.0f}" width="{BOX_W}" height="{BOX_H}" fill="{PAPER}" stroke="{INK}"/>'
            f'<text x="{x + BOX_W / 2:.0f}" y="{y + 21:.0f}" text-anchor="middle">{escape(name)}</text>'
        )
    return [*lines, *boxes], width


def drawing() -> str:
    """The whole house as an SVG text: the page, the Django project and the core, side by side."""
    wings = (
        ("web/src: a folder a feature", page_graph()),
        ("darre: an app a subject", python_graph("darre")),
        ("drying: a package a question", python_graph("drying")),
    )
    height = (max(max(floors(graph).values()) for _, graph in wings) + 1) * (BOX_H + GAP_Y) + 2 * PAD
    left, parts = float(PAD), []
    for title, graph in wings:
        drawn, width = _wing(title, graph, left, height)
        parts += drawn
        left += width + 3 * PAD
    head = (
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {left - 2 * PAD:.0f} {height:.0f}" '
        f'font-family="sans-serif" font-size="13" fill="{INK}">'
        f'<rect width="100%" height="100%" fill="{GROUND}"/>'
    )
    return "\n".join([head, *parts, "</svg>", ""])


def main() -> None:
    """Write the drawing."""
    FIGURE.write_text(drawing(), "utf-8")


if __name__ == "__main__":
    main()
