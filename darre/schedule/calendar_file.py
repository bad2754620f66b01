"""The kept schedule as a calendar: a visit an event, in UTC, so that no change of the clocks can shift it."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta
from typing import TYPE_CHECKING

from darre.schedule.answers import Solved, schedule
from darre.schedule.models import Answer
from drying.planning.schedule import Visit, what_is_done

if TYPE_CHECKING:
    from icalendar import Event

VISIT = timedelta(minutes=15)
PRODUCT = "-//Darre//Schedule//EN"


def calendar_of(stored: Answer, now: datetime) -> bytes:
    """The calendar of the schedule that is kept, as it stands now; empty where it holds no longer."""
    from icalendar import Calendar  # a tenth of a second, which not every start of the server is to take

    found = Calendar()
    found.add("prodid", PRODUCT)
    found.add("version", "2.0")
    found.add("x-wr-calname", "Darre")
    solved = schedule(now, stored.zone).solved
    if solved is not None:
        for visit in what_is_done(solved.problem, solved.answer):
            found.add_component(_event(solved, visit, stored))
    return found.to_ical()


def _event(solved: Solved, visit: Visit, stored: Answer) -> Event:
    from icalendar import Event

    scene, event = solved.scene, Event()
    at = scene.moment(visit.at_h).astimezone(UTC)
    event.add("uid", f"{at:%Y%m%dT%H%M%SZ}-{stored.feed_key}")
    event.add("dtstamp", stored.solved_at.astimezone(UTC))
    event.add("dtstart", at)
    event.add("dtend", at + VISIT)
    spools = {job: subject.lane.spool.name for job, subject in scene.subjects.items()}
    event.add("summary", _summary(visit, spools, {key: dryer.name for key, dryer in scene.dryers.items()}))
    return event


def _summary(visit: Visit, spools: dict[str, str], dryers: dict[str, str]) -> str:
    said = []
    for what, names in (
        ("Load", [spools[job] for job in visit.loads]),
        ("Take out", [spools[job] for job in visit.takes_out]),
        ("Set the timer of", [dryers[key] for key in visit.timers]),
    ):
        if names:
            said.append(f"{what} {', '.join(names)}")
    return "; ".join(said)
