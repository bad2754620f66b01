"""Storage: what does a container do to what is in it?

Containers, desiccant, the balance of their water hour by hour, and ingress fitted from measurements.
Follows one stretch of hours; `moisture` follows weeks.
"""

from drying.storage.balance import Hours, HourSteps, Inside, StoredSpool, follow_hours
from drying.storage.card import CardBody, in_air_of
from drying.storage.container import AWAY, INGRESS, OPEN, OPEN_KINDS, WARMEST_C, Container, Fill, PlaceKind
from drying.storage.desiccant import (
    Charge,
    DesiccantKind,
    Indicator,
    Pouch,
    Regeneration,
    grams_to_last,
    pouch_stands_c,
    regeneration,
)
from drying.storage.ingress import fitted_ingress, least_misfit

__all__ = [
    "AWAY",
    "INGRESS",
    "OPEN",
    "OPEN_KINDS",
    "WARMEST_C",
    "CardBody",
    "Charge",
    "Container",
    "DesiccantKind",
    "Fill",
    "HourSteps",
    "Hours",
    "Indicator",
    "Inside",
    "PlaceKind",
    "Pouch",
    "Regeneration",
    "StoredSpool",
    "fitted_ingress",
    "follow_hours",
    "grams_to_last",
    "in_air_of",
    "least_misfit",
    "pouch_stands_c",
    "regeneration",
]
