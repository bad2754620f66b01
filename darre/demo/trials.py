"""Trials of the demo: a finished lot of soaked coils, sponges in two dryers, a ladder of prints that is half done, and
a lot that lies in water since this morning. Their truths are hidden in here.
"""

from datetime import datetime, timedelta
from uuid import NAMESPACE_DNS, UUID, uuid5

import numpy as np

from darre.equipment.models import Dryer, Scale
from darre.inventory.models import Spool
from darre.trials.actions.ladders import begin_ladder, rate_print
from darre.trials.actions.trials import NewSample, NewTrial, begin_trial, end_trial, weigh_sample
from darre.trials.models import Sample, Trial
from drying.quantity import Quantity
from drying.transport import radius_m
from drying.transport.strand import fraction_exchanged
from standins.coils import Lot

LOT_DAYS_AGO, DUEL_DAYS_AGO = 6.0, 9.0
LOT_C, DIFFUSIVITY, START_PCT, FLOOR_PCT, FILM_PCT, UNEVEN = 65.0, 4.6e-12, 8.3, 0.45, 0.10, 0.03
TIMES_H = (1.0, 1.5, 2.5, 4.0, 5.5, 7.5, 14.5, 29.5)
COIL_G, COIL_SPREAD_G = 22.1, 0.5
SPONGES = (("Cellar box", 61.4, 9.2, 34.9), ("Tall stacker", 63.0, 9.5, 22.6))  # wet, dry, after so many hours, g
DUEL_H = 4.0
LADDER = ((0.08, 2, 0), (0.14, 2, 0), (0.25, 2, 1), (0.44, 2, 2), (0.78, 1, 1))  # moisture, prints so far, showed
SOAK_HOURS_AGO, SOAK_C, SOAK_TIMES_H, SOAK_WEIGHED = 9.0, 20.0, (3.0, 8.0, 20.0, 45.0, 90.0, 160.0), 2
SOAK_START_PCT, SOAK_END_PCT, SOAK_DIFFUSIVITY, SOAK_FILM_PCT = 0.25, 1.72, 9.5e-13, 0.08


def _key(*parts: object) -> UUID:
    return uuid5(NAMESPACE_DNS, "demo trial " + " ".join(map(str, parts)))


def load_trials(now: datetime) -> None:
    """All of them, at the moments at which they were made."""
    _lot(now - timedelta(days=LOT_DAYS_AGO))
    _duel(now - timedelta(days=DUEL_DAYS_AGO))
    _ladder()
    _soak(now - timedelta(hours=SOAK_HOURS_AGO))


def _weigh(sample: Sample, gross_g: float, hours: float) -> None:
    weigh_sample(sample, gross_g, _key(sample.trial_id, sample.name, hours), hours)


def _lot(began_at: datetime) -> None:
    spool, scale = Spool.objects.get(name="Hinge stock"), Scale.objects.get(name="Pocket scale")
    rng = np.random.default_rng(65)
    dry_g = (COIL_G + COIL_SPREAD_G * rng.standard_normal(len(TIMES_H) + 1)) / (1.0 + START_PCT / 100.0)
    film = FILM_PCT + UNEVEN * rng.standard_normal(dry_g.size)

    def seen(true_g: float) -> float:
        return round(float(true_g + 0.004 * rng.standard_normal()), 2)

    wet = [seen(d * (1.0 + (START_PCT + f) / 100.0)) for d, f in zip(dry_g, film, strict=True)]
    samples = [NewSample(g, planned_h=t) for g, t in zip(wet, TIMES_H, strict=False)]
    trial = begin_trial(
        NewTrial(
            kind=Trial.Kind.DRYING, spool=spool, scale=scale, temp_c=LOT_C, soaked=True, began_at=began_at,
            samples=[*samples, NewSample(wet[-1], baked=True)],
        )
    ).record  # fmt: skip
    slowness = np.array(TIMES_H) * 3600.0 / radius_m(spool.strand_diameter_mm) ** 2
    holds = START_PCT + (FLOOR_PCT - START_PCT) * fraction_exchanged(DIFFUSIVITY * slowness)
    for sample, d, pct, hours in zip(trial.samples.filter(baked=False), dry_g, holds, TIMES_H, strict=False):
        _weigh(sample, seen(d * (1.0 + pct / 100.0)), hours)
    _weigh(trial.samples.get(baked=True), seen(dry_g[-1]), 72.0)
    end_trial(trial)


def _duel(began_at: datetime) -> None:
    samples = [
        NewSample(
            wet, dryer=Dryer.objects.get(name=name), dry_g=dry, air_temp_c=60.0, air_rh_pct=rh
        )
        for (name, wet, dry, _), rh in zip(SPONGES, (14.0, 11.0), strict=True)
    ]  # fmt: skip
    scale = Scale.objects.get(name="Bench scale")
    trial = begin_trial(NewTrial(kind=Trial.Kind.SPONGE, scale=scale, samples=samples, began_at=began_at)).record
    for sample, (_, _, _, after) in zip(trial.samples.all(), SPONGES, strict=True):
        _weigh(sample, after, DUEL_H)
    end_trial(trial)


def _ladder() -> None:
    spool = Spool.objects.get(name="Rain gauge")
    rungs = [Quantity(moisture, 0.08 * moisture) for moisture, _, _ in LADDER]
    trial = begin_ladder(spool, rungs, "hooks, four of each").record
    for moisture, prints, showed in LADDER:
        rung = trial.rungs.get(moisture_pct=moisture)
        for n in range(prints):
            rate_print(rung, _key(trial.pk, moisture, n), showed=n < showed)


def _soak(began_at: datetime) -> None:
    spool, scale = Spool.objects.get(name="Gear stock"), Scale.objects.get(name="Pocket scale")
    rng = np.random.default_rng(12)
    wet = [round(float(14.0 + 0.4 * rng.standard_normal()), 2) for _ in range(len(SOAK_TIMES_H) + 1)]
    samples = [NewSample(g, planned_h=t) for g, t in zip(wet, SOAK_TIMES_H, strict=False)]
    trial = begin_trial(
        NewTrial(
            kind=Trial.Kind.UPTAKE, spool=spool, scale=scale, temp_c=SOAK_C, began_at=began_at,
            samples=[*samples, NewSample(wet[-1], baked=True)],
        )
    ).record  # fmt: skip
    lot = soaking_lot()
    for sample, hours in zip(list(trial.samples.all())[:SOAK_WEIGHED], SOAK_TIMES_H, strict=False):
        _weigh(sample, round(lot.mass_g(sample.name, hours), 2), hours)


def soaking_lot() -> Lot:
    """The lot that lies in water, as it really is: for the scale that shows its coils."""
    trial = Trial.objects.select_related("spool").prefetch_related("samples").get(
        kind=Trial.Kind.UPTAKE, closed_at=None
    )  # fmt: skip
    assert trial.spool is not None
    return Lot(
        trial=trial.pk,
        began_at=trial.began_at.isoformat(),
        strand_diameter_mm=trial.spool.strand_diameter_mm,
        start_pct=SOAK_START_PCT,
        end_pct=SOAK_END_PCT,
        diffusivity_m2_s=SOAK_DIFFUSIVITY,
        film_pct=SOAK_FILM_PCT,
        dry_g={s.name: s.start_g / (1.0 + SOAK_START_PCT / 100.0) for s in trial.samples.all() if not s.baked},
    )
