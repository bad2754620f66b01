"""Will the scale be able to tell? Asked before a run: what will leave against the least that the scale shows."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from drying.arrays import Array
from drying.dryers import Load
from drying.planning.forecast import Forecast
from drying.quantity import COVERAGE
from drying.weighing import Scale, coil_mass_g

NIGHT_H = 12.0
COILS_M = (5.0, 10.0, 15.0, 20.0)  # lengths that people cut off


@dataclass(frozen=True)
class OwnScale:
    """A scale that a person has: its key, the scale, and the most that it takes, g."""

    key: int
    scale: Scale
    max_g: float


@dataclass(frozen=True)
class Coil:
    """A coil that would tell: its length in m and the scale for it."""

    length_m: float
    scale: int


@dataclass(frozen=True)
class ScaleCheck:
    """What will leave, g, and the least that the best scale for the spool shows, g. Where it will not tell: the coil
    that would, and the hours of heat after which the scale would; None where there is none.
    """

    scale: int
    water_out_g: float
    detectable_g: float
    coil: Coil | None = None
    longer_h: float | None = None

    @property
    def tells(self) -> bool:
        """Whether the scale will be able to tell."""
        return self.water_out_g >= self.detectable_g


def detectable_g(scale: Scale) -> float:
    """The least loss between two weighings that is a finding, g."""
    return COVERAGE * math.sqrt(2.0) * scale.uncertainty_g


def _coil(load: Load, scales: Sequence[OwnScale], lost_pct: float) -> Coil | None:
    """The shortest coil that would show the same loss in percent on one of the scales."""
    for length in COILS_M:
        mass = coil_mass_g(load.material, load.strand_diameter_mm, length).value
        if load.net_g is not None and mass > load.net_g:
            break
        for own in sorted(scales, key=lambda s: s.scale.uncertainty_g):
            if mass <= own.max_g and mass * lost_pct / 100.0 >= detectable_g(own.scale):
                return Coil(length, own.key)
    return None


def scale_check(
    load: Load, course: Forecast, duration_h: float, gross_g: float | None, scales: Sequence[OwnScale]
) -> ScaleCheck | None:
    """Whether the best of these scales will show what is forecast to leave in `duration_h` hours.

    `gross_g`: spool and filament together. None where a mass is not known, where no scale takes it, or for a coil.
    """
    dry = load.dry_mass_g
    fitting = [own for own in scales if gross_g is not None and own.max_g >= gross_g]
    if dry is None or not fitting or load.form != "wound":
        return None
    best = min(fitting, key=lambda own: own.scale.uncertainty_g)
    start, end = load.start.value, float(np.interp(duration_h, course.time_h, course.moisture_pct))
    least, out = detectable_g(best.scale), dry * (start - end) / 100.0
    if out >= least:
        return ScaleCheck(best.key, out, least)
    lost = dry * (start - course.moisture_pct) / 100.0
    later = np.flatnonzero((lost >= least) & (course.time_h > duration_h))
    longer = float(course.time_h[later[0]]) if later.size else None
    return ScaleCheck(best.key, out, least, _coil(load, scales, max(start - end, 0.0)), longer)


@dataclass(frozen=True)
class DampNight:
    """What a night in the open adds, % of dry mass; which scale is the best for the spool and after how many hours in
    the open it shows what was added; after how many a print shows it. None: no scale for it, not within the course.
    """

    adds_pct: float
    scale: int | None
    scale_h: float | None
    prints_h: float | None


def _reaches_h(time_h: Array, values: Array, level: float) -> float | None:
    """When values first come to a level, h, straight between the times; None where they never do."""
    over = np.flatnonzero(values >= level)
    if not over.size:
        return None
    at = int(over[0])
    if at == 0:
        return float(time_h[0])
    share = (level - values[at - 1]) / (values[at] - values[at - 1])
    return float(time_h[at - 1] + share * (time_h[at] - time_h[at - 1]))


def damp_night(
    time_h: Array,
    moisture_pct: Array,
    dry_g: float | None,
    gross_g: float | None,
    scales: Sequence[OwnScale],
    trouble_pct: float,
) -> DampNight | None:
    """Whether scale and print could tell that a spool lay in the open: for somebody who means to try it.

    `moisture_pct`: its course in the open from now on, % of dry mass, at `time_h`. None where it takes nothing up in a
    night, and where its water shows already.
    """
    adds = float(np.interp(NIGHT_H, time_h, moisture_pct)) - float(moisture_pct[0])
    if adds <= 0.0 or moisture_pct[0] >= trouble_pct:
        return None
    fitting = [own for own in scales if gross_g is not None and own.max_g >= gross_g]
    best = min(fitting, key=lambda own: own.scale.uncertainty_g, default=None)
    scale_h = None
    if best is not None and dry_g is not None:
        scale_h = _reaches_h(time_h, moisture_pct - moisture_pct[0], 100.0 * detectable_g(best.scale) / dry_g)
    prints_h = _reaches_h(time_h, moisture_pct, trouble_pct)
    return DampNight(adds, None if best is None else best.key, scale_h, prints_h)
