"""Spools and containers from hour to hour, see `balance`: compiled loops.

Water is in g, a spool's numbers and its surface as a share of what it holds for a unit of activity. Each spool is
somewhere in each hour: in a container, by its number; in the room, which is the place after the last container; or away
(under 0), where nothing changes.
"""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from drying.arrays import Array, Counts
from drying.compiled import (
    Count,
    CountMatrix,
    CountVector,
    Cube,
    Hypercube,
    Matrix,
    Nothing,
    Number,
    Vector,
    compiled,
    record,
    several,
)

GROUPS, SIZE = 7, 7  # of a spool's numbers, as in `reduced_modes`: of loops of known length the compiler makes more
_LEAST_G = 1e-9


class Spools(NamedTuple):
    """What stays: isotherms, share of the secant's unit per activity and per its cube; water for that unit; what the
    mean takes of each number, and the grams that are printed next (spools, groups, members); card: its dry mass in g
    for a %, what it holds at the activities of a grid, % (spools, activities), and the share of its way that it goes in
    an hour.
    """

    linear: Array
    cubic: Array
    grams: Array
    reader: Array
    next_reader: Array
    card_g: Array
    card_pct: Array
    card_pace: float


class Boxes(NamedTuple):
    """What stays: 1 where a container is open to the room; m³ of air that come in an hour, and that it holds; water in
    its desiccant at the activities of a grid (containers, activities).
    """

    is_open: Counts
    flow: Array
    air_m3: Array
    desiccant_g: Array


class Hours(NamedTuple):
    """The room: its activity, which whole degree of those given, by hour; water in saturated air in each place at each
    degree, g/m³; which degree it is there, and how many times as damp the air counts for card (degrees, places).
    """

    activity: Array
    degree: Counts
    full: Array
    degree_there: Counts
    for_card: Array


class Steps(NamedTuple):
    """What an hour does to each spool at each degree: to a departure from its air (degrees, spools, groups, members ×
    members), what it gives each number of the air's activity, and the mean.
    """

    matrix: Array
    gain: Array
    mean_gain: Array


class Stand(NamedTuple):
    """How all stand, which changes: the spools' numbers, in a second column how they answer to a shift of the start
    (spools, groups, members, 2), their means (spools, 2), what the grams that are printed next hold; what card holds,
    %; the containers' activity, what is not yet booked, and how the air answers to that shift.
    """

    x: Array
    mean: Array
    next: Array
    card: Array
    activity: Array
    debt: Array
    answer: Array


class Found(NamedTuple):
    """Of each hour's end: means, how they answer, what the next grams hold (spools, hours); activity (containers,
    hours).
    """

    mean: Array
    memory: Array
    next: Array
    activity: Array


_SPOOLS = record(Spools, Vector, Vector, Vector, Cube, Cube, Vector, Matrix, Number)
_BOXES = record(Boxes, CountVector, Vector, Vector, Matrix)
_HOURS = record(Hours, Vector, CountVector, Matrix, CountMatrix, Matrix)
_STEPS = record(Steps, Hypercube, Hypercube, Matrix)
_STAND = record(Stand, Hypercube, Matrix, Vector, Vector, Vector, Vector, Vector)
_FOUND = record(Found, Matrix, Matrix, Matrix, Matrix)


@compiled(several(Number, 2)(Vector, Number))
def _tabled(table: Array, activity: float) -> tuple[float, float]:
    """What is held at an activity by a table over an even grid, and how that rises."""
    scaled = min(max(activity, 0.0), 1.0) * (table.size - 1)
    low = min(int(scaled), table.size - 2)
    rise = table[low + 1] - table[low]
    return table[low] + (scaled - low) * rise, rise * (table.size - 1)


@compiled(several(Number, 2)(_SPOOLS, Count, Number))
def _surface(spools: Spools, n: int, activity: float) -> tuple[float, float]:
    """The surface of a spool in air of an activity, and how it rises with that."""
    bent = spools.cubic[n] * activity * activity
    return (spools.linear[n] + bent) * activity, spools.linear[n] + 3.0 * bent


