"""Printing out of a running dryer: the grams that go into the nozzle next are the outermost turns."""

from __future__ import annotations

from dataclasses import dataclass

from drying.dryers.setup import at_rate
from drying.runs.posterior import Estimate
from drying.runs.record import RunSoFar
from drying.transport import NEXT_G, even_state, follow, mean_moisture_pct, turns_of, up_to


@dataclass(frozen=True)
class NextGrams:
    """The moisture, % of dry mass, of the next `mass_g` of strand that leave the winding: 5, 50 and 95 % points."""

    mass_g: float
    p05: float
    p50: float
    p95: float


def next_ratio(so_far: RunSoFar, now_h: float) -> float | None:
    """What the next grams hold as a share of the whole spool's moisture, by the run as it was computed. None for a
    loose coil, whose turns are all alike, and before the run has begun.
    """
    load = so_far.load
    if load.filament.winding is None or now_h <= 0.0:
        return None
    state = even_state(load.filament, load.start.value)
    state = follow(load.filament, state, at_rate(up_to(now_h, so_far.met(now_h)), load.rate.median))
    return turns_of(load.filament, state, so_far.load.assumed_net_g).next_pct / mean_moisture_pct(load.filament, state)


def next_grams(so_far: RunSoFar, now_h: float, now: Estimate) -> NextGrams | None:
    """What the next grams hold when the whole spool holds `now`: its profile is that of the run as it was computed,
    scaled to what the scale tells. None as in `next_ratio`.
    """
    ratio = next_ratio(so_far, now_h) if now.mean > 0.0 else None
    if ratio is None:
        return None
    return NextGrams(min(NEXT_G, so_far.load.assumed_net_g), now.p05 * ratio, now.p50 * ratio, now.p95 * ratio)
