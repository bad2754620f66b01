"""Units, clock, currency and tariff."""

from typing import Any

from darre.history.recorder import act
from darre.inventory.models import Preferences
from darre.inventory.selectors import preferences, tariff_of


def set_preferences(**values: Any) -> int | None:
    """Change some of the preferences. Raises OutOfRangeError for a tariff that makes no sense."""
    before = preferences()
    stored = Preferences.objects.filter(pk=1).exists()
    with act("preferences.set", "Changed units or tariff") as book:
        mine = before if stored else book.create(Preferences(pk=1))
        if values:
            book.update(mine, **values)
        tariff_of(mine)
    return book.undo
