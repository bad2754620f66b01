"""What is known of spools and containers through the weeks: facts at whole hours, counted from 1970 in UTC."""

from __future__ import annotations

from dataclasses import dataclass

from drying.errors import OutOfRangeError
from drying.storage.balance import OPEN, Container, Fill
from drying.transport.state import Body
from drying.weighing.scale import Quantity


@dataclass(frozen=True)
class Known:
    """From this hour on the moisture is known by itself (a typed value, a new spool, a run's end), % of dry mass."""

    hour: int
    moisture: Quantity


@dataclass(frozen=True)
class Weighed:
    """The whole spool on a scale: gross mass in g with standard uncertainty."""

    hour: int
    gross: Quantity


@dataclass(frozen=True)
class Used:
    """Strand that was printed, g with standard uncertainty."""

    hour: int
    mass: Quantity


@dataclass(frozen=True)
class Stayed:
    """A stay, from hour to hour (None: it goes on), in a container by its index, or OPEN."""

    since: int
    until: int | None
    place: int = OPEN


@dataclass(frozen=True)
class SpoolStory:
    """A spool: what its water moves in, mass of the dry strand in g, and its facts in order of time. `away`: hours in
    runs, from and to. `body_sd_g`: what its own body's water may do to a weighing, g.
    """

    body: Body
    dry_g: float
    known: tuple[Known, ...]
    weighed: tuple[Weighed, ...] = ()
    used: tuple[Used, ...] = ()
    stays: tuple[Stayed, ...] = ()
    away: tuple[tuple[int, int], ...] = ()
    body_sd_g: float = 0.0

    def __post_init__(self) -> None:
        for facts in (self.known, self.weighed, self.used):
            hours = [fact.hour for fact in facts]
            if hours != sorted(hours):
                raise OutOfRangeError("story", "The facts of a story must stand in order of time.")


@dataclass(frozen=True)
class Filled:
    """Desiccant was put in (None: taken out), holding `load_pct` of its dry mass in water."""

    hour: int
    fill: Fill | None
    load_pct: float = 0.0


@dataclass(frozen=True)
class ContainerStory:
    """A container and what was put into it. Its air begins as the room's."""

    container: Container
    since: int
    fills: tuple[Filled, ...] = ()
