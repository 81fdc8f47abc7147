"""Ideas, their questions and their way: the rules others ask for."""

from __future__ import annotations

from tallyman.core.ideas.factors import READINESS
from tallyman.core.ideas.first_look import readiness_of
from tallyman.core.ideas.questions import check_answer, volume_a_year
from tallyman.core.ideas.way import AFTER_BACKING, OPEN_STAGES, PROMISED_STAGES

__all__ = [
    "AFTER_BACKING",
    "OPEN_STAGES",
    "PROMISED_STAGES",
    "READINESS",
    "check_answer",
    "readiness_of",
    "volume_a_year",
]
