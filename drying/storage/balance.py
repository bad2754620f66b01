"""Spools and containers hour by hour: what a place lets in, what desiccant takes up, what the spools hand over.

A container's air is one unknown in each hour, found from the balance of its water:

    dry·d(mean)/dt of every spool in it + d(card)/dt + d(desiccant)/dt + V·dC/dt = K·(C_room - C_in)

K is the ingress as an exchange of air, m³/day (area × transmission rate ÷ difference of concentration gives the same).
Desiccant is taken to follow the air within the hour. Spools move by the groups of `reduced_modes`, by Henry's law
exactly in air that stays. The air of an hour is that at which no water is missing; where none from 0 to 1 is, what is
left over is carried into the next, so that no water is made or lost. The loops are in `hourly`.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING

import numpy as np

from drying.air import saturated_kg_m3
from drying.arrays import Array
from drying.cache import Cache
from drying.storage.card import PACE, CardBody, card_table, warmth_factor
from drying.storage.container import AWAY, OPEN, Container
from drying.storage.desiccant import GRID, desiccant
from drying.transport import GROUPS, SIZE, Filament, Secant, hour_matrices, next_share, outer_reader, shape_of

if TYPE_CHECKING:  # compiled loops, which are loaded where something is followed
    from drying.storage import hourly


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


class _Step:
    """What an hour does to some spools at each whole degree."""

    def __init__(self, spools: Sequence[StoredSpool], like: _Step | None = None) -> None:
        self.filaments, self.taken = [s.filament for s in spools], [s.taken for s in spools]
        self.reader = np.array([shape_of(b).reader for b in self.filaments]).reshape(-1, GROUPS, SIZE)
        self._at: dict[int, Array] = {}
        if like is not None:
            changed = [n for n, taken in enumerate(self.taken) if taken != like.taken[n]]
            known = like._at.copy()  # another thread may add to it meanwhile
            self._at = {degree: self._changed(degree, matrices, changed) for degree, matrices in known.items()}

    def at(self, degrees: Sequence[int]) -> hourly.Steps:
        """What an hour does at these degrees."""
        from drying.storage import hourly

        matrices = np.array([self._matrices(degree) for degree in degrees])
        gain = 1.0 - matrices.sum(axis=-1)
        mean_gain = np.einsum("ngi,dngi->dn", self.reader, gain)
        return hourly.Steps(matrices.reshape(*matrices.shape[:-2], SIZE * SIZE), gain, mean_gain)

    def _matrices(self, degree: int) -> Array:
        found = self._at.get(degree)
        if found is None:
            each = [hour_matrices(*of, degree) for of in zip(self.filaments, self.taken, strict=True)]
            found = self._at[degree] = np.array(each).reshape(*self.reader.shape, SIZE)
        return found

    def _changed(self, degree: int, matrices: Array, changed: list[int]) -> Array:
        if not changed:
            return matrices
        found = matrices.copy()
        for n in changed:
            found[n] = hour_matrices(self.filaments[n], self.taken[n], degree)
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


def _spools(spools: Sequence[StoredSpool], slope: Array, reader: Array) -> hourly.Spools:
    from drying.storage import hourly

    isotherms = np.array([(s.filament.material.k1.value, s.filament.material.k3.value) for s in spools]).reshape(-1, 2)
    linear, cubic = np.ascontiguousarray(isotherms.T) / slope
    card_pct = np.zeros((len(spools), GRID.size))
    for row, spool in enumerate(spools):
        if spool.body is not None:
            card_pct[row] = card_table(spool.body.kind)
    return hourly.Spools(
        linear=linear,
        cubic=cubic,
        grams=np.array([s.dry_g for s in spools]) * slope / 100.0,
        reader=reader,
        next_reader=np.array([s.next_reader for s in spools]).reshape(reader.shape),
        card_g=np.array([0.0 if s.body is None else s.body.mass_g / 100.0 for s in spools]),
        card_pct=card_pct,
        card_pace=PACE,
    )


def _boxes(containers: Sequence[Container]) -> hourly.Boxes:
    from drying.storage import hourly

    table = np.zeros((len(containers), GRID.size))
    for row, container in enumerate(containers):
        if container.fill:
            table[row] = desiccant(container.fill.kind).table * container.fill.dry_g / 100.0
    return hourly.Boxes(
        is_open=np.array([c.ingress_m3_day is None for c in containers], dtype=np.int64),
        flow=np.array([(c.ingress_m3_day or 0.0) / 24.0 for c in containers]),
        air_m3=np.array([c.air_l / 1000.0 for c in containers]),
        desiccant_g=table,
    )


def _hours(hours: Hours, containers: Sequence[Container]) -> tuple[hourly.RoomHours, list[int]]:
    """The room by hour, and the whole degrees that are met, those of the room first."""
    from drying.storage import hourly

    by_hour = np.rint(hours.temp_c).astype(np.int64)
    rooms, degree = np.unique(by_hour, return_inverse=True)
    warmer = [*(container.warm_c for container in containers), 0.0]
    there = rooms[:, None] + np.rint(warmer).astype(np.int64)
    degrees = list(dict.fromkeys([*rooms.tolist(), *there.ravel().tolist()]))
    place = {met: n for n, met in enumerate(degrees)}
    exact = [[room + warm for warm in warmer] for room in rooms.tolist()]
    found = hourly.RoomHours(
        activity=np.ascontiguousarray(hours.activity, dtype=np.float64),
        degree=degree.astype(np.int64),
        full=1000.0 * np.array([[saturated_kg_m3(temp_c) for temp_c in row] for row in exact]),
        degree_there=np.array([[place[met] for met in row] for row in there.tolist()], dtype=np.int64),
        for_card=np.array([[warmth_factor(temp_c) for temp_c in row] for row in exact]),
    )
    return found, degrees


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
    from drying.storage import hourly

    step = _step(spools, HourSteps(1) if steps is None else steps)
    slope = np.array([taken.slope for taken in step.taken])
    kept, (by_hour, degrees) = _spools(spools, slope, step.reader), _hours(hours, containers)
    x = np.array([s.pct for s in spools]).reshape(-1, GROUPS, SIZE, 2) / slope[:, None, None, None]
    air = np.array([(i.activity, i.debt_g, i.answer) for i in inside]).reshape(-1, 3).T.copy()
    card = np.array([0.0 if s.body is None else s.body.held_pct for s in spools])
    means = np.einsum("ngi,ngik->nk", step.reader, x)
    stand = hourly.Stand(x, means, np.einsum("ngi,ngi->n", kept.next_reader, x[..., 0]), card, *air)
    mean, memory, outer = np.empty((3, *where.shape))
    activity = np.empty((len(containers), where.shape[1]))
    place = np.where(where == OPEN, len(containers), np.where(where == AWAY, -1, where)).astype(np.int64)
    hourly.follow(
        kept, _boxes(containers), by_hour, step.at(degrees), np.ascontiguousarray(place.T), stand,
        hourly.Found(mean, memory, outer, activity),
    )  # fmt: skip
    return Followed(
        mean * slope[:, None],
        outer * slope[:, None],
        memory * slope[:, None],
        activity,
        list(x * slope[:, None, None, None]),
        [s.body and replace(s.body, held_pct=held) for s, held in zip(spools, card.tolist(), strict=True)],
        [Inside(*of) for of in air.T.tolist()],
    )
