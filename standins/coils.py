"""A fine scale at a lot of coils that take up water: it shows the coil that is to be weighed next, as the app says."""

from __future__ import annotations

import json
import math
import urllib.error
import urllib.request
from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import datetime

import numpy as np

from drying.transport import radius_m
from drying.transport.strand import fraction_exchanged
from drying.weighing import Scale
from standins.truth import read_off

FINE = Scale(0.01, 0.003)
ASKED_EVERY_S, ANSWER_S = 5.0, 5.0


@dataclass(frozen=True)
class Lot:
    """Coils as they really are: what they held as they went in and what they end at, % of dry mass, the diffusivity in
    m²/s, the film that stays after wiping, % of dry mass, and the dry mass of each, g, by its name.
    """

    trial: int
    began_at: str
    strand_diameter_mm: float
    start_pct: float
    end_pct: float
    diffusivity_m2_s: float
    film_pct: float
    dry_g: Mapping[str, float]

    def mass_g(self, name: str, hours: float) -> float:
        """What a coil weighs so many hours after the lot went in; nothing for one that is not of the lot."""
        slowness = 3600.0 * hours / radius_m(self.strand_diameter_mm) ** 2
        moved = float(fraction_exchanged(self.diffusivity_m2_s * slowness))
        held = self.start_pct + (self.end_pct - self.start_pct) * moved
        return self.dry_g.get(name, 0.0) * (1.0 + (held + self.film_pct) / 100.0)


def next_coil(address: str, trial: int) -> str | None:
    """The name of the coil that the app asks for next; None where it asks for none, or does not answer."""
    try:
        with urllib.request.urlopen(f"{address}/api/trials/{trial}/", timeout=ANSWER_S) as answer:
            told = json.load(answer)
    except (urllib.error.URLError, TimeoutError, ValueError):
        return None
    return next((one["name"] for one in told["samples"] if one["id"] == told["next"]), None)


@dataclass
class OnTheScale:
    """What lies on the fine scale."""

    lot: Lot
    name: str | None = None
    asked_at: float = field(default=-math.inf)

    def shows_g(self, address: str, now: datetime, rng: np.random.Generator) -> float:
        """What the scale shows now, g: the next coil, or an empty pan."""
        if now.timestamp() >= self.asked_at + ASKED_EVERY_S:
            self.name, self.asked_at = next_coil(address, self.lot.trial), now.timestamp()
        if self.name is None:
            return 0.0
        hours = (now - datetime.fromisoformat(self.lot.began_at)).total_seconds() / 3600.0
        return read_off(self.lot.mass_g(self.name, max(hours, 0.0)), FINE, rng)
