"""Beginning a trial, weighing its samples, ending it, and taking over what it told."""

from collections.abc import Sequence
from dataclasses import dataclass, field
from datetime import datetime, timedelta
from statistics import mean
from uuid import UUID

from django.db import transaction
from django.utils import timezone

from darre.common.errors import Refusal
from darre.common.saved import Saved
from darre.equipment.models import Dryer, Scale
from darre.history.recorder import OpenEntry, history_entry
from darre.inventory.actions.moments import refuse_before_it_was_there, refuse_impossible_time
from darre.inventory.models import Spool
from darre.places.selectors import room_now
from darre.trials.models import Sample, SampleReading, Trial
from drying.errors import Amount

MOST_CHANGE = 0.5  # of a coil's mass: more is no water
MOST_STRAIN = 0.25  # of a piece's length: more is another piece
NAMES = {Trial.Kind.DRYING: "a drying curve", Trial.Kind.UPTAKE: "what is taken up", Trial.Kind.TWIN: "a baked coil",
         Trial.Kind.SPONGE: "sponges", Trial.Kind.LADDER: "a ladder of prints",
         Trial.Kind.SWELLING: "how much it swells"}  # fmt: skip


@dataclass(frozen=True)
class NewSample:
    """A sample to begin with; its name is chosen where it has none."""

    start_g: float
    name: str = ""
    baked: bool = False
    planned_h: float | None = None
    dryer: Dryer | None = None
    dry_g: float | None = None
    air_temp_c: float | None = None
    air_rh_pct: float | None = None
    desiccant: bool = False
    before_mm: Sequence[float] | None = None


@dataclass(frozen=True)
class NewTrial:
    """A trial to begin."""

    kind: str
    scale: Scale
    samples: Sequence[NewSample] = field(default_factory=list)
    spool: Spool | None = None
    temp_c: float | None = None
    rh_pct: float | None = None
    soaked: bool = False
    note: str = ""
    began_at: datetime | None = None


def begin_trial(new: NewTrial) -> Saved[Trial]:
    """Begin a trial with its samples.

    Raises Refusal: no spool or temperature for coils, no sample, a sponge without its dryer or dry mass, a piece
    without its length, names twice.
    """
    at = new.began_at or timezone.now()
    refuse_impossible_time(at, "it began")
    if new.kind != Trial.Kind.SPONGE:
        _refuse_without(new)
        assert new.spool is not None
        refuse_before_it_was_there(new.spool, at)
    if not new.samples:
        raise Refusal("no_samples", "Needed: the mass of at least one sample.", "samples", 400)
    names = _names(new)
    for n, sample in enumerate(new.samples):
        _refuse_sample(sample, n, new.kind)
    room = room_now(at).air
    of = "" if new.spool is None else f" of {new.spool.name}"
    summary = f"Began a trial: {NAMES[Trial.Kind(new.kind)]}{of}"
    with transaction.atomic(), history_entry("trial.begun", summary) as entry:
        trial = entry.create(
            Trial(
                kind=new.kind, spool=new.spool, scale=new.scale, temp_c=new.temp_c, rh_pct=new.rh_pct,
                soaked=new.soaked, room_temp_c=room.temp_c, room_rh_pct=room.rh_pct, note=new.note.strip(), began_at=at,
            )
        )  # fmt: skip
        for name, sample in zip(names, new.samples, strict=True):
            _write_sample(entry, trial, name, sample)
    return entry.saved(trial)


def _refuse_without(new: NewTrial) -> None:
    if new.spool is None:
        of = "pieces are made" if new.kind == Trial.Kind.SWELLING else "coils are cut"
        raise Refusal("required", f"Needed: the spool that the {of} from.", "spool", 400)
    if new.temp_c is None and new.kind != Trial.Kind.SWELLING:
        raise Refusal("required", "Needed: the temperature that the coils are at, for example 65.", "temp_c", 400)


