"""What is known of spools and containers through the weeks: events at whole hours, counted from 1970 in UTC."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np

from drying.arrays import Array
from drying.errors import OutOfRangeError
from drying.materials import activity_of_moisture
from drying.materials.empty_spools import ISOTHERM_SPREAD
from drying.quantity import NOTHING, Quantity
from drying.storage import OPEN, CardBody, Container, Fill, StoredSpool, in_air_of
from drying.transport import Filament, even, next_share, profiled, secant, shape_of


@dataclass(frozen=True)
class KnownMoisture:
    """From this hour on the moisture is known by itself (a typed value, a new spool, a run's end), % of dry mass.

    `next_pct`: what the grams that are printed next hold, where that is known to be another moisture. `body_activity`:
    the activity that a card body has come to by then; None where it is as it was, or at rest in the room's air or
    with its strand.
    """

    hour: int
    moisture: Quantity
    next_pct: float | None = None
    body_activity: float | None = None


@dataclass(frozen=True)
class SpoolWeighed:
    """The whole spool on a scale: gross mass in g with standard uncertainty."""

    hour: int
    gross: Quantity


@dataclass(frozen=True)
class FilamentUsed:
    """Strand that was printed, g with standard uncertainty."""

    hour: int
    mass: Quantity


@dataclass(frozen=True)
class SpoolStay:
    """A stay, from hour to hour (None: it goes on), in a container by its index, or OPEN."""

    since: int
    until: int | None
    place: int = OPEN


@dataclass(frozen=True)
class SpoolEvents:
    """A spool: what its water moves in, mass of the dry strand in g, and its events in order of time. `away`: hours in
    runs, from and to. `body`: its empty spool, where that holds water itself; how much is worked out.
    """

    filament: Filament
    dry_g: float
    known: tuple[KnownMoisture, ...]
    weighed: tuple[SpoolWeighed, ...] = ()
    used: tuple[FilamentUsed, ...] = ()
    stays: tuple[SpoolStay, ...] = ()
    away: tuple[tuple[int, int], ...] = ()
    body: CardBody | None = None

    def __post_init__(self) -> None:
        for events in (self.known, self.weighed, self.used):
            hours = [event.hour for event in events]
            if hours != sorted(hours):
                raise OutOfRangeError("events", "The events of a spool must stand in order of time.")

    def anew(
        self,
        *known: KnownMoisture,
        stays: tuple[SpoolStay, ...] = (),
        away: tuple[tuple[int, int], ...] = (),
    ) -> SpoolEvents:
        """The same spool with nothing known of it but this."""
        return SpoolEvents(self.filament, self.dry_g, known, stays=stays, away=away, body=self.body)


@dataclass(frozen=True)
class DesiccantFilled:
    """Desiccant was put in (None: taken out), holding `load_pct` of its dry mass in water."""

    hour: int
    fill: Fill | None
    load_pct: float = 0.0


@dataclass(frozen=True)
class ContainerEvents:
    """A container and what was put into it. Its air begins as the room's."""

    container: Container
    since: int
    fills: tuple[DesiccantFilled, ...] = ()


_CARD_SD = math.log(ISOTHERM_SPREAD)  # of what a body has taken up or given off
_CARD_RESTLESS = 0.005  # of its mass, one sd: what the hours before a weighing do to it; engineering estimate
_NOWHERE = Quantity(math.nan, math.nan)


@dataclass(frozen=True, slots=True)  # many thousands are kept
class SpoolState:
    """A spool at an hour: its water (None before anything is known), the last anchor, and the last weighing with what
    was printed since and the water that its body held then, g.
    """

    kept: StoredSpool | None = None
    anchor: Quantity = _NOWHERE
    weighed: Quantity | None = None
    used: Quantity = NOTHING
    weighed_body_g: float = 0.0

    @property
    def body_g(self) -> float:
        """Water in its body now, g."""
        return 0.0 if self.kept is None or self.kept.body is None else self.kept.body.water_g

    @property
    def moisture(self) -> float:
        """Mean moisture, % of dry mass; NaN before anything is known."""
        return (
            math.nan
            if self.kept is None
            else float((shape_of(self.kept.filament).reader * self.kept.pct[..., 0]).sum())
        )

    @property
    def next_pct(self) -> float:
        """What the grams that are printed next hold, % of dry mass; NaN before anything is known."""
        return math.nan if self.kept is None else float((self.kept.next_reader * self.kept.pct[..., 0]).sum())

    @property
    def memory(self) -> float:
        """How much of a shift of the anchor is still to be seen, 0..1."""
        return (
            math.nan
            if self.kept is None
            else float((shape_of(self.kept.filament).reader * self.kept.pct[..., 1]).sum())
        )


def sd_of(moisture: float | Array, memory: float | Array, anchor: Quantity, spread: float) -> Array:
    """Standard uncertainty: what is left of the anchor's own, and the sorption data's on what came from the air."""
    from_air = (np.asarray(moisture) - np.asarray(memory) * anchor.value) * (spread - 1.0)
    return np.asarray(np.hypot(np.asarray(memory) * anchor.uncertainty, from_air))


def corrected(forecast: Quantity, memory: float, anchor: Quantity, change: Quantity) -> Quantity:
    """The moisture after a weighing that tells its change since the anchor, % of dry mass.

    Unknown are the anchor's true value and what came from the air; the change seen is
    (memory - 1)·anchor + air. Both are normal, so the update is exact.
    """
    of_air = math.sqrt(max(forecast.uncertainty**2 - (memory * anchor.uncertainty) ** 2, 0.0))
    spread = np.diag([anchor.uncertainty**2, of_air**2])
    seen, wanted = np.array([memory - 1.0, 1.0]), np.array([memory, 1.0])
    variance = float(seen @ spread @ seen) + change.uncertainty**2
    if variance <= 0.0:
        return forecast
    gain = spread @ seen / variance
    miss = change.value - (forecast.value - anchor.value)
    after = spread - np.outer(gain, seen @ spread)
    value = forecast.value + float(wanted @ gain) * miss
    return Quantity(max(value, 0.0), math.sqrt(max(float(wanted @ after @ wanted), 0.0)))


def _after_weighing(at: SpoolState, event: SpoolWeighed, events: SpoolEvents) -> SpoolState:
    bare = replace(at, weighed=event.gross, used=NOTHING, weighed_body_g=at.body_g)
    if at.kept is None:
        return bare
    forecast = Quantity(
        at.moisture, float(sd_of(at.moisture, at.memory, at.anchor, events.filament.material.k1.spread))
    )
    if at.weighed is None:
        return replace(bare, kept=_anchored(at.kept, 1.0), anchor=forecast)
    of_body_g = at.body_g - at.weighed_body_g
    change_g = event.gross.value - at.weighed.value + at.used.value - of_body_g
    body_sd_g = 0.0 if events.body is None else math.hypot(_CARD_SD * of_body_g, _CARD_RESTLESS * events.body.mass_g)
    scale = (event.gross.uncertainty, at.weighed.uncertainty, at.used.uncertainty, body_sd_g)
    change = Quantity(100.0 * change_g / events.dry_g, 100.0 * math.hypot(*scale) / events.dry_g)
    found = corrected(forecast, at.memory, at.anchor, change)
    return replace(bare, kept=_anchored(at.kept, found.value / max(forecast.value, 1e-6)), anchor=found)


def _anchored(kept: StoredSpool, scale: float) -> StoredSpool:
    """The same profile, more or less wet, as the one that later changes are counted from."""
    pct = kept.pct.copy()
    pct[..., 0] *= scale
    pct[..., 1] = 1.0
    return replace(kept, pct=pct)


def after_event(
    at: SpoolState,
    event: KnownMoisture | SpoolWeighed | FilamentUsed,
    events: SpoolEvents,
    met: float,
    room: float | None,
) -> SpoolState:
    """A spool after a fact; `met`: the activity that it meets from here on, `room`: that of the room where it stands
    open, None where it does not.
    """
    if isinstance(event, FilamentUsed):
        used = Quantity(at.used.value + event.mass.value, math.hypot(at.used.uncertainty, event.mass.uncertainty))
        return replace(at, used=used)
    if isinstance(event, SpoolWeighed):
        return _after_weighing(at, event, events)
    taken = secant(events.filament.material, event.moisture.value, met)
    held = event.moisture.value
    if event.next_pct is None:
        profile = even(held)
    else:
        profile = profiled(events.filament, held, event.next_pct, next_share(events.dry_g))
    pct = np.stack([profile, even(1.0)], axis=-1)
    # The mass that belonged to the moisture before is no reference for this one, unless it is weighed here.
    body = _body_then(at, event, events, room)
    return SpoolState(StoredSpool(events.filament, events.dry_g, taken, pct, body), event.moisture)


def _body_then(at: SpoolState, event: KnownMoisture, events: SpoolEvents, room: float | None) -> CardBody | None:
    """The body when the strand's moisture becomes known: as told, else as it was, else at rest in the room's air, or
    with the strand that it was kept with.
    """
    if event.body_activity is None and at.kept is not None:
        return at.kept.body
    beside = min(activity_of_moisture(events.filament.material, event.moisture.value), 1.0) if room is None else room
    return in_air_of(events.body, beside if event.body_activity is None else event.body_activity)
