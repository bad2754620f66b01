"""Reading trials: records as the core's lots, and what those tell."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

from django.db.models import QuerySet
from django.http import Http404

from darre.common.errors import Refusal
from darre.equipment.records import core_scale
from darre.inventory.material_book import material_book
from darre.inventory.models import Spool
from darre.runs.records import hours_between
from darre.trials.air import conditions_of, measured_air
from darre.trials.apps import fits
from darre.trials.models import Sample, SampleReading, Trial
from drying.air import RoomAir
from drying.diagnosis import thresholds_of
from drying.materials import Material
from drying.quantity import Quantity
from drying.trials import (
    DryingLot,
    LotFit,
    Mark,
    Points,
    Prior,
    Reading,
    Sponge,
    SpongeFinding,
    SwellingFit,
    SwellingSample,
    Twin,
    UptakeLot,
    WaterSum,
    duel,
    fit_drying,
    fit_ladder,
    fit_swelling,
    fit_uptake,
    holds_pct,
    part_grows_mm,
    twin_start,
    water_sum,
)
from drying.trials import Rung as CoreRung
from drying.trials import Sample as CoreSample
from drying.weighing import Scale

LEAST_READINGS = 3  # of a lot: with fewer nothing is said
PART_MM = 100.0  # the part of which it is told by how much it grows


def trials() -> QuerySet[Trial]:
    """Trials with all that telling of them needs, in a constant number of queries."""
    return Trial.objects.select_related("spool__empty_spool", "scale").prefetch_related(
        "samples__readings", "samples__dryer", "rungs__prints", "air_notes"
    )


def get_trial(trial_id: int) -> Trial:
    """One trial. Raises Http404."""
    found = trials().filter(pk=trial_id).first()
    if found is None:
        raise Http404
    return found


def hours_of(trial: Trial, reading: SampleReading) -> float:
    """When a reading was, h after the trial began."""
    return hours_between(trial.began_at, reading.at)


@dataclass(frozen=True)
class Pair:
    """Two dryers and how many times as much the first takes out; None where that is not told."""

    one: str
    other: str
    ratio: Points | None


@dataclass(frozen=True)
class Finding:
    """What a trial tells so far; what it does not is None. `doubtful`: the reading that does not go with the others."""

    trial: Trial
    fit: LotFit | None = None
    doubtful: SampleReading | None = None
    sum: WaterSum | None = None
    start_pct: Points | None = None
    floor_pct: Points | None = None
    sponges: Sequence[SpongeFinding] = ()
    pairs: Sequence[Pair] = ()
    mark: Mark | None = None
    swelling: SwellingFit | None = None
    part_grows_mm: Points | None = None

    @cached_property
    def film_first(self) -> float:
        """The film at the start, % of dry mass: of coils that lay in water before they were dried."""
        if self.fit is None or self.fit.film_g_per_m is None or not self.trial.soaked or self.trial.spool is None:
            return 0.0
        return self.fit.film_g_per_m.p50 * lot_of(self.trial).film_share

    def holds(self, sample: Sample, reading: SampleReading) -> float | None:
        """What a coil held at a reading, % of dry mass."""
        if self.fit is None or sample.baked:
            return None
        return holds_pct(self.fit, sample.start_g, reading.gross_g, film_first=self.film_first)


def coils_of(trial: Trial) -> list[Sample]:
    """The coils that were weighed, without the one that was baked."""
    return [s for s in trial.samples.all() if not s.baked and s.readings.all()]


def baked_of(trial: Trial) -> Twin | None:
    """The coil that was dried to constant mass, by its last reading."""
    for sample in trial.samples.all():
        readings = list(sample.readings.all())
        if sample.baked and readings:
            return Twin(sample.start_g, readings[-1].gross_g)
    return None


def scale_of(trial: Trial) -> Scale:
    """The scale that its samples are weighed on. Not for ladders, which are not weighed."""
    assert trial.scale is not None
    return core_scale(trial.scale)


def lot_of(trial: Trial) -> DryingLot | UptakeLot:
    """The lot as the core takes it. Raises OutOfRangeError for masses and times that cannot be."""
    assert trial.spool is not None
    around = conditions_of(trial)
    samples = tuple(
        CoreSample(s.start_g, tuple(Reading(hours_of(trial, r), r.gross_g) for r in s.readings.all()))
        for s in coils_of(trial)
    )
    density = material_book()[trial.spool.material].density.value
    shared = (trial.spool.strand_diameter_mm, density, around.temp_c, scale_of(trial), samples, baked_of(trial))
    if trial.kind == Trial.Kind.UPTAKE:
        return UptakeLot(*shared, rh_pct=around.rh_pct)
    return DryingLot(*shared, room=around.room, soaked=trial.soaked)


def finding_of(trial: Trial) -> Finding:
    """What a trial tells so far."""
    if trial.kind == Trial.Kind.SPONGE:
        return _sponges(trial)
    if trial.kind == Trial.Kind.LADDER:
        return _ladder(trial)
    if trial.kind == Trial.Kind.TWIN:
        return _twin(trial)
    if trial.kind == Trial.Kind.SWELLING:
        return _swelling(trial)
    coils = coils_of(trial)
    if sum(len(s.readings.all()) for s in coils) < LEAST_READINGS:
        return Finding(trial, sum=_sum(trial))
    lot = lot_of(trial)
    fit = fits().get(lot, lambda: fit_uptake(lot) if isinstance(lot, UptakeLot) else fit_drying(lot))
    doubtful = None if fit.doubtful is None else list(coils[fit.doubtful[0]].readings.all())[fit.doubtful[1]]
    return Finding(trial, fit, doubtful, _sum(trial))


def _sum(trial: Trial) -> WaterSum | None:
    """The sum of a soak: of the coil that was weighed last, with the baked one."""
    if trial.kind != Trial.Kind.UPTAKE:
        return None
    last = max(
        ((r.at, s, r) for s in coils_of(trial) for r in s.readings.all()), key=lambda found: found[0], default=None
    )
    if last is None:
        return None
    _, sample, reading = last
    twin = baked_of(trial)
    return water_sum(sample.start_g, reading.gross_g, twin.before_g if twin else None, twin.after_g if twin else None)


def prior_of(spool: Spool) -> Prior:
    """What is built in of the trouble threshold of a spool's material: what an earlier ladder was taken over for counts
    once. Raises Refusal where water does not matter in it.
    """
    material = material_book().entries[spool.material].base
    known = thresholds_of(material)
    if known is None:
        says = f"Water does not matter in {material.name}: there is no threshold to find."
        raise Refusal("no_need", says, "spool", 400)
    return Prior(known.trouble_pct, known.spread, known.clean_pct)


def _ladder(trial: Trial) -> Finding:
    """The mark by the built-in thresholds and these prints."""
    assert trial.spool is not None
    rungs = []
    for rung in trial.rungs.all():
        prints = list(rung.prints.all())
        if prints:
            moisture = Quantity(rung.moisture_pct, rung.sd_pct)
            rungs.append(CoreRung(moisture, len(prints), sum(p.showed for p in prints)))
    if not rungs:
        return Finding(trial)
    return Finding(trial, mark=fit_ladder(prior_of(trial.spool), rungs))


def _twin(trial: Trial) -> Finding:
    found = [(s, r) for s in trial.samples.all() for r in list(s.readings.all())[-1:]]
    if not found or trial.spool is None or trial.temp_c is None:
        return Finding(trial)
    sample, reading = found[0]
    polymer: Material = material_book()[trial.spool.material]
    around = conditions_of(trial)
    start, floor = twin_start(polymer, sample.start_g, reading.gross_g, around.temp_c, around.room, scale_of(trial))
    return Finding(trial, start_pct=start, floor_pct=floor)


def length_changes(sample: Sample) -> list[SwellingSample]:
    """What a piece has become since it was measured first, one for each reading of it."""
    before = tuple(sample.before_mm)
    return [
        SwellingSample(before, tuple(r.after_mm), sample.start_g, r.gross_g, sample.name) for r in sample.readings.all()
    ]


def _swelling(trial: Trial) -> Finding:
    """How much pieces swell, and what that makes of a part that stands in this room's air."""
    assert trial.spool is not None
    measured = [change for sample in trial.samples.all() for change in length_changes(sample)]
    if not measured:
        return Finding(trial)
    found = fit_swelling(measured, scale_of(trial).uncertainty_g)
    polymer = material_book()[trial.spool.material]
    grows = part_grows_mm(found, polymer, trial.room_rh_pct / 100.0, PART_MM)
    return Finding(trial, swelling=found, part_grows_mm=grows)


def _sponges(trial: Trial) -> Finding:
    room = RoomAir(trial.room_temp_c, trial.room_rh_pct)
    sponges = []
    for sample in trial.samples.all():
        readings = list(sample.readings.all())
        if not readings or sample.dry_g is None:
            continue
        air = measured_air(trial, sample)
        if air is None and sample.air_temp_c is not None and sample.air_rh_pct is not None:
            air = RoomAir(sample.air_temp_c, sample.air_rh_pct)
        last = readings[-1]
        end_g = max(last.gross_g, sample.dry_g)
        sponges.append(
            Sponge(sample.name, sample.start_g, end_g, sample.dry_g, hours_of(trial, last), room, air, sample.desiccant)
        )
    findings, ratios = duel(sponges, scale_of(trial))
    return Finding(trial, sponges=findings, pairs=[Pair(one, other, ratio) for (one, other), ratio in ratios.items()])
