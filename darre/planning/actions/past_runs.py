"""Adding a table of past runs as one act, undone whole: each as if it had been started, weighed and ended then."""

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from datetime import datetime
from itertools import groupby
from uuid import NAMESPACE_OID, UUID, uuid5

from django.db import transaction
from django.utils import timezone

from darre.common.errors import Refusal
from darre.common.saved import Saved
from darre.equipment.models import Dryer, Scale
from darre.equipment.records import stored_dryer
from darre.history.recorder import computed_before_writing, gathered, history_entry, refuse_if_changed_since
from darre.inventory.actions.moments import CLOCK_SLACK, refuse_impossible_time
from darre.inventory.material_book import MaterialBook, material_book
from darre.inventory.models import FilamentUse, MoistureReading, Spool
from darre.places.actions.arrivals import write_earlier_arrival
from darre.planning.past_table import PastRow, PastTable
from darre.planning.plans import Wanted, planned
from darre.runs.actions.runs import learned_by, moisture_left
from darre.runs.actions.weighed_before import Weighed, printed_before, printed_up_to_known, weighed_of
from darre.runs.actions.weighings import Reading, refuse_impossible, weighing_of
from darre.runs.lessons import stored_cells
from darre.runs.models import Batch, Run
from darre.runs.plausible import explained_after, reading_sd_g
from darre.runs.records import body_activity_at
from darre.runs.selectors import get_run, judge_run, run_so_far
from drying.dryers import Load, Setup


@dataclass(frozen=True)
class Told:
    """What is said for the whole table: the scale, and the dryer of the rows that name none."""

    scale: Scale
    dryer: Dryer


@dataclass(frozen=True)
class PastRun:
    """A run that can be added. `temp_c`: what the dryer was set to; `printed`: what was printed off before it;
    `stored`: its run where that is there, but was not judged yet.
    """

    spool: Spool
    dryer: Dryer
    at: datetime
    ends: datetime
    temp_c: float
    hours: float
    before: Reading | None
    after: Reading | None
    printed: FilamentUse | None = None
    stored: int | None = None

    @property
    def key(self) -> UUID:
        """The same for the same row: a table that is sent twice, by two tabs at once, makes each run once."""
        return _key(self.spool, self.at, "run")

    @property
    def together(self) -> tuple[datetime, int, float, float]:
        """Rows that agree in this were in the dryer as one batch."""
        return self.at, self.dryer.pk, self.temp_c, self.hours


def _key(spool: Spool, at: datetime, what: str) -> UUID:
    return uuid5(NAMESPACE_OID, f"past run {spool.pk} {at.isoformat()} {what}")


@dataclass
class _Known:
    """A spool's weighings, and its runs: from, to (None: it goes on). The rows join them."""

    weighed: Weighed
    stays: list[tuple[datetime, datetime | None]]
    unfinished: dict[tuple[datetime, datetime | None], int]


@dataclass
class JudgedRuns:
    """The table with what becomes of each row, the runs that it makes, and what was printed between the last of them
    and what was weighed later.
    """

    table: PastTable
    runs: list[PastRun] = field(default_factory=list)
    printed_after: list[FilamentUse] = field(default_factory=list)


def judge_past_runs(table: PastTable, told: Told) -> JudgedRuns:
    """What becomes of the rows, in the order of their moments, whatever that of the rows."""
    book, judged = material_book(), JudgedRuns(table)
    known: dict[int, _Known] = {}
    done: dict[int, PastRow] = {}
    for row in sorted(table.good, key=lambda row: (row.at, row.line)):
        run = _run_of(row, told)
        if run.spool.pk not in known:
            known[run.spool.pk] = _known(run.spool)
        try:
            run = _judge(run, known[run.spool.pk], book)
        except Refusal as refusal:
            done[row.line] = replace(row, problem=refusal.says)
            continue
        judged.runs.append(run)
        done[row.line] = replace(row, dryer=run.dryer, printed_g=run.printed.mass_g if run.printed else 0.0)
    for of in known.values():
        judged.printed_after += printed_up_to_known(of.weighed, book)
    judged.table = replace(table, rows=tuple(done.get(row.line, row) for row in table.rows))
    return judged


