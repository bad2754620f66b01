"""The records that moisture histories need: all of them, or again only those of spools that the last acts touched."""

from collections import defaultdict
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, field, replace
from datetime import datetime
from itertools import chain
from typing import Any

from django.db.models import QuerySet

from darre.history.models import HistoryEntry
from darre.inventory.material_book import MaterialBook, material_book
from darre.inventory.models import Spool
from darre.inventory.selectors import spools_with_events
from darre.moisture.apps import moisture_state
from darre.moisture.state import WITHOUT_WATER, Entry, State
from darre.places.models import Place
from darre.places.room_air import hour_of, moment
from darre.places.selectors import StayRow, stays_by_spool
from darre.runs.models import Run, Weighing
from darre.runs.records import read_tickets, runs_with_weighings
from drying.moisture import SpoolEvents

# An act that writes only these concerns the spools that they name; any other may concern every spool.
OF_A_SPOOL = {"places.stay", "runs.weighing", "inventory.moisturereading", "inventory.filamentuse"}
OF_THE_AIR = "places.roomreading"  # no part of the shelf
MOST_ACTS = 30  # after more of them it costs no more to read everything


@dataclass(frozen=True)
class KeptEvents:
    """A spool's events as the core takes them, the same for any moment from `since` on and before `until`."""

    events: SpoolEvents
    since: datetime
    until: datetime

    def holds(self, now: datetime) -> bool:
        """Whether they are the same at this moment."""
        return self.since <= now < self.until


@dataclass(frozen=True)
class Shelf:
    """All that the rack stands on at a moment, read in a constant number of queries. Shelves share what no act has
    touched between them: change nothing of it. `kept_events`: events of spools that were put together before, by
    spool and how many hours back they reach.
    """

    now: datetime
    book: MaterialBook
    spools: list[Spool]
    places: list[Place]
    stays: dict[int, list[StayRow]]
    runs: dict[int, list[Run]]
    weighings: dict[int, list[Weighing]]
    kept_events: dict[tuple[int, int], KeptEvents] = field(default_factory=dict, compare=False)

    @property
    def running(self) -> dict[int, Run]:
        """Runs that go on, by the spool that is in the dryer; a coil that dries leaves its spool where it stands."""
        found = [r for runs in self.runs.values() for r in runs if r.started_at <= self.now and not _over(r, self.now)]
        return {r.spool_id: r for r in found if dried_itself(r)}

    def drawn(self, since: datetime, only: Sequence[int] | None = None) -> list[Run]:
        """The runs that a trace from `since` on shows, of every spool or of some."""
        return [
            run
            for spool, runs in self.runs.items()
            if only is None or spool in only
            for run in runs
            if run.ended_at is None or run.ended_at > since
        ]

    def net_g(self, spool: Spool) -> float | None:
        """Mass of strand on a spool, g; None if it was never weighed."""
        return net_g(spool, self.weighings[spool.pk], self.now)

    def next_change(self, spool: Spool) -> datetime:
        """When a spool's events may become others by time alone: at the first of its moments ahead, and at the hour."""
        return min([moment(hour_of(self.now) + 1), *(at for at in self._moments(spool) if at > self.now)])

    def _moments(self, spool: Spool) -> Iterator[datetime]:
        yield spool.created_at
        yield from (reading.at for reading in spool.moisture_readings.all())
        yield from (use.at for use in spool.uses.all())
        yield from (weighing.at for weighing in self.weighings[spool.pk])
        spans = [(stay.since, stay.until) for stay in self.stays[spool.pk]]
        spans += [(run.started_at, run.ended_at) for run in self.runs[spool.pk]]
        yield from (at for span in spans for at in span if at is not None)


def _over(run: Run, now: datetime) -> bool:
    return run.ended_at is not None and run.ended_at <= now


def dried_itself(run: Run) -> bool:
    """Whether the spool itself was in the dryer, and not a coil cut off it."""
    return run.coil_id is None


def net_g(spool: Spool, weighings: list[Weighing], now: datetime) -> float | None:
    """Mass of strand by the last weighing of the whole spool, less what was printed since, g; None if never weighed."""
    last = max((w for w in weighings if w.at <= now), key=lambda w: (w.at, w.id), default=None)
    if last is None:
        return None
    used = sum(u.mass_g for u in spool.uses.all() if last.at < u.at <= now)
    return max(last.gross_g - last.tare_g - used, 0.0)


