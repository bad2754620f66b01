"""Beginning a ladder of prints at planned moistures, and rating its prints."""

import random
from collections.abc import Sequence
from string import ascii_uppercase
from uuid import UUID

from django.db import transaction
from django.utils import timezone

from darre.common.errors import Refusal
from darre.common.saved import Saved
from darre.history.recorder import history_entry
from darre.inventory.models import Spool
from darre.places.selectors import room_now
from darre.trials.actions.trials import refuse_closed
from darre.trials.models import Rung, RungPrint, Trial
from darre.trials.selectors import prior_of
from drying.quantity import Quantity

LEAST_RUNGS, MOST_RUNGS = 2, 9


def begin_ladder(spool: Spool, rungs: Sequence[Quantity], note: str = "") -> Saved[Trial]:
    """Begin a ladder; its rungs get letters by lot, so that who rates a print does not know how wet it was.

    Raises Refusal: too few or too many rungs, two alike, a material in which water does not matter.
    """
    prior_of(spool)
    if not LEAST_RUNGS <= len(rungs) <= MOST_RUNGS:
        says = f"A ladder has {LEAST_RUNGS} to {MOST_RUNGS} moistures."
        raise Refusal("rungs", says, "rungs", 400)
    if len({rung.value for rung in rungs}) < len(rungs):
        raise Refusal("twice", "Two rungs have the same moisture. Give each its own.", "rungs", 400)
    now = timezone.now()
    room, letters = room_now(now).air, list(ascii_uppercase[: len(rungs)])
    random.Random(spool.name + str(Trial.objects.count())).shuffle(letters)  # the same in a demo that is loaded again
    with (
        transaction.atomic(),
        history_entry("trial.begun", f"Began a trial: a ladder of prints of {spool.name}") as entry,
    ):
        trial = entry.create(
            Trial(
                kind=Trial.Kind.LADDER, spool=spool, room_temp_c=room.temp_c, room_rh_pct=room.rh_pct,
                note=note.strip(), began_at=now,
            )
        )  # fmt: skip
        for letter, rung in sorted(zip(letters, rungs, strict=True)):
            entry.create(Rung(trial=trial, letter=letter, moisture_pct=rung.value, sd_pct=rung.uncertainty))
    return entry.saved(trial)


@transaction.atomic
def rate_print(rung: Rung, client_key: UUID, *, showed: bool) -> Saved[RungPrint]:
    """Store whether the water showed in a print of a rung. Sent twice it is stored once. Raises Refusal: closed."""
    known = RungPrint.objects.filter(client_key=client_key).first()
    if known is not None:
        return Saved(known)
    refuse_closed(rung.trial)
    told = "the water showed" if showed else "clean"
    with history_entry("trial.rated", f"Rated a print of {rung.letter}: {told}") as entry:
        found = entry.create(RungPrint(rung=rung, at=timezone.now(), showed=showed, client_key=client_key))
    return entry.saved(found)


@transaction.atomic
def remove_print(rated: RungPrint) -> Saved[None]:
    """Take out a rating that was none."""
    with history_entry("trial.rating_removed", f"Removed a rating of {rated.rung.letter}") as entry:
        entry.delete(rated)
    return entry.done()
