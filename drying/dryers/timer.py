"""A dryer's timer through a run: when to set it, when it runs out, and when the heat is off because nobody set it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from drying.dryers.attended import ALWAYS, Attended
from drying.dryers.dryer import Dryer
from drying.dryers.pauses import Pause, heated_h, tidy

INSTANT_H = 1e-6
LEAST_H = 0.25  # sooner after the last setting nobody goes back to the timer


@dataclass(frozen=True)
class Turn:
    """One turn of the timer: when it is set, h after the start, what to set in h, and how long it is to run."""

    at_h: float
    set_h: float
    runs_h: float


@dataclass(frozen=True)
class TimerPlan:
    """The turns to come, the stretches without heat because nobody is there to set the timer, and when the heat is
    done, h after the start by the clock.
    """

    turns: tuple[Turn, ...]
    off: tuple[Pause, ...]
    end_h: float


def plan_timer(
    dryer: Dryer, heat_h: float, attended: Attended = ALWAYS, at_h: float = 0.0, runs_out_h: float | None = None
) -> TimerPlan:
    """How to set the timer for so many hours of heat from `at_h` on.

    It is set again as late as possible: when it runs out, or, where nobody is there then, when somebody is there last
    before. `runs_out_h`: when the turn that is on runs out; None: it is to be set now.
    """
    longest = dryer.longest_turn_h
    if longest is None:
        return TimerPlan((Turn(at_h, heat_h, heat_h),), (), at_h + heat_h)
    sets: list[tuple[float, float]] = []
    off: list[Pause] = []
    now, left = at_h, heat_h
    if runs_out_h is None:
        sets.append((now, dryer.timer_setting_h(left)))
        out = now + sets[-1][1]
    else:
        out = max(runs_out_h, now)
    while left > out - now + INSTANT_H:
        again = _set_again_h(now, out, attended)
        if again > out:
            off.append((out, again))
        left -= min(again, out) - now
        now = again
        sets.append((now, dryer.timer_setting_h(left)))
        out = now + sets[-1][1]
    end = now + left
    until = [*(at for at, _ in sets[1:]), end][: len(sets)]
    turns = tuple(Turn(at, hours, min(hours, stop - at)) for (at, hours), stop in zip(sets, until, strict=True))
    return TimerPlan(turns, tuple(off), end)


def _set_again_h(now: float, out: float, attended: Attended) -> float:
    if attended.at(out):
        return out
    last = attended.last_before(out)
    if last is not None and last >= now + LEAST_H:
        return last
    later = attended.next_from(out)
    return out if later is None else later


@dataclass(frozen=True)
class TimerSet:
    """That the timer was set: when, h after the start; the hours of heat that were planned in all then; for how long,
    None: as planned; and since when it had been out, where that was seen.
    """

    at_h: float
    heat_h: float
    set_h: float | None = None
    out_h: float | None = None


def timer_pauses(
    dryer: Dryer, sets: Sequence[TimerSet], others: Sequence[Pause], until_h: float
) -> tuple[list[Pause], float | None]:
    """The stretches up to `until_h` in which the timer had run out, and when the turn that was set last runs out.

    `others`: when the heat was off for other reasons. A dryer without a timer never runs out.
    """
    longest = dryer.longest_turn_h
    if longest is None:
        return [], None
    found: list[Pause] = []
    before, out = 0.0, None
    for each in sorted(sets, key=lambda s: s.at_h):
        if each.at_h > until_h:
            break
        if out is not None:
            ran_out = max(out if each.out_h is None else each.out_h, before)
            found.append((min(ran_out, each.at_h), each.at_h))
        left = each.heat_h - heated_h(tidy([*others, *found]), each.at_h)
        before, out = each.at_h, each.at_h + (each.set_h or dryer.timer_setting_h(left))
    if out is not None and out < until_h - INSTANT_H:
        found.append((out, until_h))
    return tidy(found), out
