"""Dryers and scales."""

from darre.ledger.book import act
from darre.runs.models import Dryer, Scale
from darre.runs.selectors import core_dryer, core_scale


def add_dryer(dryer: Dryer) -> Dryer:
    """Add a dryer. Raises OutOfRangeError where its numbers make no sense."""
    core_dryer(dryer)
    with act("dryer.added", f"Added the dryer {dryer.name}") as book:
        return book.create(dryer)


def add_scale(scale: Scale) -> Scale:
    """Add a scale. Raises OutOfRangeError where its numbers make no sense."""
    core_scale(scale)
    with act("scale.added", f"Added the scale {scale.name}") as book:
        return book.create(scale)
