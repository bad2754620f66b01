"""Spools and containers hour by hour: what a place lets in, what desiccant takes up, what the spools hand over.

A container's air is one unknown in each hour, found from the balance of its water:

    dry·d(mean)/dt of every spool in it + d(card)/dt + d(desiccant)/dt + V·dC/dt = K·(C_room - C_in)

K is the ingress as an exchange of air, m³/day (area × transmission rate ÷ difference of concentration gives the same).
Desiccant is taken to follow the air within the hour. Spools move by the groups of `groups`. By Henry's law and within
one straight piece of the desiccant's curve an hour is exact; what the linearised step leaves over is carried into the
next, so that no water is made or lost.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from drying.air import vapour_concentration_g_m3
from drying.arrays import Array
from drying.cache import Cache
from drying.storage.card import CardBody, Cards, warmth_factor
from drying.storage.container import AWAY, Container
from drying.storage.desiccant import GRID, WaterTables, desiccant
from drying.transport import GROUPS, SIZE, Filament, Secant, hour_matrices, next_share, outer_reader, shape_of

_LEAST_G = 1e-9


@dataclass(frozen=True, slots=True)  # many thousands are kept
class Inside:
    """How a container stands: activity of its air (0..1), water in g that is not yet booked, and how the air answers
    to a shift of where its spools started.
    """

    activity: float
    debt_g: float = 0.0
    answer: float = 0.0


@dataclass(frozen=True, slots=True)  # many thousands are kept
class StoredSpool:
    """A spool in keeping. `pct`: its groups as moistures, with a second column for how they answer to a shift of the
    start; shape (groups, members, 2). `dry_g`: mass of the dry strand, g. `body`: its empty spool, where that holds
    water itself.
    """

    filament: Filament
    dry_g: float
    taken: Secant
    pct: Array
    body: CardBody | None = None

    @property
    def next_reader(self) -> Array:
        """What the moisture of the grams that are printed next takes of each number, shape (groups, members)."""
        return outer_reader(self.filament, next_share(self.dry_g))


@dataclass(frozen=True)
class Hours:
    """The room in each hour: °C and activity (0..1)."""

    temp_c: Array
    activity: Array


@dataclass(frozen=True)
class Followed:
    """What came of a stretch: means and answers of each spool, what its next grams hold, and air of each container at
    the end of each hour, and where they and the bodies of the spools stand at its end.
    """

    moisture_pct: Array
    next_pct: Array
    memory: Array
    activity: Array
    kept: list[Array]
    bodies: list[CardBody | None]
    inside: list[Inside]


def _along(parts: Sequence[Array], shape: tuple[int, ...]) -> Array:
    """Arrays of one shape side by side along a new last axis; there may be none."""
    return np.ascontiguousarray(np.stack(parts, axis=-1)) if parts else np.zeros((*shape, 0))


class _Step:
    """One hour for all spools at once: the parts that do not change from hour to hour. Spools run along the last axis,
    (members, members, groups, spools), which is several times quicker than many small matrices.
    """

    def __init__(self, spools: Sequence[StoredSpool], like: _Step | None = None) -> None:
        self.filaments, self.taken = [s.filament for s in spools], [s.taken for s in spools]
        self.slope = np.array([t.slope for t in self.taken])
        self.k1 = np.array([b.material.k1.value for b in self.filaments])
        self.k3 = np.array([b.material.k3.value for b in self.filaments])
        self.linear, self.cubic = self.k1 / self.slope, self.k3 / self.slope
        self.reader = _along([shape_of(b).reader.T for b in self.filaments], (SIZE, GROUPS))
        self._at: dict[int, tuple[Array, Array, Array]] = {}
        if like is not None:
            changed = [n for n, taken in enumerate(self.taken) if taken != like.taken[n]]
            known = like._at.copy()  # another thread may add to it meanwhile
            self._at = {degree: self._changed(degree, parts, changed) for degree, parts in known.items()}

    def at(self, degree: int) -> tuple[Array, Array, Array]:
        """Matrices at a degree, what they give to the air's activity, and the mean's answer to it."""
        found = self._at.get(degree)
        if found is None:
            each = [self._matrix(n, degree) for n in range(len(self.filaments))]
            found = self._at[degree] = self._parts(_along(each, (SIZE, SIZE, GROUPS)))
        return found

    def _matrix(self, n: int, degree: int) -> Array:
        return hour_matrices(self.filaments[n], self.taken[n], degree).transpose(1, 2, 0)

    def _parts(self, matrices: Array) -> tuple[Array, Array, Array]:
        gain = 1.0 - matrices.sum(axis=1)
        return matrices, gain, np.einsum("egs,egs->s", self.reader, gain)

    def _changed(
        self, degree: int, parts: tuple[Array, Array, Array], changed: list[int]
    ) -> tuple[Array, Array, Array]:
        if not changed:
            return parts
        matrices = parts[0].copy()
        for n in changed:
            matrices[..., n] = self._matrix(n, degree)
        return self._parts(matrices)

    def mean(self, x: Array) -> Array:
        """Means of the two columns, shape (2, spools)."""
        return np.asarray(np.einsum("egs,kegs->ks", self.reader, x))

    def target(self, activity: Array) -> Array:
        """The surface as a share of the secant, and its slope, shape (2, spools)."""
        bent, found = self.cubic * activity * activity, np.empty((2, activity.size))
        found[0], found[1] = (self.linear + bent) * activity, self.linear + 3.0 * bent
        return found


HourSteps = Cache[_Step]
"""Prepared hours by the spools they are for; whoever simulates many stretches owns one and hands it in."""


def _step(spools: Sequence[StoredSpool], steps: HourSteps) -> _Step:
    """The step of these spools. A step of the same windings is reused where only secants have changed."""
    # A material is one object for each set of values, so the object itself can stand in the key.
    key = tuple((s.filament.winding, s.filament.strand_diameter_mm, s.filament.material) for s in spools)
    like = steps.peek(key)
    if like is not None and like.taken == [s.taken for s in spools]:
        return like
    step = _Step(spools, like)
    steps.put(key, step)
    return step


def _within(activity: Array) -> Array:
    return np.asarray(np.minimum(np.maximum(activity, 0.0), 1.0))


class _Boxes:
    """The containers' own balance, all at once."""

    def __init__(self, containers: Sequence[Container], inside: Sequence[Inside]) -> None:
        self.open = np.array([c.ingress_m3_day is None for c in containers])
        self.flow = np.array([(c.ingress_m3_day or 0.0) / 24.0 for c in containers])  # m³/h
        self.air_m3 = np.array([c.air_l / 1000.0 for c in containers])
        self.warm = np.array([c.warm_c for c in containers])
        fills = [c.fill for c in containers]
        self.table = np.zeros((len(containers), GRID.size))  # g of water
        for row, fill in enumerate(fills):
            if fill:
                self.table[row] = desiccant(fill.kind).table * fill.dry_g / 100.0
        self.rows = np.arange(len(containers))
        self.desiccant = WaterTables(self.table)  # water, g, and its slope
        self.warmed = np.flatnonzero(self.warm)
        self._full: dict[int, Array] = {}
        self.some_open = bool(self.open.any())
        self.activity = np.array([i.activity for i in inside])
        self.stored = self.desiccant.at(self.activity)  # in the desiccant, and how it rises with the activity
        self.debt = np.array([i.debt_g for i in inside])
        self.answer = np.array([i.answer for i in inside])

    def stand(self) -> list[Inside]:
        """How each stands now."""
        now = zip(self.activity.tolist(), self.debt.tolist(), self.answer.tolist(), strict=True)
        return [Inside(*each) for each in now]

    def full(self, degree: int, saturated: float) -> Array:
        """Water in saturated air of each container in a room of this degree, g/m³."""
        found = self._full.get(degree)
        if found is None:
            found = self._full[degree] = np.full(self.rows.size, saturated)
            for n in self.warmed:
                found[n] = vapour_concentration_g_m3(degree + float(self.warm[n]), 100.0)
        return found


