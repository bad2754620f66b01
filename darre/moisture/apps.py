"""The app's own state: one simulator of moisture histories for the whole process."""

import threading
from typing import TYPE_CHECKING, cast

from django.apps import AppConfig, apps

from darre.common.memory import GivingBack
from darre.moisture.desk import Desk
from drying.arrays import Array
from drying.cache import Cache
from drying.moisture import MoistureSimulator
from drying.planning import BestRun

if TYPE_CHECKING:
    from darre.moisture.best import Heat, Workshop
    from darre.moisture.lanes import KeptLane, Lane, SimulatedShelf
    from darre.moisture.rack import Traced
    from darre.moisture.shelf import Shelf
    from darre.moisture.what_ifs import Outcome


MOST_LANES = 600  # each with its trace takes some 20 kB
ANSWER_BYTES = 16_000_000  # a rack of 150 spools takes a quarter of a megabyte, and every move makes another


class MoistureConfig(AppConfig):
    """Owns the simulator, which remembers what it computed; the best runs and their courses, what would become of a
    spool, and how long it would dry beside desiccant, by what they were found for; workshop, shelves and whole answers
    by the state of the records that they were read from; lanes, their traces and the best run of each by what these
    stand on. Nothing in it is a record: it may be lost at any time.

    `turn` is held by whoever simulates a shelf, `desk` by whoever works out a whole answer. One after the other is
    faster than all at once: the next finds what the one before it computed, and threads of one interpreter that work
    side by side are all done only at the very end, while devices that deliver readings wait among them.
    """

    name = "darre.moisture"

    def ready(self) -> None:
        self.simulator = MoistureSimulator()
        self.best_runs: Cache[list[BestRun | None]] = Cache(2000)
        self.heat_courses: Cache[Array] = Cache(500)
        self.hours_to_dry: Cache[tuple[float | None]] = Cache(2000)
        self.outcomes: Cache[list[Outcome]] = Cache(1000)
        self.turn, self.desk = threading.Lock(), Desk()
        self.giving_back = GivingBack()
        self.forget()

    def forget(self) -> None:
        """Drop the shelves and answers that were kept."""
        self.shelves: Cache[SimulatedShelf] = Cache(2)
        self.read: Cache[Shelf] = Cache(1)
        self.workshops: Cache[Workshop] = Cache(1)
        self.lanes: Cache[KeptLane] = Cache(MOST_LANES)
        self.heats: Cache[dict[int, tuple[Lane, Heat | None]]] = Cache(1)
        self.traces: Cache[tuple[bytes, Traced]] = Cache(MOST_LANES)
        self.answers: Cache[bytes] = Cache(ANSWER_BYTES, len)


def moisture_state() -> MoistureConfig:
    """What the process keeps of moisture."""
    return cast(MoistureConfig, apps.get_app_config("moisture"))


def simulator() -> MoistureSimulator:
    """The process's simulator of moisture histories."""
    return moisture_state().simulator


def best_runs() -> Cache[list[BestRun | None]]:
    """The process's best runs, each in a list, by the set-ups that it was chosen from."""
    return moisture_state().best_runs
