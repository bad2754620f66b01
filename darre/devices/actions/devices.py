"""Adding devices and their tokens. A token is shown once and stored only as a hash."""

import secrets

from django.db import transaction

from darre.common.errors import Refusal
from darre.common.saved import Saved
from darre.common.tokens import hash_of
from darre.devices.models import Device, DeviceKind, Sample
from darre.equipment.models import Dryer, Scale
from darre.history.recorder import history_entry
from darre.places.models import Place


@transaction.atomic
def add_device(
    name: str,
    kind: DeviceKind,
    dryer: Dryer | None = None,
    scale: Scale | None = None,
    place: Place | None = None,
    *,
    by_hand: bool = False,
) -> tuple[Device, str]:
    """Add a device; returns it with its token, which is not told again. Raises Refusal where the name is taken."""
    if Device.objects.filter(name=name).exists():
        raise Refusal("name_taken", f"There is already a device named {name}. Give this one another name.", "name")
    token = secrets.token_urlsafe(24)
    with history_entry("device.added", f"Added the device {name}") as entry:
        device = entry.create(
            Device(
                name=name, kind=kind, dryer=dryer, scale=scale, place=place, by_hand=by_hand, token_hash=hash_of(token)
            )
        )
    return device, token


@transaction.atomic
def renew_token(device: Device) -> str:
    """Give a device a new token; the old one counts no more from then on."""
    token = secrets.token_urlsafe(24)
    with history_entry("device.token_renewed", f"Gave {device.name} a new token") as entry:
        entry.update(device, token_hash=hash_of(token))
    return token


@transaction.atomic
def remove_device(device: Device) -> Saved[None]:
    """Remove a device that never sent anything. One with readings stays: they belong to runs."""
    if Sample.objects.filter(device=device).exists():
        raise Refusal("in_use", f"{device.name} has sent readings, so it stays. Renew its token to shut it out.")
    with history_entry("device.removed", f"Removed the device {device.name}") as entry:
        entry.delete(device)
    return entry.done()
