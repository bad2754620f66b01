"""Opening a case, and laying evidence before it. New evidence opens a closed case again."""

from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from datetime import datetime
from typing import Any

from django.db import transaction
from django.utils import timezone

from darre.common.errors import Refusal
from darre.common.saved import Saved
from darre.diagnosis.models import (
    CaliperReadings,
    Case,
    Observation,
    OwnObservation,
    Photo,
    Print,
    Rating,
    Side,
    StrengthTest,
)
from darre.diagnosis.photo_store import store_photo
from darre.diagnosis.selectors import past_cases, table_for
from darre.history.recorder import OpenEntry, history_entry
from darre.inventory.actions.materials import thresholds_are_typed, write_learned_thresholds
from darre.inventory.actions.moments import refuse_before_it_was_there, refuse_impossible_time
from darre.inventory.material_book import material_book
from darre.inventory.models import Spool
from drying.diagnosis import OwnSign, SpreadFinding, change, learned_thresholds, spread_test, thresholds_of

CALIPER = "caliper"


@transaction.atomic
def open_case(
    spool: Spool, title: str = "", printed_at: datetime | None = None, before: Print | None = None
) -> Saved[Case]:
    """Open a case over a bad print off a spool. Returns it."""
    at = before.at if before else printed_at or timezone.now()
    refuse_impossible_time(at, "it was printed")
    refuse_before_it_was_there(spool, at)
    _require_its_spool(spool, before)
    title = title.strip() or (before.name if before else f"Bad print from {spool.name}")
    with history_entry("case.opened", f"Opened a case: {title}") as entry:
        case = entry.create(Case(spool=spool, title=title[:120], printed_at=at, before=before))
    return entry.saved(case)


def _require_its_spool(spool: Spool, made: Print | None) -> None:
    if made and made.spool_id != spool.pk:
        raise Refusal(
            "other_spool", f"{made.name} was printed from another spool. Choose a print from {spool.name}.", "print"
        )


def relearn(entry: OpenEntry, material_id: str) -> None:
    """Within an act: work out again what all closed cases of a material teach about its thresholds."""
    base = thresholds_of(material_book().entries[material_id].base)
    if base is None or thresholds_are_typed(material_id):
        return
    past = past_cases(material_id)
    write_learned_thresholds(entry, material_id, learned_thresholds(base, past) if past else None, len(past))


@contextmanager
def evidence_act(case: Case, name: str, summary: str) -> Iterator[OpenEntry]:
    """An act that lays new evidence before a case; a closed one is open again, and its lesson taken back."""
    with history_entry(name if case.is_open else "case.reopened", f"{case.title}: {summary}") as entry:
        yield entry
        if not case.is_open:
            entry.update(case, is_open=True)
            relearn(entry, case.spool.material)


@transaction.atomic
def change_case(case: Case, **values: Any) -> Saved[None]:
    """Change a case's title, note, time of print, or the prints it rests on."""
    for side in ("before", "after"):
        _require_its_spool(case.spool, values.get(side))
    if values.get("before"):
        values["printed_at"] = values["before"].at
    refuse_impossible_time(values.get("printed_at", case.printed_at), "it was printed")
    with history_entry("case.changed", f"Changed the case {case.title}") as entry:
        entry.update(case, **values)
    return entry.done()


@transaction.atomic
def remove_case(case: Case) -> Saved[None]:
    """Remove a case with all its evidence. Its prints stay; what it taught is taken back."""
    with history_entry("case.removed", f"Removed the case {case.title}") as entry:
        parts = (case.observations, case.own_observations, case.photos, case.ratings, case.strengths, case.verdicts)
        for part in (*[p for parts_of in parts for p in parts_of.all()], *CaliperReadings.objects.filter(case=case)):
            entry.delete(part)
        material_id = case.spool.material
        entry.delete(case)
        relearn(entry, material_id)
    return entry.done()


def _note_sign(entry: OpenEntry, case: Case, sign: str, seen: bool | None, note: str = "") -> None:
    present = Observation.objects.filter(case=case, sign=sign).first()
    if present and seen is None:
        entry.delete(present)
    elif present:
        entry.update(present, seen=seen, note=note)
    elif seen is not None:
        entry.create(Observation(case=case, sign=sign, seen=seen, note=note))


