"""Wishes and running runs as jobs, with the ways in which each can be had."""

import math
import zoneinfo
from collections.abc import Collection, Mapping, Sequence
from datetime import datetime, timedelta
from functools import partial

from django.db.models import Max

from darre.equipment.models import Dryer
from darre.inventory.material_book import material_book
from darre.inventory.selectors import preferences
from darre.moisture.best import Workshop, workshop
from darre.moisture.lanes import Lane, lanes
from darre.runs.models import Run
from darre.runs.records import hours_between, planned, runs_with_weighings, temp_now_c
from darre.runs.selectors import judge_run
from darre.schedule.apps import schedule_caches
from darre.schedule.due import KEPT_AHEAD, clean_until, due_at
from darre.schedule.models import Wish
from darre.schedule.scene import Scene, Subject
from drying.dryers import DryerKind, hours_from
from drying.planning.schedule.problem import Job, Option
from drying.planning.schedule.ways import Way, own_way_each, watched_h, ways

GRID_MIN = 15  # starts are given to the quarter of an hour


def next_quarter(now: datetime) -> datetime:
    """The next quarter of an hour: what is to start now starts then."""
    passed = timedelta(minutes=now.minute % GRID_MIN, seconds=now.second, microseconds=now.microsecond)
    return now - passed + timedelta(minutes=GRID_MIN) if passed else now


def scene(now: datetime, zone: str, form: str = "") -> Scene:
    """All that there is to schedule, by the clock of a zone; `form`: how spools go in, as they are where it is not
    said.
    """
    start = next_quarter(now).astimezone(zoneinfo.ZoneInfo(zone))
    wishes = {w.spool_id: w for w in Wish.objects.select_related("spool", "pinned_dryer", "start")}
    running = {r.spool_id: r for r in runs_with_weighings().filter(ended_at__isnull=True, coil__isnull=True)}
    here = workshop(now)
    dryers = {str(d.pk): d for d in here.dryers} | {str(r.batch.dryer_id): r.batch.dryer for r in running.values()}
    found = _Jobs(here, dryers, start, form)
    found.read_due(wishes.values(), now)
    asked = sorted(lanes(now, only=[*wishes, *running]), key=lambda lane: lane.spool.pk)
    found.read_ways([lane for lane in asked if lane.spool.pk not in running and _is_above_aim(lane)])
    for lane in asked:
        found.take(lane, wishes.get(lane.spool.pk), running.get(lane.spool.pk), now)
    jobs = tuple(found.running) + tuple(found.to_start())
    return Scene(now, start, here, form, dryers, jobs, found.subjects, found.ready, found.nowhere, found.due)


def _is_above_aim(lane: Lane) -> bool:
    return lane.moisture.value > lane.material.aim_pct


