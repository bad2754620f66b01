"""Lots of coils: how fast strand loses or takes up water, and how much it holds. Dry basis throughout.

All coils of a lot begin alike. Each is a long cylinder with its surface in equilibrium with what is around it (see
`transport.strand`); soaked ones carry a film, uneven from wiping to wiping. A coil's own dry mass is not known: it is
taken out exactly, as it enters the readings in proportion.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, field, replace

import numpy as np
from scipy.special import chdtrc

from drying.air import RoomAir
from drying.arrays import Array
from drying.errors import OutOfRangeError, require_range
from drying.transport import radius_m
from drying.transport.strand import fraction_exchanged
from drying.trials.points import Points, Posterior, nearest_top, posterior
from drying.weighing import Scale

FILM_G_PER_M, FILM_SPREAD = 0.011, 2.2  # engineering estimate: 16 mg a metre as it comes out, a third of it wiped
UNEVEN = 0.35  # share by which the film differs from wiping to wiping
BAKED_LEFT_SD_PCT = 0.02
LEAST_FIT = 0.003
MUCH_FILM = 2.0  # times what is usual: so much is looked into
UNLIKELY = 10.0  # in logs: a reading that is four and a half standard uncertainties away
WIDE = 50.0  # a prior so wide (factor, one sigma) says nothing


@dataclass(frozen=True)
class Reading:
    """A weighing of a coil, h after it went in, g."""

    time_h: float
    gross_g: float


@dataclass(frozen=True)
class Sample:
    """A coil: its mass at the beginning, g, and its readings."""

    start_g: float
    readings: tuple[Reading, ...]


@dataclass(frozen=True)
class Twin:
    """A coil of the same lot that was dried to constant mass: its mass before and after, g."""

    before_g: float
    after_g: float


@dataclass(frozen=True)
class _Lot:
    strand_diameter_mm: float
    density_kg_m3: float
    temp_c: float
    scale: Scale
    samples: tuple[Sample, ...]
    baked: Twin | None = None

    def __post_init__(self) -> None:
        radius_m(self.strand_diameter_mm)
        require_range("density_kg_m3", self.density_kg_m3, 300.0, 5000.0, "kg/m³")
        require_range("temp_c", self.temp_c, -40.0, 200.0, "°C")
        if not self.samples or not any(s.readings for s in self.samples):
            raise OutOfRangeError("samples", "There are no readings: give at least one coil with one reading.")
        for n, sample in enumerate(self.samples, start=1):
            require_range("start_g", sample.start_g, 0.001, 1e5, "g")
            for reading in sample.readings:
                if not reading.time_h > 0.0:
                    raise OutOfRangeError(
                        "time_h", f"Sample {n} has a reading at {reading.time_h:g} h: give a time after 0 h."
                    )
                require_range("gross_g", reading.gross_g, 0.5 * sample.start_g, 2.0 * sample.start_g, "g")
        if self.baked is not None:
            require_range("before_g", self.baked.before_g, 0.001, 1e5, "g")
            require_range("after_g", self.baked.after_g, 0.5 * self.baked.before_g, 1.01 * self.baked.before_g, "g")

    @property
    def film_share(self) -> float:
        """Film in % of dry mass for each g per metre of it."""
        area = math.pi / 4.0 * (self.strand_diameter_mm / 1000.0) ** 2
        return 100.0 / (self.density_kg_m3 * area * 1000.0)


@dataclass(frozen=True)
class DryingLot(_Lot):
    """Wet coils that dry at `temp_c` in this room's air; `soaked`: they lay in water and begin with a film."""

    room: RoomAir = field(default_factory=lambda: RoomAir(21.0, 50.0))
    soaked: bool = False


@dataclass(frozen=True)
class UptakeLot(_Lot):
    """Coils that take water up at `temp_c`: from air of `rh_pct`, or, where that is None, from water itself."""

    rh_pct: float | None = None


@dataclass(frozen=True)
class LotFit:
    """What a lot tells: diffusivity m²/s, start and end (floor or capacity) in % of dry mass, film in g/m (None where
    there was none). `fits`: its samples agree; `doubtful`: sample and reading (from 0) without which they would.
    """

    diffusivity_m2_s: Points
    start_pct: Points
    end_pct: Points
    film_g_per_m: Points | None
    fits: bool
    doubtful: tuple[int, int] | None


