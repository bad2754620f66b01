"""After its run a spool stays in the dryer, switched off or kept warm: the dryer is its place from then on."""

from dataclasses import dataclass
from datetime import datetime

from darre.common.errors import Refusal
from darre.history.recorder import OpenEntry
from darre.places.actions.stays import put
from darre.places.models import Place
from darre.places.selectors import room_now
from darre.runs.models import Run
from darre.runs.records import temp_now_c
from drying.errors import Amount
from drying.storage import PlaceKind


@dataclass(frozen=True)
class LeftIn:
    """It stays in; `hold_c`: the air at the spool that it is kept at, °C, None where the dryer is switched off."""

    hold_c: float | None = None


def refuse_hold(run: Run, left: LeftIn, at: datetime) -> None:
    """Raise Refusal for a hold that is no warmer than the room, or hotter than the run was, whose limits were looked
    at; and for a coil, which is no part of a spool's history.
    """
    if run.coil_id is not None:
        raise Refusal("coil_left_in", "A coil has no place of its own. End its run without it.", "left_in", 400)
    if left.hold_c is None:
        return
    room_c, ran_c = room_now(at).air.temp_c, temp_now_c(run.batch)
    if left.hold_c <= room_c:
        says = ("That is not warmer than the room, ", Amount(room_c, "°C"), ". Choose “switched off”.")
        raise Refusal("not_warm", says, "hold_c", 400)
    if left.hold_c > ran_c:
        says = ("Keep it no hotter than it was dried, ", Amount(ran_c, "°C"), ": nobody watches it now.")
        raise Refusal("hotter_than_run", says, "hold_c", 400)


def leave_in(entry: OpenEntry, run: Run, left: LeftIn, at: datetime) -> None:
    """Note that the run's spool stands in its dryer from now on. The place is added where the dryer was none yet."""
    dryer = run.batch.dryer.name
    if left.hold_c is None:
        name, kind, warm_c = f"{dryer}, switched off", PlaceKind.DRYER, 0.0
    else:
        name, kind = f"{dryer}, kept at {left.hold_c:g} °C", PlaceKind.WARM_BOX
        warm_c = left.hold_c - room_now(at).air.temp_c
    place = Place.objects.filter(name=name[:60]).first()
    if place is None:
        place = entry.create(Place(name=name[:60], kind=kind.value, since=at, warm_c=warm_c))
    put(entry, run.spool, place, at)
