"""A trial in the shape in which it is answered."""

import random
from typing import Any

import numpy as np

from darre.inventory.material_book import material_book
from darre.runs.records import hours_between
from darre.trials.air import air_course, conditions_of, measured_air, notes_of
from darre.trials.models import AirNote, Rung, Sample, SampleReading, Trial
from darre.trials.selectors import PART_MM, Finding, baked_of, finding_of, hours_of, length_changes
from drying.quantity import COVERAGE
from drying.trials import curve, half_time_h

CURVE_POINTS = 60


def row_shape(trial: Trial) -> dict[str, Any]:
    """A trial in the list."""
    found, samples = finding_of(trial), list(trial.samples.all())
    fit = found.fit
    return {
        **_in_common(trial),
        "samples": len(samples),
        "readings": sum(len(s.readings.all()) for s in samples),
        "half_h": half_time_h(fit, trial.spool.strand_diameter_mm) if fit and trial.spool else None,
        "holds_pct": found.start_pct or _holds(trial, found),
        "pairs": found.pairs,
        "mark": found.mark,
        "swelling": _of_swelling(found),
    }


def _of_swelling(found: Finding) -> dict[str, Any] | None:
    fit = found.swelling
    if fit is None:
        return None
    return {
        "strain_per_pct": fit.strain_per_pct, "fits": fit.fits, "part_mm": PART_MM, "part_grows_mm": found.part_grows_mm
    }  # fmt: skip


def _holds(trial: Trial, found: Finding) -> Any:
    if found.fit is None:
        return None
    return found.fit.end_pct if trial.kind == Trial.Kind.UPTAKE else found.fit.start_pct


def _in_common(trial: Trial) -> dict[str, Any]:
    names = ("id", "kind", "began_at", "closed_at")
    around = conditions_of(trial) if trial.temp_c is not None else None
    return {name: getattr(trial, name) for name in names} | {
        "spool_name": trial.spool.name if trial.spool else None,
        "temp_c": around.temp_c if around else None,
        "rh_pct": around.rh_pct if around and trial.kind == Trial.Kind.UPTAKE else None,
    }


def trial_shape(trial: Trial) -> dict[str, Any]:
    """A trial with its samples and all that it tells so far."""
    found, samples = finding_of(trial), list(trial.samples.all())
    polymer = material_book()[trial.spool.material] if trial.spool else None
    return {
        **_in_common(trial),
        "spool": trial.spool_id,
        "material_name": polymer.name if polymer else None,
        "scale": trial.scale_id,
        "scale_name": trial.scale.name if trial.scale else None,
        "resolution_g": trial.scale.resolution_g if trial.scale else None,
        "planned_temp_c": trial.temp_c,
        "soaked": trial.soaked,
        "room_temp_c": trial.room_temp_c,
        "room_rh_pct": trial.room_rh_pct,
        "note": trial.note,
        "samples": [_sample(found, sample) for sample in samples],
        "next": _next(trial, samples),
        "fit": _fit(found, polymer),
        "curve": _curve(found),
        "sum": _sum(found),
        "start_pct": found.start_pct,
        "floor_pct": found.floor_pct,
        "sponges": found.sponges,
        "pairs": found.pairs,
        "rungs": [_rung(trial, rung) for rung in trial.rungs.all()],
        "next_rung": _next_rung(trial),
        "mark": found.mark,
        "swelling": _of_swelling(found),
        "airs": _airs(trial, samples),
    }


def _airs(trial: Trial, samples: list[Sample]) -> list[dict[str, Any]]:
    """What was read of the air, for each place that a meter hung in."""
    beside: list[Sample | None] = [None, *samples]
    return [
        {
            "sample": sample.pk if sample else None,
            "name": sample.name if sample else "",
            "mean": measured_air(trial, sample),
            "notes": [_note(trial, note) for note in notes_of(trial, sample)],
            "course": air_course(trial, sample),
        }
        for sample in beside
        if notes_of(trial, sample)
    ]


def _note(trial: Trial, note: AirNote) -> dict[str, Any]:
    hours = hours_between(trial.began_at, note.at)
    return {"id": note.pk, "hours": hours, "temp_c": note.temp_c, "rh_pct": note.rh_pct}