def _names(new: NewTrial) -> list[str]:
    initial = "S" if new.spool is None else new.spool.name[:1].upper()
    found = []
    for n, sample in enumerate(new.samples, start=1):
        of_dryer = sample.dryer.name if sample.dryer else ""
        found.append(sample.name.strip() or of_dryer or ("twin" if sample.baked else f"{initial}{n}"))
    twice = {name for name in found if found.count(name) > 1}
    if twice:
        says = f"Two samples are named {min(twice)}. Give each its own name."
        raise Refusal("name_taken", says, "samples", 400)
    return found


def _refuse_sample(sample: NewSample, n: int, kind: str) -> None:
    if kind == Trial.Kind.SWELLING and not sample.before_mm:
        raise Refusal("required", "Needed: the length before, for example 99.94 99.96.", f"samples.{n}.before_mm", 400)
    if kind != Trial.Kind.SPONGE:
        return
    if sample.dryer is None:
        raise Refusal("required", "Needed: the dryer that this sponge is in.", f"samples.{n}.dryer", 400)
    if sample.dry_g is None or sample.dry_g >= sample.start_g:
        says = f"Needed: what the sponge in {sample.dryer.name} weighs dry, less than it does wet."
        raise Refusal("required", says, f"samples.{n}.dry_g", 400)


def _write_sample(entry: OpenEntry, trial: Trial, name: str, sample: NewSample) -> Sample:
    lengths = list(sample.before_mm or ()) if trial.kind == Trial.Kind.SWELLING else []
    values = vars(sample) | {"name": name, "before_mm": lengths}
    return entry.create(Sample(trial=trial, **values))


@transaction.atomic
def add_sample(trial: Trial, sample: NewSample) -> Saved[Sample]:
    """One more coil of the lot. Raises Refusal where its name is taken or the trial is closed."""
    refuse_closed(trial)
    taken = set(trial.samples.values_list("name", flat=True))
    initial = trial.spool.name[:1].upper() if trial.spool else "S"
    free = next(name for n in range(1, len(taken) + 2) if (name := f"{initial}{n}") not in taken)
    name = sample.name.strip() or ("twin" if sample.baked and "twin" not in taken else free)
    if name in taken:
        raise Refusal("name_taken", f"There is a sample {name} in this trial already. Choose another name.", "name")
    _refuse_sample(sample, 0, trial.kind)
    with history_entry("trial.sample_added", f"Added {name} to a trial") as entry:
        found = _write_sample(entry, trial, name, sample)
    return entry.saved(found)


def refuse_closed(trial: Trial) -> None:
    """Raise Refusal where nothing more is taken in."""
    if trial.closed_at is not None:
        raise Refusal("closed", "This trial is ended. Take that back in History to go on with it.", "trial")


def moment_in(trial: Trial, hours: float | None) -> datetime:
    """When something was read: now, or so many hours after the trial began."""
    return timezone.now() if hours is None else trial.began_at + timedelta(hours=hours)


@transaction.atomic
def weigh_sample(
    sample: Sample,
    gross_g: float,
    client_key: UUID,
    hours: float | None = None,
    after_mm: Sequence[float] | None = None,
) -> Saved[SampleReading]:
    """Store what a sample weighs now, or so many hours after the trial began, and how long a piece is. Sent twice it is
    stored once.

    Raises Refusal: closed, before the start, in the future, twice at the same time, more change than water can make, a
    piece without its length.
    """
    known = SampleReading.objects.filter(client_key=client_key).first()
    if known is not None:
        return Saved(known)
    trial = sample.trial
    refuse_closed(trial)
    at = moment_in(trial, hours)
    if hours is not None and hours <= 0.0:
        raise Refusal("before_start", "A reading comes after the start: give hours over 0.", "hours", 400)
    refuse_impossible_time(at)
    _refuse_mass(sample, gross_g)
    lengths = list(after_mm or ()) if sample.before_mm else []  # of pieces alone
    _refuse_length(sample, lengths)
    if sample.readings.filter(at=at).exists():
        raise Refusal("twice", f"{sample.name} has a reading at that time already. Correct that one.", "hours")
    with history_entry("trial.weighed", f"Weighed {sample.name}: {gross_g:g} g") as entry:
        reading = entry.create(
            SampleReading(sample=sample, at=at, gross_g=gross_g, after_mm=lengths, client_key=client_key)
        )
    return entry.saved(reading)


