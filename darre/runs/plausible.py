"""Whether water can explain a reading, by what the same thing weighed before."""

import math
from collections.abc import Iterable
from datetime import datetime

from darre.equipment.models import Scale
from darre.equipment.records import core_scale
from darre.inventory.material_book import MaterialBook
from darre.inventory.models import Coil, FilamentUse, Spool
from darre.runs.models import Weighing
from darre.runs.records import core_weighing
from drying.materials import empty_spool_kind
from drying.quantity import Quantity
from drying.weighing import Explained, explained
from drying.weighing import Weighing as CoreWeighing


def used_between(uses: Iterable[FilamentUse], since: datetime, until: datetime) -> Quantity:
    """Filament printed off a spool after one moment and up to another, g."""
    here = [use for use in uses if since < use.at <= until]
    return Quantity(sum(use.mass_g for use in here), math.hypot(*(use.sd_g for use in here)))


def explained_after(
    last: Weighing, spool: Spool, uses: Iterable[FilamentUse], book: MaterialBook, until: datetime, next_sd_g: float
) -> Explained:
    """What a spool, or a coil cut off it, may weigh by water alone, after a weighing of the same thing."""
    coil = last.weighed_object == Weighing.Object.COIL
    return explained(
        book[spool.material],
        None if coil else empty_spool_kind(spool.empty_spool.kind),
        0.0 if coil else last.tare_g,
        core_weighing(last),
        Quantity(0.0, 0.0) if coil else used_between(uses, last.at, until),
        next_sd_g,
    )


def last_before(
    spool: Spool, weighed_object: str, coil: Coil | None, at: datetime, but: int | None = None
) -> Weighing | None:
    """The weighing that a new one is compared with: the last of the spool, or of this coil; `but` not the one of this
    key, which is being put right.
    """
    found = Weighing.objects.filter(spool=spool, weighed_object=weighed_object, doubtful=False, at__lt=at)
    if but is not None:
        found = found.exclude(pk=but)
    if weighed_object == Weighing.Object.COIL:
        found = found.filter(coil=coil) if coil else found.none()
    return found.select_related("scale").order_by("at", "id").last()


def reading_sd_g(scale: Scale, *, warm: bool, surface_wet: bool) -> float:
    """Standard uncertainty of a reading, g."""
    return CoreWeighing(0.0, core_scale(scale), warm, surface_wet).uncertainty_g


def last_sd_g(last: Weighing) -> float:
    """Standard uncertainty of a reading like the last, g: what the next is taken to have before it is made."""
    return core_weighing(last).uncertainty_g
