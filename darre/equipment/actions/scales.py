"""Scales."""

from django.db import transaction

from darre.common.errors import Refusal
from darre.common.saved import Saved
from darre.equipment.models import Scale
from darre.equipment.records import core_scale
from darre.history.recorder import history_entry


@transaction.atomic
def add_scale(scale: Scale) -> Saved[Scale]:
    """Add a scale. Returns it. Raises OutOfRangeError where its numbers make no sense, Refusal
    where the name is taken.
    """
    if Scale.objects.filter(name=scale.name).exists():
        raise Refusal("name_taken", f"There is already a scale named {scale.name}. Give this one another name.", "name")
    core_scale(scale)
    with history_entry("scale.added", f"Added the scale {scale.name}") as entry:
        entry.create(scale)
    return entry.saved(scale)


@transaction.atomic
def remove_scale(scale: Scale) -> Saved[None]:
    """Remove a scale. Refused where something was weighed on it: its weighings stand on what it can tell."""
    if scale.weighings.exists():  # weighings are stored by an app above this one
        raise Refusal("in_use", f"Spools were weighed on {scale.name}, so it stays.")
    with history_entry("scale.removed", f"Removed the scale {scale.name}") as entry:
        entry.delete(scale)
    return entry.done()
