"""Beginning an empty workshop: room, places, a spool, a dryer and a scale, all or nothing."""

from dataclasses import dataclass
from uuid import uuid4

from django.db import transaction
from django.utils import timezone

from darre.common.errors import Refusal
from darre.equipment.actions.dryers import add_dryer
from darre.equipment.actions.scales import add_scale
from darre.equipment.models import Dryer, Scale
from darre.inventory.actions.empty_spools import add_empty_spool
from darre.inventory.models import EmptySpool, Spool
from darre.places.actions.arrivals import NewSpool, add_spool
from darre.places.actions.places import add_place
from darre.places.actions.room import add_room, note_room_air
from darre.places.models import Room
from darre.runs.actions.weighings import Reading, save_weighing
from drying.air import RoomAir
from drying.dryers import DryerKind
from drying.materials import empty_spool_kind, usual_sizes_mm
from drying.storage import PlaceKind
from drying.weighing import USUAL_REPEATABILITY_STEPS, Tare, TareMethod, nominal_tare, tare_spread_g, usual_tare

PLACES = (("Shelf", PlaceKind.SHELF), ("On the printer", PlaceKind.PRINTER), ("Zip bag", PlaceKind.ZIP_BAG))


@dataclass(frozen=True)
class FirstWorkshop:
    """What a person tells of the workshop on the first day. The room's air is None where there is no meter, the gross
    mass None and the scale without a name where there is no scale: both can follow later.
    """

    room_name: str
    room_temp_c: float | None
    room_rh_pct: float | None
    spool_name: str
    material: str
    empty_spool_kind: str
    gross_g: float | None
    tare_g: float | None
    tare_method: str
    nominal_g: float
    dryer_name: str
    dryer_kind: str
    dryer_min_c: float
    dryer_max_c: float
    scale_name: str
    scale_max_g: float | None
    scale_step_g: float | None


def _empty_spool(first: FirstWorkshop) -> EmptySpool:
    """The empty spool, in the sizes that are usual for what its label says."""
    kind = empty_spool_kind(first.empty_spool_kind)
    outer, hub, width = usual_sizes_mm(first.nominal_g)
    return EmptySpool(
        name=f"{kind.name} spool", kind=kind.id, outer_diameter_mm=outer, hub_diameter_mm=hub, width_mm=width
    )


def _tare(first: FirstWorkshop) -> Tare:
    """What the empty spool weighs, by the way that the person knows it."""
    method = TareMethod(first.tare_method)
    if method is TareMethod.UNKNOWN:
        return usual_tare(first.nominal_g)
    if method is TareMethod.NOMINAL and first.gross_g is not None:
        return nominal_tare(first.gross_g, first.nominal_g)
    if first.tare_g is None:
        raise Refusal("no_tare", "Needed: what the spool weighs without filament, for example 190 g.", "tare_g", 400)
    return Tare(first.tare_g, tare_spread_g(method), method)


def _air(first: FirstWorkshop) -> RoomAir | None:
    """The room's air, where there is a meter; half a reading is none."""
    if first.room_temp_c is None and first.room_rh_pct is None:
        return None
    if first.room_rh_pct is None:
        raise Refusal("half_a_reading", "Needed with the temperature, or leave both empty.", "room_rh_pct", 400)
    if first.room_temp_c is None:
        raise Refusal("half_a_reading", "Needed with the humidity, or leave both empty.", "room_temp_c", 400)
    return RoomAir(first.room_temp_c, first.room_rh_pct)


def _scale(first: FirstWorkshop) -> Scale | None:
    if not first.scale_name:
        if first.gross_g is not None:
            raise Refusal("no_scale", "Needed: a name for the scale that the spool was weighed on.", "scale_name", 400)
        return None
    if first.scale_max_g is None:
        raise Refusal("no_scale", "Needed: the most that the scale carries, for example 5000 g.", "scale_max_g", 400)
    if first.scale_step_g is None:
        raise Refusal("no_scale", "Needed: the step that the scale shows, for example 1 g.", "scale_step_g", 400)
    repeats = USUAL_REPEATABILITY_STEPS * first.scale_step_g
    return add_scale(
        Scale(name=first.scale_name, max_g=first.scale_max_g, resolution_g=first.scale_step_g, repeatability_g=repeats)
    ).record


@transaction.atomic
def begin(first: FirstWorkshop) -> tuple[Spool, Dryer]:
    """Add all of it. Refused where there is a room already, and as each of its parts is refused."""
    if Room.objects.exists():
        raise Refusal("already_begun", "This workshop has begun already. Add spools on the rack, dryers in Kit.")
    if first.dryer_max_c <= first.dryer_min_c:
        raise Refusal("range_is_empty", "The hottest air must be hotter than the coolest.", "dryer_max_c", 400)
    now = timezone.now()
    add_room(first.room_name)
    if (air := _air(first)) is not None:
        note_room_air(now, air)
    places = [add_place(name, kind.value, since=now).record for name, kind in PLACES]
    scale = _scale(first)
    dryer = add_dryer(
        Dryer(
            name=first.dryer_name,
            kind=DryerKind(first.dryer_kind),
            min_c=first.dryer_min_c,
            max_c=first.dryer_max_c,
        )
    ).record
    spool = add_spool(
        NewSpool(
            name=first.spool_name,
            material=first.material,
            empty_spool=add_empty_spool(_empty_spool(first)).record,
            tare=_tare(first),
            place=places[0],
        ),
        now,
    ).record
    if scale is not None and first.gross_g is not None:
        save_weighing(spool, Reading(scale, first.gross_g, uuid4()), now)
    return spool, dryer
