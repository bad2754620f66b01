"""Empty spools that a workshop has."""

from darre.history.recorder import history_entry
from darre.inventory.models import SpoolBody
from drying.materials.spool_bodies import body_kind


def add_body(body: SpoolBody) -> SpoolBody:
    """Add a spool body. Raises UnknownMaterialError for an unknown kind."""
    body_kind(body.kind)
    with history_entry("body.added", f"Added the spool body {body.name}") as entry:
        return entry.create(body)
