"""A log with known habits, for tests: a ramp from 20 °C, then a thermostat's swing, a reading a minute."""

import math

from darre.devices.actions.devices import add_device
from darre.devices.models import DeviceKind, Sample

WARM_H, SWING_C, PERIOD_H, HELD_C = 0.5, 2.4, 0.2, 58.0


def shown(hour, held_c=HELD_C):
    """What the logger shows so many hours after the heat came on."""
    if hour < WARM_H:
        return round(20.0 + (held_c - 20.0) * hour / WARM_H, 1)
    return round(held_c + SWING_C * math.sin(2.0 * math.pi * (hour - WARM_H) / PERIOD_H), 1)


def hang(run, name, held_c=HELD_C, hours=5.0):
    """A logger in a run's dryer that has seen its first hours."""
    device, _ = add_device(name, DeviceKind.LOGGER, run.batch.dryer)
    begin = round(run.batch.started_at.timestamp() * 1000)
    Sample.objects.bulk_create(
        Sample(device=device, own_ms=begin + 60_000 * n, at_ms=begin + 60_000 * n, temp_c=shown(n / 60, held_c),
               rh_pct=10.0)
        for n in range(1, round(60 * hours))
    )  # fmt: skip
