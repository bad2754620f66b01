"""Moisture: where is the water now, and where will it be?

Events of spools and containers, simulated through the room's hours; the outlook and the next action.
Whoever asks often owns a `MoistureSimulator`.
"""

from drying.moisture.code import code_digest
from drying.moisture.events import (
    ContainerEvents,
    DesiccantFilled,
    FilamentUsed,
    KnownMoisture,
    SpoolEvents,
    SpoolStay,
    SpoolWeighed,
)
from drying.moisture.forget import as_needed, first_hour
from drying.moisture.histories import MoistureHistories, Room
from drying.moisture.history import MoistureSimulator
from drying.moisture.next_action import NEXT_ACT_H, Action, Ahead, NextAction, next_action
from drying.moisture.outlook import (
    AirOver,
    BesideDesiccant,
    Crossing,
    crossing,
    desiccant_load,
    exposure_g_d_m3,
    handed_over_g,
    hours_to_dry_beside_desiccant,
    ingress_spread,
    water_difference_g_m3,
    water_in_g_day,
)
from drying.moisture.timeline import BLOCK_H

__all__ = [
    "BLOCK_H",
    "NEXT_ACT_H",
    "Action",
    "Ahead",
    "AirOver",
    "BesideDesiccant",
    "ContainerEvents",
    "Crossing",
    "DesiccantFilled",
    "FilamentUsed",
    "KnownMoisture",
    "MoistureHistories",
    "MoistureSimulator",
    "NextAction",
    "Room",
    "SpoolEvents",
    "SpoolStay",
    "SpoolWeighed",
    "as_needed",
    "code_digest",
    "crossing",
    "desiccant_load",
    "exposure_g_d_m3",
    "first_hour",
    "handed_over_g",
    "hours_to_dry_beside_desiccant",
    "ingress_spread",
    "next_action",
    "water_difference_g_m3",
    "water_in_g_day",
]