def _rung(trial: Trial, rung: Rung) -> dict[str, Any]:
    """A rung; while prints are rated nobody is told how wet it is."""
    blind = trial.closed_at is None
    return {
        "id": rung.pk,
        "letter": rung.letter,
        "moisture_pct": None if blind else rung.moisture_pct,
        "plus_minus_pct": None if blind else COVERAGE * rung.sd_pct,
        "prints": list(rung.prints.all()),
    }


def _next_rung(trial: Trial) -> int | None:
    """Which rung is to be printed next: one of those with the fewest prints, in an order that tells nothing."""
    if trial.closed_at is not None:
        return None
    rungs = list(trial.rungs.all())
    drawn = random.Random(sum(len(r.prints.all()) for r in rungs) + 1000 * trial.pk)
    drawn.shuffle(rungs)
    first = min(rungs, key=lambda r: len(r.prints.all()), default=None)
    return first.pk if first else None


def _next(trial: Trial, samples: list[Sample]) -> int | None:
    """Which sample is to be weighed next, round after round until the trial is ended: of those weighed least often the
    one that is due first, else in their order.
    """
    if trial.closed_at is not None:
        return None

    def turn(sample: Sample) -> tuple[int, bool, float, int]:
        due_h = 1e9 if sample.planned_h is None else sample.planned_h
        return len(sample.readings.all()), sample.baked, due_h, sample.pk

    return min(samples, key=turn).pk if samples else None


def _sample(found: Finding, sample: Sample) -> dict[str, Any]:
    names = ("id", "name", "start_g", "baked", "planned_h", "dry_g", "desiccant", "before_mm")
    readings = [_reading(found, sample, reading) for reading in sample.readings.all()]
    if sample.before_mm:
        for shape, change in zip(readings, length_changes(sample), strict=True):
            shape |= {"strain_pct": change.strain_pct, "water_pct": change.water_pct}
    return {name: getattr(sample, name) for name in names} | {"dryer": sample.dryer_id, "readings": readings}


def _reading(found: Finding, sample: Sample, reading: SampleReading) -> dict[str, Any]:
    return {
        "id": reading.pk,
        "hours": hours_of(found.trial, reading),
        "gross_g": reading.gross_g,
        "holds_pct": found.holds(sample, reading),
        "doubtful": found.doubtful is not None and found.doubtful.pk == reading.pk,
        "after_mm": reading.after_mm,
        "strain_pct": None,
        "water_pct": None,
    }


def _fit(found: Finding, polymer: Any) -> dict[str, Any] | None:
    fit, trial = found.fit, found.trial
    if fit is None or trial.spool is None or trial.temp_c is None:
        return None
    return {
        "diffusivity_m2_s": fit.diffusivity_m2_s,
        "start_pct": fit.start_pct,
        "end_pct": fit.end_pct,
        "film_g_per_m": fit.film_g_per_m,
        "half_h": half_time_h(fit, trial.spool.strand_diameter_mm),
        "fits": fit.fits,
        "doubtful": found.doubtful.sample.name if found.doubtful else None,
        "built_in_diffusivity_m2_s": polymer.diffusivity_m2_s(conditions_of(trial).temp_c),
        "built_in_spread": polymer.d23.spread,
    }


def _curve(found: Finding) -> dict[str, list[float]] | None:
    trial = found.trial
    if found.fit is None or trial.spool is None:
        return None
    samples = list(trial.samples.all())
    last = max(
        [s.planned_h or 0.0 for s in samples]
        + [hours_of(trial, r) for s in samples if not s.baked for r in s.readings.all()]
    )
    times = (last * 1.08 * np.linspace(0.0, 1.0, CURVE_POINTS) ** 2).tolist()
    middle, slow, fast = curve(found.fit, trial.spool.strand_diameter_mm, times).tolist()
    return {"time_h": times, "middle_pct": middle, "slow_pct": slow, "fast_pct": fast}


def _sum(found: Finding) -> dict[str, Any] | None:
    if found.sum is None:
        return None
    names = ("gained_pct", "before_pct", "total_pct", "wet_basis_pct")
    twin_known = baked_of(found.trial) is not None
    return {name: getattr(found.sum, name) for name in names} | {"twin_known": twin_known}
