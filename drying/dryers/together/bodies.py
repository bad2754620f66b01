"""What lies in boxes side by side, what is around it, and where the water is, as compiled loops take it."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from drying.arrays import Array
from drying.compiled import Count, Cube, Hypercube, Matrix, Number, Vector, compiled, record
from drying.transport.wound import STAYS, Stays, one_of, water_in


class LinearWindings(NamedTuple):
    """Windings of Henry's law as amplitudes that decay each by itself (see `FreeAir`): at these rates, 1/s, to so much
    for each unit of the air's activity; and the water of each, kg. Shape (cases, amplitudes), box by box.
    """

    rate: Array
    at_rest: Array
    water: Array


class CubicWindings(NamedTuple):
    """Windings with a cubic isotherm, box by box, and the volume of each, m³, shape (cases,)."""

    stays: Stays
    volume: Array


class Coils(NamedTuple):
    """Strand that lies free: kg of it for each % of moisture (boxes, coils), isotherms (coils,), rates of its modes,
    1/s, (boxes, coils, modes), their weights and that of the rest, which follows the gas at once.
    """

    kg: Array
    k1: Array
    k3: Array
    rate: Array
    weights: Array
    rest: float


class Around(NamedTuple):
    """What else takes the water of a box's air: its exchange flow, kg an hour for a unit of activity, and the activity
    of what comes in, (boxes,); the desiccant's water, kg, at nodes of the activity, straight between them, (boxes,
    nodes): none where there is no desiccant.
    """

    flow: Array
    incoming: Array
    activity: Array
    held_kg: Array


class Company(NamedTuple):
    """All that lies in boxes side by side, and what is around it."""

    linear: LinearWindings
    cubic: CubicWindings
    coils: Coils
    around: Around


class Course(NamedTuple):
    """Where the water is at the beginning and after each step, the moments along the first axis: amplitudes; of the
    windings with a cubic isotherm what the slots between turns hold (see `Slots`), about the gas that follows from
    that, and strand; gas and strand of the coils; water in the desiccant, kg, and mean activity of the air in the step,
    (moments, boxes), the first a guess.
    """

    amplitudes: Array
    slot: Array
    gas: Array
    strand: Array
    coil_gas: Array
    coil_strand: Array
    held_kg: Array
    activity: Array


class Contents(NamedTuple):
    """The same of one box at one moment, but for desiccant and air."""

    amplitudes: Array
    slot: Array
    gas: Array
    strand: Array
    coil_gas: Array
    coil_strand: Array


LINEAR = record(LinearWindings, Matrix, Matrix, Matrix)
CUBIC = record(CubicWindings, STAYS, Vector)
COILS = record(Coils, Matrix, Vector, Vector, Cube, Vector, Number)
AROUND = record(Around, Vector, Vector, Matrix, Matrix)
COMPANY = record(Company, LINEAR, CUBIC, COILS, AROUND)
COURSE = record(Course, Cube, Cube, Cube, Hypercube, Cube, Hypercube, Matrix, Matrix)
CONTENTS = record(Contents, Matrix, Matrix, Matrix, Cube, Vector, Matrix)


@compiled(CONTENTS(COURSE, Count, Count))
def at(course: Course, moment: int, box: int) -> Contents:
    """What is inside a box, as views."""
    boxes = course.activity.shape[1]
    first, last = box * (course.slot.shape[1] // boxes), (box + 1) * (course.slot.shape[1] // boxes)
    each = course.amplitudes.shape[1] // boxes
    return Contents(
        course.amplitudes[moment][box * each : (box + 1) * each],
        course.slot[moment][first:last],
        course.gas[moment][first:last],
        course.strand[moment][first:last],
        course.coil_gas[moment][box],
        course.coil_strand[moment][box],
    )


@compiled(CONTENTS(CONTENTS))
def like(inside: Contents) -> Contents:
    """Room for as much."""
    return Contents(
        np.empty_like(inside.amplitudes), np.empty_like(inside.slot), np.empty_like(inside.gas),
        np.empty_like(inside.strand), np.empty_like(inside.coil_gas), np.empty_like(inside.coil_strand),
    )  # fmt: skip


@compiled(Number(Number, Number, Number))
def surface_of(k1: float, k3: float, activity: float) -> float:
    """What strand with this isotherm holds in equilibrium with air, % of dry mass."""
    return activity * (k1 + k3 * activity * activity)


@compiled(Number(COMPANY, Count, CONTENTS))
def water_kg(company: Company, box: int, inside: Contents) -> float:
    """All water in the bodies of a box."""
    water, linear, coils = 0.0, company.linear, company.coils
    for i in range(len(inside.amplitudes)):
        for a in range(inside.amplitudes.shape[1]):
            water += inside.amplitudes[i, a] * linear.water[box * len(inside.amplitudes) + i, a]
    for i in range(len(inside.slot)):
        case = box * len(inside.slot) + i
        each = water_in(one_of(company.cubic.stays, case), inside.slot[i], inside.strand[i])
        water += company.cubic.volume[case] * each
    for i in range(coils.k1.size):
        held = coils.rest * surface_of(coils.k1[i], coils.k3[i], inside.coil_gas[i])
        for m in range(coils.weights.size):
            held += coils.weights[m] * inside.coil_strand[i, m]
        water += coils.kg[box, i] * held
    return water
