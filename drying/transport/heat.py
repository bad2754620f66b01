"""Warm-up and thermostat swing: the temperature that counts for diffusion.

A winding follows the air about it slowly. Its mean temperature lags behind by a first order whose time constant goes
with its mass and the air at its outer face: a fit to solutions with conduction in the winding (0.12 to 0.15 W/(m·K),
1.2 to 1.8 kJ/(kg·K), film 9 to 18 W/(m²·K)), which it meets within 4 % of the start. A loose coil follows at once.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from drying.air import GAS_CONSTANT, TEMP_MAX_C, TEMP_MIN_C, ZERO_C_IN_K
from drying.errors import require_range
from drying.materials import REFERENCE_TEMP_K, Material
from drying.transport.state import Filament, Segment, strand_density

_SINE = np.sin(2.0 * math.pi * (np.arange(64) + 0.5) / 64.0)


def effective_temperature_c(material: Material, mean_c: float, swing_c: float) -> float:
    """The steady temperature, °C, at which water diffuses as fast as under a thermostat that swings ± `swing_c`.

    The Arrhenius-weighted mean over one sine, for a swing that is quick against the drying. Its hot side counts for the
    limits of a run only, not for its drying.
    """
    require_range("swing_c", swing_c, 0.0, 40.0, "°C", difference=True)
    for outermost in (mean_c - swing_c, mean_c + swing_c):
        require_range("temp_c", outermost, TEMP_MIN_C, TEMP_MAX_C, "°C")
    slope = -material.ea.value * 1000.0 / GAS_CONSTANT
    kelvin = mean_c + swing_c * _SINE + ZERO_C_IN_K
    mean_log = math.log(float(np.exp(slope * (1.0 / kelvin - 1.0 / REFERENCE_TEMP_K)).mean()))
    return 1.0 / (1.0 / REFERENCE_TEMP_K + mean_log / slope) - ZERO_C_IN_K


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


WARMING_H = 0.91  # engineering estimate: 1 kg of winding with a fan blowing along it
STILL_AIR = 1.6  # times as slow without a fan: engineering estimate
WARMING_SPREAD = 1.4  # one sigma of a log-normal
_UNDER_1_KG, _OVER_1_KG = 0.7, 0.35  # over a kilogram the way through the flanges counts
STEPS = 6  # stretches of a whole change: within 0.4 % of the start of three times as many
STEPS_CUBIC = 4  # where each costs an integration; strand with such an isotherm is slow against its warming
_FOLLOWED = 0.02  # of the largest change: a winding so near to its air has warmed through
_LEAST_K = 0.05  # and where nothing changes by more than this, nothing has to
_FINE = 0.2  # of the time constant
_ALL_H = 20.0  # time constants that the last conditions are drawn out by, so that the cuts do not hang on the end


def warming_h(filament: Filament, fan: bool | None = None) -> float:
    """Time constant, h, with which a filament's mean temperature follows the air about it; 0 for a loose coil.

    `fan`: whether air is blown along it; None counts as blown, as in most heated boxes.
    """
    if filament.winding is None:
        return 0.0
    kg = filament.winding.volume_m3 * strand_density(filament)
    slower = STILL_AIR if fan is False else 1.0
    return float(WARMING_H * slower * kg ** (_UNDER_1_KG if kg < 1.0 else _OVER_1_KG))


def warmed_through(
    segments: Sequence[Segment], start_temp_c: float, constant_h: float, steps: int = STEPS
) -> list[Segment]:
    """What a winding at `start_temp_c` meets while the air goes through `segments`: the same air, its own temperature.

    Cut into `steps` stretches of equal change and taken at their means; a segment whose air it has reached stays whole.
    Where the cuts lie hangs on neither how hot it gets nor how long the last segment lasts, so a course is smooth in
    both. Raises OutOfRangeError for a temperature outside -40..200 °C or a time constant outside 0..100 h.
    """
    require_range("start_temp_c", start_temp_c, -40.0, 200.0, "°C")
    require_range("warming_h", constant_h, 0.0, 100.0, "h")
    reach_k = max((abs(s.temp_c - start_temp_c) for s in segments), default=0.0)
    if constant_h == 0.0 or reach_k < _LEAST_K:
        return list(segments)
    *before, last = segments
    longer = [*before, replace(last, duration_h=last.duration_h + _ALL_H * constant_h)]
    found: list[Segment] = []
    pieces: list[tuple[float, float]] = []  # fine stretches of one air that go together: h, and mean °C
    air, begin_c, at_c = longer[0], start_temp_c, start_temp_c
    for segment in longer:
        for hours, mean_c, end_c in _fine(segment, at_c, constant_h, _FOLLOWED * reach_k):
            apart = (segment.room, segment.vent_m3_h) != (air.room, air.vent_m3_h)
            if pieces and (apart or end_c == segment.temp_c or abs(end_c - begin_c) > reach_k / steps):
                found.append(_together(air, pieces))
                pieces, begin_c = [], at_c
            pieces.append((hours, mean_c))
            air, at_c = segment, end_c
    return up_to(sum(s.duration_h for s in segments), [*found, _together(air, pieces)])


def warmed_by_piece(segments: Sequence[Segment], start_temp_c: float, constant_h: float) -> list[Segment]:
    """The same where the air comes in pieces that are short while it warms: each at the mean temperature of a winding
    in it, so that those that warm slower or faster are cut at the same times.
    """
    followed_k = max(_FOLLOWED * max((abs(s.temp_c - start_temp_c) for s in segments), default=0.0), _LEAST_K)
    found, at_c = list[Segment](), start_temp_c
    for segment in segments:
        mean_c = segment.temp_c
        if constant_h == 0.0 or abs(at_c - segment.temp_c) <= followed_k:
            at_c = segment.temp_c
        else:
            mean_c, at_c = _warming(segment.temp_c, at_c, segment.duration_h, constant_h)
        found.append(replace(segment, temp_c=mean_c))
    return found


def _fine(segment: Segment, at_c: float, constant_h: float, followed_k: float) -> list[tuple[float, float, float]]:
    """A segment in stretches short against the time constant, h, the winding's mean temperature in each, and where each
    ends: at the air's own once it has come within `followed_k` of it.
    """
    found, left = [], segment.duration_h
    while abs(at_c - segment.temp_c) > followed_k and left > 0.0:
        hours = min(_FINE * constant_h, left)
        mean_c, at_c = _warming(segment.temp_c, at_c, hours, constant_h)
        found.append((hours, mean_c, at_c))
        left -= hours
    return [*found, (left, segment.temp_c, segment.temp_c)] if left > 0.0 else found


def _warming(air_c: float, at_c: float, hours: float, constant_h: float) -> tuple[float, float]:
    """The mean temperature of a winding over some hours in air of one temperature, and the one that it comes to."""
    gap, reached = at_c - air_c, math.expm1(-hours / constant_h)
    return air_c - gap * reached * constant_h / hours, air_c + gap * (1.0 + reached)


def _together(air: Segment, pieces: Sequence[tuple[float, float]]) -> Segment:
    """Stretches of one air as one, at their mean temperature."""
    hours = sum(duration_h for duration_h, _ in pieces)
    mean_c = pieces[0][1] if len(pieces) == 1 else sum(duration_h * temp_c for duration_h, temp_c in pieces) / hours
    return replace(air, duration_h=hours, temp_c=mean_c)


def up_to(hours: float, segments: Sequence[Segment]) -> list[Segment]:
    """The segments as far as so many hours: what comes after is left out."""
    found, left = [], hours
    for segment in segments:
        if left <= 1e-9:
            break
        found.append(replace(segment, duration_h=min(segment.duration_h, left)))
        left -= segment.duration_h
    return found


def as_it_warms(
    filament: Filament, box: Sequence[Segment], start_temp_c: float, fan: bool | None = None, slower: float = 1.0
) -> list[Segment]:
    """What a filament that comes in at `start_temp_c` meets while the box goes through its segments.

    `slower`: how many times as long it takes to warm through as `warming_h` says.
    """
    constant_h = warming_h(filament, fan) * slower
    if any(segment.goes_on for segment in box):
        return warmed_by_piece(box, start_temp_c, constant_h)
    steps = STEPS if filament.material.k3.value == 0.0 else STEPS_CUBIC
    return warmed_through(box, start_temp_c, constant_h, steps)
