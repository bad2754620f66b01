"""Measure a full rack: 150 spools, a year of hourly air, bins. Server time of the first page, again, and of a move."""

from __future__ import annotations

import json
import os
import tempfile
import time
from datetime import timedelta
from pathlib import Path
from typing import Any

import numpy as np

from tools.measured import note

SPOOLS, DAYS, BINS = 150, 365, 12
MATERIALS = ("pla", "petg", "pa6", "tpu", "abs", "asa", "pc", "pa12", "pla-filled", "pva")


def fill() -> None:
    """A workshop with a year behind it: a move every three weeks or so for each spool, a weigh-in now and then."""
    from uuid import uuid4

    from django.utils import timezone

    from darre.equipment.actions.scales import add_scale
    from darre.equipment.models import Scale
    from darre.inventory.actions.empty_spools import add_empty_spool
    from darre.inventory.models import EmptySpool
    from darre.places.actions.arrivals import NewSpool, add_spool
    from darre.places.actions.places import add_place, fill_place
    from darre.places.actions.room import add_room, record_room_air
    from darre.places.actions.stays import move_spools
    from darre.runs.actions.weighings import Reading, save_weighing
    from drying.air import RoomAir
    from drying.weighing import Tare, TareMethod

    now, rng = timezone.now(), np.random.default_rng(3)
    begin = now - timedelta(days=DAYS)
    hours = np.arange(DAYS * 24)
    temps = 16 + 5 * np.sin(hours * 2 * np.pi / hours.size) + 3 * np.sin(hours * 2 * np.pi / 24)
    humid = np.clip(64 + rng.normal(0, 1.2, hours.size).cumsum() / 12, 35, 90)
    air = [
        (begin + timedelta(hours=int(h)), RoomAir(float(t), float(r)))
        for h, t, r in zip(hours, temps, humid, strict=True)
    ]
    record_room_air(add_room("the hall").record, air)
    shelf = add_place("Shelf", "shelf", since=begin).record
    bins = [add_place(f"Bin {n}", "gasket_bin", since=begin).record for n in range(BINS)]
    for place in bins:
        fill_place(place, "silica_gel", 400, at=begin)
    body = add_empty_spool(EmptySpool(name="Filament", kind="abs")).record
    scale = add_scale(Scale(name="Bench", max_g=3000, resolution_g=0.1, repeatability_g=0.05)).record
    for n in range(SPOOLS):
        tare = Tare(210, 3, TareMethod.TWIN)
        spool = add_spool(NewSpool(f"Spool {n:03}", MATERIALS[n % 10], body, tare, shelf), begin).record
        save_weighing(spool, Reading(scale, 1200.0, uuid4()), begin)
        days = float(rng.uniform(2, 25))
        while days < DAYS:
            place = shelf if rng.random() < 0.5 else bins[int(rng.integers(BINS))]
            move_spools([spool], place, begin + timedelta(days=days))
            days += float(rng.uniform(5, 40))


def main() -> None:
    with tempfile.TemporaryDirectory() as folder:
        os.environ["DARRE_DB"] = str(Path(folder) / "bench-rack.sqlite3")
        os.environ["DJANGO_SETTINGS_MODULE"] = "darre.settings"
        import django

        django.setup()
        from django.core.management import call_command
        from django.test import Client

        call_command("migrate", verbosity=0)
        fill()
        client = Client(headers={"host": "localhost"})

        def ask(act: Any) -> float:
            start = time.perf_counter()
            answer = act()
            assert answer.status_code in (200, 201), answer.content[:200]
            return 1000.0 * (time.perf_counter() - start)

        def rack() -> Any:
            return client.get("/api/rack/")

        print(f"\nA rack of {SPOOLS} spools, {DAYS} days of hourly air, {BINS} bins (no peer)")
        first = ask(rack) / 1000
        print(f"  first page where nothing was kept: {first:.1f} s")
        note("rack: first page where nothing was kept", first, "s")
        print(f"  first page, warm: {np.median([ask(rack) for _ in range(7)]):.0f} ms")
        moved = []
        for n in range(9):
            body = json.dumps({"spools": [n + 20], "place": 1 + n % 3})
            move = ask(lambda body=body: client.post("/api/stays/", body, content_type="application/json"))
            lane = ask(lambda n=n: client.get(f"/api/rack/?spool={n + 20}"))
            moved.append((move, lane, move + lane))
        middle, worst = np.median(moved, axis=0), np.max(moved, axis=0)
        print(f"  moved {middle[0]:.0f} ms, its lane told anew {middle[1]:.0f} ms; both worst {worst[2]:.0f} ms")


if __name__ == "__main__":
    main()
