"""Dryers and scales as the core's plain values."""

from django.db.models import QuerySet

from darre.equipment.models import Dryer, Scale
from drying.dryers import Dryer as CoreDryer
from drying.dryers import DryerKind, Metered, ProbePair, calibration_of, kinds_of_dryer
from drying.weighing import Scale as CoreScale


def core_scale(scale: Scale) -> CoreScale:
    """A scale as the core takes it."""
    return CoreScale(scale.resolution_g, scale.repeatability_g, scale.drift_g)


def dryers() -> QuerySet[Dryer]:
    """Dryers with their probe pairs, in a constant number of queries."""
    return Dryer.objects.prefetch_related("probes")


def core_dryer(dryer: Dryer) -> CoreDryer:
    """A dryer as the core takes it. Raises OutOfRangeError where its numbers make no sense."""
    kind = DryerKind(dryer.kind)
    metered = None
    if dryer.metered_kwh is not None and dryer.metered_h is not None and dryer.metered_air_c is not None:
        metered = Metered(dryer.metered_kwh, dryer.metered_h, dryer.metered_air_c)
    return CoreDryer(
        min_c=dryer.min_c,
        max_c=dryer.max_c,
        kind=kind,
        calibration=calibration_of(
            bed=kind is DryerKind.BED,
            levels=[(str(name), float(air_c)) for name, air_c in dryer.levels],
            pairs=[ProbePair(p.set_c, p.air_c, p.room_c) for p in dryer.probes.all()],
            offset_c=dryer.display_offset_c,
            display_sd_c=kinds_of_dryer()[kind].display_sd_c,
        ),
        hot_side_excess_c=dryer.hot_side_excess_c,
        timer_max_h=dryer.timer_max_h,
        timer_choices_h=tuple(dryer.timer_choices_h),
        vent_m3_h=dryer.vent_m3_h,
        swing_c=dryer.swing_c,
        warm_up_h=dryer.warm_up_h,
        heater_w=dryer.heater_w,
        metered=metered,
        fan=dryer.fan,
        slots=dryer.slots,
        max_diameter_mm=dryer.max_diameter_mm,
        max_width_mm=dryer.max_width_mm,
    )