class _Fit:
    """A lot's posterior. Unknowns, all as logs: D, how much the moisture changes in all, the lesser of start and end as
    a share of that change, and the film. Weighings tell the change well and the lesser hardly.
    """

    def __init__(self, lot: _Lot, *, film_first: bool, film_after: bool, end_prior: tuple[float, float] | None) -> None:
        self.lot, self.film_first, self.film_after, self.end_prior = lot, film_first, film_after, end_prior
        self.film = film_first or film_after
        self.sd_g = lot.scale.uncertainty_g
        self.radius2 = radius_m(lot.strand_diameter_mm) ** 2
        used = [s for s in lot.samples if s.readings]
        self.mass = np.array([s.start_g for s in used])
        self.seconds = np.array([r.time_h for s in used for r in s.readings]) * 3600.0
        self.seen = np.array([r.gross_g for s in used for r in s.readings])
        counts = np.array([len(s.readings) for s in used])
        self.first = np.concatenate([[0], np.cumsum(counts)[:-1]])  # where each sample's readings begin
        self.of = np.repeat(np.arange(len(used)), counts)

    def ends(self, x: Array) -> tuple[Array, Array]:
        """Start and end, % of dry mass."""
        change = np.exp(x[:, 1])
        lesser = change * np.exp(x[:, 2])
        both = lesser, lesser + change
        return both if isinstance(self.lot, UptakeLot) else both[::-1]

    def chi(self, x: Array, *, plain: bool = False) -> Array:
        """Minus twice the log-likelihood of all readings over rows of unknowns; `plain`: chi-square alone."""
        d = np.exp(x[:, 0])[:, None]
        start, end = (value[:, None] for value in self.ends(x))
        film = np.exp(x[:, 3])[:, None] * self.lot.film_share if self.film else np.zeros((x.shape[0], 1))
        moved = fraction_exchanged(np.multiply.outer(d[:, 0], self.seconds) / self.radius2)
        after = 1.0 + (start + (end - start) * moved + (film if self.film_after else 0.0)) / 100.0
        first = 1.0 + (start + (film if self.film_first else 0.0)) / 100.0 + np.zeros_like(self.mass)
        uneven = (UNEVEN * film / 100.0) ** 2
        of_first = self.sd_g**2 + (uneven * self.mass**2 if self.film_first else np.zeros_like(self.mass))
        of_after = self.sd_g**2 + (uneven * self.mass[self.of] ** 2 if self.film_after else np.zeros_like(self.seen))

        def summed(of_each: Array, at_first: Array) -> Array:
            return np.asarray(np.add.reduceat(of_each, self.first, axis=1) + at_first)

        # A coil's dry mass, of which nothing is known, is integrated out: readings are it times `first` and `after`.
        weight = summed(after**2 / of_after, first**2 / of_first)
        mass = summed(after * self.seen / of_after, first * self.mass / of_first) / weight
        misses = summed(
            (self.seen - mass[:, self.of] * after) ** 2 / of_after, (self.mass - mass * first) ** 2 / of_first
        )
        if not plain:
            spread = summed(np.log(of_after) + np.zeros_like(after), np.log(of_first) + np.zeros_like(first))
            misses = misses + spread + np.log(weight)
        return np.asarray(misses.sum(axis=1) + self._baked(start[:, 0], film[:, 0], plain=plain))

    def _baked(self, start: Array, film: Array, *, plain: bool) -> Array:
        twin = self.lot.baked
        if twin is None:
            return np.zeros(start.size)
        film = film if self.film_first else np.zeros(start.size)
        share = 100.0 * (twin.before_g - twin.after_g) / twin.after_g
        wiping = UNEVEN * film
        own = 100.0 * self.sd_g * math.hypot(1.0, twin.before_g / twin.after_g) / twin.after_g
        variance = own**2 + BAKED_LEFT_SD_PCT**2 + wiping**2
        return np.asarray((share - start - film) ** 2 / variance + (0.0 if plain else np.log(variance)))

    def misfit(self, x: Array) -> Array:
        """Negative log of the posterior."""
        found = 0.5 * self.chi(x) + 0.5 * (x[:, 0] + 27.5) ** 2 / 6.0**2
        found = found + 0.5 * (x[:, 1] / math.log(WIDE)) ** 2
        if self.end_prior is None:
            found = found + 0.5 * ((x[:, 2] + 1.0) / math.log(WIDE)) ** 2
        else:  # the lesser hangs on the greater: as what share of it, and how surely
            share, spread = self.end_prior
            log_share = -np.logaddexp(0.0, -x[:, 2])  # lesser / greater; its slope is one less the share
            found = found + 0.5 * ((log_share - math.log(share)) / math.log(spread)) ** 2
            found = found - np.log1p(-np.exp(log_share))
        if self.film:
            found = found + 0.5 * ((x[:, 3] - math.log(FILM_G_PER_M)) / math.log(FILM_SPREAD)) ** 2
        return np.asarray(found)

    @property
    def step(self) -> Array:
        """About how far each unknown may go."""
        return np.array([1.5, 0.8, 0.8, 0.5])[: 4 if self.film else 3]

    def agreement(self, top: Array) -> float:
        """How likely readings are that agree with one another no better than these do (0..1)."""
        freedom = self.seen.size - top.size + (1 if self.lot.baked else 0)
        return float(chdtrc(max(freedom, 1), self.chi(top[None, :], plain=True)[0]))

    def top_near(self, near: Array) -> Array:
        """The likeliest unknowns, where they lie near those of a lot that is hardly another."""
        return nearest_top(self.misfit, near, self.step)

    def run(self) -> Posterior:
        """The posterior."""
        size = self.step.size
        most = np.maximum if isinstance(self.lot, UptakeLot) else np.minimum
        moved = 100.0 * float(np.median(np.abs(most.reduceat(self.seen, self.first) / self.mass - 1.0)))
        log_d = math.log(0.3 * self.radius2 / float(self.seconds.max()))
        begin = np.array([log_d, math.log(max(moved, 0.01)), -1.2, math.log(FILM_G_PER_M)])[:size]
        return posterior(self.misfit, begin, self.step)


