"""Air: how much water is in it?

Moist air, the room through the hours, what the air in a dryer's box tells, and by how much a sensor is off.
Knows nothing of filament.
"""

from drying.air.box_air import AirState, BoxAir
from drying.air.hygrometer import Salt, SensorCheck, check_beside, check_over_salt
from drying.air.psychrometrics import (
    GAS_CONSTANT,
    TEMP_MAX_C,
    TEMP_MIN_C,
    ZERO_C_IN_K,
    RoomAir,
    dew_point_c,
    saturated_kg_m3,
    saturation_pressure_pa,
    vapour_concentration_g_m3,
)
from drying.air.room_series import ASSUMED_AIR, HourlyRoomAir, hourly_room_air

__all__ = [
    "ASSUMED_AIR",
    "GAS_CONSTANT",
    "TEMP_MAX_C",
    "TEMP_MIN_C",
    "ZERO_C_IN_K",
    "AirState",
    "BoxAir",
    "HourlyRoomAir",
    "RoomAir",
    "Salt",
    "SensorCheck",
    "check_beside",
    "check_over_salt",
    "dew_point_c",
    "hourly_room_air",
    "saturated_kg_m3",
    "saturation_pressure_pa",
    "vapour_concentration_g_m3",
]
