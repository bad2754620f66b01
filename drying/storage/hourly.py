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
_NEWTON_STEPS, _SETTLED = 60, 1e-12  # of activity; what water that leaves over is booked in the next hour


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


class RoomHours(NamedTuple):
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
_HOURS = record(RoomHours, Vector, CountVector, Matrix, CountMatrix, Matrix)
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


@compiled(several(Number, 2)(Number, Number, Number))
def _surface(linear: float, cubic: float, activity: float) -> tuple[float, float]:
    """The surface of a spool in air of an activity, and how it rises with that."""
    bent = cubic * activity * activity
    return (linear + bent) * activity, linear + 3.0 * bent


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


class Balance(NamedTuple):
    """Of each container in an hour: what is known before its air is, g; how its spools' shift of the start shows there;
    vapour in its air and what leaks in, g for a unit of activity; what its spools take up by its air, and how that
    rises; what is missing at this air, and how that rises; between which activities the one sought lies.
    """

    known: Array
    shift: Array
    store: Array
    leak: Array
    taken: Array
    taken_rises: Array
    missing: Array
    stiff: Array
    low: Array
    high: Array


_BALANCE = record(Balance, *[Vector] * 10)


@compiled(Nothing(_SPOOLS, _HOURS, _STEPS, CountVector, Count, Vector, Vector, _BALANCE))
def _takes_up(
    spools: Spools,
    hours: RoomHours,
    steps: Steps,
    place: Counts,
    degree: int,
    card: Array,
    activity: Array,
    balance: Balance,
) -> None:
    """Add what the spools in each container take up in an hour in air of its activity, beyond what they would in dry
    air, and how that rises. `card`: what that holds, %.
    """
    for n in range(place.size):
        b = place[n]
        if not 0 <= b < activity.size:
            continue
        surface, rise = _surface(spools.linear[n], spools.cubic[n], activity[b])
        answer = spools.grams[n] * steps.mean_gain[hours.degree_there[degree, b], n]
        balance.taken[b] += answer * surface
        balance.taken_rises[b] += answer * rise
        if spools.card_g[n]:
            damper, grams = hours.for_card[degree, b], spools.card_pace * spools.card_g[n]
            held, rise = _tabled(spools.card_pct[n], damper * activity[b])
            balance.taken[b] += grams * (held - card[n])
            balance.taken_rises[b] += grams * damper * rise


@compiled(Nothing(_SPOOLS, _BOXES, _HOURS, CountVector, Count, _STAND, Matrix, _BALANCE))
def _begin(
    spools: Spools, boxes: Boxes, hours: RoomHours, place: Counts, hour: int, stand: Stand, dry: Array,
    balance: Balance,
) -> None:  # fmt: skip
    """What is known before the air is. `dry`: the spools' means after an hour in dry air."""
    degree, count = hours.degree[hour], stand.activity.size
    for b in range(count):
        full, start = hours.full[degree, b], stand.activity[b]
        balance.store[b], balance.leak[b] = boxes.air_m3[b] * full, boxes.flow[b] * full
        held, _ = _tabled(boxes.desiccant_g[b], start)
        outside = hours.activity[hour] * hours.full[degree, count]
        balance.known[b] = -boxes.flow[b] * outside - stand.debt[b] - held - balance.store[b] * start
        balance.shift[b], balance.low[b], balance.high[b] = 0.0, -1.0, 2.0
    for n in range(place.size):
        b = place[n]
        if 0 <= b < count:
            balance.known[b] += spools.grams[n] * (dry[n, 0] - stand.mean[n, 0])
            balance.shift[b] += spools.grams[n] * (dry[n, 1] - stand.mean[n, 1])


