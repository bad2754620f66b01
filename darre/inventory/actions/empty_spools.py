"""Empty spools that a workshop has."""

from darre.common.saved import Saved
from darre.history.recorder import history_entry
from darre.inventory.models import EmptySpool
from drying.materials import empty_spool_kind


def add_empty_spool(empty_spool: EmptySpool) -> Saved[EmptySpool]:
    """Add an empty spool. Raises UnknownMaterialError for an unknown kind."""
    empty_spool_kind(empty_spool.kind)
    with history_entry("empty_spool.added", f"Added the empty spool {empty_spool.name}") as entry:
        entry.create(empty_spool)
    return entry.saved(empty_spool)
