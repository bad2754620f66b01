"""By how much a logger's humidity is off: what its last day tells."""

from datetime import datetime

from darre.common.errors import Refusal
from darre.devices.models import Device, DeviceKind, Sample
from darre.devices.selectors import HOUR_MS
from drying.air import Salt, SensorCheck, check_beside, check_over_salt

DAY_MS = 24 * HOUR_MS
MOST_READINGS = 20_000


def check_of(device: Device, now: datetime, salt: Salt | None, beside: Device | None) -> SensorCheck:
    """A logger's check by its last day in a jar with a salt, or beside another logger.

    Raises Refusal where it is no logger, sent nothing in that day, or neither is named, and OutOfRangeError where its
    readings do not do.
    """
    times, temps, shown = _last_day(device, now)
    if salt is not None:
        return check_over_salt(times, temps, shown, salt)
    if beside is None or beside.pk == device.pk:
        raise Refusal("required", "Needed: the salt it was over, or the logger it lay beside.", "beside", 400)
    other_times, _, other = _last_day(beside, now)
    return check_beside(times, shown, other_times, [beside.true_rh_pct(rh) for rh in other])


def _last_day(device: Device, now: datetime) -> tuple[list[float], list[float], list[float]]:
    """Hours, °C and % relative humidity as the device sent them."""
    if device.kind != DeviceKind.LOGGER or device.by_hand:
        raise Refusal("no_logger", f"{device.name} measures no humidity.", "device", 400)
    since_ms = round(now.timestamp() * 1000) - DAY_MS
    rows = Sample.objects.filter(device=device, at_ms__gte=since_ms, temp_c__isnull=False, rh_pct__isnull=False)
    last = list(rows.order_by("-at_ms").values_list("at_ms", "temp_c", "rh_pct")[:MOST_READINGS])[::-1]
    found = [(at, temp, rh) for at, temp, rh in last if temp is not None and rh is not None]
    if not found:
        raise Refusal("nothing_heard", f"{device.name} has sent no humidity in the last day.", "device")
    return [(at - since_ms) / HOUR_MS for at, _, _ in found], [t for _, t, _ in found], [rh for _, _, rh in found]
