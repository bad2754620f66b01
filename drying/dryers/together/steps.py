"""Bodies in boxes side by side, step after step, while the air of each box is sought along with them: compiled.

At the end of a step the air stands where its water balances: what windings and coils give off, the exchange flow
carries away or the desiccant takes up. By Henry's law a winding answers to its air in proportion, exactly in time; what
has a cubic isotherm takes backward Euler steps by Newton. Each step is taken once whole and once in halves, and
extrapolated (Richardson): second order in time. Water is extrapolated, not activity: the two are not proportional, and
it is water that must be kept.
"""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np

from drying.arrays import Array
from drying.compiled import GONE, Count, Flag, Matrix, Nothing, Number, Vector, compiled, record, several
from drying.dryers.together.bodies import (
    AROUND,
    COILS,
    COMPANY,
    CONTENTS,
    COURSE,
    CUBIC,
    LINEAR,
    Around,
    Coils,
    Company,
    Contents,
    Course,
    CubicWindings,
    LinearWindings,
    at,
    like,
    surface_of,
    water_kg,
)
from drying.transport.euler import after, beside_air, stride_of
from drying.transport.wound import one_of

# Newton converges quadratically: a last move under the tolerance leaves its square, so that where a search begins does
# not show. Water is balanced on its own.
_NEWTON_STEPS, _NEWTON_TOLERANCE = 40, 1e-3
_BALANCED = 1e-6  # a last move of the activity where no winding has a cubic isotherm


class Tried(NamedTuple):
    """What is inside after a step taken whole, and in the middle and at the end of its halves."""

    whole: Contents
    middle: Contents
    end: Contents


class BoxStep(NamedTuple):
    """A step of a box, whole or half: which box, its hours, and the share of amplitudes that dry air leaves in it."""

    box: int
    hours: float
    left: Array


class Sought(NamedTuple):
    """Working space: how amplitudes answer to a unit of activity, (cases, amplitudes); the nodes of the others within
    were the air dry, and how much more they are for a unit of it, the last move of their gas, (cases, nodes).
    """

    answer: Array
    dry: Array
    unit: Array
    move: Array


_TRIED = record(Tried, CONTENTS, CONTENTS, CONTENTS)
_STEP = record(BoxStep, Count, Number, Matrix)
_SOUGHT = record(Sought, *[Matrix] * 4)


@compiled(Number(AROUND, Count, Number, Number, Number))
def _room_for(around: Around, box: int, held_kg: float, given: float, less: float) -> float:
    """The activity at which desiccant that holds so much has room for what is given to dry air, kg, and less for each
    unit of it, the flow's among both; where there is none, the activity at which nothing is left over. From 0 to 1:
    over saturation no winding takes up more.
    """
    nodes, level = around.activity[box], held_kg + given
    if not nodes.size:
        return float(min(max(given / less, 0.0), 1.0))
    low, high = 0, nodes.size - 1
    while high - low > 1:
        middle = (low + high) // 2
        if around.held_kg[box, middle] + less * nodes[middle] < level:
            low = middle
        else:
            high = middle
    under = around.held_kg[box, low] + less * nodes[low]
    over = around.held_kg[box, high] + less * nodes[high]
    share = (level - under) / (over - under if over > under else 1.0)
    return float(min(max(nodes[low] + share * (nodes[high] - nodes[low]), 0.0), 1.0))


@compiled(Nothing(LINEAR, Count, Number, Matrix, Matrix))
def _leave(linear: LinearWindings, box: int, hours: float, whole: Array, half: Array) -> None:
    """Fills in the share of amplitudes that dry air leaves in a step of so many hours, and in half of it."""
    for i in range(len(half)):
        for a in range(half.shape[1]):
            decays = linear.rate[box * len(half) + i, a] * 1800.0 * hours
            half[i, a] = math.exp(decays) if decays > -GONE else 0.0
            whole[i, a] = half[i, a] * half[i, a]


@compiled(several(Number, 2)(LINEAR, _STEP, Matrix, Matrix, Matrix))
def _in_dry_air(linear: LinearWindings, step: BoxStep, now: Array, then: Array, answer: Array) -> tuple[float, float]:
    """Fills in what dry air leaves of amplitudes, and what a unit of activity adds; what they give to dry air, kg, and
    how much less for each unit.
    """
    given = less = 0.0
    for i in range(len(now)):
        case = step.box * len(now) + i
        for a in range(now.shape[1]):
            left = step.left[i, a]
            then[i, a], answer[i, a] = now[i, a] * left, linear.at_rest[case, a] * (1.0 - left)
            given += linear.water[case, a] * (now[i, a] - then[i, a])
            less += linear.water[case, a] * answer[i, a]
    return given, less


