"""Ideas, their questions and their way: the rules others ask for."""

from __future__ import annotations

from tallyman.core.ideas import helping
from tallyman.core.ideas.factors import READINESS, STANDARD, Factors
from tallyman.core.ideas.factors import read_content as read_factors
from tallyman.core.ideas.first_look import readiness_of
from tallyman.core.ideas.questions import check_answer, volume_a_year
from tallyman.core.ideas.way import (
    AFTER_BACKING,
    DECLINE_REASONS,
    OFF_THE_WAY,
    OPEN_STAGES,
    PATH,
    PROMISED_STAGES,
    ROBOT,
    ROUTES,
    SOURCES,
    TAKES_IN,
)
from tallyman.core.ideas.words import FileKind

__all__ = [
    "AFTER_BACKING",
    "DECLINE_REASONS",
    "OFF_THE_WAY",
    "OPEN_STAGES",
    "PATH",
    "PROMISED_STAGES",
    "READINESS",
    "ROBOT",
    "ROUTES",
    "SOURCES",
    "STANDARD",
    "TAKES_IN",
    "Factors",
    "FileKind",
    "check_answer",
    "helping",
    "read_factors",
    "readiness_of",
    "volume_a_year",
]
