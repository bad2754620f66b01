"""Records of kit, spools and runs as the core's plain values."""

from datetime import datetime

from django.db.models import Prefetch, QuerySet

from darre.runs.models import Dryer, EventKind, Run, Scale, Weighing
from darre.workshop.models import Spool
from drying.dryers.calibration import ProbePair, dial_of
from drying.dryers.dryer import Dryer as CoreDryer
from drying.dryers.dryer import DryerKind, Metered, kinds_of_dryer
from drying.dryers.setup import Load, MakersSheet
from drying.materials.properties import Material
from drying.materials.spool_bodies import body_kind
from drying.quantity import Quantity
from drying.runs.interruptions import Pause, tidy
from drying.transport.uncertainty import UNKNOWN_RATE, Rate
from drying.weighing.scale import Scale as CoreScale
from drying.weighing.scale import Weighing as CoreWeighing


def core_scale(scale: Scale) -> CoreScale:
    """A scale as the core takes it."""
    return CoreScale(scale.resolution_g, scale.repeatability_g, scale.drift_g)


def core_weighing(weighing: Weighing) -> CoreWeighing:
    """A weighing as the core takes it."""
    return CoreWeighing(weighing.gross_g, core_scale(weighing.scale), weighing.warm, weighing.surface_wet)


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
        dial=dial_of(
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


def core_load(
    spool: Spool,
    polymer: Material,
    start: Quantity,
    net_g: float | None,
    form: str = "",
    rate: Rate = UNKNOWN_RATE,
) -> Load:
    """A spool as the core takes it for a run, in its own form or another."""
    sheet = None
    if spool.sheet_temp_c is not None and spool.sheet_hours is not None:
        sheet = MakersSheet(spool.sheet_temp_c, spool.sheet_hours, spool.sheet_only_if_opened)
    return Load(
        material=polymer,
        body=body_kind(spool.body.kind),
        strand_diameter_mm=spool.strand_diameter_mm,
        start=start,
        net_g=net_g,
        form=form or spool.form,
        hub_radius_mm=spool.body.hub_diameter_mm / 2.0,
        width_mm=spool.body.width_mm,
        diameter_mm=spool.body.outer_diameter_mm,
        sheet=sheet,
        rate=rate,
    )


def runs_with_weighings() -> QuerySet[Run]:
    """Runs with all that judging them needs, in a constant number of queries."""
    return Run.objects.select_related("spool__body", "dryer").prefetch_related(
        "dryer__probes",
        "events",
        Prefetch("weighings", Weighing.objects.select_related("scale").order_by("at", "id")),
    )


def pauses(run: Run, until: datetime) -> list[Pause]:
    """When the heat was off, h after the start; a pause that goes on lasts until `until`."""
    found, since = [], None
    for event in run.events.all():
        at = hours_between(run.started_at, event.at)
        if event.kind == EventKind.POWER_CUT:
            found.append((at, at + (event.minutes or 0.0) / 60.0))
        elif event.kind == EventKind.PAUSED and since is None:
            since = at
        elif event.kind == EventKind.RESUMED and since is not None:
            found.append((since, at))
            since = None
    if since is not None:
        found.append((since, max(hours_between(run.started_at, until), since)))
    return tidy(found)


def hours_between(start: datetime, end: datetime) -> float:
    """Hours from one moment to another."""
    return (end - start).total_seconds() / 3600.0
