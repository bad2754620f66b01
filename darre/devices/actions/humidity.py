"""Putting a logger's humidity right."""

from django.db import transaction

from darre.common.saved import Saved
from darre.devices.models import Device
from darre.history.recorder import history_entry


@transaction.atomic
def set_humidity_offset(device: Device, offset_pct: float) -> Saved[None]:
    """From now on take so much off what a device shows, % relative humidity, in all that it has sent and will send. The
    room's air that was stored from it stays as it was.
    """
    says = f"{device.name} shows {abs(offset_pct):.1f} % too {'much' if offset_pct > 0 else 'little'} humidity"
    with history_entry("device.offset_set", says if offset_pct else f"{device.name} is taken at its word") as entry:
        entry.update(device, rh_offset_pct=offset_pct)
    return entry.done()
