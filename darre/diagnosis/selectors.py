"""Cases as they are read: the evidence of each laid before the core, and what it makes of it."""

from collections.abc import Sequence
from dataclasses import asdict, dataclass
from datetime import datetime
from typing import Any

from django.db.models import QuerySet
from django.shortcuts import get_object_or_404

from darre.diagnosis.models import Case, OwnChance, Print, PrintFile, StrengthTest, Verdict
from darre.inventory.actions.materials import thresholds_are_typed
from darre.inventory.material_book import Entry, MaterialBook, material_book
from darre.inventory.models import Spool
from darre.moisture.lanes import lanes, moistures_at
from darre.runs.models import Run
from drying.diagnosis import (
    Change,
    Check,
    EvidenceTable,
    Judgement,
    NextCheck,
    OwnSign,
    PastCase,
    Prior,
    SpreadTest,
    Thresholds,
    VerdictKind,
    chance_it_showed,
    change,
    evidence_table,
    judge,
    learned_thresholds,
    prior,
    spread_test,
    thresholds_of,
    with_own_chances,
)
from drying.diagnosis.next_checks import next_checks
from drying.quantity import Quantity
from drying.weighing import coil_mass_g
from gcode.reader import Difference, PrintFileSummary, what_differs


def table_for(family: str, own: Sequence[OwnChance] | None = None) -> EvidenceTable:
    """The evidence table for a built-in material, with the person's own numbers in it."""
    rows = list(OwnChance.objects.all()) if own is None else own
    chances = tuple(evidence_table.OwnChance(row.sign, row.cause, row.p) for row in rows if row.sign)
    rates = {row.cause: row.p for row in rows if not row.sign}
    return with_own_chances(evidence_table.evidence_table(family), chances, rates)


def cases() -> QuerySet[Case]:
    """Every case with what its evidence is made of."""
    return Case.objects.select_related(
        "spool", "before__file", "before__use", "after__file", "after__use"
    ).prefetch_related("observations", "own_observations", "verdicts")


def get_case(case_id: int) -> Case:
    """A case with everything on it. Raises Http404."""
    return get_object_or_404(
        cases().select_related("caliper").prefetch_related("photos", "ratings", "strengths"), pk=case_id
    )


@dataclass(frozen=True)
class Judged:
    """A case with what its evidence amounts to now: `observed` the signs looked for, `own` the person's own."""

    case: Case
    entry: Entry
    table: EvidenceTable
    begin: Prior
    observed: dict[str, bool]
    own: list[OwnSign]
    found: Judgement

    @property
    def verdict(self) -> Verdict | None:
        """How it was closed last, while it is closed."""
        verdicts = list(self.case.verdicts.all())
        return verdicts[-1] if verdicts and not self.case.is_open else None

    @property
    def evidence(self) -> dict[str, Any]:
        """What the evidence amounts to, in plain values: as it stands, or as it stood when the case was closed."""
        return self.verdict.evidence if self.verdict else evidence_of(self)


def judged_cases(found: Sequence[Case], now: datetime) -> list[Judged]:
    """Cases with what their evidence amounts to. The same number of queries for any number of them."""
    book, own = material_book(), list(OwnChance.objects.all())
    moistures = moistures_at([(case.spool_id, case.printed_at) for case in found], now)
    return [_judged(case, book, own, moisture) for case, moisture in zip(found, moistures, strict=True)]


def _judged(case: Case, book: MaterialBook, own: Sequence[OwnChance], moisture: Quantity | None) -> Judged:
    entry = book.entries[case.spool.material]
    table = table_for(entry.family, own)
    begin = prior(table, entry.now, moisture)
    observed = {o.sign: o.seen for o in case.observations.all()}
    mine = [OwnSign(o.text, o.times) for o in case.own_observations.all()]
    return Judged(case, entry, table, begin, observed, mine, judge(table, begin, observed, mine))


def evidence_of(judged: Judged) -> dict[str, Any]:
    """The evidence as plain values."""
    found, begin, table = judged.found, judged.begin, judged.table
    trouble = judged.entry.now.trouble
    own_from = len(judged.observed)
    return {
        "p_water": found.p_water,
        "low": found.low,
        "high": found.high,
        "in_words": found.in_words.value,
        "start_bits": found.start_bits,
        "start_p": begin.p_water,
        "p_wet": begin.p_wet,
        "moisture_pct": begin.moisture.value,
        "plus_minus_pct": begin.moisture.plus_minus,
        "moisture_assumed": begin.assumed,
        "trouble_pct": trouble.value if trouble else None,
        "causes": [{"cause": c, "p": p} for c, p in found.causes.items()],
        "suggested": found.suggested.value,
        "other": found.other,
        "weights": [
            {
                "sign": "" if n >= own_from else w.sign,
                "text": w.sign if n >= own_from else "",
                "seen": w.seen,
                "bits": w.bits,
                "p_after": w.p_after,
                "p_without": w.p_without,
                "share": w.share,
                "chances": [] if n >= own_from else [{"cause": c, "p": p} for c, p in table.signs[w.sign].p.items()],
                "why": "" if n >= own_from else _why(table, w.sign),
            }
            for n, w in enumerate(found.weights)
        ],
    }


def _why(table: EvidenceTable, sign_id: str) -> str:
    sign = table.signs[sign_id]
    return sign.material_why or sign.why


@dataclass(frozen=True)
class FilePair:
    """The files of the prints before and after. `same`: "file" (every byte), "commands" (comments differ), "" (not the
    same), or None where one of them is not known.
    """

    same: str | None
    differs: tuple[Difference, ...]


