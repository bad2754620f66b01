"""Units, clock, currency, tariff and the hours at home."""

from typing import Any

from darre.common.saved import Saved
from darre.history.recorder import history_entry
from darre.inventory.models import Preferences
from darre.inventory.selectors import preferences, tariff_of


def set_preferences(**values: Any) -> Saved[None]:
    """Change some of the preferences. Raises OutOfRangeError for a tariff that makes no sense."""
    before = preferences()
    stored = Preferences.objects.filter(pk=1).exists()
    with history_entry("preferences.set", "Changed settings") as entry:
        mine = before if stored else entry.create(Preferences(pk=1))
        if values:
            entry.update(mine, **values)
        tariff_of(mine)
    return entry.done()
