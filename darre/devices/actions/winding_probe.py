"""A logger whose probe sits in the winding of a spool that dries: the run goes by how slowly it warms through."""

from django.db import transaction
from django.utils import timezone

from darre.common.errors import Refusal
from darre.common.saved import Saved
from darre.devices.habits import readings_between, steady_until
from darre.devices.models import Device, DeviceKind
from darre.history.recorder import history_entry
from darre.inventory.material_book import material_book
from darre.runs.models import Run
from darre.runs.selectors import run_so_far
from drying.quantity import Quantity
from drying.runs import warming_by_probe


def _told(run: Run, device: Device) -> Quantity:
    if device.dryer_id != run.batch.dryer_id or device.kind != DeviceKind.LOGGER:
        raise Refusal("other_dryer", f"{device.name} is not a logger in {run.dryer.name}.", "device", 400)
    now = timezone.now()
    so_far = run_so_far(run, material_book(), now)
    times, temps = readings_between(device, run.started_at, steady_until(run, now))
    told = warming_by_probe(so_far.load.filament, so_far.fan, so_far.segments, times, temps)
    if told is None:
        says = f"{device.name} has not seen enough of the warming to tell: it takes eight readings on the way up."
        raise Refusal("not_told", says, "device", 409)
    return told


def probe_in_winding(run: Run, device: Device | None) -> Saved[None]:
    """Let a run go by the probe that a logger has in its winding; None: let it go by what is usual again.

    Raises Refusal where the logger is not in the run's dryer, or saw too little of the warming to tell.
    """
    told = None if device is None else _told(run, device)
    value, sd = (None, None) if told is None else (told.value, told.uncertainty)
    how = "as is usual" if device is None else f"as {device.name} in its winding says"
    with transaction.atomic(), history_entry("run.warming", f"{run.spool.name} warms through {how}") as entry:
        entry.update(run, warming_log=value, warming_log_sd=sd)
        for other in Device.objects.filter(dryer=run.batch.dryer_id, kind=DeviceKind.LOGGER, by_hand=False):
            if other.in_winding != (other == device):
                entry.update(other, in_winding=other == device)
    return entry.done()
