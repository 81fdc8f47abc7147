"""The phases that a build effort is spread over until somebody says otherwise (rules §3)."""

from __future__ import annotations

from collections.abc import Mapping
from fractions import Fraction
from math import ceil
from typing import Any

from tallyman.core.cases.sizing import next_half
from tallyman.core.exact import exact

SHARES = (("Describe", Fraction(1, 5)), ("Build", Fraction(3, 5)), ("Try out", Fraction(1, 5)))
SAID = "build effort, a fifth, three fifths, a fifth"


def split(effort_days: Fraction) -> list[tuple[str, Fraction]]:
    """Phases by name with their person-days: each up to the next half day, the last takes what is left."""
    left, found = effort_days, []
    for name, share in SHARES:
        days = left if name == SHARES[-1][0] else min(left, next_half(effort_days * share))
        left -= days
        if days:
            found.append((name, days))
    return found


def working_days(phase: Mapping[str, Any]) -> int:
    """The working days of a phase: those given, else its person-days up to the next whole one."""
    if phase.get("days") not in (None, ""):
        return int(exact(phase["days"]))
    return ceil(exact(phase["person_days"])) if phase.get("person_days") else 0
