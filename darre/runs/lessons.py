"""What a run taught, and what it had been taught before it began: the core's grids as they are stored with it."""

import json
from collections.abc import Mapping
from dataclasses import asdict
from typing import Any

from darre.runs.apps import run_caches
from darre.runs.models import Run
from drying.cache import digest
from drying.runs import warming_by
from drying.transport import Lesson, Rate, RateCells
from drying.transport.learned import Cells


def _cells(raw: object) -> Cells:
    if not isinstance(raw, list):
        raise TypeError("A grid is a list of rows.")
    return tuple(tuple(float(value) for value in row) for row in raw)


_Grids = tuple[tuple[str, ...], Cells, Cells, Cells]


def _grids(raw: Mapping[str, Any], *names: str) -> _Grids | None:
    """The shapes and the grids of these names; None where they are not there, or cannot be read."""
    try:
        one, two, three = (_cells(raw[name]) for name in names)
        return tuple(str(shape) for shape in raw["shapes"]), one, two, three
    except (KeyError, TypeError, ValueError):
        return None


def stored_lesson(lesson: Lesson) -> dict[str, Any]:
    """A lesson as it is stored, with what it says of warming through, which is asked for far more often."""
    return {**asdict(lesson), "warming": warming_by(lesson)}


def stored_cells(rate: Rate) -> dict[str, Any]:
    """What was known of floor and shape with a rate, as it is stored; empty where nothing was."""
    return {} if rate.cells is None else asdict(rate.cells)


def lesson_of(raw: Mapping[str, Any]) -> Lesson | None:
    """A stored lesson; None where there is none, or one that cannot be read."""
    grids = _grids(raw, "level", "slope", "curvature")
    return None if grids is None else Lesson(*grids)


def warming_of(raw: Mapping[str, Any]) -> tuple[float, float]:
    """What a stored lesson says of warming through; nothing where there is none."""
    try:
        faster, slower = (float(value) for value in raw["warming"])
    except (KeyError, TypeError, ValueError):
        return 0.0, 0.0
    return faster, slower


def read_lesson(text: str) -> tuple[Lesson | None, tuple[float, float]]:
    """A stored lesson and what it says of warming through, read from its record once: each act asks for those of all
    ended runs.
    """

    def read() -> tuple[Lesson | None, tuple[float, float]]:
        raw = json.loads(text)
        return lesson_of(raw), warming_of(raw)

    return run_caches().lessons.get(digest(text), read)


def rate_then(run: Run) -> Rate:
    """What was known of a run's rate before it began."""
    grids = _grids(run.rate_cells, "level", "mean", "sd")
    return Rate(run.rate_median, run.rate_sigma, None if grids is None else RateCells(*grids))
