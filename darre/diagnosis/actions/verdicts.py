"""Closing a case, and what that teaches of the material's thresholds. One action, so that it is undone as one."""

from dataclasses import asdict

from django.db import transaction
from django.utils import timezone

from darre.common.errors import Refusal
from darre.common.saved import Saved
from darre.diagnosis.actions.cases import relearn
from darre.diagnosis.models import Case, Verdict
from darre.diagnosis.selectors import get_case, judged_cases, lesson
from darre.history.recorder import computed_before_writing, history_entry, refuse_if_changed_since
from darre.inventory.material_book import material_book
from drying.diagnosis import WATER, Thresholds, VerdictKind, thresholds_of

NAMES_A_CAUSE = (VerdictKind.OTHER, VerdictKind.WATER_AND_OTHER)


def _thresholds(material_id: str) -> Thresholds | None:
    return thresholds_of(material_book()[material_id])


def close_case(case: Case, kind: VerdictKind, cause: str = "", note: str = "") -> Saved[Verdict]:
    """Close a case with a verdict; the evidence is kept as it stands, and the material's thresholds move by it.

    Refused for a closed case, and where the verdict names no other cause although it speaks of one.
    """
    return computed_before_writing(lambda last_entry: _close_case(case.pk, kind, cause, note, last_entry))


def _close_case(case_id: int, kind: VerdictKind, cause: str, note: str, last_entry: int) -> Saved[Verdict]:
    case = get_case(case_id)
    if not case.is_open:
        raise Refusal("closed", "This case is closed already. Open it again first.")
    [judged] = judged_cases([case], timezone.now())
    if kind in NAMES_A_CAUSE and cause not in judged.table.base_rates:
        raise Refusal("no_cause", f"Say which other cause: {', '.join(judged.table.base_rates)}.", "cause", 400)
    if kind not in NAMES_A_CAUSE and cause not in ("", WATER):
        raise Refusal("cause_not_asked", "Only a verdict of something else names another cause.", "cause", 400)
    material_id, taught = case.spool.material, lesson(judged, kind)
    verdict = Verdict(
        case=case,
        kind=kind.value,
        cause=cause if kind in NAMES_A_CAUSE else "",
        note=note,
        material=material_id,
        moisture_pct=None if judged.begin.assumed else judged.begin.moisture.value,
        sd_pct=None if judged.begin.assumed else judged.begin.moisture.uncertainty,
        showed=taught.showed if taught else None,
        evidence=judged.evidence,
    )
    return _write_verdict(verdict, last_entry, teaches=taught is not None)


@transaction.atomic
def _write_verdict(verdict: Verdict, last_entry: int, *, teaches: bool) -> Saved[Verdict]:
    case = verdict.case
    refuse_if_changed_since(last_entry)
    before = _thresholds(verdict.material)
    verdict.thresholds_before = asdict(before) if before else None
    with history_entry("case.closed", f"Closed the case {case.title}") as entry:
        entry.create(verdict)
        entry.update(case, is_open=False)
        if teaches:
            relearn(entry, verdict.material)
        after = _thresholds(verdict.material)
        entry.update(verdict, thresholds_after=asdict(after) if after else None)
    return entry.saved(verdict)


@transaction.atomic
def reopen_case(case: Case) -> Saved[None]:
    """Open a closed case again; its verdict stays in its history, what it taught is taken back."""
    if case.is_open:
        return Saved(None)
    with history_entry("case.reopened", f"Opened the case {case.title} again") as entry:
        entry.update(case, is_open=True)
        relearn(entry, case.spool.material)
    return entry.done()
