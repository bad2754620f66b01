"""Dryers and scales as the core's plain values."""

from collections.abc import Mapping
from typing import Any

from django.db.models import QuerySet

from darre.equipment.models import Dryer, Scale
from drying.dryers import BED_HEATED, DryerKind, Metered, ProbePair, calibration_of, kinds_of_dryer
from drying.dryers import Dryer as CoreDryer
from drying.planning import OwnScale
from drying.storage import Charge, DesiccantKind
from drying.weighing import Scale as CoreScale


def core_scale(scale: Scale) -> CoreScale:
    """A scale as the core takes it."""
    return CoreScale(scale.resolution_g, scale.repeatability_g, scale.drift_g)


def dryers() -> QuerySet[Dryer]:
    """Dryers with their probe pairs, in a constant number of queries."""
    return Dryer.objects.prefetch_related("probes")


def dryers_in_service() -> QuerySet[Dryer]:
    """Those that can be used now."""
    return dryers().filter(in_service=True)


DESICCANT = ("desiccant_kind", "desiccant_g", "desiccant_load_pct")
STORED = (
    "kind", "min_c", "max_c", "display_offset_c", "levels", "hot_side_excess_c", "timer_max_h", "timer_choices_h",
    "slots", "max_diameter_mm", "max_width_mm", "vent_m3_h", "fan", "on_plate", "swing_c", "warm_up_h", "heater_w",
    "metered_kwh", "metered_h", "metered_air_c", *DESICCANT,
)  # fmt: skip


def stored_dryer(dryer: Dryer) -> dict[str, Any]:
    """All that is known of a dryer, as plain values that can be stored with a run."""
    stored = {name: getattr(dryer, name) for name in STORED}
    return {**stored, "probes": [[p.set_c, p.air_c, p.room_c] for p in dryer.probes.all()]}


def core_dryer(dryer: Dryer) -> CoreDryer:
    """A dryer as the core takes it. Raises OutOfRangeError where its numbers make no sense."""
    return dryer_from_stored(stored_dryer(dryer))


def _charge(stored: Mapping[str, Any]) -> Charge | None:
    """The desiccant among what was known of a dryer; runs of before it could be told do not have it."""
    kind = stored.get("desiccant_kind")
    return Charge(DesiccantKind(kind), stored["desiccant_g"], stored["desiccant_load_pct"]) if kind else None


def dryer_from_stored(stored: Mapping[str, Any]) -> CoreDryer:
    """A dryer out of what was once known of it, as the core takes it."""
    kind = DryerKind(stored["kind"])
    metered = None
    if stored["metered_kwh"] is not None:
        metered = Metered(stored["metered_kwh"], stored["metered_h"], stored["metered_air_c"])
    return CoreDryer(
        min_c=stored["min_c"],
        max_c=stored["max_c"],
        kind=kind,
        calibration=calibration_of(
            bed=kind in BED_HEATED,
            levels=[(str(name), float(air_c)) for name, air_c in stored["levels"]],
            pairs=[ProbePair(*pair) for pair in stored["probes"]],
            offset_c=stored["display_offset_c"],
            display_sd_c=kinds_of_dryer()[kind].display_sd_c,
        ),
        hot_side_excess_c=stored["hot_side_excess_c"],
        timer_max_h=stored["timer_max_h"],
        timer_choices_h=tuple(stored["timer_choices_h"]),
        vent_m3_h=stored["vent_m3_h"],
        swing_c=stored["swing_c"],
        warm_up_h=stored["warm_up_h"],
        heater_w=stored["heater_w"],
        metered=metered,
        fan=stored["fan"],
        on_plate=stored.get("on_plate"),  # runs of before it was asked for do not have it
        slots=stored["slots"],
        max_diameter_mm=stored["max_diameter_mm"],
        max_width_mm=stored["max_width_mm"],
        desiccant=_charge(stored),
    )


def own_scales() -> list[OwnScale]:
    """The person's scales."""
    return [OwnScale(scale.pk, core_scale(scale), scale.max_g) for scale in Scale.objects.all()]
