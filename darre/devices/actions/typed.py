"""Readings of a dryer's air that somebody typed, off any cheap meter."""

from datetime import datetime

from django.db import transaction
from django.utils import timezone

from darre.common.errors import Refusal
from darre.common.saved import Saved
from darre.devices.actions.devices import add_device
from darre.devices.models import Device, DeviceKind, Sample
from darre.devices.selectors import typing_span
from darre.equipment.models import Dryer
from darre.history.recorder import history_entry
from darre.inventory.actions.moments import refuse_impossible_time
from darre.runs.models import Run


def _meter_of(dryer: Dryer) -> Device:
    """The device that stands for what is typed of a dryer; nobody is told its token, so nothing can send for it."""
    found = Device.objects.filter(dryer=dryer, by_hand=True).first()
    if found is not None:
        return found
    name = f"By hand, {dryer.name}"[:60]
    if Device.objects.filter(name=name).exists():
        name = f"{name[:50]} {dryer.pk}"
    device, _untold = add_device(name, DeviceKind.LOGGER, dryer, by_hand=True)
    return device


@transaction.atomic
def note_air(run: Run, temp_c: float, rh_pct: float, at: datetime | None = None) -> Saved[Sample]:
    """Note what a meter in the dryer of a run showed. The same reading of one moment is stored once.

    Raises Refusal: before the run or after it, in the future, another reading of that moment.
    """
    moment = at or timezone.now()
    refuse_impossible_time(moment, "it was read")
    begin, end = typing_span(run, moment)
    if not begin <= moment <= end:
        says = (f"{run.spool.name} was not in {run.dryer.name} at ", moment, ". Give a time within the run.")
        raise Refusal("not_in_the_run", says, "at", 400)
    device, ms = _meter_of(run.batch.dryer), round(moment.timestamp() * 1000)
    known = Sample.objects.filter(device=device, own_ms=ms).first()
    if known is not None:
        if (known.temp_c, known.rh_pct) == (temp_c, rh_pct):
            return Saved(known)
        raise Refusal("twice", ("There is a reading at ", moment, " already. Remove that one first."), "at")
    with history_entry("air.noted", f"Noted {temp_c:g} °C and {rh_pct:g} % in {run.dryer.name}") as entry:
        sample = entry.create(Sample(device=device, own_ms=ms, at_ms=ms, temp_c=temp_c, rh_pct=rh_pct))
    return entry.saved(sample)


@transaction.atomic
def remove_air(sample: Sample) -> Saved[None]:
    """Take out a reading that was typed. Raises Refusal for one that a device sent: it stays as it was sent."""
    if not sample.device.by_hand:
        raise Refusal("sent", "A device sent this reading, so it stays.", "reading")
    with history_entry("air.removed", f"Removed a reading of {sample.device.name}") as entry:
        entry.delete(sample)
    return entry.done()