def shelf_of(state: State, now: datetime) -> Shelf:
    """The shelf in a state of the records. What no act has touched is taken from the shelf read before."""

    def read() -> Shelf:
        for before, shelf in kept.items():
            touched = _touched(before[0], state[0]) if isinstance(before, tuple) else None
            if touched is not None:
                return _read_again(shelf, now, touched)
        return read_shelf(now)

    kept = moisture_state().read
    return kept.once(state, read)


def _touched(since: Entry, until: Entry) -> set[int] | None:
    """The spools that acts touched after one entry of history and up to another; None: anything may have changed."""
    if since == until:
        return set()
    if since is None or until is None or not HistoryEntry.objects.filter(pk=since[0], at=since[1]).exists():
        return None  # another database was put in this one's place, or parts of an act have become one
    acts = HistoryEntry.objects.filter(pk__gt=since[0], pk__lte=until[0]).exclude(kind__in=WITHOUT_WATER)
    of_each = list(acts.values_list("changes", flat=True)[: MOST_ACTS + 1])
    return _spools_of(chain.from_iterable(of_each)) if 0 < len(of_each) <= MOST_ACTS else None


def _spools_of(changes: Iterable[dict[str, Any]]) -> set[int] | None:
    found: set[int] = set()
    for change in changes:
        if change["model"] in OF_A_SPOOL and "key" not in change:
            found |= {row["spool_id"] for row in (change["before"], change["after"]) if row is not None}
        elif change["model"] != OF_THE_AIR:
            return None
    return found


def read_shelf(now: datetime) -> Shelf:
    """Everything that moisture histories need."""
    spools, places = list(spools_with_events().order_by("id")), list(places_with_fills())
    return Shelf(now, material_book(), spools, places, *_of_spools(spools, places, {}))


def _read_again(shelf: Shelf, now: datetime, touched: set[int]) -> Shelf:
    """The same shelf later, with the records of some spools read again."""
    if not touched:
        return replace(shelf, now=now)
    fresh = {spool.pk: spool for spool in spools_with_events().filter(pk__in=touched)}
    stays, runs, weighings = _of_spools(list(fresh.values()), shelf.places, {"spool__in": touched})
    return replace(
        shelf,
        now=now,
        spools=[fresh.get(spool.pk, spool) for spool in shelf.spools],
        stays={**shelf.stays, **stays},
        runs={**shelf.runs, **runs},
        weighings={**shelf.weighings, **weighings},
        kept_events={key: kept for key, kept in shelf.kept_events.items() if key[0] not in touched},
    )


def places_with_fills() -> QuerySet[Place]:
    """Places with the desiccant that was put into them."""
    return Place.objects.prefetch_related("fills__weighings").order_by("id")


def _of_spools(
    spools: Sequence[Spool], places: Sequence[Place], which: dict[str, Any]
) -> tuple[dict[int, list[StayRow]], dict[int, list[Run]], dict[int, list[Weighing]]]:
    """Stays, runs and weighings of spools, each in order of time; `which` picks their rows."""
    stays = stays_by_spool(places, **which)  # right after the places: they lack one that is added later
    runs: dict[int, list[Run]] = defaultdict(list)
    rows = runs_with_weighings().filter(**which).defer("forecast", "lesson", "batch__ticket")
    for run in rows.order_by("started_at", "id"):
        runs[run.spool_id].append(run)
    read_tickets([run for of_spool in runs.values() for run in of_spool if run.ended_at is None])
    weighings: dict[int, list[Weighing]] = defaultdict(list)
    whole = Weighing.objects.filter(weighed_object=Weighing.Object.SPOOL, doubtful=False, **which)
    for weighing in whole.select_related("scale").order_by("at", "id"):
        weighings[weighing.spool_id].append(weighing)
    every = [spool.pk for spool in spools]
    return (
        {pk: stays.get(pk, []) for pk in every},
        {pk: runs.get(pk, []) for pk in every},
        {pk: weighings.get(pk, []) for pk in every},
    )
