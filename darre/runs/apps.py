"""The app's own state: what was computed of runs, kept by everything it was computed from."""

from typing import cast

from django.apps import AppConfig, apps

from drying.cache import Cache
from drying.dryers import Dryer, OverDesiccant
from drying.planning import Forecast, Ticket
from drying.runs import CourseCache, Review, Verdict
from drying.transport import Lesson, Segment


class RunsConfig(AppConfig):
    """Owns the caches of runs: dryers as they were known then, tickets, courses of running ones, verdicts and reviews
    of ended ones, forecasts, the air that spools of one box meet, with desiccant in it too, and lessons as they were
    read from their records.
    """

    name = "darre.runs"

    def ready(self) -> None:
        self.dryers: Cache[Dryer] = Cache(128)
        self.tickets: Cache[Ticket] = Cache(32)
        self.courses = CourseCache(64)
        self.verdicts: Cache[Verdict] = Cache(512)
        self.reviews: Cache[Review] = Cache(64)
        self.forecasts: Cache[Forecast] = Cache(64)
        self.airs: Cache[list[Segment]] = Cache(64)
        self.over_desiccant: Cache[OverDesiccant] = Cache(64)
        self.lessons: Cache[tuple[Lesson | None, tuple[float, float]]] = Cache(1000)


def run_caches() -> RunsConfig:
    """The process's caches of runs."""
    return cast(RunsConfig, apps.get_app_config("runs"))
