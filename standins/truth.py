"""What really happens in a run, which nobody is told: drawn from the spreads of the core's data, and followed by its
physics.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from drying.air import vapour_concentration_g_m3
from drying.arrays import Array
from drying.dryers import Load
from drying.dryers.setup import at_rate
from drying.planning import moved
from drying.runs.record import lasting
from drying.transport import TORTUOSITY_SPREAD, WARMING_SPREAD, Filament, Segment, as_it_warms, course, even_state
from drying.weighing import Scale

AIR_SD_C, VENT_SPREAD = 0.7, 1.35  # how far a real dryer is off what is known of it: °C, and a factor


@dataclass(frozen=True)
class Truth:
    """A run as it really is: what the water moves in, the start moisture in % of dry mass, the conditions, dry mass and
    tare in g, and how fast all of it goes. `start_temp_c`: how warm the spool went in, None where it was as warm as the
    air at once; `slower_warming`: how many times as long it takes to warm through as is computed.
    """

    body: Filament
    start_pct: float
    segments: tuple[Segment, ...]
    dry_g: float
    tare_g: float
    rate: float = 1.0
    start_temp_c: float | None = None
    slower_warming: float = 1.0

    def moisture_pct(self, time_h: Sequence[float] | Array) -> Array:
        """Moisture, % of dry mass, at rising times in h; the last conditions go on."""
        times = np.asarray(time_h, dtype=np.float64)
        met = lasting(self.segments, float(times.max()) + 1.0)
        if self.start_temp_c is not None:
            met = as_it_warms(self.body, met, self.start_temp_c, slower=self.slower_warming)
        return course(self.body, even_state(self.body, self.start_pct), at_rate(met, self.rate), times * self.rate)

    def gross_g(self, time_h: Sequence[float] | Array) -> Array:
        """What stands on the scale, g."""
        return np.asarray(self.tare_g + self.dry_g * (1.0 + self.moisture_pct(time_h) / 100.0))

    def hours_to(self, aim_pct: float, longest_h: float = 400.0) -> float:
        """When it comes to `aim_pct`, h after the start; infinite where it does not."""
        times = longest_h * np.linspace(0.0, 1.0, 800) ** 2
        moisture = np.minimum.accumulate(self.moisture_pct(times))
        return float(np.interp(-aim_pct, -moisture, times)) if moisture[-1] <= aim_pct else math.inf

    def box_air(self, time_h: float) -> tuple[float, float]:
        """Temperature in °C and relative humidity in % of the air in the box: what comes in, and what the strand adds
        to it on its way out.
        """
        begin = 0.0
        for segment in self.segments:
            if time_h < begin + segment.duration_h:
                break
            begin += segment.duration_h
        before, after = self.moisture_pct([max(time_h - 0.05, 0.0), time_h + 0.05])
        span = 0.05 + min(time_h, 0.05)
        g_per_h = self.dry_g * float(before - after) / 100.0 / span
        inlet = vapour_concentration_g_m3(segment.room.temp_c, segment.room.rh_pct)
        full = vapour_concentration_g_m3(segment.temp_c, 100.0)
        vent = segment.vent_m3_h or 1e-6
        return segment.temp_c, min(max(100.0 * (inlet + g_per_h / vent) / full, 0.5), 99.0)


def _within(mean: float, sd: float, rng: np.random.Generator) -> float:
    """Normal, but over zero."""
    for _ in range(100):
        value = float(rng.normal(mean, sd))
        if value > 0.0:
            return value
    return mean


def drawn(
    load: Load,
    segments: Sequence[Segment],
    tare_g: float,
    tare_sd_g: float,
    rng: np.random.Generator,
    start_temp_c: float | None = None,
) -> Truth:
    """A truth for the posterior of a run: every value within its spread."""
    material = load.material
    for name in ("d23", "ea", "isotherm"):
        material = moved(material, name, float(rng.normal()))
    body = replace(load, material=material).filament
    if body.winding is not None:
        tortuosity = max(1.0, body.winding.tortuosity * TORTUOSITY_SPREAD ** float(rng.normal()))
        body = replace(body, winding=replace(body.winding, tortuosity=tortuosity))
    off_c, vent = float(rng.normal(0.0, AIR_SD_C)), VENT_SPREAD ** float(rng.normal())
    real = tuple(
        replace(s, temp_c=s.temp_c + off_c, vent_m3_h=None if s.vent_m3_h is None else s.vent_m3_h * vent)
        for s in segments
    )
    start = _within(load.start.value, load.start.uncertainty, rng)
    tare, slower = _within(tare_g, tare_sd_g, rng), WARMING_SPREAD ** float(rng.normal())
    return Truth(body, start, real, load.dry_mass_g or 1000.0, tare, 1.0, start_temp_c, slower)


def read_off(gross_g: float, scale: Scale, rng: np.random.Generator) -> float:
    """What a scale shows for a mass: with its scatter, to its step."""
    noise = float(rng.normal(0.0, math.hypot(scale.repeatability_g, scale.drift_g)))
    steps = round((gross_g + noise) / scale.resolution_g)
    places = max(0, math.ceil(-math.log10(scale.resolution_g) - 1e-9))
    return round(steps * scale.resolution_g, places)
