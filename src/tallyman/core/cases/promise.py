"""The promises of a backed idea, spread over days to set what is delivered against them (rules §3)."""

from __future__ import annotations

import calendar
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from fractions import Fraction
from typing import Any

from tallyman.core.cases.business_case import SHARED_SEATS, WHOLE_SEATS
from tallyman.core.exact import exact

YEAR_DAYS = 365
SAVING = "saving"
# By line: how its promised amount a year is made, in words.
LINES = {
    SAVING: "saving a year",
    "robots": "− seats × what one costs a year; delivered is robot time",
    "support": "− support share × one-time cost",
    "software": "− other software a year",
    "running lines": "− running lines a year",
}


@dataclass(frozen=True)
class Promised:
    """One promise of an idea: on which day it was made, from which day it promises something (its go-live),
    and what it promises a year, by line."""

    made: date
    go_live: date
    yearly: Mapping[str, Fraction]


def promised_a_year(given: Mapping[str, Any], result: Mapping[str, Any]) -> dict[str, Fraction]:
    """What a promised case brings and costs a year, by line of `LINES`, from its input and its figures."""
    one_time = exact(result["one_time_cost"])
    running = sum((exact(line["amount"]) for line in given.get("running_lines") or []), Fraction(0))
    return {
        SAVING: exact(result["saving_per_year"]),
        "robots": -_seats(given, result) * exact(given["seat_cost_per_year"]),
        "support": -exact(given["support_share"]) * one_time,
        "software": -exact(given["other_software_per_year"]),
        "running lines": -running,
    }


def _seats(given: Mapping[str, Any], result: Mapping[str, Any]) -> Fraction:
    """The seats that a promised case pays for: whole ones, or exactly the share that it uses."""
    if given.get("seats", WHOLE_SEATS) != SHARED_SEATS or not result["robots"]:
        return Fraction(result["robots"])
    hours = (
        exact(given["volume_per_year"]) * exact(given["automatable_share"]) * exact(given["robot_minutes"])
    )
    return hours / 60 / (exact(given["robot_hours_per_day"]) * exact(given["robot_days_per_year"]))


def month_of(month: str) -> tuple[date, date]:
    """The first and the last day of a month such as 2026-11."""
    year, number = int(month[:4]), int(month[5:])
    return date(year, number, 1), date(year, number, calendar.monthrange(year, number)[1])


def promised_days(promises: Sequence[Promised], first: date, last: date) -> list[tuple[Promised, int]]:
    """On how many days from the first to the last each promise holds, in the order in which they were made.

    A promise holds from its go-live on, until the day before another one is made in its place; the first
    one holds from its go-live even if that lay before the day on which it was made.
    """
    found = []
    for n, one in enumerate(promises):
        since = one.go_live if n == 0 else max(one.go_live, one.made)
        ends = promises[n + 1].made - timedelta(days=1) if n + 1 < len(promises) else last
        days = (min(last, ends) - max(first, since)).days + 1
        if days > 0:
            found.append((one, days))
    return found


def promised_between(promises: Sequence[Promised], first: date, last: date, line: str = SAVING) -> Fraction:
    """What was promised for the days from the first to the last, both counted; a year has 365 days."""
    return sum(
        (one.yearly[line] * days / YEAR_DAYS for one, days in promised_days(promises, first, last)),
        Fraction(0),
    )
