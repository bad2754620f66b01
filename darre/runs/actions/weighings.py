"""Keeping a weigh-in: stored before the answer is out, and once, however often Keep is pressed."""

from dataclasses import dataclass
from datetime import datetime
from uuid import UUID

from django.db import transaction
from django.utils import timezone

from darre.common.errors import Refusal
from darre.common.saved import Saved
from darre.equipment.models import Scale
from darre.history.recorder import OpenEntry, history_entry
from darre.inventory.actions.moments import refuse_before_it_was_there, refuse_future
from darre.inventory.models import Spool
from darre.runs.models import Run, Weighing
from drying.weighing import TareMethod


@dataclass(frozen=True)
class Reading:
    """What was read off a scale. `client_key` is made once for each slip: the same key is the same weigh-in."""

    scale: Scale
    gross_g: float
    client_key: UUID
    note: str = ""
    weighed_object: str = Weighing.Object.SPOOL
    length_m: float | None = None
    warm: bool = False
    surface_wet: bool = False

    @property
    def is_coil(self) -> bool:
        """True where a coil cut off the spool was weighed, and not the spool."""
        return self.weighed_object == Weighing.Object.COIL


def refuse_impossible(spool: Spool, reading: Reading) -> None:
    """Raise Refusal for a mass that this scale or this spool cannot have."""
    scale = reading.scale
    if reading.gross_g > scale.max_g:
        raise Refusal(
            "over_scale",
            f"{reading.gross_g:g} g is more than {scale.name} can weigh ({scale.max_g:g} g). Choose the scale it was.",
            "gross_g",
            400,
        )
    if reading.length_m is not None and not reading.is_coil:
        raise Refusal("length_of_spool", "A length belongs to a coil. Say that a coil was weighed.", "length_m", 400)
    if not reading.is_coil and reading.gross_g < spool.tare_g:
        raise Refusal(
            "gross_below_tare",
            f"{reading.gross_g:g} g is less than the empty spool of {spool.name} ({spool.tare_g:g} g). "
            "Check the reading, the unit and the spool.",
            "gross_g",
            400,
        )


def running_run(spool: Spool) -> Run | None:
    """The run this spool is in now."""
    return Run.objects.filter(spool=spool, ended_at__isnull=True).select_related("dryer").first()


def belongs_to(run: Run, reading: Reading) -> bool:
    """Whether a reading can be compared with the others of a run: spool with spool, coil with coil."""
    first = run.weighings.order_by("at", "id").first()
    return first is None or first.weighed_object == reading.weighed_object


def new_weighing(spool: Spool, reading: Reading, at: datetime, run: Run | None) -> Weighing:
    """A weighing that is not stored yet. A coil has no tare."""
    coil = reading.is_coil
    return Weighing(
        spool=spool,
        run=run,
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
        note=reading.note,
        client_key=reading.client_key,
    )


def write_weighing(entry: OpenEntry, spool: Spool, reading: Reading, at: datetime, run: Run | None) -> Weighing:
    """Store a weighing in an open entry. Whoever opened it has checked the rules."""
    return entry.create(new_weighing(spool, reading, at, run))


@transaction.atomic
def save_weighing(spool: Spool, reading: Reading, at: datetime | None = None) -> Saved[Weighing]:
    """Keep a weigh-in of a spool; in a running run it counts for that run.

    Raises Refusal: in the future, before the spool was there, over the scale's maximum, gross below tare.
    """
    known = Weighing.objects.filter(client_key=reading.client_key).first()
    if known is not None:
        return Saved(known)
    at = at or timezone.now()
    refuse_future(at)
    refuse_before_it_was_there(spool, at)
    refuse_impossible(spool, reading)
    run = running_run(spool)
    if run is not None and (at < run.started_at or not belongs_to(run, reading)):
        run = None
    with history_entry("weighing.kept", f"Weighed {spool.name}: {reading.gross_g:g} g") as entry:
        weighing = write_weighing(entry, spool, reading, at, run)
    return entry.saved(weighing)