@compiled(several(Number, 2)(COILS, Count, Number, Vector, Matrix, Number))
def _coils_give(
    coils: Coils, box: int, seconds: float, gas: Array, strand: Array, activity: float
) -> tuple[float, float]:
    """What coils give to dry air in a step, kg, and how much less for each unit of activity, by the tangent."""
    given = less = 0.0
    for i in range(gas.size):
        held, kept, unit = coils.rest * surface_of(coils.k1[i], coils.k3[i], gas[i]), 0.0, coils.rest
        for m in range(coils.weights.size):
            left = math.exp(-seconds * coils.rate[box, i, m])
            held += coils.weights[m] * strand[i, m]
            kept += coils.weights[m] * strand[i, m] * left
            unit += coils.weights[m] * (1.0 - left)
        slope = coils.k1[i] + 3.0 * coils.k3[i] * activity * activity
        surface = surface_of(coils.k1[i], coils.k3[i], activity)
        given += coils.kg[box, i] * (held - kept - unit * (surface - slope * activity))
        less += coils.kg[box, i] * unit * slope
    return given, less


@compiled(several(Number, 2)(CUBIC, Count, Number, CONTENTS, Matrix, _SOUGHT))
def _windings_give(
    cubic: CubicWindings, box: int, seconds: float, now: Contents, gas: Array, sought: Sought
) -> tuple[float, float]:
    """The same of windings with a cubic isotherm from a guess of their gas, whose last node is the air; fills in what
    their nodes come to. Not a number where that cannot be solved.
    """
    given, less, its = 0.0, 0.0, np.empty(2)
    for i in range(len(gas)):
        case = box * len(gas) + i
        winding = one_of(cubic.stays, case)
        stride = stride_of(winding, seconds)
        dry, unit = sought.dry[i], sought.unit[i]
        if not beside_air(winding, stride, now.slot[i], now.strand[i], gas[i], dry, unit, its):
            return np.nan, np.nan
        given += cubic.volume[case] * (its[0] + its[1] * gas[i, -1])
        less += cubic.volume[case] * its[1]
    return given, less


@compiled(Number(Matrix, _SOUGHT, Number))
def _moved(gas: Array, sought: Sought, activity: float) -> float:
    """Bring the gas of windings to what they come to beside air of an activity; by how much at most."""
    most, nodes = 0.0, gas.shape[1] - 1
    for i in range(len(gas)):
        for n in range(nodes + 1):
            onward = sought.dry[i, n] + sought.unit[i, n] * activity if n < nodes else activity
            sought.move[i, n] = onward - gas[i, n]
            gas[i, n], most = onward, max(most, abs(sought.move[i, n]))
    return most


@compiled(Number(COMPANY, _STEP, Number, CONTENTS, CONTENTS, Number, _SOUGHT))
def _air_sought(
    company: Company, step: BoxStep, held_kg: float, now: Contents, then: Contents, guess: float, sought: Sought
) -> float:
    """The activity at the end of a step at which all water balances, by Newton from guesses of it and of the windings'
    gas on, which is brought along; amplitudes are left as dry air would leave them. Not a number where there is none.
    """
    around, box, seconds, activity = company.around, step.box, 3600.0 * step.hours, guess
    still, still_less = _in_dry_air(company.linear, step, now.amplitudes, then.amplitudes, sought.answer)
    still += around.flow[box] * step.hours * around.incoming[box]
    still_less += around.flow[box] * step.hours
    for i in range(len(then.gas)):
        then.gas[i, -1] = activity
    for _ in range(_NEWTON_STEPS):
        given, less = _windings_give(company.cubic, box, seconds, now, then.gas, sought)
        of_coils, less_of_coils = _coils_give(company.coils, box, seconds, now.coil_gas, now.coil_strand, activity)
        if math.isnan(given):
            return given
        given, less, before = still + given + of_coils, still_less + less + less_of_coils, activity
        activity = _room_for(around, box, held_kg, given, less)
        most = _moved(then.gas, sought, activity)
        if (len(then.gas) and most < _NEWTON_TOLERANCE) or (not len(then.gas) and abs(activity - before) < _BALANCED):
            break
    return activity


@compiled(Number(COMPANY, _STEP, Number, CONTENTS, CONTENTS, Number, _SOUGHT))
def _euler(
    company: Company, step: BoxStep, held_kg: float, now: Contents, then: Contents, guess: float, sought: Sought
) -> float:
    """Fills in what is inside after one step, from a guess of the gas there, and the activity of its air."""
    activity, coils = _air_sought(company, step, held_kg, now, then, guess, sought), company.coils
    seconds, box = 3600.0 * step.hours, step.box
    for i in range(len(now.amplitudes)):
        for a in range(now.amplitudes.shape[1]):
            then.amplitudes[i, a] += sought.answer[i, a] * activity
    for i in range(len(now.slot)):
        winding = one_of(company.cubic.stays, box * len(now.slot) + i)
        stride = stride_of(winding, seconds)
        after(winding, stride, then.gas[i], sought.move[i], now.strand[i], then.slot[i], then.strand[i])
    for i in range(now.coil_gas.size):
        then.coil_gas[i], surface = activity, surface_of(coils.k1[i], coils.k3[i], activity)
        for m in range(coils.weights.size):
            left = math.exp(-seconds * coils.rate[box, i, m])
            then.coil_strand[i, m] = surface + (now.coil_strand[i, m] - surface) * left
    return activity


