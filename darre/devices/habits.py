"""What the loggers in a run's dryer tell of the dryer itself."""

from dataclasses import dataclass
from datetime import datetime

from django.utils import timezone

from darre.common.errors import Refusal
from darre.common.saved import Saved
from darre.devices.models import Device, DeviceKind, Sample
from darre.devices.selectors import HOUR_MS, devices
from darre.equipment.actions.dryers import learn_habits
from darre.runs.models import EventKind, Run
from drying.dryers import Habits, ProbePair, habits_of, hot_side_excess_c

MOST_READINGS = 50_000
CUTS = (EventKind.PAUSED, EventKind.POWER_CUT, EventKind.CHANGED, EventKind.LID, EventKind.TIMER)


@dataclass(frozen=True)
class ToldHabits:
    """Habits by the logger beside the spool, over so many hours; what the dryer was set to, °C, where that is known; by
    how much a second, hotter logger was over it, °C.
    """

    device: Device
    habits: Habits
    hours: float
    set_c: float | None
    hot_side_excess_c: float | None


def steady_until(run: Run, now: datetime) -> datetime:
    """The end of the first stretch that nothing disturbed."""
    cut = run.batch.events.filter(kind__in=CUTS, at__gt=run.batch.started_at).order_by("at").first()
    ends = [now, *([cut.at] if cut else []), *([run.ended_at] if run.ended_at else [])]
    return min(ends)


def readings_between(device: Device, begin: datetime, end: datetime) -> tuple[list[float], list[float]]:
    """Hours from the beginning and temperatures, °C, that a logger sent between two moments."""
    begin_ms, end_ms = (round(at.timestamp() * 1000) for at in (begin, end))
    rows = Sample.objects.filter(device=device, at_ms__gt=begin_ms, at_ms__lte=end_ms).order_by("at_ms")
    at = {ms: temp for ms, temp in rows.values_list("at_ms", "temp_c")[:MOST_READINGS] if temp is not None}
    return [(ms - begin_ms) / HOUR_MS for ms in at], list(at.values())


def told_habits(run: Run, now: datetime) -> ToldHabits | None:
    """What the loggers in a run's dryer tell of its habits; None where none hung there, or not long enough."""
    begin, end = run.batch.started_at, steady_until(run, now)
    told = [
        (found, device, times[-1])
        for device in devices().filter(kind=DeviceKind.LOGGER, dryer=run.batch.dryer_id, in_winding=False)
        if (times := (series := readings_between(device, begin, end))[0]) and (found := habits_of(*series)) is not None
    ]
    if not told:
        return None
    told.sort(key=lambda one: one[0].air_c.value)
    (beside, device, hours), *hotter = told
    excess = hot_side_excess_c(beside, hotter[-1][0]) if hotter else None
    set_c = (run.batch.ticket.get("setting") or {}).get("set_c")
    return ToldHabits(device, beside, hours, set_c, excess)


def use_habits(run: Run) -> Saved[None]:
    """Take what the loggers of a run tell into the record of its dryer: what it does, and one pair of setting and air.

    Raises Refusal where they tell nothing.
    """
    told = told_habits(run, timezone.now())
    if told is None:
        raise Refusal("not_told", "No logger hung in this dryer for long enough to tell what it does.", "run")
    found = told.habits
    known = {
        "warm_up_h": found.warm_up_h, "swing_c": found.swing_c, "hot_side_excess_c": told.hot_side_excess_c
    }  # fmt: skip
    values = {name: float(f"{value:.2g}") for name, value in known.items() if value is not None}
    air_c, room_c = round(found.air_c.value, 1), run.batch.room_temp_c
    pair = None if told.set_c is None else ProbePair(told.set_c, air_c, room_c)
    return learn_habits(run.batch.dryer, values, pair, run.batch.started_at)


def loggers_in(run: Run) -> list[Device]:
    """The loggers in a run's dryer, of which one may have its probe in the winding."""
    return list(devices().filter(kind=DeviceKind.LOGGER, dryer=run.batch.dryer_id, by_hand=False))
