"""Planning: what do I set, and for how long?

Choice of temperature and hours, forecast, drying map, ticket, cautions, alternatives, weighing times.
Stands on dryers and transport.
"""

from drying.planning.alternatives import Alternative, AlternativeKind, Outcome, Ring, Risk, outcome, rings, risk_of
from drying.planning.best import BestRun, InDryer, Saved, best_run_each, in_dryer_each, saved, to_plan
from drying.planning.cautions import CautionKind
from drying.planning.choose import METHODS, PROGRAMME_METHODS, Choice
from drying.planning.drying_map import DryingMap, map_to_show
from drying.planning.forecast import Forecast, forecasts, moved
from drying.planning.tells import DampNight, OwnScale, ScaleCheck, damp_night, scale_check
from drying.planning.ticket import Ticket, write_ticket
from drying.planning.twin_offer import TwinOffer, twin_offer

__all__ = [
    "METHODS",
    "PROGRAMME_METHODS",
    "Alternative",
    "AlternativeKind",
    "BestRun",
    "CautionKind",
    "Choice",
    "DampNight",
    "DryingMap",
    "Forecast",
    "InDryer",
    "Outcome",
    "OwnScale",
    "Ring",
    "Risk",
    "Saved",
    "ScaleCheck",
    "Ticket",
    "TwinOffer",
    "best_run_each",
    "damp_night",
    "forecasts",
    "in_dryer_each",
    "map_to_show",
    "moved",
    "outcome",
    "rings",
    "risk_of",
    "saved",
    "scale_check",
    "to_plan",
    "twin_offer",
    "write_ticket",
]
