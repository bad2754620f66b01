"""Load the demo world through the same actions that the screens use."""

from datetime import datetime, timedelta
from uuid import NAMESPACE_DNS, UUID, uuid5

import numpy as np
from django.db import transaction
from django.utils import timezone

from darre.demo.cases import load_cases
from darre.demo.climate import shed_air
from darre.demo.trials import load_trials
from darre.demo.world import (
    DRYERS,
    EMPTY_SPOOLS,
    FILLS,
    HELPERS,
    HOME,
    PLACES,
    PLACES_DAYS,
    PROBES,
    ROOM,
    RUNS,
    SCALES,
    SHEETS,
    SPOOLS,
    TARIFF,
    WISHES,
    DemoRun,
    DemoSpool,
)
from darre.equipment.actions.dryers import add_dryer
from darre.equipment.actions.scales import add_scale
from darre.equipment.models import Dryer, Scale
from darre.equipment.records import core_dryer, core_scale
from darre.history.recorder import history_entry
from darre.inventory.actions.empty_spools import add_empty_spool
from darre.inventory.actions.people import add_helper
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
from darre.planning.actions.start_run import NewBatch, start_run
from darre.runs.actions.runs import end_run
from darre.runs.actions.weighings import Reading, save_weighing
from darre.runs.selectors import get_run
from darre.schedule.actions.wishes import add_wish
from drying.dryers import MakersSheet, Setup, calibration
from drying.dryers.setup import at_rate
from drying.quantity import Quantity
from drying.transport import course, even_state

LOADED = "demo.loaded"


def _key(*parts: object) -> UUID:
    return uuid5(NAMESPACE_DNS, "demo " + " ".join(map(str, parts)))


def _copy(record: Dryer | Scale | EmptySpool) -> dict[str, object]:
    """Field values of an unsaved record of the world, so that loading twice makes two records."""
    return {f.attname: f.value_from_object(record) for f in record._meta.concrete_fields if not f.primary_key}


def _load_spool(
    demo_spool: DemoSpool, now: datetime, places: dict[str, Place], empty_spools: dict[str, EmptySpool]
) -> None:
    at = now - timedelta(days=demo_spool.known_days_ago)
    spool = add_spool(
        NewSpool(
            name=demo_spool.name,
            material=demo_spool.material,
            empty_spool=empty_spools[demo_spool.empty_spool],
            tare=demo_spool.tare,
            place=places[demo_spool.places[0][1]],
            moisture=demo_spool.moisture,
            colour=demo_spool.colour,
            maker=demo_spool.maker,
            purpose=demo_spool.purpose,
        ),
        at,
    ).record
    for days_ago, name in demo_spool.places[1:]:
        move_spools([spool], places[name], now - timedelta(days=days_ago))
    bench = Scale.objects.get(name="Bench scale")
    save_weighing(spool, Reading(bench, demo_spool.tare.mass_g + demo_spool.net_g, _key(demo_spool.name, "first")), at)


def _true_gross(demo_run: DemoRun, spool: Spool, net_g: float, started: datetime, scale: Scale) -> list[float]:
    """What the scale showed: the strand's hidden course, the body's own water, noise, rounded to the scale's step."""
    rng = np.random.default_rng(abs(hash((demo_run.started_h_ago, demo_run.true_rate))) % 2**32)
    load = core_load(spool, material_book()[spool.material], Quantity(demo_run.true_start_pct, 0.0), net_g)
    hours = np.array(demo_run.weighed_at_h, dtype=float)
    dryer, room = core_dryer(Dryer.objects.get(name=demo_run.dryer)), room_now(started).air
    met = Setup((load,), dryer, room).segments(load, demo_run.temp_c, float(hours[-1]))
    moisture = course(
        load.filament,
        even_state(load.filament, demo_run.true_start_pct),
        at_rate(met, demo_run.true_rate),
        hours * demo_run.true_rate,
    )
    dry_g = net_g / (1 + demo_run.true_start_pct / 100)
    empty_spool = demo_run.body_water_g * (1 - np.exp(-hours / 2.0))
    true = spool.tare_g + dry_g * (1 + moisture / 100) - empty_spool
    noisy = true + rng.normal(0, core_scale(scale).repeatability_g, hours.size)
    return [round(round(float(g) / scale.resolution_g) * scale.resolution_g, 3) for g in noisy]


def _load_run(demo_run: DemoRun, now: datetime) -> None:
    spool = Spool.objects.select_related("empty_spool").get(name=demo_run.spool)
    bench = Scale.objects.get(name="Bench scale")
    started = now - timedelta(hours=demo_run.started_h_ago)
    net_g = next(s.net_g for s in SPOOLS if s.name == demo_run.spool)
    gross = _true_gross(demo_run, spool, net_g, started, bench)
    readings = [Reading(bench, g, _key(demo_run.spool, "run", n)) for n, g in enumerate(gross)]
    [run] = start_run(
        NewBatch(
            spools=[spool],
            dryer=Dryer.objects.get(name=demo_run.dryer),
            method=demo_run.method,
            temp_c=demo_run.temp_c,
            duration_h=demo_run.duration_h,
            client_key=_key(demo_run.spool, "run"),
            readings={spool.pk: readings[0]},
            at=started,
            aim_pct=demo_run.aim_pct,
        )
    ).record
    between = readings[1:-1] if demo_run.ended else readings[1:]
    for hours, reading in zip(demo_run.weighed_at_h[1:], between, strict=False):
        save_weighing(spool, reading, started + timedelta(hours=hours))
    if demo_run.ended:
        end_run(get_run(run.id), readings[-1], started + timedelta(hours=demo_run.weighed_at_h[-1]))


def _load_desiccant(places: dict[str, Place], now: datetime) -> None:
    """Desiccant as it was put in, and what its pack was found to weigh since."""
    for filled in FILLS:
        place = places[filled.place]
        fill_place(
            place, filled.kind, filled.dry_g, filled.load_pct, now - timedelta(days=filled.days_ago),
            indicator=filled.indicator, pouch=filled.pouch,
        )  # fmt: skip
        for days_ago, mass_g in filled.weighed:
            weigh_desiccant(place.fills.latest("at"), mass_g, 0.1, now - timedelta(days=days_ago))


def _load_people() -> None:
    """Whose hands there are, and when: from then on plans depend on the time of day."""
    set_preferences(**HOME)
    for name, hours in HELPERS.items():
        add_helper(name, **hours)


def _load_wishes(now: datetime) -> None:
    """What is wanted by when."""
    for wish in WISHES:
        ready_by = None
        if wish.days_ahead is not None:
            day = now + timedelta(days=wish.days_ahead)
            ready_by = day.replace(hour=wish.hour, minute=0, second=0, microsecond=0)
        add_wish(Spool.objects.get(name=wish.spool), ready_by, wish.grams, wish.note)


@transaction.atomic
def load_demo_world(now: datetime | None = None, *, people: bool = False) -> None:
    """Fill an empty database with the observatory shed. The same at every start but for the dates; `people`: with the
    hours at which somebody is at home, and what they want dry by when.
    """
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
    load_trials(now)
    if people:
        _load_people()
        _load_wishes(now)
    with history_entry(LOADED, "Loaded the demo world"):
        pass
