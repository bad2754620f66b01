"""Schedule: what goes into which dryer when, so that the right spools are ready and nobody gets up at three.

Jobs with their options, dryers with slots and timers, people's hours at home, and power prices; starts that make the
fewest jobs late, then the least lateness, the fewest visits, the least cost, the earliest end.
"""

from drying.planning.schedule.answer import Answer, Bound, Start, answer_of, better
from drying.planning.schedule.problem import DryerSlots, Job, Option, Price, Problem
from drying.planning.schedule.rule import plain_rule
from drying.planning.schedule.solver import solve

__all__ = [
    "Answer",
    "Bound",
    "DryerSlots",
    "Job",
    "Option",
    "Price",
    "Problem",
    "Start",
    "answer_of",
    "better",
    "plain_rule",
    "solve",
]