@transaction.atomic
def note_signs(case: Case, signs: dict[str, bool | None], note: str = "") -> Saved[None]:
    """Note signs: seen, looked for and not seen, or (None) not looked for after all."""
    table = table_for(material_book().entries[case.spool.material].family)
    names = [table.sign(sign).name for sign in signs]
    with evidence_act(case, "case.signs_noted", ", ".join(names)) as entry:
        for sign, seen in signs.items():
            _note_sign(entry, case, sign, seen, note)
    return entry.done()


@transaction.atomic
def add_own(case: Case, text: str, times: float) -> Saved[None]:
    """Add an observation of the person's own, `times` likelier when it is the water."""
    OwnSign(text, times)  # raises where this is no odds
    with evidence_act(case, "case.own_added", text) as entry:
        entry.create(OwnObservation(case=case, text=text, times=times))
    return entry.done()


@transaction.atomic
def remove_own(own: OwnObservation) -> Saved[None]:
    """Remove an own observation."""
    with evidence_act(own.case, "case.own_removed", own.text) as entry:
        entry.delete(own)
    return entry.done()


@transaction.atomic
def caliper(case: Case, suspect_mm: Sequence[float], dry_mm: Sequence[float]) -> Saved[None]:
    """Keep caliper readings; what the spread test finds counts as the sign. No readings: forget them."""
    present = CaliperReadings.objects.filter(case=case).first()
    seen = None
    if suspect_mm:
        finding = spread_test(suspect_mm, dry_mm).finding
        seen = None if finding is SpreadFinding.NO_FINDING else finding is SpreadFinding.WIDER
    with evidence_act(case, "case.calipered", f"{len(suspect_mm)} caliper readings") as entry:
        if present:
            entry.delete(present)
        if suspect_mm:
            entry.create(CaliperReadings(case=case, suspect_mm=list(suspect_mm), dry_mm=list(dry_mm)))
        _note_sign(entry, case, CALIPER, seen)
    return entry.done()


def add_photo(case: Case, side: str, name: str, content: bytes) -> Saved[Photo]:
    """Store a photo of one of the two prints. Refused where it is none."""
    stored = store_photo(content)  # before the entry opens: decoding takes its time, and nobody can write meanwhile
    with history_entry("case.photo_added", f"{case.title}: a photo {side}") as entry:
        photo = entry.create(
            Photo(case=case, side=Side(side), name=name, file=stored.file, width=stored.width, height=stored.height)
        )
    return entry.saved(photo)


@transaction.atomic
def remove_photo(photo: Photo) -> Saved[None]:
    """Remove a photo from its case."""
    with history_entry("case.photo_removed", f"{photo.case.title}: removed a photo") as entry:
        entry.delete(photo)
    return entry.done()


@transaction.atomic
def rate(case: Case, scores: Sequence[dict[str, Any]], blind: bool) -> Saved[None]:
    """Keep ratings of features; those of the same side and feature are replaced."""
    with evidence_act(case, "case.rated", "rated") as entry:
        for score in scores:
            present = Rating.objects.filter(case=case, side=score["side"], feature=score["feature"]).first()
            if present and score["score"] is None:
                entry.delete(present)
            elif present:
                entry.update(present, score=score["score"], blind=blind)
            elif score["score"] is not None:
                entry.create(Rating(case=case, blind=blind, **score))
    return entry.done()


@transaction.atomic
def note_strength(
    case: Case, method: str, pose: str, unit: str, before: list[float], after: list[float]
) -> Saved[None]:
    """Keep bars that were broken before and after; no values at all: forget them."""
    if before or after:
        change(before, after)  # raises where a side has none or a value is not over zero
    present = StrengthTest.objects.filter(case=case, method=method, pose=pose).first()
    with evidence_act(case, "case.strength_noted", f"{method} {pose}") as entry:
        if present:
            entry.delete(present)
        if before:
            entry.create(StrengthTest(case=case, method=method, pose=pose, unit=unit, before=before, after=after))
    return entry.done()
