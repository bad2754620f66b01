"""Diagnosis: was it the water?

Evidence and Bayes' rule, what to check next, what cases teach, comparisons before and after, practice.
Knows nothing of dryers and runs.
"""

from drying.diagnosis.bayes import (
    OWN_TIMES_MOST,
    ChanceInWords,
    Judgement,
    OwnSign,
    Prior,
    VerdictKind,
    answers_row,
    judge,
    posterior,
    prior,
    scene,
    shares,
)
from drying.diagnosis.comparison import Change, SpreadFinding, SpreadTest, change, spread_test
from drying.diagnosis.evidence_table import LEAST, MOST, WATER, Check, EvidenceTable, with_own_chances
from drying.diagnosis.learning import PastCase, Thresholds, chance_it_showed, learned_thresholds, thresholds_of
from drying.diagnosis.next_checks import NextCheck
from drying.diagnosis.practice import GROUP_RHO, HiddenCase, Tenth, brier, calibration, draw_case, log_p_together

__all__ = [
    "GROUP_RHO",
    "LEAST",
    "MOST",
    "OWN_TIMES_MOST",
    "WATER",
    "ChanceInWords",
    "Change",
    "Check",
    "EvidenceTable",
    "HiddenCase",
    "Judgement",
    "NextCheck",
    "OwnSign",
    "PastCase",
    "Prior",
    "SpreadFinding",
    "SpreadTest",
    "Tenth",
    "Thresholds",
    "VerdictKind",
    "answers_row",
    "brier",
    "calibration",
    "chance_it_showed",
    "change",
    "draw_case",
    "judge",
    "learned_thresholds",
    "log_p_together",
    "posterior",
    "prior",
    "scene",
    "shares",
    "spread_test",
    "thresholds_of",
    "with_own_chances",
]
