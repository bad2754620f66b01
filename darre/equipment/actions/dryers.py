"""Dryers with their probe pairs, and scales."""

from collections.abc import Mapping, Sequence
from datetime import datetime
from typing import Any

from django.db import transaction
from django.utils import timezone

from darre.common.errors import Refusal
from darre.common.saved import Saved
from darre.equipment.models import Dryer, ProbePair
from darre.equipment.records import DESICCANT, core_dryer
from darre.history.recorder import OpenEntry, history_entry
from drying.dryers import calibration
from drying.storage import DesiccantKind
from drying.storage.desiccant import desiccant


def _require_free_name(name: str, but: int = 0) -> None:
    if Dryer.objects.filter(name=name).exclude(pk=but).exists():
        raise Refusal("name_taken", f"There is already a dryer named {name}. Give this one another name.", "name")


def _whole_desiccant(values: Mapping[str, Any], before: Dryer) -> dict[str, Any]:
    """What is known of the desiccant in a dryer once these values count: all of it, or that there is none. Without its
    water it is fresh out of the oven.

    Raises Refusal where its kind or its mass is missing.
    """
    if not any(name in values for name in DESICCANT):
        return {}
    kind, grams, load = (values.get(name, getattr(before, name)) for name in DESICCANT)
    if not kind:
        if values.get("desiccant_g") is not None:
            raise Refusal("no_kind", "Say which desiccant lies in it, or leave its mass empty.", "desiccant_kind", 400)
        return {**dict.fromkeys(DESICCANT), "desiccant_kind": ""}
    if grams is None:
        raise Refusal("no_mass", "Say how much desiccant there is, dry, in g.", "desiccant_g", 400)
    fresh = desiccant(DesiccantKind(kind)).left_pct
    return dict(zip(DESICCANT, (kind, grams, fresh if load is None else load), strict=True))


def _store_pair(entry: OpenEntry, dryer: Dryer, pair: calibration.ProbePair, at: datetime) -> None:
    entry.create(ProbePair(dryer=dryer, at=at, set_c=pair.set_c, air_c=pair.air_c, room_c=pair.room_c))


@transaction.atomic
def add_dryer(dryer: Dryer, pairs: Sequence[calibration.ProbePair] = (), at: datetime | None = None) -> Saved[Dryer]:
    """Add a dryer, with the probe pairs that are known. Returns it.

    Raises OutOfRangeError where its numbers make no sense, Refusal where the name is taken.
    """
    _require_free_name(dryer.name)
    for name, value in _whole_desiccant(vars(dryer), dryer).items():
        setattr(dryer, name, value)
    with history_entry("dryer.added", f"Added the dryer {dryer.name}") as entry:
        entry.create(dryer)
        for pair in pairs:
            _store_pair(entry, dryer, pair, at or timezone.now())
        core_dryer(dryer)
    return entry.saved(dryer)


@transaction.atomic
def update_dryer(dryer: Dryer, **values: Any) -> Saved[None]:
    """Change a dryer. Runs that are stored keep their temperature and hours. Raises as `add_dryer` does."""
    if "name" in values:
        _require_free_name(values["name"], dryer.pk)
    values.update(_whole_desiccant(values, dryer))
    with history_entry("dryer.changed", f"Changed the dryer {dryer.name}") as entry:
        entry.update(dryer, **values)
        core_dryer(dryer)
    return entry.done()


@transaction.atomic
def set_in_service(dryer: Dryer, *, in_service: bool) -> Saved[None]:
    """Take a dryer out of service, or put it back: what runs in it goes on. Asking twice changes nothing more."""
    did, where = ("Put", "back in") if in_service else ("Took", "out of")
    with history_entry("dryer.service_set", f"{did} the dryer {dryer.name} {where} service") as entry:
        entry.update(dryer, in_service=in_service)
    return entry.done()


@transaction.atomic
def remove_dryer(dryer: Dryer) -> Saved[None]:
    """Remove a dryer that was never used. One with runs stays: they are its history."""
    if dryer.batches.exists():  # batches are stored by an app above this one
        raise Refusal("in_use", f"{dryer.name} has runs in its history, so it stays. Take it out of service instead.")
    with history_entry("dryer.removed", f"Removed the dryer {dryer.name}") as entry:
        for pair in dryer.probes.all():
            entry.delete(pair)
        entry.delete(dryer)
    return entry.done()


@transaction.atomic
def add_probe(dryer: Dryer, pair: calibration.ProbePair, at: datetime | None = None) -> Saved[None]:
    """Note what a probe beside the spool showed. Raises OutOfRangeError where no dryer has such pairs."""
    with history_entry("dryer.probed", f"Set {pair.set_c:g} °C, measured {pair.air_c:g} °C in {dryer.name}") as entry:
        _store_pair(entry, dryer, pair, at or timezone.now())
        core_dryer(Dryer.objects.get(pk=dryer.pk))
    return entry.done()


@transaction.atomic
def remove_probe(probe: ProbePair) -> Saved[None]:
    """Forget a probe pair."""
    with history_entry("dryer.probe_removed", f"Removed a probe pair of {probe.dryer.name}") as entry:
        entry.delete(probe)
        core_dryer(Dryer.objects.get(pk=probe.dryer_id))
    return entry.done()


@transaction.atomic
def learn_habits(
    dryer: Dryer, values: Mapping[str, float], pair: calibration.ProbePair | None, at: datetime
) -> Saved[None]:
    """Take over what a logger told of a dryer: habits, and what it was set to with the air that this gave. The same
    moment's pair is not stored twice. Raises OutOfRangeError where its numbers make no sense.
    """
    with history_entry("dryer.habits_learned", f"Took over what a logger told of {dryer.name}") as entry:
        if values:
            entry.update(dryer, **values)
        if pair is not None and not dryer.levels and not dryer.probes.filter(at=at, set_c=pair.set_c).exists():
            _store_pair(entry, dryer, pair, at)
        core_dryer(Dryer.objects.get(pk=dryer.pk))
    return entry.done()
