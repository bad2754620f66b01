"""Saving a weighing: stored before the answer is out, and once, however often Save is pressed; mending it later."""

from dataclasses import dataclass, replace
from datetime import datetime
from uuid import UUID

from django.db import transaction
from django.utils import timezone

from darre.common.errors import Refusal
from darre.common.saved import Saved
from darre.equipment.models import Scale
from darre.history.recorder import OpenEntry, history_entry
from darre.inventory.actions.coils import write_coil
from darre.inventory.actions.moments import refuse_before_it_was_there, refuse_impossible_time
from darre.inventory.material_book import MaterialBook, material_book
from darre.inventory.models import Coil, FilamentUse, Preferences, Spool
from darre.inventory.selectors import preferences
from darre.runs.models import Run, Weighing
from darre.runs.plausible import explained_after, last_before, reading_sd_g
from drying.errors import Amount
from drying.quantity import Quantity
from drying.transport import most_wound_g
from drying.weighing import TareMethod

LEAST_STEP = 1e-4  # of a scale's step: less is rounding in the computer
PRINTED_SHARE = 0.03  # engineering estimate: how sure grams are that a person or a file tells, one sd of them


@dataclass(frozen=True)
class Reading:
    """What was read off a scale. `client_key` is made once for each slip: the same key is the same weigh-in."""

    scale: Scale
    gross_g: float
    client_key: UUID
    note: str = ""
    weighed_object: str = Weighing.Object.SPOOL
    length_m: float | None = None
    coil: Coil | None = None  # which one, where a coil was weighed; None: a new one
    warm: bool = False
    surface_wet: bool = False
    doubtful: bool = False  # to be saved although water cannot explain it
    printed_g: float | None = None  # printed off the spool since it was weighed last

    @property
    def is_coil(self) -> bool:
        """True where a coil cut off the spool was weighed, and not the spool."""
        return self.weighed_object == Weighing.Object.COIL


def shows(scale: Scale, gross_g: float) -> bool:
    """Whether a scale carries a mass, and shows all its digits."""
    steps = gross_g / scale.resolution_g
    return gross_g <= scale.max_g and abs(steps - round(steps)) <= LEAST_STEP


def refuse_impossible(spool: Spool, reading: Reading) -> None:
    """Raise Refusal for a mass that this scale or this spool cannot have."""
    scale, gross = reading.scale, Amount(reading.gross_g, "g")
    if reading.gross_g > scale.max_g:
        raise Refusal(
            "over_scale",
            (gross, f" is more than {scale.name} can weigh (", Amount(scale.max_g, "g"), "). Choose the scale it was."),
            "gross_g",
            400,
        )
    # Ounces have other digits than the scale.
    if not shows(scale, reading.gross_g) and preferences().mass_unit == Preferences.Mass.GRAM:
        raise Refusal(
            "too_fine",
            (f"{scale.name} shows steps of ", Amount(scale.resolution_g, "g"), ", and ", gross,
             " has more digits. Which scale was it?"),
            "scale",
            400,
        )  # fmt: skip
    if reading.length_m is not None and not reading.is_coil:
        raise Refusal("length_of_spool", "A length belongs to a coil. Say that a coil was weighed.", "length_m", 400)
    if not reading.is_coil and reading.gross_g < spool.tare_g:
        raise Refusal(
            "gross_below_tare",
            (
                gross,
                f" is less than the empty spool of {spool.name} (",
                Amount(spool.tare_g, "g"),
                "). Check the reading, the unit and the spool.",
            ),
            "gross_g",
            400,
        )


def _refuse_more_than_it_takes(spool: Spool, gross_g: float, book: MaterialBook) -> None:
    """Raise Refusal for more filament than goes between the flanges of the empty spool."""
    sizes, density = spool.empty_spool, book[spool.material].density.value
    most = most_wound_g(sizes.outer_diameter_mm, sizes.hub_diameter_mm, sizes.width_mm, density)
    if gross_g - spool.tare_g > most:
        says = (
            Amount(round(gross_g - spool.tare_g), "g"), f" of filament do not go on the empty spool of {spool.name}: ",
            "it takes at most ", Amount(round(most), "g"),
            ". Check the reading, or choose the empty spool with its right sizes.",
        )  # fmt: skip
        raise Refusal("more_than_it_takes", says, "gross_g", 400)