class _Layout:
    """Who is where in an hour: members of each container, and each spool's container and its extra warmth."""

    def __init__(self, here: Array, boxes: _Boxes) -> None:
        self.member = np.asarray(here[:, None] == boxes.rows[None, :], dtype=np.float64)  # (spools, containers)
        self.away, self.boxed = here == AWAY, here >= 0
        self.some_away = bool(self.away.any())
        self.box_of = np.where(self.boxed, here, 0)
        some = boxes.rows.size > 0
        self.warm = np.where(self.boxed, boxes.warm[self.box_of], 0.0) if some else np.zeros(here.size)
        self.some_warm = bool(self.warm.any())
        self._factors: dict[int, Array] = {}

    def card_factor(self, degree: int) -> Array:
        """How many times as damp the air of each spool counts for its card, by its warmth."""
        found = self._factors.get(degree)
        if found is None:
            found = self._factors[degree] = np.array([warmth_factor(degree + warm) for warm in self.warm.tolist()])
        return found

    def of_each(self, of_box: Array, else_value: float) -> Array:
        """A container's value for each spool in one, else the given."""
        if of_box.size == 0:
            return np.full(self.boxed.size, else_value)
        return np.where(self.boxed, of_box[self.box_of], else_value)


def _matrices(step: _Step, layout: _Layout, degree: int) -> tuple[Array, Array, Array]:
    """The hour's matrices, warmer for those in a warm box."""
    found = step.at(degree)
    if not layout.some_warm:
        return found
    matrices, gain, mean_gain = (part.copy() for part in found)
    for n in np.flatnonzero(layout.warm):
        warmer = step.at(degree + round(float(layout.warm[n])))
        matrices[..., n], gain[..., n], mean_gain[n] = warmer[0][..., n], warmer[1][..., n], warmer[2][n]
    return matrices, gain, mean_gain


