"""The app's own state: what was computed for schedules, kept by what it was computed from."""

from threading import Lock
from typing import cast

from django.apps import AppConfig, apps

from drying.cache import Cache
from drying.planning.schedule import Answer
from drying.planning.schedule.ways import Way


class Stops:
    """How often somebody said stop: what began before that is not kept."""

    def __init__(self) -> None:
        self._lock, self._said = Lock(), 0

    @property
    def said(self) -> int:
        return self._said

    def stop(self) -> None:
        """Have what is being worked out come to nothing."""
        with self._lock:
            self._said += 1


class ScheduleConfig(AppConfig):
    """Owns what was computed for schedules. Nothing in it is a record: it may be lost at any time."""

    name = "darre.schedule"

    def ready(self) -> None:
        self.ways: Cache[list[Way]] = Cache(1000)
        self.hours: Cache[list[float | None]] = Cache(1000)
        self.courses: Cache[list[float]] = Cache(500)
        self.answers: Cache[Answer] = Cache(50)
        self.stops = Stops()


def schedule_caches() -> ScheduleConfig:
    """What the process computed for schedules."""
    return cast(ScheduleConfig, apps.get_app_config("schedule"))
