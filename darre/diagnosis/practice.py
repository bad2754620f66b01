"""Practice: simulated cases with a hidden truth, as they are read."""

from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from darre.diagnosis.models import PracticeRound
from darre.diagnosis.selectors import table_for
from drying.diagnosis import WATER, Check, EvidenceTable, HiddenCase, Tenth, brier, calibration, draw_case, judge

BUDGETS_MIN = (8.0, 15.0, 30.0)
BINS = 5


@lru_cache(maxsize=64)
def hidden(seed: int) -> HiddenCase:
    """The case that a seed stands for."""
    return draw_case(np.random.default_rng(seed))


@dataclass(frozen=True)
class OpenRound:
    """A round as the person may see it. What ended rounds tell besides: its cause, and what the best next check was."""

    round: PracticeRound
    case: HiddenCase
    table: EvidenceTable

    @property
    def spent_min(self) -> float:
        """Minutes spent so far."""
        return sum(self.table.checks[key].minutes for key in self.round.done)

    @property
    def left_min(self) -> float:
        """Minutes left of the budget."""
        return self.round.budget_min - self.spent_min

    @property
    def shown(self) -> dict[str, bool]:
        """Signs that the checks done have shown."""
        return {sign: self.case.signs[sign] for key in self.round.done for sign in self.table.checks[key].signs}

    @property
    def checks_left(self) -> list[Check]:
        """Checks that are still affordable."""
        return [
            c
            for key, c in self.table.checks.items()
            if key not in self.round.done and c.minutes <= self.left_min + 1e-9
        ]

    @property
    def table_says(self) -> float:
        """The chance of water by the table for what was shown."""
        return judge(self.table, self.case.begin, self.shown).p_water


def read_round(practice_round: PracticeRound) -> OpenRound:
    """A round with its case. The table is the built-in one: the truth was drawn from it."""
    case = hidden(practice_round.seed)
    return OpenRound(practice_round, case, table_for(case.material, own=()))


@dataclass(frozen=True)
class PracticeSum:
    """All ended rounds: how many, Brier scores of the person and of the table, and the person's calibration."""

    rounds: int
    brier_you: float | None
    brier_table: float | None
    tenths: list[Tenth]


def practice_sum() -> PracticeSum:
    """What all ended rounds amount to."""
    ended = [r for r in PracticeRound.objects.exclude(ended_at=None) if r.stated is not None]
    stated, truth = [float(r.stated or 0.0) for r in ended], [bool(r.was_water) for r in ended]
    if not ended:
        return PracticeSum(0, None, None, [])
    table = [float(r.table_said or 0.0) for r in ended]
    return PracticeSum(len(ended), brier(stated, truth), brier(table, truth), calibration(stated, truth, BINS))


def truth_of(case: HiddenCase) -> bool:
    """Whether it was the water."""
    return case.cause == WATER