class _Jobs:
    """Jobs as they are found: running ones at once, the others when all are known that they may go together with."""

    def __init__(self, here: Workshop, dryers: Mapping[str, Dryer], start: datetime, form: str) -> None:
        self.here, self.dryers, self.start, self.form = here, dryers, start, form
        self.running: list[Job] = []
        self.subjects: dict[str, Subject] = {}
        self.ready: list[Wish] = []
        self.nowhere: list[Wish] = []
        self.due: dict[int, datetime | None] = {}
        self.watch_first_h = preferences().watch_first_h
        self._ways: dict[int, dict[str, Way]] = {}
        self._own: dict[str, dict[str, Way]] = {}
        self._tried = set(Run.objects.filter(ended_at__isnull=False).values_list("spool__material", "batch__dryer_id"))

    def read_due(self, wishes: Collection[Wish], now: datetime) -> None:
        """When each wish is to be met next."""
        repeated = [wish.spool_id for wish in wishes if wish.every_days]
        ended = (
            Run.objects.filter(spool__in=repeated, coil=None, ended_at__isnull=False)
            if repeated
            else Run.objects.none()
        )
        dried = dict(ended.values_list("spool").annotate(Max("ended_at")))
        clean = clean_until(now) if any(wish.keep_clean for wish in wishes) else {}
        for wish in wishes:
            zone = self.start.tzinfo
            assert zone is not None
            met = clean.get(wish.spool_id) if wish.keep_clean else due_at(wish, dried.get(wish.spool_id), now, zone)
            self.due[wish.pk] = met

    def read_ways(self, wanted: Sequence[Lane]) -> None:
        """What each dryer would do for each of these spools on its own; all are worked out side by side."""
        asked = [(lane, str(dryer.pk)) for lane in wanted for dryer in self.here.dryers]
        setups = [self.here.setup([lane], self.dryers[key], self.form) for lane, key in asked]
        for (lane, key), way in zip(asked, own_way_each(setups), strict=True):
            if way is not None:
                self._ways.setdefault(lane.spool.pk, {})[key] = way

    def take(self, lane: Lane, wish: Wish | None, run: Run | None, now: datetime) -> None:
        """Take in a spool that is wanted, or in a dryer already."""
        if run is not None:
            self.running.append(self._of_run(run, lane, wish, now))
        elif wish is not None and (not _is_above_aim(lane) or self._stays_clean(lane, wish, now)):
            self.ready.append(wish)
        elif wish is not None:
            self._wanted(lane, wish)

    def _stays_clean(self, lane: Lane, wish: Wish, now: datetime) -> bool:
        """Whether a spool that is to be kept clean can wait."""
        until = self.due.get(wish.pk)
        if not wish.keep_clean or lane.moisture_level != "clean":
            return False
        return until is None or until > now + KEPT_AHEAD

    def _of_run(self, run: Run, lane: Lane, wish: Wish | None, now: datetime) -> Job:
        """A run that goes, with the hours that it has left: as its weighings tell, else as planned."""
        verdict = judge_run(run, material_book(), now)
        left = planned(run, now).end_h - hours_between(run.started_at, now)
        if verdict.told and verdict.to_aim.p50 is not None:
            left = verdict.to_aim.p50
        job = f"run {run.pk}"
        self.subjects[job] = Subject(lane, wish, run, due_at=self._due(wish))
        option = Option(str(run.batch.dryer_id), temp_now_c(run.batch), _up_to_quarter_h(left))
        return Job(job, (option,), self._ready_by_h(wish), running=True)

    def _wanted(self, lane: Lane, wish: Wish) -> None:
        own = self._ways.get(lane.spool.pk, {})
        if any(way.reaches for way in own.values()):
            own = {key: way for key, way in own.items() if way.reaches}
        if not own:
            self.nowhere.append(wish)
            return
        job = f"wish {wish.pk}"
        self._own[job] = own
        reaches = all(way.reaches for way in own.values())
        self.subjects[job] = Subject(lane, wish, reaches=reaches, due_at=self._due(wish))

    def to_start(self) -> list[Job]:
        """The jobs that are to be started, with every way in which each can be had."""
        temps = {key: {way.temp_c for own in self._own.values() if (way := own.get(key))} for key in self.dryers}
        for job in self.running:
            temps[job.options[0].dryer].add(job.options[0].temp_c)
        return [self._to_start(job, own, temps) for job, own in self._own.items()]

    def _to_start(self, job: str, own: Mapping[str, Way], temps: Mapping[str, set[float]]) -> Job:
        lane, wish = self.subjects[job].lane, self.subjects[job].wish
        options = []
        for key, way in own.items():
            dryer = self.dryers[key]
            setup, others = self.here.setup([lane], dryer, self.form), sorted(temps[key] if dryer.slots > 1 else ())
            found = schedule_caches().ways.get((setup, tuple(others)), partial(ways, setup, way, others))
            tried = (lane.spool.material, dryer.pk) in self._tried
            options += [Option(key, w.temp_c, w.hours, self._watched_h(dryer, w.hours, tried=tried)) for w in found]
        pinned_h = None
        if wish is not None and wish.pinned_at is not None:
            options = [o for o in options if o.dryer == str(wish.pinned_dryer_id)] or options
            pinned_h = max(hours_between(self.start, wish.pinned_at), 0.0)
        return Job(job, tuple(options), self._ready_by_h(wish), pinned_h)

    def _watched_h(self, dryer: Dryer, hours: float, *, tried: bool) -> float:
        return watched_h(DryerKind(dryer.kind), hours, tried, self.watch_first_h)

    def _due(self, wish: Wish | None) -> datetime | None:
        return None if wish is None else self.due.get(wish.pk)

    def _ready_by_h(self, wish: Wish | None) -> float | None:
        due = self._due(wish)
        return None if due is None else max(hours_from(self.start, due), 0.0)


def _up_to_quarter_h(hours: float) -> float:
    """Hours up to the next quarter, at least one."""
    return max(math.ceil(4.0 * hours - 1e-3), 1) / 4.0