def _known(spool: Spool) -> _Known:
    """What is stored of a spool. Runs of a table that broke off may not have been judged: they left no moisture."""
    runs = list(spool.runs.filter(coil=None).values_list("started_at", "ended_at", "client_key", "pk"))
    left = set(spool.moisture_readings.filter(basis=MoistureReading.Basis.RUN).values_list("at", flat=True))
    unfinished = {(at, ends): pk for at, ends, key, pk in runs if key == _key(spool, at, "run") and ends not in left}
    return _Known(weighed_of(spool), [(at, ends) for at, ends, _, _ in runs], unfinished)


def _run_of(row: PastRow, told: Told) -> PastRun:
    """A row that nothing was missing of when it was read."""
    assert row.spool is not None
    assert row.at is not None
    assert row.ends is not None
    assert row.temp_c is not None
    assert row.hours is not None
    before, after = (
        None if gross_g is None else Reading(told.scale, gross_g, _key(row.spool, row.at, which))
        for gross_g, which in ((row.before_g, "before"), (row.after_g, "after"))
    )
    return PastRun(row.spool, row.dryer or told.dryer, row.at, row.ends, row.temp_c, row.hours, before, after)


def _judge(run: PastRun, known: _Known, book: MaterialBook) -> PastRun:
    refuse_impossible_time(run.at, "it began")
    if run.ends > timezone.now() + CLOCK_SLACK:
        raise Refusal("in_future", ("It would end at ", run.ends, ". Start it in Plan instead."), "hours")
    stored = known.unfinished.pop((run.at, run.ends), None)
    if stored is not None:
        return replace(run, stored=stored)
    for begun, ended in known.stays:
        if (begun, ended) == (run.at, run.ends):
            raise Refusal("known", "It is there already.", "date")
        if begun < run.ends and (ended is None or run.at < ended):
            raise Refusal("overlaps", ("It was in a dryer then, since ", begun, "."), "date")
    printed = _judge_masses(run, known.weighed, book)
    known.stays.append((run.at, run.ends))
    return replace(run, printed=printed)


def _judge_masses(run: PastRun, of: Weighed, book: MaterialBook) -> FilamentUse | None:
    """What was printed before the run, once both weighings have been compared with those before them."""
    if run.before is None:
        return None
    refuse_impossible(of.spool, run.before)
    printed = printed_before(run.at, run.before, of, book)
    first = weighing_of(of.spool, run.before, run.at, None, doubtful=False)
    if run.after is not None:
        refuse_impossible(of.spool, run.after)
        sd_g = reading_sd_g(run.after.scale, warm=False, surface_wet=False)
        if not explained_after(first, of.spool, [], book, run.ends, sd_g).covers(run.after.gross_g):
            raise Refusal("not_by_water", "Water cannot explain its two masses. Check them.", "after_g")
        of.join(weighing_of(of.spool, run.after, run.ends, None, doubtful=False))
    of.join(first)
    if printed is not None:
        of.uses.append(printed)
    return printed


def add_past_runs(table: PastTable, told: Told) -> Saved[PastTable]:
    """Add every row that nothing is wrong with, as one entry. Rows of the same dryer, moment, degrees and hours were in
    it together. Raises Refusal where no row can be added.
    """
    judged = judge_past_runs(table, told)
    runs = sorted(judged.runs, key=lambda run: run.together)
    if not runs:
        raise Refusal("nothing_to_add", "No row can be added: see what is said beside each.", "text", 400)
    counted = "1 past run" if len(runs) == 1 else f"{len(runs)} past runs"
    with gathered("run.imported", f"Added {counted} from a table") as whole:
        _write_arrivals(runs, judged.printed_after)
        for _, batch in groupby(runs, key=lambda run: run.together):
            _add_batch(list(batch))
    return whole.saved(judged.table)


