"""Who simulates moisture histories and remembers them, so that the same question is cheap the next time."""

from __future__ import annotations

import threading
from collections import deque
from collections.abc import Sequence

from drying.cache import Cache
from drying.moisture.block import ComputedBlock
from drying.moisture.events import ContainerEvents, SpoolEvents
from drying.moisture.histories import MoistureHistories, Room
from drying.moisture.history import Simulation, first_difference
from drying.storage import HourSteps

# Of computed blocks: 150 spools of a year take about 32 MB, and each move some more. A simulation that goes on from the
# one before it has no need of the older ones.
MOST_BYTES = 40_000_000


class MoistureSimulator:
    """Simulates moisture histories and remembers what it computed, so that the same question is cheap the next time.

    Whoever asks often owns one. It keeps blocks by a digest of everything they came from, and the last few simulations
    that will be asked for again, from which the next one goes on at the first hour that differs. Bounded; safe between
    threads.
    """

    def __init__(self, most_bytes: int = MOST_BYTES, recent: int = 4) -> None:
        self._blocks: Cache[ComputedBlock] = Cache(most_bytes, lambda block: block.weight)
        self._steps = HourSteps(32)
        self._recent: deque[Simulation] = deque(maxlen=recent)
        self._lock = threading.Lock()

    def simulate(
        self,
        spools: Sequence[SpoolEvents],
        boxes: Sequence[ContainerEvents],
        room: Room,
        shown: int | None = None,
        *,
        again: bool = False,
        until: int | None = None,
    ) -> MoistureHistories:
        """Follow spools and containers through all hours of the room's air.

        Values are given from the block of hour `shown` on, from the beginning where it is None. Between
        stays a spool counts as standing open in the room. Before its first known moisture its history is NaN. `again`:
        these will be asked for again when something has changed; the next then goes on from where that begins.
        `until`: only as far as the block of this hour, the rest when `further` is asked for.
        """
        first = room.first if shown is None else shown
        with self._lock:
            recent = list(self._recent)
        simulation = Simulation(spools, boxes, room, first, self._blocks, self._steps, recent)
        same = next((other for other in recent if simulation.is_same(other)), None)
        if same is not None:
            return same.go_on(until)
        likes = [other for other in recent if other.is_alike(simulation)]
        like = max(likes, key=lambda other: (first_difference(other, simulation), other.shown), default=None)
        histories = simulation.simulate_all(like, until)
        if again:
            with self._lock:
                if like is not None and like.reach == simulation.reach and like in self._recent:
                    self._recent.remove(like)  # what goes on from it takes its place
                self._recent.append(simulation)
        return histories

    def computed(self, most_bytes: int) -> Computed:
        """What the next simulations can go on from: the last of each reach, and the blocks that were asked for last."""
        blocks, room = [], most_bytes
        for key, block in reversed(self._blocks.items()):
            room -= block.weight
            if room < 0:
                break
            blocks.append((key, block))
        with self._lock:
            last = {each.reach: each.to_go_on_from() for each in self._recent}
        return blocks[::-1], list(last.values())

    def take_computed(self, computed: Computed) -> None:
        """Go on from what another simulator had computed by the same code."""
        for key, block in computed[0]:
            self._blocks.put(key, block)
        with self._lock:
            self._recent.extend(each.taken_over(self._blocks, self._steps) for each in computed[1])


Computed = tuple[list[tuple[object, ComputedBlock]], list[Simulation]]
