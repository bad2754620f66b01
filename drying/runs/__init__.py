"""Runs: is it done?

The posterior of a run by its weighings, the verdict, what runs teach of the next, interruptions.
Stands on dryers, weighing and transport.
"""

from drying.runs.interruptions import Heat, Pause, end_with_pauses_h, heated_h, segments_of_run, tidy
from drying.runs.posterior import CourseCache, Estimate, update_posterior
from drying.runs.rate import PastRun, rate_by_data_alone, rate_from
from drying.runs.record import RunSoFar, TimedWeighing
from drying.runs.verdict import Planned, Review, RunState, Verdict, WeighingPoint, judge, review

__all__ = [
    "CourseCache",
    "Estimate",
    "Heat",
    "PastRun",
    "Pause",
    "Planned",
    "Review",
    "RunSoFar",
    "RunState",
    "TimedWeighing",
    "Verdict",
    "WeighingPoint",
    "end_with_pauses_h",
    "heated_h",
    "judge",
    "rate_by_data_alone",
    "rate_from",
    "review",
    "segments_of_run",
    "tidy",
    "update_posterior",
]
