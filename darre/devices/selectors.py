"""Reading series: thinned on the way out, and what the core makes of a run's box air."""

from dataclasses import dataclass
from datetime import datetime

import numpy as np
from django.db.models import Avg, Count, F, IntegerField, Min, QuerySet, Value
from django.db.models.expressions import CombinedExpression

from darre.devices.models import Device, DeviceKind, Sample
from darre.equipment.models import Scale
from darre.inventory.actions.moments import CLOCK_SLACK
from darre.moisture.events import core_container
from darre.moisture.lanes import simulate_shelf
from darre.moisture.shelf import read_shelf
from darre.places.models import Place
from darre.places.room_air import hour_of
from darre.places.selectors import air_since
from darre.runs.models import EventKind, Run
from darre.runs.records import dryer_then
from drying.air import BoxAir, vapour_concentration_g_m3
from drying.air.box_air import box_air
from drying.storage import least_misfit

MOST_POINTS = 400
HOUR_MS = 3_600_000
LIVE_MS, STEADY_MS, DISPLAY_MS = 15_000, 3_000, 600_000


def devices() -> QuerySet[Device]:
    """Devices with what they are at."""
    return Device.objects.select_related("dryer", "scale", "place")


@dataclass(frozen=True)
class Series:
    """A thinned series: means over buckets of `bucket_ms`; ms since 1970."""

    at_ms: list[int]
    temp_c: list[float]
    rh_pct: list[float]
    count: int
    bucket_ms: int


