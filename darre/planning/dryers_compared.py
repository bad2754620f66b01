"""Dryers side by side for the spools that there are, and what another dryer would save in a year."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime, timedelta

from django.db.models import Count, Min

from darre.equipment.models import Dryer
from darre.inventory.selectors import attended_after, preferences, tariff_of
from darre.moisture.best import workshop
from darre.moisture.lanes import Lane, lanes_of, shelf_now
from darre.runs.models import Run
from drying.planning import InDryer, in_dryer_each, saved
from drying.quantity import Quantity

YEAR_DAYS, LEAST_DAYS, LEAST_RUNS = 365.0, 60.0, 4
USUAL_A_YEAR = 4.0  # runs of a spool, where too few were made to tell


@dataclass(frozen=True)
class Row:
    """A spool that is to be dried, or the others of a material together, as they are once they have to be.

    `moisture`: what it begins with; `now`: whether that is a spool's moisture now; `spools`: how many it stands for;
    `runs`: how often they are dried in a year; `another`: in the dryer that is thought of.
    """

    lane: Lane
    moisture: Quantity
    now: bool
    spools: int
    runs: float
    cells: list[InDryer]
    another: InDryer | None


@dataclass(frozen=True)
class Gain:
    """What another dryer saves in a year: rows that only it brings to their aim, hours, kWh and what they cost, None
    where no price of a kWh is known; the years after which it has paid for itself, None where it never does.
    """

    gained: list[int]
    hours: float
    energy_kwh: float
    runs: float
    cost: float | None
    years: float | None


@dataclass(frozen=True)
class Compared:
    """Every dryer for every row. `assumed`: too few runs were made to tell how often spools are dried."""

    dryers: list[Dryer]
    rows: list[Row]
    currency: str
    assumed: bool
    gain: Gain | None


@dataclass(frozen=True)
class _Asked:
    """What a row is made for: a lane at the moisture that it would begin with, and the spools that it stands for."""

    lane: Lane
    moisture: Quantity
    spools: list[int]


def _asked(lanes: Sequence[Lane]) -> list[_Asked]:
    """The spools that are to be dried, each by itself, wettest first; of each other material its fullest spool, as it
    is once water begins to show.
    """
    dried = [lane for lane in lanes if lane.material.programmes and lane.material.trouble and lane.run is None]
    wet = [lane for lane in dried if lane.moisture.value > lane.material.aim_pct]
    found = [_Asked(lane, lane.moisture, [lane.spool.pk]) for lane in wet]
    for material in dict.fromkeys(lane.material for lane in dried if lane not in wet):
        alike = [lane for lane in dried if lane not in wet and lane.material is material]
        fullest = max(alike, key=lambda lane: lane.net_g or 0.0)
        begins = material.trouble
        assert begins is not None
        found.append(_Asked(fullest, Quantity(begins.value, 0.1 * begins.value), [lane.spool.pk for lane in alike]))
    return found


def _runs_a_year(now: datetime) -> tuple[dict[int, float], bool]:
    """How often each spool is dried in a year, by the runs of the last; whether they are too few to tell."""
    made = Run.objects.filter(ended_at__isnull=False, started_at__gt=now - timedelta(days=YEAR_DAYS))
    first = made.aggregate(first=Min("started_at"))["first"]
    counts = dict(made.values_list("spool").annotate(Count("pk")))
    if first is None or sum(counts.values()) < LEAST_RUNS:
        return {}, True
    days = min(max((now - first).total_seconds() / 86400.0, LEAST_DAYS), YEAR_DAYS)
    return {spool: count * YEAR_DAYS / days for spool, count in counts.items()}, False


def compared(now: datetime, another: Dryer | None = None, price: float | None = None) -> Compared:
    """Every dryer in service for every spool; `another`: one that is thought of and in no record, for which its `price`
    is asked.
    """
    simulated = shelf_now(now)
    here, attended = workshop(now, simulated.shelf.book), attended_after(now)
    runs, assumed = _runs_a_year(now)
    dryers = [*here.dryers, *([] if another is None else [another])]
    wanted = _asked(lanes_of(simulated))
    lanes = [replace(asked.lane, moisture=asked.moisture) for asked in wanted]
    found = iter(in_dryer_each([here.setup([lane], dryer) for lane in lanes for dryer in dryers], attended))
    rows = []
    for asked in wanted:
        cells = [next(found) for _ in here.dryers]
        other = None if another is None else next(found)
        times = sum(USUAL_A_YEAR if assumed else runs.get(spool, 0.0) for spool in asked.spools)
        is_now = asked.moisture is asked.lane.moisture
        rows.append(Row(asked.lane, asked.moisture, is_now, len(asked.spools), times, cells, other))
    return Compared(here.dryers, rows, preferences().currency, assumed, _gain(rows, price) if another else None)


def _gain(rows: Sequence[Row], price: float | None) -> Gain:
    others = [row.another for row in rows if row.another is not None]
    found = saved([row.cells for row in rows], others, [row.runs for row in rows])
    tariff = tariff_of(preferences())
    cost = None if tariff is None else found.energy_kwh * tariff.day_rate
    years = price / cost if price is not None and cost is not None and cost > 0.0 else None
    return Gain(list(found.gained), found.hours, found.energy_kwh, found.runs, cost, years)
