"""The state of the records that moisture is computed from, and what was computed of them and of this minute.

Every act leaves an entry of history, and the air of a room comes as readings: with the last of both nothing else can be
otherwise. What was computed is shared by all who ask until either moves or the minute is over. A few kinds of acts,
often done and never of any weight for water, do not count.
"""

from collections.abc import Callable
from datetime import datetime

from django.utils import timezone

from darre.common.written import as_json
from darre.history.models import HistoryEntry
from darre.moisture.apps import moisture_state
from darre.places.models import RoomReading

MINUTE_S = 60
RANKS: dict[object, int] = {"rack": 0, "lanes": 1, "storage": 2}
"""Answers that go before others at the desk, in this order: what everyone looks at before what one asks."""
Entry = tuple[int, datetime] | None
"""The last entry of something by its number and moment; None where there is none yet."""
State = tuple[Entry, Entry, int]
"""The last entry of history, the last reading of a room, and the minute."""

# Signs of an open case, photos, weighed samples, wishes: no moisture, place, run or threshold hangs on these.
WITHOUT_WATER = (
    "case.signs_noted",
    "case.own_added",
    "case.own_removed",
    "case.calipered",
    "case.rated",
    "case.strength_noted",
    "case.photo_added",
    "case.photo_removed",
    "trial.weighed",
    "trial.air_noted",
    "trial.air_removed",
    "trial.rated",
    "trial.reading_corrected",
    "trial.reading_removed",
    "trial.rating_removed",
    "wish.added",
    "wish.changed",
    "wish.pinned",
    "wish.removed",
    "schedule.worked_out",
)


def state_of_records(now: datetime) -> State:
    """A key that is another one as soon as anything is that moisture is computed from, or the minute."""
    entry = HistoryEntry.objects.exclude(kind__in=WITHOUT_WATER).order_by("-pk").values_list("pk", "at").first()
    reading = RoomReading.objects.order_by("-pk").values_list("pk", "at").first()
    return entry, reading, minute_of(now)


def moment_of(state: State, now: datetime) -> datetime:
    """`now`, or the present moment where an act or a reading came in after `now` and within this minute.

    A question may have been asked before an act and be answered only after it. With the moment at which it was asked,
    what was just done would count as still to come, and that answer would be kept for everyone in this minute. An
    earlier minute, such as that of a run begun earlier, is left as it is.
    """
    present = timezone.now()
    younger = any(entry is not None and entry[1] > now for entry in state[:2])
    return max(now, present) if younger and state[2] == minute_of(present) else now


def minute_of(at: datetime) -> int:
    """A moment's minute since 1970."""
    return int(at.timestamp()) // MINUTE_S


def shared_answer(name: tuple[object, ...], now: datetime, shape: Callable[[], object]) -> bytes:
    """The whole answer to a question, as JSON: worked out once for all who ask it in the same state of the records."""

    def worked_out() -> bytes:
        with moisture_state().desk.turn(RANKS.get(name[0], len(RANKS))):
            return as_json(shape())

    return moisture_state().answers.once((name, state_of_records(now)), worked_out)