def running_run(spool: Spool, coil: Coil | None = None) -> Run | None:
    """The run that this spool, or this coil of it, is in now."""
    found = Run.objects.filter(spool=spool, coil=coil, ended_at__isnull=True)
    return found.select_related("batch__dryer", "coil").first()


def coil_meant(spool: Spool, reading: Reading) -> Reading:
    """The reading with its coil: where none is named, the only one of the spool that is in a dryer.

    Raises Refusal for a coil of another spool, and where two are in dryers.
    """
    if not reading.is_coil:
        return replace(reading, coil=None)
    if reading.coil is not None:
        if reading.coil.spool_id != spool.pk:
            raise Refusal("other_spool", f"{reading.coil.name} was not cut off {spool.name}.", "coil", 400)
        return reading
    running = [
        run.coil for run in Run.objects.filter(spool=spool, coil__isnull=False, ended_at__isnull=True).order_by("id")
    ]
    if len(running) > 1:
        names = ", ".join(coil.name for coil in running if coil)
        raise Refusal("which_coil", f"Which coil was it? In a dryer are {names}.", "coil", 400)
    return replace(reading, coil=running[0]) if running else reading


def belongs_to(run: Run, reading: Reading) -> bool:
    """Whether a reading can be compared with the others of a run: spool with spool, coil with coil."""
    first = run.weighings.filter(doubtful=False).order_by("at", "id").first()
    return first is None or first.weighed_object == reading.weighed_object


def is_doubtful(
    spool: Spool, reading: Reading, at: datetime, *, but: int | None = None, book: MaterialBook | None = None
) -> bool:
    """Whether water cannot explain a reading; `but` is a weighing that does not count, as it is put right.

    Raises Refusal, which is the question what happened, unless the reading says that it is to be saved all the same;
    of a first one, where it would be more filament than goes on the empty spool.
    """
    last, book = last_before(spool, reading.weighed_object, reading.coil, at, but), book or material_book()
    if last is None:
        if not (reading.is_coil or reading.doubtful):
            _refuse_more_than_it_takes(spool, reading.gross_g, book)
        return False
    sd_g = reading_sd_g(reading.scale, warm=reading.warm, surface_wet=reading.surface_wet)
    found = explained_after(last, spool, spool.uses.all(), book, at, sd_g)
    gross_g = reading.gross_g + printed(reading).value
    if found.covers(gross_g):
        return False
    if not reading.doubtful:
        change = gross_g - found.expected_g
        says = (
            f"Water cannot explain this: {spool.name} would have {'gained' if change > 0 else 'lost'} ",
            Amount(round(abs(change), 1), "g"), " since ", last.at, ", and it can hold at most ",
            Amount(round(found.high_g - found.expected_g, 1), "g"),
            ". Was it typed wrong, another spool, or was it printed from?",
        )  # fmt: skip
        raise Refusal("not_by_water", says, "gross_g", extra={"change_g": change})
    return True


def new_weighing(
    spool: Spool, reading: Reading, at: datetime, run: Run | None, book: MaterialBook | None = None
) -> Weighing:
    """A weighing that is not stored yet. Raises Refusal as `is_doubtful` does."""
    return weighing_of(spool, reading, at, run, doubtful=is_doubtful(spool, reading, at, book=book))


def weighing_of(spool: Spool, reading: Reading, at: datetime, run: Run | None, *, doubtful: bool) -> Weighing:
    """A weighing that was judged already. A coil has no tare."""
    coil = reading.is_coil
    return Weighing(
        spool=spool,
        run=run,
        coil=reading.coil,
        scale=reading.scale,
        at=at,
        gross_g=reading.gross_g,
        tare_g=0.0 if coil else spool.tare_g,
        tare_sd_g=0.0 if coil else spool.tare_sd_g,
        tare_method=TareMethod.MEASURED.value if coil else spool.tare_method,
        weighed_object=reading.weighed_object,
        length_m=reading.length_m,
        warm=reading.warm,
        surface_wet=reading.surface_wet,
        doubtful=doubtful,
        note=reading.note,
        client_key=reading.client_key,
    )