def _step_g(sample: Sample) -> float:
    return sample.trial.scale.resolution_g if sample.trial.scale else 0.0


def _refuse_mass(sample: Sample, gross_g: float) -> None:
    start, gross = Amount(sample.start_g, "g"), Amount(gross_g, "g")
    if sample.dry_g is None and abs(gross_g - sample.start_g) > MOST_CHANGE * sample.start_g:
        says = (f"{sample.name} was ", start, " at the start: ", gross, " is no water. Weigh it again.")
        raise Refusal("impossible", says, "gross_g", 400)
    if sample.dry_g is not None and gross_g < sample.dry_g - 2.0 * _step_g(sample):
        says = (f"The sponge in {sample.name} is ", Amount(sample.dry_g, "g"), " dry: it cannot weigh ", gross, ".")
        raise Refusal("impossible", says, "gross_g", 400)
    if sample.dry_g is not None and gross_g > sample.start_g + 2.0 * _step_g(sample):
        gained = (f"The sponge in {sample.name} went in with ", start, ": it cannot gain. Weigh it again.")
        raise Refusal("impossible", gained, "gross_g", 400)


def _refuse_length(sample: Sample, after_mm: Sequence[float]) -> None:
    if not sample.before_mm:
        return
    if not after_mm:
        raise Refusal("required", f"Needed: how long {sample.name} is now, for example 100.21.", "after_mm", 400)
    before, after = mean(sample.before_mm), mean(after_mm)
    if abs(after - before) > MOST_STRAIN * before:
        says = (f"{sample.name} was ", Amount(before, "mm"), ": ", Amount(after, "mm"), " is another piece, or a slip.")
        raise Refusal("impossible", says, "after_mm", 400)


@transaction.atomic
def correct_reading(reading: SampleReading, gross_g: float, after_mm: Sequence[float] | None = None) -> Saved[None]:
    """Put a reading right; without `after_mm` a piece's length stays. Raises Refusal for what cannot be."""
    _refuse_mass(reading.sample, gross_g)
    length = reading.after_mm if after_mm is None else list(after_mm)
    _refuse_length(reading.sample, length)
    with history_entry("trial.reading_corrected", f"Corrected {reading.sample.name} to {gross_g:g} g") as entry:
        entry.update(reading, gross_g=gross_g, after_mm=length)
    return entry.done()


@transaction.atomic
def remove_reading(reading: SampleReading) -> Saved[None]:
    """Take out a reading that was none."""
    with history_entry("trial.reading_removed", f"Removed a reading of {reading.sample.name}") as entry:
        entry.delete(reading)
    return entry.done()


@transaction.atomic
def end_trial(trial: Trial) -> Saved[None]:
    """Nothing more is weighed. Raises Refusal where it is ended already."""
    refuse_closed(trial)
    with history_entry("trial.ended", "Ended a trial") as entry:
        entry.update(trial, closed_at=timezone.now())
    return entry.done()


@transaction.atomic
def remove_trial(trial: Trial) -> Saved[None]:
    """Remove a trial with all that was weighed in it, as one entry that can be undone."""
    with history_entry("trial.removed", "Removed a trial") as entry:
        for rung in trial.rungs.all():
            for rated in rung.prints.all():
                entry.delete(rated)
            entry.delete(rung)
        for note in trial.air_notes.all():
            entry.delete(note)
        for sample in trial.samples.all():
            for reading in sample.readings.all():
                entry.delete(reading)
            entry.delete(sample)
        entry.delete(trial)
    return entry.done()
