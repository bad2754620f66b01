"""Records of kit, spools and runs as the core's plain values."""

from datetime import datetime

from django.db.models import Prefetch, QuerySet

from darre.equipment.records import core_scale
from darre.runs.models import EventKind, Run, Weighing
from drying.runs import Pause, tidy
from drying.weighing import Weighing as CoreWeighing


def core_weighing(weighing: Weighing) -> CoreWeighing:
    """A weighing as the core takes it."""
    return CoreWeighing(weighing.gross_g, core_scale(weighing.scale), weighing.warm, weighing.surface_wet)


def runs_with_weighings() -> QuerySet[Run]:
    """Runs with all that judging them needs, in a constant number of queries."""
    return Run.objects.select_related("spool__empty_spool", "dryer").prefetch_related(
        "dryer__probes",
        "events",
        Prefetch("weighings", Weighing.objects.select_related("scale").order_by("at", "id")),
    )


def pauses(run: Run, until: datetime) -> list[Pause]:
    """When the heat was off, h after the start; a pause that goes on lasts until `until`."""
    found, since = [], None
    for event in run.events.all():
        at = hours_between(run.started_at, event.at)
        if event.kind == EventKind.POWER_CUT:
            found.append((at, at + (event.minutes or 0.0) / 60.0))
        elif event.kind == EventKind.PAUSED and since is None:
            since = at
        elif event.kind == EventKind.RESUMED and since is not None:
            found.append((since, at))
            since = None
    if since is not None:
        found.append((since, max(hours_between(run.started_at, until), since)))
    return tidy(found)


def hours_between(start: datetime, end: datetime) -> float:
    """Hours from one moment to another."""
    return (end - start).total_seconds() / 3600.0