def air_series(device: Device, begin_ms: int, end_ms: int, most: int = MOST_POINTS) -> Series:
    """Temperature and humidity of a logger between two moments, in at most so many points, by one query."""
    bucket = max((end_ms - begin_ms) // most, 1)
    rows = list(
        Sample.objects.filter(device=device, at_ms__gte=begin_ms, at_ms__lte=end_ms, temp_c__isnull=False)
        .filter(rh_pct__isnull=False)
        .annotate(bucket=CombinedExpression(F("at_ms"), "/", Value(bucket), output_field=IntegerField()))
        .values("bucket")
        .annotate(first=Min("at_ms"), temp=Avg("temp_c"), rh=Avg("rh_pct"), count=Count("id"))
        .order_by("bucket")
    )
    return Series(
        at_ms=[r["first"] for r in rows],
        temp_c=[r["temp"] for r in rows],
        rh_pct=[device.true_rh_pct(r["rh"]) for r in rows],
        count=sum(r["count"] for r in rows),
        bucket_ms=bucket,
    )


@dataclass(frozen=True)
class RunAir:
    """A run's box air with the device that saw it and the temperature there now. `desiccant`: some lay in the box, so
    that the water in its air may not be the spool's.
    """

    device: Device
    air: BoxAir
    temp_now_c: float
    count: int
    display_c: float | None
    desiccant: bool


def run_air(run: Run, now: datetime) -> RunAir | None:
    """What the loggers in a run's dryer tell of it; None where none did."""
    begin, end = run.started_at, min(now, run.ended_at or now)
    begin_ms, end_ms = round(begin.timestamp() * 1000), round(end.timestamp() * 1000)
    for device in devices().filter(kind=DeviceKind.LOGGER, dryer=run.batch.dryer_id).order_by("by_hand", "id"):
        series = air_series(device, begin_ms, end_ms)
        if len(series.at_ms) < 2:
            continue
        times = (np.array(series.at_ms) - begin_ms) / HOUR_MS
        room = _room_water(run, begin, end, times)
        # Warm desiccant gives off water of its own: then nobody can tell the spool's grams from it.
        dryer = dryer_then(run.batch)
        changed = any(event.kind == EventKind.DESICCANT for event in run.batch.events.all())
        desiccant = changed or dryer.desiccant is not None
        vent_m3_h = None if desiccant else dryer.vent_m3_h
        found = box_air(times, series.temp_c, series.rh_pct, room, vent_m3_h)
        return RunAir(device, found, series.temp_c[-1], series.count, _display_c(run, end_ms), desiccant)
    return None


def typing_span(run: Run, now: datetime) -> tuple[datetime, datetime]:
    """From when to when a reading that somebody types belongs to a run: what is taken in is what is shown."""
    return run.started_at - CLOCK_SLACK, (run.ended_at or now) + CLOCK_SLACK


def typed_air(run: Run, now: datetime) -> list[Sample]:
    """What somebody typed of the air in a run's dryer, in order of time."""
    begin_ms, end_ms = (round(at.timestamp() * 1000) for at in typing_span(run, now))
    seen = Sample.objects.filter(device__by_hand=True, device__dryer=run.batch.dryer_id)
    return list(seen.filter(at_ms__gte=begin_ms, at_ms__lte=end_ms).order_by("at_ms"))


def _display_c(run: Run, end_ms: int) -> float | None:
    """What the run's dryer shows of itself, °C; None where it does not send, or has not for a while."""
    heard = Sample.objects.filter(device__kind=DeviceKind.DRYER, device__dryer=run.batch.dryer_id, temp_c__isnull=False)
    last = heard.filter(at_ms__gte=end_ms - DISPLAY_MS, at_ms__lte=end_ms).order_by("-at_ms").first()
    return last.temp_c if last else None


def _room_water(run: Run, begin: datetime, end: datetime, times: np.ndarray) -> list[float]:
    """The room's water at each moment, g/m³: as last measured by then, else as it was expected at the start."""
    known = [(0.0, vapour_concentration_g_m3(run.batch.room_temp_c, run.batch.room_rh_pct))]
    for at, air in air_since(begin, end):
        if at > begin:
            known.append(((at - begin).total_seconds() / 3600.0, vapour_concentration_g_m3(air.temp_c, air.rh_pct)))
    hours, water = np.array([k[0] for k in known]), np.array([k[1] for k in known])
    return [float(x) for x in water[np.searchsorted(hours, times, side="right") - 1]]


@dataclass(frozen=True)
class LiveMass:
    """What a scale shows now, g, and whether it has come to rest; None where it has not been heard for a while."""

    mass_g: float
    steady: bool
    at_ms: int


def live_mass(scale: Scale, now: datetime) -> LiveMass | None:
    """The last reading of a scale that sends its own."""
    now_ms = round(now.timestamp() * 1000)
    recent = Sample.objects.filter(device__scale=scale, mass_g__isnull=False, at_ms__gte=now_ms - LIVE_MS)
    rows = list(recent.order_by("-at_ms").values_list("at_ms", "mass_g")[:20])
    if not rows:
        return None
    last_ms, mass = rows[0]
    near = [m for at, m in rows if m is not None and at >= last_ms - STEADY_MS]
    assert mass is not None
    steady = len(near) > 2 and max(near) - min(near) <= 2.0 * scale.resolution_g + 1e-9
    return LiveMass(mass, steady, last_ms)


LOGGED_BACK_H, LEAST_LOGGED_H = 21 * 24, 48
INGRESS_FACTORS = (0.2, 0.35, 0.6, 1.0, 1.7, 2.9, 5.0)
HUMIDITY_SD = 0.02  # of a logger, as activity


@dataclass(frozen=True)
class LoggedIngress:
    """What leaks into a container, m³/day, by the humidity that a logger in it saw, over so many hours."""

    value: float
    uncertainty: float
    hours: int
    device_name: str


def logged_ingress(place: Place, now: datetime) -> LoggedIngress | None:
    """The ingress with which the computed air of a container comes nearest to what a logger in it saw.

    None where no logger hangs in it, its readings cover fewer than two days, or no ingress tried fits better than the
    ends.
    """
    device = devices().filter(kind=DeviceKind.LOGGER, place=place).first()
    if device is None:
        return None
    end_h = hour_of(now)
    series = air_series(device, (end_h - LOGGED_BACK_H) * HOUR_MS, end_h * HOUR_MS, LOGGED_BACK_H)
    hours = np.array(series.at_ms) // HOUR_MS
    seen = np.array(series.rh_pct) / 100.0
    if hours.size < LEAST_LOGGED_H:
        return None
    shelf, misfits = read_shelf(now), []
    for factor in INGRESS_FACTORS:
        simulated = simulate_shelf(shelf, back_h=LOGGED_BACK_H, factor=factor)
        row = next(
            (simulated.histories.activity[n] for n, box in enumerate(simulated.boxes) if box.pk == place.pk), None
        )
        if row is None:
            return None
        computed = row[np.clip(hours - simulated.histories.first, 0, row.size - 1)]
        # Errors of a logger go on for days: they count as one a day.
        misfits.append(float(np.nansum(((computed - seen) / HUMIDITY_SD) ** 2)) / 24.0)
    found = least_misfit(np.log(INGRESS_FACTORS), misfits)
    if found is None:
        return None
    usual = core_container(place).ingress_m3_day or 0.0
    value = usual * float(np.exp(found.value))
    return LoggedIngress(value, value * found.uncertainty, int(hours.size), device.name)
