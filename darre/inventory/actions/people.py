"""Who is there: other people with their hours, and days that are not as usual."""

from datetime import datetime
from typing import Any

from django.db import transaction
from django.utils import timezone

from darre.common.errors import Refusal
from darre.common.saved import Saved
from darre.history.recorder import history_entry
from darre.inventory.models import Helper, HomeChange


def _refuse_name_taken(name: str, but: int = 0) -> None:
    if Helper.objects.filter(name=name).exclude(pk=but).exists():
        raise Refusal("name_taken", f"There is a {name} already. Choose another name.", "name")


@transaction.atomic
def add_helper(name: str, **hours: Any) -> Saved[Helper]:
    """Somebody else who loads and takes out. Raises Refusal where the name is taken."""
    _refuse_name_taken(name)
    with history_entry("helper.added", f"{name} helps with the dryers") as entry:
        helper = entry.create(Helper(name=name, **hours))
    return entry.saved(helper)


@transaction.atomic
def change_helper(helper: Helper, **values: Any) -> Saved[None]:
    """Change a name or hours. Raises Refusal where the name is taken."""
    _refuse_name_taken(values.get("name", helper.name), helper.pk)
    with history_entry("helper.changed", f"Changed the hours of {helper.name}") as entry:
        entry.update(helper, **values)
    return entry.done()


@transaction.atomic
def remove_helper(helper: Helper) -> Saved[None]:
    """They help no longer."""
    with history_entry("helper.removed", f"{helper.name} no longer helps") as entry:
        entry.delete(helper)
    return entry.done()


@transaction.atomic
def add_home_change(since: datetime, until: datetime, at_home: bool, note: str = "") -> Saved[HomeChange]:
    """A stretch that is not as usual. Raises Refusal where it has passed, or ends before it begins."""
    if until <= since:
        raise Refusal("ends_first", "It ends before it begins. Give a later end.", "until", 400)
    if until <= timezone.now():
        raise Refusal("in_past", (until, " has passed. Give a time that is to come."), "until", 400)
    said = "Somebody is at home" if at_home else "Nobody is at home"
    with history_entry("home.changed", f"{said} for a while") as entry:
        change = entry.create(HomeChange(since=since, until=until, at_home=at_home, note=note.strip()))
    return entry.saved(change)


@transaction.atomic
def remove_home_change(change: HomeChange) -> Saved[None]:
    """It is as usual after all."""
    with history_entry("home.usual", "Took back a change of the hours at home") as entry:
        entry.delete(change)
    return entry.done()
