"""Schedule: what goes into which dryer when, so that the right spools are ready and nobody gets up at three.

Jobs with their options, dryers with slots and timers, people's hours at home, and power prices; starts that make the
fewest jobs late, then the least lateness, the fewest visits, the least cost, the earliest end.
"""

from drying.planning.schedule.answer import Answer, Bound, Start, Visit, answer_of, better, energy_kwh, what_is_done
from drying.planning.schedule.calendar import prices
from drying.planning.schedule.problem import DryerSlots, Job, Option, Price, Problem
from drying.planning.schedule.reasons import Reason, Why, home_needed, reasons, with_another, with_home, with_later
from drying.planning.schedule.rule import plain_rule
from drying.planning.schedule.solver import solve
from drying.planning.schedule.together import companions, solve_together
from drying.planning.schedule.ways import Way, hours_together, own_way_each, watched_h, ways

__all__ = [
    "Answer",
    "Bound",
    "DryerSlots",
    "Job",
    "Option",
    "Price",
    "Problem",
    "Reason",
    "Start",
    "Visit",
    "Way",
    "Why",
    "answer_of",
    "better",
    "companions",
    "energy_kwh",
    "home_needed",
    "hours_together",
    "own_way_each",
    "plain_rule",
    "prices",
    "reasons",
    "solve",
    "solve_together",
    "watched_h",
    "ways",
    "what_is_done",
    "with_another",
    "with_home",
    "with_later",
]
