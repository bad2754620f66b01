"""Dryers: what can this dryer do, and what may it do to this load?

Calibration, timer, vent, limits, energy, spools that share a box, and the set-up of a run.
Planning and runs both stand on it.
"""

from drying.dryers.attended import ALWAYS, Attended, HomeChange, Week, attended_from, home_windows, hours_from
from drying.dryers.beside import Stay, air_beside
from drying.dryers.calibration import (
    BedCalibration,
    LevelCalibration,
    LineCalibration,
    ProbePair,
    Setting,
    calibration_of,
)
from drying.dryers.desiccated import OverDesiccant, over_desiccant
from drying.dryers.dryer import (
    BED_HEATED,
    HABITS,
    ONE_SIDED,
    Dryer,
    DryerKind,
    Metered,
    Misfit,
    kinds_of_dryer,
    misfits,
    turn_over_h,
)
from drying.dryers.energy import Tariff, mean_power_w
from drying.dryers.habits import Habits, habits_of, hot_side_excess_c
from drying.dryers.home_built import RADIATED, HomeBuilt, Warmth, walls, warmth_of
from drying.dryers.limits import Limit, LimitKind, above_tg, broken_limits, ceiling, hottest_c, hottest_to_plan_c
from drying.dryers.load import Load, MakersSheet, as_planned, occupant, room_as_planned
from drying.dryers.pauses import Pause, end_with_pauses_h, heated_h, tidy
from drying.dryers.setup import Setup, all_hours_to, at_rate, box_course, courses_each, courses_of, dried, hours_to
from drying.dryers.timer import TimerPlan, TimerSet, Turn, plan_timer, timer_pauses

__all__ = [
    "ALWAYS",
    "BED_HEATED",
    "HABITS",
    "ONE_SIDED",
    "RADIATED",
    "Attended",
    "BedCalibration",
    "Dryer",
    "DryerKind",
    "Habits",
    "HomeBuilt",
    "HomeChange",
    "LevelCalibration",
    "Limit",
    "LimitKind",
    "LineCalibration",
    "Load",
    "MakersSheet",
    "Metered",
    "Misfit",
    "OverDesiccant",
    "Pause",
    "ProbePair",
    "Setting",
    "Setup",
    "Stay",
    "Tariff",
    "TimerPlan",
    "TimerSet",
    "Turn",
    "Warmth",
    "Week",
    "above_tg",
    "air_beside",
    "all_hours_to",
    "as_planned",
    "at_rate",
    "attended_from",
    "box_course",
    "broken_limits",
    "calibration_of",
    "ceiling",
    "courses_each",
    "courses_of",
    "dried",
    "end_with_pauses_h",
    "habits_of",
    "heated_h",
    "home_windows",
    "hot_side_excess_c",
    "hottest_c",
    "hottest_to_plan_c",
    "hours_from",
    "hours_to",
    "kinds_of_dryer",
    "mean_power_w",
    "misfits",
    "occupant",
    "over_desiccant",
    "plan_timer",
    "room_as_planned",
    "tidy",
    "timer_pauses",
    "turn_over_h",
    "walls",
    "warmth_of",
]