def _fitted(lot: _Lot, *, film_first: bool, film_after: bool, end_prior: tuple[float, float] | None) -> LotFit:
    def fit(of: _Lot) -> _Fit:
        return _Fit(of, film_first=film_first, film_after=film_after, end_prior=end_prior)

    whole = fit(lot)
    found = whole.run()
    fits, doubtful = whole.agreement(found.top) >= LEAST_FIT, None
    if fits and whole.film and found.top[3] > math.log(FILM_G_PER_M * MUCH_FILM):
        doubtful = _hidden_by_film(whole, fit, found.top)
        fits = doubtful is None
    elif not fits:
        doubtful = _doubtful(lot, fit, found.top)
    if not fits and doubtful is not None:
        found = fit(_left_out(lot, doubtful)).run()
    return LotFit(
        found.points(lambda x: np.exp(x[:, 0])),
        found.points(lambda x: whole.ends(x)[0]),
        found.points(lambda x: whole.ends(x)[1]),
        found.points(lambda x: np.exp(x[:, 3])) if whole.film else None,
        fits,
        doubtful,
    )


def _left_out(lot: _Lot, which: tuple[int, int]) -> _Lot:
    """The lot without one reading, or without a whole sample where that was its only one."""
    sample = lot.samples[which[0]]
    rest = tuple(r for n, r in enumerate(sample.readings) if n != which[1])
    samples = (
        *lot.samples[: which[0]],
        *([replace(sample, readings=rest)] if rest else []),
        *lot.samples[which[0] + 1 :],
    )
    return replace(lot, samples=samples)


def _doubtful(lot: _Lot, fit: Callable[[_Lot], _Fit], top: Array) -> tuple[int, int] | None:
    """The one reading without which the rest agrees best; None where none does it, or too few would be left."""
    places = [(n, k) for n, sample in enumerate(lot.samples) for k in range(len(sample.readings))]
    if len(places) < 4:
        return None
    found = []
    for which in places:
        rest = fit(_left_out(lot, which))
        found.append((rest.agreement(rest.top_near(top)), which))
    best = max(found)
    return best[1] if best[0] >= LEAST_FIT else None


def _hidden_by_film(whole: _Fit, fit: Callable[[_Lot], _Fit], top: Array) -> tuple[int, int] | None:
    """The one reading but for which there would be no need of so thick and uneven a film; None where there is none.

    A mistyped reading can be had by much film, which makes every weighing unsure. Without that reading the others are
    so much likelier that no film of its kind could be.
    """
    lot, misfit = whole.lot, float(whole.misfit(top[None, :])[0])
    best: tuple[float, tuple[int, int] | None] = (UNLIKELY, None)
    for n, sample in enumerate(lot.samples):
        usual_sd = math.hypot(lot.scale.uncertainty_g, UNEVEN * FILM_G_PER_M * lot.film_share / 100.0 * sample.start_g)
        for k in range(len(sample.readings)):
            rest = fit(_left_out(lot, (n, k)))
            # What such a reading is worth where nothing is wrong with it: the density at its middle.
            gain = misfit - float(rest.misfit(rest.top_near(top)[None, :])[0]) - math.log(usual_sd)
            best = max(best, (gain, (n, k)), key=lambda found: found[0])
    return best[1]


def fit_drying(lot: DryingLot) -> LotFit:
    """How fast the strand of a lot loses its water, what it began with and where the air stops it.

    Without a baked twin only what is lost is seen: the floor is then expected at the air's share of the start, give or
    take. Raises OutOfRangeError for masses, times and sizes that cannot be.
    """
    activity = max(lot.room.activity_at(lot.temp_c), 1e-3)
    return _fitted(lot, film_first=lot.soaked, film_after=False, end_prior=(activity, 1.8))


def fit_uptake(lot: UptakeLot) -> LotFit:
    """How fast the strand of a lot takes up water and how much it holds in the end.

    Without a baked twin what was in it at the start is a guess: a fifth of what it holds, give or take a factor of two.
    """
    prior = None if lot.baked is not None else (0.2, 2.0)
    return _fitted(lot, film_first=False, film_after=lot.rh_pct is None, end_prior=prior)
