"""Practice rounds. They are no records of the workshop, so they leave no history entry."""

import secrets

from django.db import transaction
from django.utils import timezone

from darre.common.errors import Refusal
from darre.diagnosis.models import PracticeRound
from darre.diagnosis.practice import BUDGETS_MIN, read_round, truth_of


@transaction.atomic
def begin_round(budget_min: float) -> PracticeRound:
    """Begin a round; one that was left open goes on instead, as looking at a truth must cost an answer."""
    if budget_min not in BUDGETS_MIN:
        raise Refusal("no_budget", f"Choose {', '.join(f'{b:g}' for b in BUDGETS_MIN)} minutes.", "budget_min", 400)
    left_open = PracticeRound.objects.filter(ended_at=None).first()
    return left_open or PracticeRound.objects.create(seed=secrets.randbits(62), budget_min=budget_min)


def _require_open(practice_round: PracticeRound) -> None:
    practice_round.refresh_from_db()  # as it stands now that nobody else can write
    if practice_round.ended_at is not None:
        raise Refusal("ended", "This round has ended. Begin another one.")


@transaction.atomic
def do_check(practice_round: PracticeRound, check: str) -> None:
    """Do a check. Refused where it was done, or costs more minutes than are left."""
    _require_open(practice_round)
    if check not in [c.id for c in read_round(practice_round).checks_left]:
        raise Refusal("not_left", "This check was done, or takes more minutes than are left.", "check")
    practice_round.done = [*practice_round.done, check]
    practice_round.save(update_fields=["done"])


@transaction.atomic
def answer(practice_round: PracticeRound, chance: float) -> None:
    """State one's own chance (0..1); the truth is out then."""
    _require_open(practice_round)
    seen = read_round(practice_round)
    practice_round.stated, practice_round.table_said, practice_round.was_water = (
        chance,
        seen.table_says,
        truth_of(seen.case),
    )
    practice_round.ended_at = timezone.now()
    practice_round.save(update_fields=["stated", "table_said", "was_water", "ended_at"])
