"""What the stand-in devices show and how they send it: by the app's ingest address alone."""

from __future__ import annotations

import sys
import time
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta

import numpy as np

from bridge.delivery import AGAIN, deliver
from drying.air import RoomAir
from drying.arrays import Array
from drying.dryers import Load
from drying.materials import empty_spool_kind, material
from drying.quantity import Quantity
from drying.transport import Segment
from drying.weighing import Scale
from standins.coils import Lot, OnTheScale
from standins.truth import Truth, read_off

BENCH = Scale(0.1, 0.05, 0.02)
TEMP_NOISE_C, RH_NOISE_PCT, RH_OFF_PCT, SWING_C, SWING_H = 0.1, 0.25, 0.6, 1.5, 0.35
SILENT_SHARE = 0.01  # readings that a device does not send


@dataclass(frozen=True)
class World:
    """The running run as it really is. `segments`: hours, °C, room's °C and %, m³/h."""

    started_at: str
    material: str
    net_g: float
    hub_radius_mm: float
    width_mm: float
    start_pct: float
    rate: float
    tare_g: float
    power_w: float
    segments: Sequence[Sequence[float]]
    display_off_c: float = 5.0

    @property
    def truth(self) -> Truth:
        """The truth that the devices follow."""
        load = Load(
            material(self.material),
            empty_spool_kind("abs"),
            1.75,
            Quantity(self.start_pct, 0.0),
            self.net_g,
            hub_radius_mm=self.hub_radius_mm,
            width_mm=self.width_mm,
        )
        segments = tuple(Segment(h, c, RoomAir(rc, rh), vent) for h, c, rc, rh, vent in self.segments)
        dry_g, from_c = load.dry_mass_g or 1000.0, segments[0].room.temp_c
        return Truth(load.filament, self.start_pct, segments, dry_g, self.tare_g, self.rate, from_c)


def readings(world: World, kind: str, hours: Sequence[float] | Array, seed: int) -> list[dict[str, float]]:
    """What a device shows at each moment, h after the run's start: a logger, a scale, a meter, or a dryer's display."""
    truth, rng = world.truth, np.random.default_rng(seed)
    if kind == "scale":
        return [{"mass_g": read_off(float(g), BENCH, rng)} for g in truth.gross_g(hours)]
    if kind == "meter":
        return [{"energy_kwh": round(412.6 + world.power_w * float(h) / 1000.0, 3)} for h in hours]
    found = []
    if kind == "dryer":
        for hour in hours:
            air_c = truth.box_air(float(hour))[0]
            found.append({"temp_c": float(round(air_c + world.display_off_c + rng.normal(0.0, TEMP_NOISE_C)))})
        return found
    for hour in hours:
        temp, rh = truth.box_air(float(hour))
        temp += SWING_C * np.sin(2.0 * np.pi * float(hour) / SWING_H) + rng.normal(0.0, TEMP_NOISE_C)
        seen = rh + RH_OFF_PCT + rng.normal(0.0, RH_NOISE_PCT)
        found.append({"temp_c": round(float(temp), 1), "rh_pct": round(float(min(max(seen, 0.0), 100.0)), 1)})
    return found


@dataclass
class StandIn:
    """A device that looks every `every_s` and sends; what the app did not take is sent again."""

    kind: str
    token: str
    every_s: float
    seed: int
    last_h: float = -1.0
    kept: tuple[dict[str, object], ...] = ()
    on_it: OnTheScale | None = None

    def step(self, world: World, address: str, now: datetime) -> int | None:
        """Look and send where it is time; the status, None where it is not."""
        start = datetime.fromisoformat(world.started_at)
        hour = (now - start).total_seconds() / 3600.0
        if hour <= 0.0 or hour < self.last_h + self.every_s / 3600.0:
            return None
        self.last_h = hour
        rng = np.random.default_rng([self.seed, int(hour * 3600)])
        if rng.random() < SILENT_SHARE:
            return None
        if self.on_it is None:
            [values] = readings(world, self.kind, [hour], seed=self.seed + int(hour * 3600))
        else:
            values = {"mass_g": self.on_it.shows_g(address, now, rng)}
        rows = [*self.kept, {"at": now.isoformat(), **values}]
        status = deliver(address, self.token, rows)
        self.kept = tuple(rows[-500:]) if status in AGAIN else ()
        return status


COILS = "coils"
EVERY_S = {"scale": 1.0, COILS: 1.0, "logger": 10.0, "meter": 30.0, "dryer": 20.0}


def run(told: dict[str, object], address: str, speed: float, sleep: Callable[[float], None] = time.sleep) -> None:
    """Be the devices until stopped. At a speed over 1 the past since the run's start is played first, until now."""
    world = World(**told["world"])  # type: ignore[arg-type]  # as the demo wrote it
    tokens: dict[str, str] = told["tokens"]  # type: ignore[assignment]  # likewise
    devices = [StandIn(kind, tokens[kind], EVERY_S[kind], n) for n, kind in enumerate(sorted(tokens))]
    for device in devices:
        if device.kind == COILS:
            device.on_it = OnTheScale(Lot(**told["lot"]))  # type: ignore[arg-type]  # as the demo wrote it
    wall = datetime.now(UTC)
    begin = wall if speed <= 1.0 else datetime.fromisoformat(world.started_at)
    while True:
        real = datetime.now(UTC)
        now = min(begin + timedelta(seconds=(real - wall).total_seconds() * speed), real)
        for device in devices:
            if device.step(world, address, now) == 401:
                print(f"stand-ins: the {device.kind}'s token is not known any more; stopping.", file=sys.stderr)  # noqa: T201
                return
        sleep(0.5)
