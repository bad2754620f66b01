"""What would be made of a spool now: its set-up in each dryer, and the best run. The rack, a spool's page and the plan
all ask here, so that they say the same.
"""

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from datetime import datetime
from functools import cached_property

from darre.equipment.models import Dryer
from darre.equipment.records import core_dryer, dryers_in_service
from darre.inventory.material_book import MaterialBook
from darre.inventory.records import core_load
from darre.moisture.apps import best_runs, moisture_state
from darre.moisture.lanes import Lane
from darre.moisture.state import moment_of, state_of_records
from darre.places.selectors import room_now
from darre.runs.selectors import learned_rate, past_runs, share_of_strand
from drying.air import RoomAir
from drying.dryers import Dryer as CoreDryer
from drying.dryers import Setup, as_planned, room_as_planned
from drying.planning import BestRun, best_run_each
from drying.runs import PastRun


@dataclass(frozen=True)
class Heat:
    """The run that would be planned of a spool now: where, how hot, how long, where it ends (% of dry mass), and
    whether that is at its aim.
    """

    dryer: int
    dryer_name: str
    method: str
    temp_c: float
    duration_h: float
    reaches: bool
    end_pct: float


def _work_out(setups: Sequence[tuple[tuple[int, Setup], ...]]) -> list[list[BestRun | None]]:
    return [[best] for best in best_run_each([dict(of_dryers) for of_dryers in setups])]


@dataclass(frozen=True)
class Workshop:
    """What every set-up of this moment shares, read once: the dryers in service, what runs taught, the room's air.
    `cores`: dryers as the core takes them, by id, once a set-up has asked.
    """

    dryers: list[Dryer]
    past: list[PastRun]
    room: RoomAir
    cores: dict[int, CoreDryer] = field(default_factory=dict, compare=False, repr=False)

    @cached_property
    def _heats(self) -> dict[int, tuple[Lane, Heat | None]]:
        """What is planned for each spool, by id, with the lane that it is planned for. Workshops in which nothing
        differs share it: after most acts it is another spool's lane alone that is another.
        """
        dryers = tuple((dryer.pk, dryer.name, self._core(dryer)) for dryer in self.dryers)
        return moisture_state().heats.get((dryers, tuple(self.past), self.room), dict)

    def setup(self, lanes: Sequence[Lane], dryer: Dryer, form: str = "", aim_pct: float | None = None) -> Setup:
        """These spools, the one that is asked about first, in a dryer; `aim_pct` of that one where it is not its clean
        threshold.
        """
        loads = []
        for lane in lanes:
            share = share_of_strand(lane.spool, lane.material, form, lane.net_g)
            rate = learned_rate(lane.spool, dryer.pk, share, self.past)
            loads.append(as_planned(core_load(lane.spool, lane.material, lane.moisture, lane.net_g, form, rate)))
        loads[0] = replace(loads[0], aim=aim_pct)
        return Setup(tuple(loads), self._core(dryer), self.room)

    def _core(self, dryer: Dryer) -> CoreDryer:
        """A dryer as the core takes it, put together once for all set-ups; `dryer` may be one that is not stored."""
        if dryer not in self.dryers:
            return core_dryer(dryer)
        return self.cores.get(dryer.pk) or self.cores.setdefault(dryer.pk, core_dryer(dryer))

    def best(self, lanes: Sequence[Lane], form: str = "", aim_pct: float | None = None) -> BestRun | None:
        """The run that would be planned for these spools now; None where no dryer can do anything for them."""
        return self._best_each([lanes], form, aim_pct)[0]

    def _best_each(
        self, of_loads: Sequence[Sequence[Lane]], form: str = "", aim_pct: float | None = None
    ) -> list[BestRun | None]:
        """The best run of each of several loads; those that are not known yet are worked out side by side."""
        found: list[BestRun | None] = [None] * len(of_loads)
        asked = [n for n, lanes in enumerate(of_loads) if self.dryers and lanes[0].material.programmes]
        setups = [tuple((d.pk, self.setup(of_loads[n], d, form, aim_pct)) for d in self.dryers) for n in asked]
        for n, [best] in zip(asked, best_runs().get_each(setups, _work_out), strict=True):
            found[n] = best
        return found

    def heat_each(self, lanes: Sequence[Lane]) -> list[Heat | None]:
        """The best run for each of these spools by itself, as the rack and their pages tell it."""
        kept = self._heats
        known = {lane.spool.pk: kept.get(lane.spool.pk, (None, None)) for lane in lanes}
        fresh = [lane for lane in lanes if known[lane.spool.pk][0] is not lane]
        for lane, best in zip(fresh, self._best_each([[lane] for lane in fresh]), strict=True):
            known[lane.spool.pk] = kept[lane.spool.pk] = lane, None if best is None else self._heat(best)
        return [known[lane.spool.pk][1] for lane in lanes]

    def _heat(self, best: BestRun) -> Heat:
        name = next(dryer.name for dryer in self.dryers if dryer.pk == best.dryer)
        choice = best.choice
        return Heat(best.dryer, name, best.method, choice.temp_c, choice.duration_h, choice.reaches, best.end_pct)


def workshop(now: datetime, book: MaterialBook | None = None) -> Workshop:
    """The workshop as it stands now, read once for all who ask in the same state of the records; the materials are read
    where they are not given.
    """
    state = state_of_records(now)

    def read() -> Workshop:
        room = room_as_planned(room_now(moment_of(state, now)).air)
        return Workshop(list(dryers_in_service()), past_runs(book), room)

    return moisture_state().workshops.once(state, read)