def follow_hours(
    spools: Sequence[StoredSpool],
    where: Array,
    containers: Sequence[Container],
    inside: Sequence[Inside],
    hours: Hours,
    steps: HourSteps | None = None,
) -> Followed:
    """Follow spools and containers through the hours of a room.

    `where`: for each spool and hour the index of its container, OPEN or AWAY; shape (spools, hours). `steps`: prepared
    hours of earlier calls, to be reused.
    """
    count, span = where.shape
    step, boxes = _step(spools, HourSteps(1) if steps is None else steps), _Boxes(containers, inside)
    grams = np.array([s.dry_g for s in spools]) * step.slope / 100.0  # of water, for a unit of activity
    x = _along([s.pct.transpose(2, 1, 0) for s in spools], (2, SIZE, GROUPS)) / step.slope
    found = _Written(count, span, len(containers))
    cards = Cards([s.body for s in spools])
    before, moved = step.mean(x), np.empty((2, count))
    moves = {0, *(1 + np.flatnonzero((where[:, 1:] != where[:, :-1]).any(axis=0))).tolist()}
    for hour, room in enumerate(_room_hours(hours)):
        if hour in moves:
            layout = _Layout(where[:, hour], boxes)
            surface = step.target(layout.of_each(boxes.activity, room.activity))
        matrices, gain, mean_gain = _matrices(step, layout, room.degree)
        y = np.einsum("ijgs,kjgs->kigs", matrices, x)
        kept = step.mean(y)
        surface = _breathe(boxes, step, layout, _Means(grams, kept, before, mean_gain), room, cards, surface)
        if cards.some:
            met = layout.of_each(boxes.activity, room.activity)
            cards.follow(met * layout.card_factor(room.degree), layout.away)
        moved[0], moved[1] = surface[0], surface[1] * layout.of_each(boxes.answer, 0.0)
        y += gain * moved[:, None, None, :]
        after = kept + mean_gain * moved
        if layout.some_away:
            y, after = np.where(layout.away, x, y), np.where(layout.away, before, after)
        x, before = y, after
        found.means[hour], found.groups[hour], found.air[hour] = before, x[0], boxes.activity
    stand = list((x * step.slope).transpose(3, 2, 1, 0))
    moisture, memory = (found.means * step.slope).transpose(1, 2, 0)
    return Followed(moisture, found.next_pct(spools, step), memory, found.air.T, stand, cards.stand(), boxes.stand())


