"""Packages, releases and routines: what others ask of them."""

from __future__ import annotations

from tallyman.services.workshop import (
    approving,
    inputs,
    packages,
    pre_check,
    rolling,
    rollouts,
    routines,
    sight,
)
from tallyman.services.workshop.answers import InputFile, RoutineParts, WheelName
from tallyman.services.workshop.routines import find, find_for, in_use, startable
from tallyman.services.workshop.wants import Ask, Wants, ask_of, withdrawn

__all__ = [
    "Ask",
    "InputFile",
    "RoutineParts",
    "Wants",
    "WheelName",
    "approving",
    "ask_of",
    "find",
    "find_for",
    "in_use",
    "inputs",
    "packages",
    "pre_check",
    "rolling",
    "rollouts",
    "routines",
    "sight",
    "startable",
    "withdrawn",
]