@compiled(Nothing(_SPOOLS, Hypercube, CountVector, _STAND, Matrix, Hypercube))
def _in_dry_air(spools: Spools, matrix: Array, at: Counts, stand: Stand, dry: Array, after: Array) -> None:
    """Fills in what an hour in bone-dry air leaves of each spool's numbers and its means. `at`: degree of each, under
    0 where it is away.
    """
    x, reader = stand.x, spools.reader
    for n in range(at.size):
        if at[n] < 0:
            continue
        mean = answer = 0.0
        for g in range(GROUPS):
            for i in range(SIZE):
                one = other = 0.0
                for j in range(SIZE):
                    one += matrix[at[n], n, g, i * SIZE + j] * x[n, g, j, 0]
                    other += matrix[at[n], n, g, i * SIZE + j] * x[n, g, j, 1]
                after[n, g, i, 0], after[n, g, i, 1] = one, other
                mean += reader[n, g, i] * one
                answer += reader[n, g, i] * other
        dry[n, 0], dry[n, 1] = mean, answer


@compiled(Nothing(_SPOOLS, _HOURS, _STEPS, CountVector, Count, Vector, Vector, Matrix))
def _takes_up(
    spools: Spools, hours: Hours, steps: Steps, place: Counts, degree: int, card: Array, activity: Array, given: Array
) -> None:
    """Add what the spools in each container take up in an hour in air of its activity, beyond what they would in dry
    air, and how that rises: to the first two rows of `given`. `card`: what that holds, %.
    """
    for n in range(place.size):
        b = place[n]
        if not 0 <= b < activity.size:
            continue
        surface, rise = _surface(spools, n, activity[b])
        answer = spools.grams[n] * steps.mean_gain[hours.degree_there[degree, b], n]
        given[0, b] += answer * surface
        given[1, b] += answer * rise
        if spools.card_g[n]:
            damper, grams = hours.for_card[degree, b], spools.card_pace * spools.card_g[n]
            held, rise = _tabled(spools.card_pct[n], damper * activity[b])
            given[0, b] += grams * (held - card[n])
            given[1, b] += grams * damper * rise


@compiled(Nothing(_SPOOLS, _BOXES, _HOURS, _STEPS, CountVector, Count, _STAND, Matrix, Matrix))
def _breathe(
    spools: Spools, boxes: Boxes, hours: Hours, steps: Steps, place: Counts, hour: int, stand: Stand, dry: Array,
    given: Array,
) -> None:  # fmt: skip
    """The containers' air after an hour: the balance of their water, by one step of Newton's. `dry`: the spools' means
    after an hour in dry air; `given`: work space, (6, containers).
    """
    degree, count = hours.degree[hour], stand.activity.size
    given.fill(0.0)
    for n in range(place.size):
        if 0 <= place[n] < count:
            for k in range(2):
                given[2 + k, place[n]] += spools.grams[n] * (dry[n, k] - stand.mean[n, k])
    _takes_up(spools, hours, steps, place, degree, stand.card, stand.activity, given)
    for b in range(count):
        full, outside = hours.full[degree, b], hours.activity[hour] * hours.full[degree, count]
        leak, store, start = boxes.flow[b] * full, boxes.air_m3[b] * full, stand.activity[b]
        before, rise = _tabled(boxes.desiccant_g[b], start)
        by_itself = given[2, b] - boxes.flow[b] * outside - stand.debt[b]
        missing, stiff = by_itself + given[0, b] + leak * start, given[1, b] + leak + _LEAST_G
        stand.activity[b] = min(max(start - missing / (stiff + rise + store), 0.0), 1.0)
        held, rise = _tabled(boxes.desiccant_g[b], stand.activity[b])
        gone_in = held - before + store * (stand.activity[b] - start)
        given[2, b] = by_itself + leak * stand.activity[b] + gone_in
        given[4, b], given[5, b] = leak + _LEAST_G, rise + store
        given[0, b] = given[1, b] = 0.0
    _takes_up(spools, hours, steps, place, degree, stand.card, stand.activity, given)
    for b in range(count):
        # What is left over came in or went out and stands in none of the three yet: it is booked in the next hour.
        stand.debt[b] = -(given[2, b] + given[0, b])
        stiff = given[1, b] + given[4, b] + given[5, b]
        stand.answer[b] = (given[5, b] * stand.answer[b] - given[3, b]) / stiff
        if boxes.is_open[b]:
            outside = hours.activity[hour] * hours.full[degree, count]
            stand.activity[b] = min(outside / hours.full[degree, b], 1.0)
            stand.debt[b] = stand.answer[b] = 0.0