class _Written:
    """What is recorded hour by hour: the means of each spool and their answers, its groups, each container's air."""

    def __init__(self, spools: int, span: int, containers: int) -> None:
        self.means, self.groups = np.empty((span, 2, spools)), np.empty((span, SIZE, GROUPS, spools))
        self.air = np.empty((span, containers))

    def next_pct(self, spools: Sequence[StoredSpool], step: _Step) -> Array:
        """What the next grams of each spool held in each hour, % of dry mass."""
        reader = _along([s.next_reader.T for s in spools], (SIZE, GROUPS))
        return np.asarray(np.einsum("egs,hegs->sh", reader, self.groups) * step.slope[:, None])


@dataclass(frozen=True)
class _Means:
    """Each spool's water in g for a unit, its means after the hour in bone-dry air and before it, and what the air's
    activity adds.
    """

    grams: Array
    kept: Array
    before: Array
    gain: Array


@dataclass(frozen=True)
class _RoomHour:
    """The room in an hour: activity, water in saturated air there (g/m³), whole degree."""

    activity: float
    saturated: float
    degree: int


def _room_hours(hours: Hours) -> list[_RoomHour]:
    degrees = np.rint(hours.temp_c).astype(int).tolist()
    saturated = {degree: vapour_concentration_g_m3(float(degree), 100.0) for degree in set(degrees)}
    rooms = zip(hours.activity.tolist(), degrees, strict=True)
    return [_RoomHour(activity, saturated[degree], degree) for activity, degree in rooms]


def _breathe(
    boxes: _Boxes, step: _Step, layout: _Layout, means: _Means, room: _RoomHour, cards: Cards, before: Array
) -> Array:
    """The containers' air after one hour: the balance of their water, by one step of Newton's from the hour before.
    `before`: the spools' surfaces then, and how they rise; returns those after it.
    """
    if not boxes.rows.size:
        return step.target(layout.of_each(boxes.activity, room.activity))
    full, outside, member = boxes.full(room.degree, room.saturated), room.activity * room.saturated, layout.member
    leak, store, start = boxes.flow * full, boxes.air_m3 * full, boxes.activity
    by_itself, shift = np.dot(means.grams * (means.kept - means.before), member)
    given = by_itself - boxes.flow * outside - boxes.debt
    answer = means.grams * means.gain

    def short(surface: Array, activity: Array) -> tuple[Array, Array]:
        """Water in the spools and what leaks in, g, that does not come from what is stored, and how it rises."""
        into, rises = np.dot(answer * surface, member)
        missing, rises = given + into + leak * activity, rises + leak + _LEAST_G
        if cards.some:
            factor = layout.card_factor(room.degree)
            taken_up, card_slope = cards.taken_up(factor * activity[layout.box_of])
            missing, rises = missing + np.dot(taken_up, member), rises + np.dot(factor * card_slope, member)
        return missing, rises

    held_before, rise = boxes.stored
    missing, stiff = short(before, start)
    activity = _within(start - missing / (stiff + rise + store))
    held, rise = boxes.stored = boxes.desiccant.at(activity)
    boxes.activity = np.where(boxes.open, np.minimum(outside / full, 1.0), activity) if boxes.some_open else activity
    after = step.target(layout.of_each(boxes.activity, room.activity))
    missing, stiff = short(after, activity)
    missing, stiff = missing + held - held_before + store * (activity - start), stiff + rise + store
    # What is left over came in or went out and stands in none of the three yet: it is booked in the next hour.
    boxes.debt, boxes.answer = -missing, ((rise + store) * boxes.answer - shift) / stiff
    if boxes.some_open:
        boxes.debt, boxes.answer = np.where(boxes.open, 0.0, boxes.debt), np.where(boxes.open, 0.0, boxes.answer)
    return after