def file_pair(one: PrintFile | None, other: PrintFile | None) -> FilePair:
    """Whether two prints had the same file, and what differs where they had not."""
    if one is None or other is None:
        return FilePair(None, ())
    if one.sha256 == other.sha256:
        return FilePair("file", ())
    if one.commands_sha256 == other.commands_sha256:
        return FilePair("commands", ())
    return FilePair("", what_differs(PrintFileSummary(**one.summary), PrintFileSummary(**other.summary)))


@dataclass(frozen=True)
class Strength:
    """A strength as it was tested, and its change."""

    test: StrengthTest
    change: Change


@dataclass(frozen=True)
class ThresholdsNow:
    """A material's thresholds as they stand, and what they would become with each verdict; `typed`: the person set one,
    so that cases leave both alone.
    """

    now: Thresholds
    typed: bool
    if_closed: dict[VerdictKind, Thresholds]


@dataclass(frozen=True)
class CasePage:
    """Everything of one case. `dried`: the latest run that ended after the print."""

    judged: Judged
    next: tuple[NextCheck, ...]
    spread: SpreadTest | None
    strengths: list[Strength]
    files: FilePair
    thresholds: ThresholdsNow | None
    dried: Run | None

    @property
    def all_checks(self) -> list[Check]:
        """Every check of the table, with the signs that it shows."""
        return list(self.judged.table.checks.values())

    @property
    def caliper(self) -> dict[str, Any] | None:
        """The readings with what their spread tells."""
        readings = getattr(self.judged.case, "caliper", None)
        if readings is None or self.spread is None:
            return None
        return {"suspect_mm": readings.suspect_mm, "dry_mm": readings.dry_mm, **asdict(self.spread)}


def case_page(case_id: int, now: datetime) -> CasePage:
    """Everything of one case. Raises Http404."""
    case = get_case(case_id)
    [judged] = judged_cases([case], now)
    caliper = getattr(case, "caliper", None)
    checks = next_checks(judged.table, judged.begin, judged.observed, judged.own) if case.is_open else ()
    return CasePage(
        judged=judged,
        next=checks,
        spread=spread_test(caliper.suspect_mm, caliper.dry_mm) if caliper else None,
        strengths=[Strength(t, change(t.before, t.after)) for t in case.strengths.all()],
        files=file_pair(case.before.file if case.before else None, case.after.file if case.after else None),
        thresholds=_thresholds_now(judged) if case.is_open else None,
        dried=Run.objects.filter(spool_id=case.spool_id, ended_at__gt=case.printed_at).order_by("ended_at").last(),
    )


def past_cases(material_id: str, but: int = 0) -> list[PastCase]:
    """What closed cases of a material teach about its thresholds; `but` is left out."""
    found = []
    for case in (
        Case.objects.filter(spool__material=material_id, is_open=False).prefetch_related("verdicts").order_by("id")
    ):
        verdicts = list(case.verdicts.all())
        last = verdicts[-1] if verdicts else None
        if case.pk != but and last and last.showed is not None and last.moisture_pct is not None:
            found.append(PastCase(Quantity(last.moisture_pct, last.sd_pct or 0.0), last.showed))
    return found


def lesson(judged: Judged, kind: VerdictKind) -> PastCase | None:
    """What a case would teach, closed so; None where its moisture was not known or nothing was found."""
    showed = chance_it_showed(kind, judged.found)
    return None if judged.begin.assumed or showed is None else PastCase(judged.begin.moisture, showed)


def _thresholds_now(judged: Judged) -> ThresholdsNow | None:
    now, base = thresholds_of(judged.entry.now), thresholds_of(judged.entry.base)
    if now is None or base is None:
        return None
    material_id = judged.case.spool.material
    typed = thresholds_are_typed(material_id)
    past = past_cases(material_id, but=judged.case.pk)
    if_closed = {}
    for kind in VerdictKind:
        taught = lesson(judged, kind)
        if taught is not None and not typed:
            if_closed[kind] = learned_thresholds(base, [*past, taught])
    return ThresholdsNow(now, typed, if_closed)


def prints_of(spool_id: int | None = None) -> QuerySet[Print]:
    """Prints, newest first, of one spool or of all."""
    found = Print.objects.select_related("spool", "file", "use")
    return found if spool_id is None else found.filter(spool_id=spool_id)


FLOW_SHARE = 0.02  # engineering estimate: how far a printer's feed is off what a file commands, one sd


def printed_mass(spool: Spool, file: PrintFile) -> Quantity:
    """What a file takes off a spool, g: its extruded length through the strand's diameter and density."""
    polymer = material_book()[spool.material]
    metres = float(file.summary["extruded_mm"]) / 1000.0
    mass = coil_mass_g(polymer, spool.strand_diameter_mm, metres)
    return Quantity(mass.value, (mass.uncertainty**2 + (FLOW_SHARE * mass.value) ** 2) ** 0.5)


@dataclass(frozen=True)
class Takes:
    """How much of a spool a print takes, g; `left_g`: what is on it, None where it was never weighed."""

    spool: Spool
    mass_g: Quantity
    left_g: float | None

    @property
    def enough(self) -> bool:
        """Whether it is enough, even if the print takes as much as it may."""
        return self.left_g is not None and self.left_g >= self.mass_g.value + self.mass_g.plus_minus


def takes_of(file: PrintFile, now: datetime) -> list[Takes]:
    """What a print file takes of each spool on the rack."""
    return [Takes(lane.spool, printed_mass(lane.spool, file), lane.net_g) for lane in lanes(now)]
