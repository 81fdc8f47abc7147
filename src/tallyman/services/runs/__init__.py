"""Runs, from their making to their end: what others ask of them."""

from __future__ import annotations

from tallyman.services.runs import attended, dispatch, stalling
from tallyman.services.runs.answers import RunFile, RunProgress
from tallyman.services.runs.answers_of_own import ValueSaid
from tallyman.services.runs.handed import of_run as handed_file
from tallyman.services.runs.life import (
    OPEN_SAID,
    When,
    add,
    cancel,
    cancel_locked,
    go_on,
    lapse,
    lose_silent,
    pause,
    ref,
    start,
    start_again,
    waiting_reasons,
)
from tallyman.services.runs.page import log, one, page_of_runs, since_yesterday, usual_seconds
from tallyman.services.runs.tidying import TIDIED, repair
from tallyman.services.runs.values_said import values_said

__all__ = [
    "OPEN_SAID",
    "TIDIED",
    "RunFile",
    "RunProgress",
    "ValueSaid",
    "When",
    "add",
    "attended",
    "cancel",
    "cancel_locked",
    "dispatch",
    "go_on",
    "handed_file",
    "lapse",
    "log",
    "lose_silent",
    "one",
    "page_of_runs",
    "pause",
    "ref",
    "repair",
    "since_yesterday",
    "stalling",
    "start",
    "start_again",
    "usual_seconds",
    "values_said",
    "waiting_reasons",
]
