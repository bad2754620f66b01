"""Old readings are thinned: what a device sent every few seconds is kept once in ten minutes, after a while.

The rule: of a device, the first reading of each ten minutes stays. In a run, an hour before it and an hour after it
all stay, whichever device they are of. Everything younger than the setting stays.
"""

from collections.abc import Iterator
from datetime import datetime, timedelta

from django.db import transaction
from django.db.models import Min

from darre.devices.models import Device, Sample
from darre.inventory.selectors import preferences
from darre.runs.models import Run

STEP_MS = 600_000
AROUND_A_RUN = timedelta(hours=1)
_DAY_MS = 86_400_000
_AT_ONCE = 900  # keys in one statement


def _ms(at: datetime) -> int:
    return round(at.timestamp() * 1000.0)


def thin(now: datetime) -> int:
    """Thin the old readings of every device, a day of one device at a time, so that nobody waits; how many went."""
    days = preferences().thin_after_days
    if days == 0:
        return 0
    until, runs = _ms(now - timedelta(days=days)), _runs()
    return sum(_thin_day(device, begin, end, runs) for device, begin, end in _days(until))


def _runs() -> list[tuple[int, int]]:
    spans = Run.objects.filter(ended_at__isnull=False).values_list("started_at", "ended_at")
    ended = [(_ms(began - AROUND_A_RUN), _ms(end + AROUND_A_RUN)) for began, end in spans if end]
    going = Run.objects.filter(ended_at=None).values_list("started_at", flat=True)
    return sorted([*ended, *((_ms(began - AROUND_A_RUN), 2**62) for began in going)])


def _days(until: int) -> Iterator[tuple[Device, int, int]]:
    """Each device with each of its days up to a moment, ms."""
    for device in Device.objects.annotate(first_ms=Min("samples__at_ms")).filter(first_ms__lt=until):
        begin = device.first_ms - device.first_ms % _DAY_MS
        while begin < until:
            yield device, begin, min(begin + _DAY_MS, until)
            begin += _DAY_MS


def _thin_day(device: Device, begin: int, end: int, runs: list[tuple[int, int]]) -> int:
    rows = Sample.objects.filter(device=device, at_ms__gte=begin, at_ms__lt=end).order_by("at_ms", "pk")
    taken: set[int] = set()
    go = []
    for pk, at in rows.values_list("pk", "at_ms"):
        if any(since <= at <= to for since, to in runs):
            continue
        if at // STEP_MS in taken:
            go.append(pk)
        taken.add(at // STEP_MS)
    with transaction.atomic():
        for n in range(0, len(go), _AT_ONCE):
            Sample.objects.filter(pk__in=go[n : n + _AT_ONCE]).delete()
    return len(go)
