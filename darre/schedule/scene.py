"""What there is to schedule now, out of the records: jobs, dryers, people, prices."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import UTC, datetime, timedelta
from functools import cached_property

from darre.equipment.models import Dryer
from darre.equipment.records import core_dryer
from darre.inventory.selectors import home_changes, preferences, tariff_of, weeks
from darre.moisture.best import Workshop
from darre.moisture.lanes import Lane
from darre.runs.models import Run
from darre.schedule.apps import schedule_caches
from darre.schedule.models import Wish
from drying.cache import digest
from drying.dryers import Setup, home_windows, hours_from, mean_power_w
from drying.planning.schedule.calendar import prices
from drying.planning.schedule.problem import DryerSlots, Job, Problem
from drying.planning.schedule.ways import hours_together

COURSE_POINTS = 17
TAKEN_OUT_WITHIN_H = 168.0


@dataclass(frozen=True)
class Subject:
    """What a job is about: its spool, the wish for it, the run that it is in already, whether it comes to its aim or
    only nearer to it, and when it is wanted next.
    """

    lane: Lane
    wish: Wish | None = None
    run: Run | None = None
    reaches: bool = True
    due_at: datetime | None = None


@dataclass(frozen=True)
class Scene:
    """What there is to schedule from `start` on: a quarter of an hour, by the clock of the person's zone.

    `form`: how spools go in, empty: as they are. `subjects`: of each job, what it is about. `ready`: wishes of spools
    that are at their aim already; `nowhere`: of those that no dryer can do anything for; `due`: when each wish is to be
    met next, by its key.
    """

    now: datetime
    start: datetime
    here: Workshop
    form: str
    dryers: dict[str, Dryer]
    jobs: tuple[Job, ...]
    subjects: dict[str, Subject]
    ready: list[Wish]
    nowhere: list[Wish]
    due: dict[int, datetime | None]

    def problem(self, horizon_h: float) -> Problem:
        """All of it as the core takes it, so many hours ahead."""
        return Problem(
            horizon_h=horizon_h,
            at_home=home_windows(self.start, horizon_h + TAKEN_OUT_WITHIN_H, weeks(), home_changes(self.now)),
            dryers=tuple(self._slots(key, dryer) for key, dryer in self.dryers.items()),
            jobs=self.jobs,
            tariff=prices(self.start, horizon_h, tariff_of(preferences())),
        )

    def _slots(self, key: str, dryer: Dryer) -> DryerSlots:
        temps = [o.temp_c for job in self.jobs for o in job.options if o.dryer == key]
        power = mean_power_w(core_dryer(dryer), self.here.room.temp_c, max(temps)).value if temps else 0.0
        inside = sum(job.running and job.options[0].dryer == key for job in self.jobs)
        return DryerSlots(key, max(dryer.slots, inside), dryer.timer_max_h, round(power, 1))

    def setup(self, jobs: Sequence[str], dryer: str) -> Setup:
        """The spools of these jobs together in a dryer, the first as the one that is asked about."""
        lanes = [self.subjects[job].lane for job in jobs]
        return self.here.setup(lanes, self.dryers[dryer.removesuffix("+")], self.form)

    def hours_of(self, dryer: str, jobs: tuple[str, ...], temp_c: float) -> list[float | None]:
        """Hours that each of these takes beside the others."""
        setup = self.setup(jobs, dryer)
        return schedule_caches().hours.get((setup, temp_c), lambda: hours_together(setup, temp_c))

    def course(self, jobs: Sequence[str], dryer: str, temp_c: float, hours: float) -> list[float]:
        """How the first of these dries beside the others, % of dry mass at even times from start to end."""
        setup, times = self.setup(jobs, dryer), [hours * n / (COURSE_POINTS - 1) for n in range(COURSE_POINTS)]
        return schedule_caches().courses.get(
            (setup, temp_c, hours), lambda: [round(float(x), 4) for x in setup.courses(temp_c, times)[0]]
        )

    def at_h(self, moment: datetime) -> float:
        """A moment as hours from the start, on the minute."""
        return hours_from(self.start, moment)

    def moment(self, hours: float) -> datetime:
        """Hours from the start as a moment."""
        return (self.start.astimezone(UTC) + timedelta(hours=hours)).astimezone(self.start.tzinfo)

    @cached_property
    def fingerprint(self) -> str:
        """What an answer rests on: it changes where another answer might be right, not with every minute."""
        asked = []
        for job in self.jobs:
            subject = self.subjects[job.id]
            options = [replace(option, hours=1.0) if job.running else option for option in job.options]
            asked.append((job.id, options, str(subject.due_at), subject.wish and str(subject.wish.pinned_at)))
        dryers = [(key, d.slots, d.timer_max_h) for key, d in self.dryers.items()]
        return digest(repr((asked, weeks(), home_changes(self.now), dryers, tariff_of(preferences())))).hex()
