"""Runs, from their making to their end: what others ask of them."""

from __future__ import annotations

from tallyman.services.runs import attended, dispatch, stalling
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

__all__ = [
    "OPEN_SAID",
    "TIDIED",
    "When",
    "add",
    "attended",
    "cancel",
    "cancel_locked",
    "dispatch",
    "go_on",
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
    "waiting_reasons",
]
