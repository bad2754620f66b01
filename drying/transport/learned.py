"""What a run says of rate, floor and shape together, and what runs before say of the next: numbers over a grid."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from drying.arrays import Array

Cells = tuple[tuple[float, ...], ...]  # a row for each floor, a value for each shape

# Floors are told apart by the spread of the isotherm: so many of its standard deviations, as a log.
FLOOR_SIGMAS = np.linspace(-2.0, 2.0, 7)
COMPUTED = "computed"  # the shape as it is computed; what knows nothing of a shape takes it for this one
FIGURES = 7


def cells(of: Array) -> Cells:
    """An array as plain numbers, with as many figures as are worth storing."""
    return tuple(tuple(float(f"{x:.{FIGURES}g}") for x in row) for row in of)


def _at(known: Sequence[str], wanted: Sequence[str], *grids: Cells) -> tuple[Array, Array, Array]:
    columns = [known.index(shape) if shape in known else 0 for shape in wanted]
    one, two, three = (np.array(grid)[:, columns] for grid in grids)
    return one, two, three


@dataclass(frozen=True)
class Lesson:
    """What the weighings of a run by themselves say, for each floor and each shape by its name: the log of their chance
    is level + slope·r − curvature·r²/2 at the log rate r.
    """

    shapes: tuple[str, ...]
    level: Cells
    slope: Cells
    curvature: Cells

    def at(self, shapes: Sequence[str]) -> tuple[Array, Array, Array]:
        """Level, slope and curvature for other shapes, by their names; (floors, shapes) each."""
        return _at(self.shapes, shapes, self.level, self.slope, self.curvature)


@dataclass(frozen=True)
class RateCells:
    """What is known of a rate for each floor and each shape by its name: how much likelier the two have become (a log),
    and mean and standard deviation of the log rate there.
    """

    shapes: tuple[str, ...]
    level: Cells
    mean: Cells
    sd: Cells

    def at(self, shapes: Sequence[str]) -> tuple[Array, Array, Array]:
        """Level, mean and sd for other shapes, by their names; (floors, shapes) each."""
        return _at(self.shapes, shapes, self.level, self.mean, self.sd)
