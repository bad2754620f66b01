"""Warm-up and thermostat swing: the temperature that counts for diffusion."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np

from drying.air import GAS_CONSTANT, ZERO_C_IN_K
from drying.errors import require_range
from drying.materials import REFERENCE_TEMP_K, Material
from drying.transport.state import Segment


def effective_temperature_c(material: Material, mean_c: float, swing_c: float) -> float:
    """The steady temperature, °C, at which water diffuses as fast as under a thermostat that swings ± `swing_c`.

    The Arrhenius-weighted mean over one sine, for a swing that is quick against the drying. Its hot side counts for the
    limits of a run only, not for its drying.
    """
    require_range("swing_c", swing_c, 0.0, 40.0, "°C", difference=True)
    angles = 2.0 * math.pi * (np.arange(64) + 0.5) / 64.0
    mean_rate = float(np.mean([material.diffusivity_m2_s(mean_c + swing_c * math.sin(a)) for a in angles]))
    slope = -material.ea.value * 1000.0 / GAS_CONSTANT
    return 1.0 / (1.0 / REFERENCE_TEMP_K + math.log(mean_rate / material.d23.value) / slope) - ZERO_C_IN_K


def warmed_up(segment: Segment, from_c: float, warm_up_h: float, parts: int = 4) -> list[Segment]:
    """A segment whose box first takes `warm_up_h` to come from `from_c` to its temperature, as shorter segments.

    A straight ramp in equal parts, each at its middle; the time counts as part of the segment's own.
    """
    require_range("warm_up_h", warm_up_h, 0.0, segment.duration_h, "h")
    if warm_up_h == 0.0:
        return [segment]
    rise = segment.temp_c - from_c
    ramp = [
        replace(segment, duration_h=warm_up_h / parts, temp_c=from_c + rise * (k + 0.5) / parts) for k in range(parts)
    ]
    return [*ramp, replace(segment, duration_h=segment.duration_h - warm_up_h)]
