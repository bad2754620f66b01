"""The price of power by the clock of a place, as hours from a start. Clock changes are counted."""

from __future__ import annotations

from datetime import datetime

from drying.dryers import Tariff
from drying.dryers.attended import daily, days_from, merged, without
from drying.planning.schedule.problem import Price


def prices(start: datetime, horizon_h: float, tariff: Tariff | None) -> tuple[Price, ...]:
    """What a kWh costs through the horizon; nothing where no tariff is known."""
    if tariff is None:
        return ()
    if tariff.night_rate is None or tariff.night_from_min == tariff.night_to_min:
        return (Price(0.0, horizon_h, tariff.day_rate),)
    span = [(tariff.night_from_min, tariff.night_to_min)]
    cheap = merged([window for day in days_from(start, horizon_h) for window in daily(start, day, span)])
    cuts = [(max(b, 0.0), min(e, horizon_h)) for b, e in cheap if e > 0.0 and b < horizon_h]
    dear = [(0.0, horizon_h)]
    for cut in cuts:
        dear = without(dear, cut)
    rows = [Price(b, e, tariff.night_rate) for b, e in cuts] + [Price(b, e, tariff.day_rate) for b, e in dear]
    return tuple(sorted(rows, key=lambda row: row.from_h))
