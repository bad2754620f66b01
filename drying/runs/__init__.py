"""Runs: is it done?

The posterior of a run by its weighings, the verdict, what runs teach of the next, interruptions.
Stands on dryers, weighing and transport.
"""

from drying.runs.interruptions import Heat, segments_of_run
from drying.runs.next_grams import NextGrams, next_grams, next_ratio
from drying.runs.posterior import CourseCache, Estimate, Posterior, update_posterior
from drying.runs.probe import warming_by_probe
from drying.runs.rate import PastRun, as_in_common_winding, rate_by_data_alone, rate_from, warming_by
from drying.runs.record import USUAL_WARMING, RunSoFar, TimedWeighing
from drying.runs.verdict import (
    TEACHING,
    UNTOLD,
    Planned,
    Review,
    RunState,
    Verdict,
    WeighingPoint,
    judge,
    review,
)

__all__ = [
    "TEACHING",
    "UNTOLD",
    "USUAL_WARMING",
    "CourseCache",
    "Estimate",
    "Heat",
    "NextGrams",
    "PastRun",
    "Planned",
    "Posterior",
    "Review",
    "RunSoFar",
    "RunState",
    "TimedWeighing",
    "Verdict",
    "WeighingPoint",
    "as_in_common_winding",
    "judge",
    "next_grams",
    "next_ratio",
    "rate_by_data_alone",
    "rate_from",
    "review",
    "segments_of_run",
    "update_posterior",
    "warming_by",
    "warming_by_probe",
]
