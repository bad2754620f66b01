"""The shed's devices, what they sent while the running run went on, and what their stand-ins have to know."""

import json
from dataclasses import asdict
from datetime import datetime, timedelta
from typing import Any

import numpy as np

from darre.demo.load import LOADED
from darre.demo.trials import soaking_lot
from darre.demo.world import RUNS, SPOOLS
from darre.devices.actions.devices import add_device
from darre.devices.actions.ingest import take_in
from darre.devices.models import DeviceKind
from darre.equipment.models import Scale
from darre.equipment.records import core_dryer
from darre.history.recorder import history_entry
from darre.inventory.material_book import material_book
from darre.inventory.records import core_load
from darre.runs.models import Run
from drying.air import RoomAir
from drying.dryers import mean_power_w
from drying.quantity import Quantity
from standins.sending import COILS, World, readings

EVERY_S = 60


def load_devices(now: datetime) -> dict[str, Any]:
    """Add logger, scale and meter at the running run, send what they saw since its start, and return what the stand-ins
    go on with: their tokens and the hidden truth.
    """
    run = Run.objects.select_related("spool__empty_spool", "batch__dryer").get(ended_at__isnull=True)
    hidden = next(r for r in RUNS if not r.ended)
    net_g = next(s.net_g for s in SPOOLS if s.name == hidden.spool)
    spool, dryer = run.spool, core_dryer(run.dryer)
    load = core_load(spool, material_book()[spool.material], Quantity(hidden.true_start_pct, 0.0), net_g)
    room = RoomAir(run.batch.room_temp_c, run.batch.room_rh_pct)
    world = World(
        started_at=run.started_at.isoformat(),
        material=spool.material,
        net_g=net_g,
        hub_radius_mm=load.hub_radius_mm,
        width_mm=load.width_mm,
        start_pct=hidden.true_start_pct,
        rate=hidden.true_rate,
        tare_g=spool.tare_g,
        power_w=mean_power_w(dryer, room.temp_c, run.batch.temp_c).value,
        segments=[
            (s.duration_h, s.temp_c, s.room.temp_c, s.room.rh_pct, s.vent_m3_h or 0.0)
            for s in dryer.segments(load.material, room, run.batch.temp_c, run.duration_h * 2)
        ],
    )
    tokens = {}
    for kind, name in (
        (DeviceKind.LOGGER, "Cellar logger"),
        (DeviceKind.METER, "Cellar meter"),
        (DeviceKind.DRYER, "Cellar display"),
    ):
        device, tokens[kind.value] = add_device(name, kind, run.dryer)
        hours = np.arange(EVERY_S, (now - run.started_at).total_seconds(), EVERY_S) / 3600.0
        sent = [
            {"at": (run.started_at + timedelta(hours=float(h))).isoformat(), **values}
            for h, values in zip(hours, readings(world, kind.value, hours, seed=5), strict=True)
        ]
        take_in(device, json.dumps({"readings": sent}).encode())
    for key, name in ((DeviceKind.SCALE.value, "Bench"), (COILS, "Pocket")):
        scale = Scale.objects.get(name=f"{name} scale")
        _, tokens[key] = add_device(f"{name} cable", DeviceKind.SCALE, scale=scale)
    with history_entry(LOADED, "Loaded the demo's devices"):
        pass
    return {"world": asdict(world), "tokens": tokens, "lot": asdict(soaking_lot())}