@compiled(Nothing(_SPOOLS, _BOXES, _HOURS, _STEPS, CountVector, Count, _STAND, _BALANCE))
def _sought(
    spools: Spools, boxes: Boxes, hours: RoomHours, steps: Steps, place: Counts, hour: int, stand: Stand,
    balance: Balance,
) -> None:  # fmt: skip
    """The air after an hour, at which no water is missing, by Newton. What is missing rises with it, but in bends, at
    which Newton may go to and fro: it is kept between where too much was missing and where too little. Where there is
    no such air from 0 to 1, the end that is nearer.
    """
    activity = stand.activity
    for _ in range(_NEWTON_STEPS):
        balance.taken.fill(0.0)
        balance.taken_rises.fill(0.0)
        _takes_up(spools, hours, steps, place, hours.degree[hour], stand.card, activity, balance)
        settled = True
        for b in range(activity.size):
            held, rise = _tabled(boxes.desiccant_g[b], activity[b])
            vapour = (balance.store[b] + balance.leak[b]) * activity[b]
            balance.missing[b] = balance.known[b] + balance.taken[b] + vapour + held
            balance.stiff[b] = balance.taken_rises[b] + rise + balance.store[b] + balance.leak[b] + _LEAST_G
            if balance.missing[b] > 0.0:
                balance.high[b] = activity[b]
            else:
                balance.low[b] = activity[b]
            onward = activity[b] - balance.missing[b] / balance.stiff[b]
            if not balance.low[b] < onward < balance.high[b]:
                onward = (balance.low[b] + balance.high[b]) / 2.0
            onward = min(max(onward, 0.0), 1.0)
            if abs(onward - activity[b]) > _SETTLED:
                activity[b], settled = onward, False
        if settled:
            return


@compiled(Nothing(_SPOOLS, _BOXES, _HOURS, _STEPS, CountVector, Count, _STAND, Matrix, _BALANCE))
def _breathe(
    spools: Spools, boxes: Boxes, hours: RoomHours, steps: Steps, place: Counts, hour: int, stand: Stand, dry: Array,
    balance: Balance,
) -> None:  # fmt: skip
    """The containers' air after an hour, by the balance of their water."""
    _begin(spools, boxes, hours, place, hour, stand, dry, balance)
    _sought(spools, boxes, hours, steps, place, hour, stand, balance)
    for b in range(stand.activity.size):
        # What is left over came in or went out and stands in none of the others yet: it is booked in the next hour.
        stand.debt[b] = -balance.missing[b]
        _, rise = _tabled(boxes.desiccant_g[b], stand.activity[b])
        stand.answer[b] = ((rise + balance.store[b]) * stand.answer[b] - balance.shift[b]) / balance.stiff[b]
        if boxes.is_open[b]:
            full = hours.full[hours.degree[hour]]
            stand.activity[b] = min(hours.activity[hour] * full[stand.activity.size] / full[b], 1.0)
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
        surface, rise = _surface(linear[n], cubic[n], activity[n])
        outer, answered = 0.0, rise * answer[n]
        for g in range(GROUPS):
            for i in range(SIZE):
                now = after[n, g, i, 0] + gain[at[n], n, g, i] * surface
                outer += reader[n, g, i] * now
                x[n, g, i, 0], x[n, g, i, 1] = now, after[n, g, i, 1] + gain[at[n], n, g, i] * answered
        outer_mean[n] = outer
        mean[n, 0], mean[n, 1] = dry[n, 0] + mean_gain[at[n], n] * surface, dry[n, 1] + mean_gain[at[n], n] * answered


@compiled(Nothing(_SPOOLS, _BOXES, _HOURS, _STEPS, CountMatrix, _STAND, _FOUND))
def follow(
    spools: Spools, boxes: Boxes, hours: RoomHours, steps: Steps, place: Counts, stand: Stand, found: Found
) -> None:
    """Follow all through the hours; `place`: where each spool is, shape (hours, spools). Changes how they stand."""
    count, containers = place.shape[1], stand.activity.size
    dry, after = np.empty_like(stand.mean), np.empty_like(stand.x)
    work = np.empty((10, containers))
    balance = Balance(work[0], work[1], work[2], work[3], work[4], work[5], work[6], work[7], work[8], work[9])
    at, activity, answer = np.empty(count, dtype=np.int64), np.empty(count), np.empty(count)
    for hour in range(len(place)):
        degree = hours.degree[hour]
        for n in range(count):
            at[n] = hours.degree_there[degree, place[hour, n]] if place[hour, n] >= 0 else -1
        _in_dry_air(spools, steps.matrix, at, stand, dry, after)
        if containers:
            _breathe(spools, boxes, hours, steps, place[hour], hour, stand, dry, balance)
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
        for b in range(containers):
            found.activity[b, hour] = stand.activity[b]