@compiled(Number(COMPANY, _STEP, Number, CONTENTS, CONTENTS, Number))
def _held_after(
    company: Company, step: BoxStep, held_kg: float, now: Contents, then: Contents, activity: float
) -> float:
    """What the desiccant holds after a step: counted by the water that came, so none is made or lost."""
    came = water_kg(company, step.box, now) - water_kg(company, step.box, then)
    came -= company.around.flow[step.box] * step.hours * (activity - company.around.incoming[step.box])
    return float(max(held_kg + came, 0.0))


@compiled(Nothing(CONTENTS, _TRIED))
def _extrapolate(then: Contents, tried: Tried) -> None:
    """Fills in twice what the halves come to, less what the whole step does."""
    whole, end = tried.whole, tried.end
    for i in range(len(then.amplitudes)):
        for a in range(then.amplitudes.shape[1]):
            then.amplitudes[i, a] = 2.0 * end.amplitudes[i, a] - whole.amplitudes[i, a]
    for i in range(len(then.slot)):
        for n in range(then.slot.shape[1]):
            then.slot[i, n] = 2.0 * end.slot[i, n] - whole.slot[i, n]
            then.gas[i, n] = 2.0 * end.gas[i, n] - whole.gas[i, n]
            for m in range(then.strand.shape[2]):
                then.strand[i, n, m] = 2.0 * end.strand[i, n, m] - whole.strand[i, n, m]
    for i in range(then.coil_gas.size):
        then.coil_gas[i] = 2.0 * end.coil_gas[i] - whole.coil_gas[i]
        for m in range(then.coil_strand.shape[1]):
            then.coil_strand[i, m] = 2.0 * end.coil_strand[i, m] - whole.coil_strand[i, m]


@compiled(Nothing(Matrix, Matrix, Matrix, Number))
def _onward(found: Array, before: Array, last: Array, ahead: float) -> None:
    """Where numbers are likely to be after they went from one to the next, so many times as far on; 0 to 1."""
    for i in range(len(found)):
        for n in range(found.shape[1]):
            found[i, n] = min(max(last[i, n] + ahead * (last[i, n] - before[i, n]), 0.0), 1.0)


@compiled(Number(COURSE, Count, Count, CONTENTS))
def _guess(course: Course, moment: int, box: int, then: Contents) -> float:
    """Fills in what the gas of windings is likely to be at a moment, and the activity of the air in the step to it:
    steps grow evenly in the logarithm of time.
    """
    last = at(course, moment - 1, box)
    known, far = moment >= 3, course.activity[moment - 1, box]
    before = at(course, moment - 2, box) if known else last
    _onward(then.gas, before.gas, last.gas, 1.0 if known else 0.0)
    return float(min(max(2.0 * far - course.activity[moment - 2, box], 0.0), 1.0)) if known else far


@compiled(Number(COMPANY, Count, Count, Number, COURSE, _TRIED, _SOUGHT))
def _step(company: Company, box: int, moment: int, hours: float, course: Course, tried: Tried, sought: Sought) -> float:
    """Fills in what is inside a box and its desiccant after one more step; the mean activity of its air, not a number
    where there is none.
    """
    whole, middle, end = tried.whole, tried.middle, tried.end
    now, then, held_kg = at(course, moment - 1, box), at(course, moment, box), course.held_kg[moment - 1, box]
    step = BoxStep(box, hours, np.empty_like(now.amplitudes))
    half = BoxStep(box, hours / 2.0, np.empty_like(now.amplitudes))
    _leave(company.linear, box, hours, step.left, half.left)
    guess = _guess(course, moment, box, whole)
    first = _euler(company, step, held_kg, now, whole, guess, sought)
    _onward(middle.gas, now.gas, whole.gas, -0.5)
    second = _euler(company, half, held_kg, now, middle, first, sought)
    half_kg = _held_after(company, half, held_kg, now, middle, second)
    _onward(end.gas, whole.gas, whole.gas, 0.0)
    third = _euler(company, half, half_kg, middle, end, first, sought)
    if math.isnan(first + second + third):
        return np.nan
    _extrapolate(then, tried)
    met = min(max(second + third - first, 0.0), 1.0)
    course.held_kg[moment, box] = _held_after(company, step, held_kg, now, then, met)
    return met


@compiled(Flag(COMPANY, Vector, COURSE))
def follow(company: Company, steps_h: Array, course: Course) -> bool:
    """Fills in what all boxes come to after the last moments, one after each of these steps, from those before on.
    False where they could not be solved.
    """
    size, known = company.cubic.stays.sought, len(course.activity) - steps_h.size
    for box in range(course.activity.shape[1]):
        one = at(course, 0, box)
        tried = Tried(like(one), like(one), like(one))
        sought = Sought(
            np.empty_like(one.amplitudes), np.empty((len(one.gas), size)), np.empty((len(one.gas), size)),
            np.empty_like(one.gas),
        )  # fmt: skip
        for n in range(steps_h.size):
            met = _step(company, box, known + n, steps_h[n], course, tried, sought)
            if math.isnan(met):
                return False
            course.activity[known + n, box] = met
    return True
