"""Load the demo world through the same actions that the screens use."""

from datetime import datetime, timedelta
from uuid import NAMESPACE_DNS, UUID, uuid5

import numpy as np
from django.db import transaction
from django.utils import timezone

from darre.demo.cases import load_cases
from darre.demo.climate import shed_air
from darre.demo.world import (
    DRYERS,
    EMPTY_SPOOLS,
    FILLS,
    PLACES,
    PLACES_DAYS,
    PROBES,
    ROOM,
    RUNS,
    SCALES,
    SHEETS,
    SPOOLS,
    TARIFF,
    DemoRun,
    DemoSpool,
)
from darre.equipment.actions.dryers import add_dryer
from darre.equipment.actions.scales import add_scale
from darre.equipment.models import Dryer, Scale
from darre.equipment.records import core_dryer, core_scale
from darre.history.recorder import history_entry
from darre.inventory.actions.empty_spools import add_empty_spool
from darre.inventory.actions.preferences import set_preferences
from darre.inventory.actions.spools import set_sheet
from darre.inventory.material_book import material_book
from darre.inventory.models import EmptySpool, Spool
from darre.inventory.records import core_load
from darre.places.actions.arrivals import NewSpool, add_spool
from darre.places.actions.places import add_place, fill_place, weigh_desiccant
from darre.places.actions.room import add_room, record_room_air
from darre.places.actions.stays import move_spools
from darre.places.models import Place
from darre.places.selectors import room_now
from darre.planning.actions.start_run import NewRun, start_run
from darre.runs.actions.runs import end_run
from darre.runs.actions.weighings import Reading, save_weighing
from darre.runs.models import Run
from darre.runs.selectors import get_run
from drying.dryers import MakersSheet, calibration
from drying.quantity import Quantity
from drying.transport import course, even_state

LOADED = "demo.loaded"


def _key(*parts: object) -> UUID:
    return uuid5(NAMESPACE_DNS, "demo " + " ".join(map(str, parts)))


def _copy(record: Dryer | Scale | EmptySpool) -> dict[str, object]:
    """Field values of an unsaved record of the world, so that loading twice makes two records."""
    return {f.attname: f.value_from_object(record) for f in record._meta.concrete_fields if not f.primary_key}


def _load_spool(it: DemoSpool, now: datetime, places: dict[str, Place], empty_spools: dict[str, EmptySpool]) -> None:
    at = now - timedelta(days=it.known_days_ago)
    spool = add_spool(
        NewSpool(
            name=it.name,
            material=it.material,
            empty_spool=empty_spools[it.empty_spool],
            tare=it.tare,
            place=places[it.places[0][1]],
            moisture=it.moisture,
            colour=it.colour,
            maker=it.maker,
            purpose=it.purpose,
        ),
        at,
    ).record
    for days_ago, name in it.places[1:]:
        move_spools([spool], places[name], now - timedelta(days=days_ago))
    bench = Scale.objects.get(name="Bench scale")
    save_weighing(spool, Reading(bench, it.tare.mass_g + it.net_g, _key(it.name, "first")), at)


def _true_gross(it: DemoRun, spool: Spool, net_g: float, started: datetime, scale: Scale) -> list[float]:
    """What the scale showed: the strand's hidden course, the body's own water, noise, rounded to the scale's step."""
    rng = np.random.default_rng(abs(hash((it.started_h_ago, it.true_rate))) % 2**32)
    load = core_load(spool, material_book()[spool.material], Quantity(it.true_start_pct, 0.0), net_g)
    hours = np.array(it.weighed_at_h, dtype=float)
    dryer, room = core_dryer(Dryer.objects.get(name=it.dryer)), room_now(started).air
    segments = dryer.segments(load.material, room, it.temp_c, float(hours[-1]) * it.true_rate)
    moisture = course(load.filament, even_state(load.filament, it.true_start_pct), segments, hours * it.true_rate)
    dry_g = net_g / (1 + it.true_start_pct / 100)
    empty_spool = it.body_water_g * (1 - np.exp(-hours / 2.0))
    true = spool.tare_g + dry_g * (1 + moisture / 100) - empty_spool
    noisy = true + rng.normal(0, core_scale(scale).repeatability_g, hours.size)
    return [round(round(float(g) / scale.resolution_g) * scale.resolution_g, 3) for g in noisy]


def _load_run(it: DemoRun, now: datetime) -> None:
    spool = Spool.objects.select_related("empty_spool").get(name=it.spool)
    bench = Scale.objects.get(name="Bench scale")
    started = now - timedelta(hours=it.started_h_ago)
    net_g = next(s.net_g for s in SPOOLS if s.name == it.spool)
    gross = _true_gross(it, spool, net_g, started, bench)
    readings = [Reading(bench, g, _key(it.spool, "run", n)) for n, g in enumerate(gross)]
    run: Run = start_run(
        NewRun(
            spool=spool,
            dryer=Dryer.objects.get(name=it.dryer),
            method=it.method,
            temp_c=it.temp_c,
            duration_h=it.duration_h,
            client_key=_key(it.spool, "run"),
            weigh_in=readings[0],
            at=started,
        )
    ).record
    between = readings[1:-1] if it.ended else readings[1:]
    for hours, reading in zip(it.weighed_at_h[1:], between, strict=False):
        save_weighing(spool, reading, started + timedelta(hours=hours))
    if it.ended:
        end_run(get_run(run.id), readings[-1], started + timedelta(hours=it.weighed_at_h[-1]))


def _load_desiccant(places: dict[str, Place], now: datetime) -> None:
    """Desiccant as it was put in, and what its pack was found to weigh since."""
    for it in FILLS:
        place = places[it.place]
        fill_place(
            place, it.kind, it.dry_g, it.load_pct, now - timedelta(days=it.days_ago), indicator=it.indicator,
            pouch=it.pouch,
        )  # fmt: skip
        for days_ago, mass_g in it.weighed:
            weigh_desiccant(place.fills.latest("at"), mass_g, 0.1, now - timedelta(days=days_ago))


@transaction.atomic
def load_demo_world(now: datetime | None = None) -> None:
    """Fill an empty database with the observatory shed. The same at every start but for the dates."""
    now = now or timezone.now()
    room = add_room(ROOM).record
    record_room_air(room, shed_air(now))
    places = {p.name: add_place(p.name, p.kind, since=now - timedelta(days=PLACES_DAYS)).record for p in PLACES}
    _load_desiccant(places, now)
    empty_spools = {b.name: add_empty_spool(EmptySpool(**_copy(b))).record for b in EMPTY_SPOOLS}
    for scale in SCALES:
        add_scale(Scale(**_copy(scale)))
    for dryer in DRYERS:
        pairs = [calibration.ProbePair(*pair) for pair in PROBES.get(dryer.name, ())]
        add_dryer(Dryer(**_copy(dryer)), pairs, now - timedelta(days=30))
    set_preferences(**TARIFF)
    for spool in SPOOLS:
        _load_spool(spool, now, places, empty_spools)
    for name, sheet in SHEETS.items():
        set_sheet(Spool.objects.get(name=name), MakersSheet(*sheet))
    for run in RUNS:
        _load_run(run, now)
    load_cases(now)
    with history_entry(LOADED, "Loaded the demo world"):
        pass