@transaction.atomic
def _write_arrivals(runs: Sequence[PastRun], printed: Sequence[FilamentUse]) -> None:
    """Have each spool be there from its first run on."""
    first: dict[Spool, datetime] = {}
    for run in runs:
        first.setdefault(run.spool, run.at)
    with history_entry("spool.arrived", "These spools were there earlier") as entry:
        for spool, at in first.items():
            write_earlier_arrival(entry, Spool.objects.get(pk=spool.pk), at)
        entry.create_all(printed)


def _add_batch(rows: Sequence[PastRun]) -> None:
    new = [row for row in rows if row.stored is None]
    added = computed_before_writing(lambda last_entry: _write_batch(new, last_entry)).record if new else []
    for pk in [*(row.stored for row in rows if row.stored is not None), *(run.pk for run in added)]:
        _add_learned(pk)


def _write_batch(rows: Sequence[PastRun], last_entry: int) -> Saved[list[Run]]:
    first = rows[0]
    setup = planned([row.spool.pk for row in rows], first.dryer, Wanted(duration_h=first.hours), first.at).setup
    batch = Batch(
        dryer=first.dryer,
        temp_c=setup.dryer.calibration.air_when_set(first.temp_c, setup.room.temp_c),
        started_at=first.at,
        room_temp_c=setup.room.temp_c,
        room_rh_pct=setup.room.rh_pct,
        dryer_then=stored_dryer(first.dryer),
    )
    return _write(batch, list(zip(rows, setup.loads, strict=True)), setup, last_entry)


@transaction.atomic
def _write(batch: Batch, rows: Sequence[tuple[PastRun, Load]], setup: Setup, last_entry: int) -> Saved[list[Run]]:
    refuse_if_changed_since(last_entry)
    there = set(Run.objects.filter(client_key__in=[row.key for row, _ in rows]).values_list("client_key", flat=True))
    new = [(row, load) for row, load in rows if row.key not in there]
    if not new:
        return Saved([])
    names = " and ".join(row.spool.name for row, _ in new)
    with history_entry("run.imported", f"Added a past run of {names}") as entry:
        entry.create(batch)
        runs = []
        for row, load in new:
            if row.printed is not None:
                entry.create(row.printed)
            run = entry.create(_record(batch, row, load, setup))
            for reading, at in ((row.before, row.at), (row.after, row.ends)):
                if reading is not None:
                    entry.create(weighing_of(row.spool, reading, at, run, doubtful=False))
            runs.append(run)
    return entry.saved(runs)


def _record(batch: Batch, row: PastRun, load: Load, setup: Setup) -> Run:
    return Run(
        batch=batch,
        spool=row.spool,
        form=load.form,
        duration_h=row.hours,
        started_at=row.at,
        ended_at=row.ends,
        start_moisture_pct=load.start.value,
        start_sd_pct=load.start.uncertainty,
        net_g=load.net_g if row.before is None else row.before.gross_g - row.spool.tare_g,
        aim_pct=load.aim_pct,
        rate_median=load.rate.median,
        rate_sigma=load.rate.sigma,
        rate_cells=stored_cells(load.rate),
        body_activity=body_activity_at(row.spool, row.at, setup.room),
        client_key=row.key,
    )


def _add_learned(pk: int) -> None:
    computed_before_writing(lambda last_entry: _write_learned(pk, last_entry))


def _write_learned(pk: int, last_entry: int) -> Saved[Run]:
    """What the run taught, and how wet it left its spool."""
    run, book = get_run(pk), material_book()
    assert run.ended_at is not None
    verdict = judge_run(run, book, run.ended_at)
    so_far = run_so_far(run, book, run.ended_at)
    left = moisture_left(run, run.ended_at, verdict, so_far)
    learned = learned_by(run, verdict, so_far, run.ended_at)
    with transaction.atomic():
        refuse_if_changed_since(last_entry)
        with history_entry("run.ended", f"Ended drying {run.spool.name}") as entry:
            if learned:
                entry.update(run, **learned)
            entry.create(left)
        return entry.saved(run)