def with_coil(entry: OpenEntry, spool: Spool, reading: Reading, at: datetime) -> Reading:
    """The reading with its coil, which is stored where it is new. That of a spool stays as it is."""
    if not reading.is_coil or reading.coil is not None:
        return reading
    return replace(reading, coil=write_coil(entry, spool, at, reading.length_m))


def write_weighing(
    entry: OpenEntry, spool: Spool, reading: Reading, at: datetime, run: Run | None, book: MaterialBook | None = None
) -> Weighing:
    """Store a weighing in an open entry, and what was printed since the last. Raises Refusal as `new_weighing` does."""
    weighing = new_weighing(spool, with_coil(entry, spool, reading, at), at, run, book)
    write_printed(entry, spool, reading, at)
    return entry.create(weighing)


def printed(reading: Reading) -> Quantity:
    """What a reading says was printed off the spool since it was weighed last, g."""
    grams = 0.0 if reading.printed_g is None or reading.is_coil else reading.printed_g
    return Quantity(grams, PRINTED_SHARE * grams)


def write_printed(entry: OpenEntry, spool: Spool, reading: Reading, at: datetime) -> None:
    """Store what a reading says was printed."""
    grams = printed(reading)
    if grams.value > 0.0:
        entry.create(FilamentUse(spool=spool, at=at, mass_g=grams.value, sd_g=grams.uncertainty))


@transaction.atomic
def save_weighing(spool: Spool, reading: Reading, at: datetime | None = None) -> Saved[Weighing]:
    """Keep a weigh-in of a spool; in a running run it counts for that run.

    Raises Refusal: in the future, before the spool was there, over the scale's maximum, gross below tare, more or less
    than water can explain.
    """
    known = Weighing.objects.filter(client_key=reading.client_key).first()
    if known is not None:
        return Saved(known)
    at = at or timezone.now()
    refuse_impossible_time(at)
    refuse_before_it_was_there(spool, at)
    reading = coil_meant(spool, reading)
    refuse_impossible(spool, reading)
    run = None if reading.is_coil and reading.coil is None else running_run(spool, reading.coil)
    if run is not None and (at < run.started_at or not belongs_to(run, reading)):
        run = None
    with history_entry("weighing.kept", f"Weighed {spool.name}: {reading.gross_g:g} g") as entry:
        weighing = write_weighing(entry, spool, reading, at, run)
    return entry.saved(weighing)


@transaction.atomic
def correct_weighing(weighing: Weighing, reading: Reading, at: datetime) -> Saved[Weighing]:
    """Put a weighing right. Raises Refusal as `save_weighing` does, and out of the run that it belongs to."""
    spool, run = weighing.spool, weighing.run
    reading = replace(reading, coil=weighing.coil)
    refuse_impossible_time(at)
    refuse_before_it_was_there(spool, at)
    refuse_impossible(spool, reading)
    if run is not None and (at < run.started_at or (run.ended_at is not None and at > run.ended_at)):
        raise Refusal("outside_run", (at, " lies outside its run. Give a time within it."), "at", 400)
    with history_entry("weighing.corrected", f"Corrected a weighing of {spool.name}: {reading.gross_g:g} g") as entry:
        entry.update(
            weighing,
            gross_g=reading.gross_g,
            scale=reading.scale,
            at=at,
            warm=reading.warm,
            surface_wet=reading.surface_wet,
            note=reading.note,
            doubtful=is_doubtful(spool, reading, at, but=weighing.pk),
        )
    return entry.saved(weighing)


@transaction.atomic
def remove_weighing(weighing: Weighing) -> Saved[None]:
    """Remove a weighing that should not be there."""
    with history_entry("weighing.removed", f"Removed a weighing of {weighing.spool.name}") as entry:
        entry.delete(weighing)
    return entry.done()
