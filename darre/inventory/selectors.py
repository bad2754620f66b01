"""Reading spools and preferences."""

from dataclasses import dataclass
from datetime import datetime

from django.db.models import OuterRef, Prefetch, QuerySet, Subquery

from darre.inventory.models import (
    Coil,
    EmptySpool,
    FilamentUse,
    Helper,
    HomeChange,
    MoistureReading,
    Preferences,
    Spool,
    Workshop,
)
from drying.dryers import Attended, Tariff, Week, attended_from
from drying.dryers import HomeChange as CoreHomeChange
from drying.quantity import Quantity
from drying.weighing import TareMethod, twin_tare


def spools_with_events() -> QuerySet[Spool]:
    """Spools with their moisture readings and what was printed from them, in a constant number of queries."""
    return Spool.objects.select_related("empty_spool").prefetch_related(
        Prefetch("moisture_readings", MoistureReading.objects.order_by("at", "id")),
        Prefetch("uses", FilamentUse.objects.order_by("at", "id")),
    )


def emptied_twins_g(empty_spool: EmptySpool) -> list[float]:
    """What empty spools of a make weighed that were weighed here, g; where none was, what somebody's list says."""
    measured = Spool.objects.filter(empty_spool=empty_spool, tare_method=TareMethod.MEASURED)
    return _twins_g(empty_spool, list(measured.order_by("pk").values_list("tare_g", flat=True)))


def _twins_g(empty_spool: EmptySpool, weighed_g: list[float]) -> list[float]:
    return weighed_g or ([] if empty_spool.listed_g is None else [empty_spool.listed_g])


@dataclass(frozen=True)
class KnownEmpty:
    """An empty spool with its mass, where it is known; `weighed`: how many of its make were weighed here."""

    empty_spool: EmptySpool
    mass: Quantity | None
    weighed: int


def empty_spools() -> list[KnownEmpty]:
    """Every empty spool by name, in two queries."""
    here: dict[int, list[float]] = {}
    for key, mass_g in Spool.objects.filter(tare_method=TareMethod.MEASURED).values_list("empty_spool", "tare_g"):
        here.setdefault(key, []).append(mass_g)
    found = []
    for empty in EmptySpool.objects.order_by("name", "pk"):
        weighed = here.get(empty.pk, [])
        masses = _twins_g(empty, weighed)
        tare = twin_tare(masses) if masses else None
        mass = None if tare is None else Quantity(tare.mass_g, tare.uncertainty_g)
        found.append(KnownEmpty(empty, mass, len(weighed)))
    return found


def coils_of(spool: Spool) -> QuerySet[Coil]:
    """The coils of a spool, with the run that each is in and what it weighed last, by queries of their own table."""
    # Runs and weighings belong to apps above: they are reached by their reverse names.
    running = Coil.objects.filter(pk=OuterRef("pk"), runs__ended_at__isnull=True).values("runs")[:1]
    last = Coil.objects.filter(pk=OuterRef("pk"), weighings__doubtful=False).order_by("-weighings__at")
    return spool.coils.annotate(run=Subquery(running), last_g=Subquery(last.values("weighings__gross_g")[:1]))


def quantity(reading: MoistureReading) -> Quantity:
    """The reading's moisture as the core takes it."""
    return Quantity(reading.moisture_pct, reading.sd_pct)


def workshop_key() -> str:
    """Which workshop this database is."""
    return str(Workshop.objects.get_or_create(pk=1)[0].key)


def preferences() -> Preferences:
    """The preferences, or the usual ones where none were ever set."""
    return Preferences.objects.filter(pk=1).first() or Preferences(pk=1)


def tariff_of(mine: Preferences) -> Tariff | None:
    """What power costs, None where no price was given."""
    if mine.day_rate is None:
        return None
    return Tariff(mine.day_rate, mine.night_rate, mine.night_from_min, mine.night_to_min)


def attended_after(start: datetime) -> Attended:
    """When somebody is at home and awake after a start, by that moment's own clock."""
    return attended_from(start, weeks(), home_changes(start))


def weeks() -> list[Week]:
    """The hours at home of everybody who loads and takes out, the person's own first."""
    mine = preferences()
    others = [Week(helper.weekdays, helper.weekends) for helper in Helper.objects.all()]
    return [Week(mine.home_weekdays, mine.home_weekends), *others]


def home_changes(after: datetime) -> list[CoreHomeChange]:
    """The stretches that are not as usual, of those that end after a moment."""
    return [CoreHomeChange(c.since, c.until, c.at_home) for c in HomeChange.objects.filter(until__gte=after)]