@compiled(Nothing(_SPOOLS, _STEPS, CountVector, Vector, Vector, _STAND, Matrix, Hypercube))
def _met(
    spools: Spools, steps: Steps, at: Counts, activity: Array, answer: Array, stand: Stand, dry: Array, after: Array
) -> None:
    """The spools after an hour in air of an activity, which answers to a shift of their start, from what dry air would
    have left of them.
    """
    x, mean, outer_mean, gain, mean_gain = stand.x, stand.mean, stand.next, steps.gain, steps.mean_gain
    linear, cubic, reader = spools.linear, spools.cubic, spools.next_reader
    for n in range(at.size):
        if at[n] < 0:
            continue
        bent = cubic[n] * activity[n] * activity[n]
        surface, rise = (linear[n] + bent) * activity[n], (linear[n] + 3.0 * bent) * answer[n]
        outer = 0.0
        for g in range(GROUPS):
            for i in range(SIZE):
                now = after[n, g, i, 0] + gain[at[n], n, g, i] * surface
                outer += reader[n, g, i] * now
                x[n, g, i, 0], x[n, g, i, 1] = now, after[n, g, i, 1] + gain[at[n], n, g, i] * rise
        outer_mean[n] = outer
        mean[n, 0], mean[n, 1] = dry[n, 0] + mean_gain[at[n], n] * surface, dry[n, 1] + mean_gain[at[n], n] * rise


@compiled(Nothing(_SPOOLS, _BOXES, _HOURS, _STEPS, CountMatrix, _STAND, _FOUND))
def follow(spools: Spools, boxes: Boxes, hours: Hours, steps: Steps, place: Counts, stand: Stand, found: Found) -> None:
    """Follow all through the hours; `place`: where each spool is, shape (hours, spools). Changes how they stand."""
    count, containers = place.shape[1], stand.activity.size
    dry, given, after = np.empty_like(stand.mean), np.empty((6, containers)), np.empty_like(stand.x)
    at, activity, answer = np.empty(count, dtype=np.int64), np.empty(count), np.empty(count)
    for hour in range(len(place)):
        degree = hours.degree[hour]
        for n in range(count):
            at[n] = hours.degree_there[degree, place[hour, n]] if place[hour, n] >= 0 else -1
        _in_dry_air(spools, steps.matrix, at, stand, dry, after)
        if containers:
            _breathe(spools, boxes, hours, steps, place[hour], hour, stand, dry, given)
        for n in range(count):
            there = place[hour, n]
            if 0 <= there < containers:
                activity[n], answer[n] = stand.activity[there], stand.answer[there]
            else:
                activity[n], answer[n] = hours.activity[hour], 0.0
            if there >= 0 and spools.card_g[n]:
                held, _ = _tabled(spools.card_pct[n], hours.for_card[degree, there] * activity[n])
                stand.card[n] += spools.card_pace * (held - stand.card[n])
        _met(spools, steps, at, activity, answer, stand, dry, after)
        for n in range(count):
            found.mean[n, hour], found.memory[n, hour] = stand.mean[n, 0], stand.mean[n, 1]
            found.next[n, hour] = stand.next[n]
        found.activity[:, hour] = stand.activity
