"""A year's work by month before and after; what delivered work says of estimates (rules §2)."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from fractions import Fraction
from statistics import median
from typing import Any

from tallyman.core.cases.business_case import CaseInput
from tallyman.core.exact import exact
from tallyman.core.volume import by_month

MONTHS = 12
# Fewer ideas than these say too little of a narrow group; a wider one is taken then.
ENOUGH = 3
WHATS = {
    "effort": "Build effort",
    "minutes": "Minutes each",
    "share": "Automatable share",
    "volume": "Volume",
}


@dataclass(frozen=True)
class MonthOfWork:
    """Items of one month: all before; after, what robots finish, hand back, and what people keep."""

    before: Fraction
    robots: Fraction
    handed_back: Fraction
    people: Fraction


def year_of_work(case: CaseInput, peaks: Sequence[Fraction] | None) -> list[MonthOfWork] | None:
    """The items of a year by month, January first; None while volume, share or what comes back is missing."""
    volume, share, back = (
        case[name] for name in ("volume_per_year", "automatable_share", "robot_exception_share")
    )
    if volume is None or share is None or back is None:
        return None
    return [
        MonthOfWork(items, items * share * (1 - back), items * share * back, items * (1 - share))
        for items in by_month(volume, peaks or [Fraction(1)] * MONTHS)
    ]


@dataclass(frozen=True)
class Record:
    """An idea in service: where it belongs, who estimated, and actual ÷ estimated of what is known."""

    idea_id: int
    function: str
    estimator: str
    ratios: Mapping[str, Fraction]


@dataclass(frozen=True)
class Correction:
    """By how much estimates of a kind were off: the middle ratio, its ends, and of how many ideas."""

    what: str
    factor: Fraction
    least: Fraction
    most: Fraction
    sample: int
    of: str
    ideas: tuple[int, ...]


def corrections(records: Iterable[Record], function: str, estimator: str) -> list[Correction]:
    """The correction of each kind from the narrowest group that has enough ideas, else from all."""
    known = list(records)
    groups = (
        (
            f"{function}, estimated by {estimator}",
            lambda one: (one.function, one.estimator) == (function, estimator),
        ),
        (f"all of {function}", lambda one: one.function == function),
        (f"all that {estimator} estimated", lambda one: one.estimator == estimator),
    )
    found = []
    for what in WHATS:
        there = [one for one in known if what in one.ratios]
        for name, belongs in groups:
            near = [one for one in there if belongs(one)]
            if len(near) >= ENOUGH:
                found.append(_correction(what, near, name))
                break
        else:
            if there:
                found.append(_correction(what, there, "all ideas in service"))
    return found


def _correction(what: str, records: list[Record], of: str) -> Correction:
    ratios = [one.ratios[what] for one in records]
    ideas = tuple(one.idea_id for one in records)
    return Correction(what, median(ratios), min(ratios), max(ratios), len(ratios), of, ideas)


def ratio(actual: Fraction | None, estimated: Fraction | None) -> Fraction | None:
    """Actual ÷ estimated; None where one is not known or nothing was estimated."""
    return None if actual is None or not estimated else actual / estimated


Months = dict[str, Fraction]
# In fewer months than these, what came and what was done says too little.
LEAST_MONTHS = 2


@dataclass(frozen=True)
class Actual:
    """What is known of delivered work: person-days spent, minutes by hand, items that came and that robots
    finished by month such as 2026-11."""

    days: Fraction | None
    minutes: Fraction | None
    came: Months
    done: Months


def ratios(actual: Actual, given: Mapping[str, Any], sizing: Mapping[str, Any]) -> dict[str, Fraction]:
    """Actual ÷ estimated of whatever is known (rules §2): `given` is the case's input, `sizing` its facts."""
    days = sum((exact(row["person_days"]) for row in given.get("phases") or []), Fraction(0))
    rework = exact(given["rework_share"]) * exact(given["rework_minutes"])
    found = {
        "effort": ratio(actual.days, days),
        "minutes": ratio(actual.minutes, exact(given["handling_minutes"]) + rework),
        "volume": ratio(*_volumes(actual.came, given, sizing)),
        "share": ratio(*_shares(actual, given)),
    }
    return {what: one for what, one in found.items() if one is not None}


Pair = tuple[Fraction | None, Fraction | None]


def _volumes(months: Months, given: Mapping[str, Any], sizing: Mapping[str, Any]) -> Pair:
    """Items that came in the months counted, and items promised for the same months of the year."""
    if len(months) < LEAST_MONTHS:
        return None, None
    peaks = [exact(one) for one in sizing.get("peaks") or ["1"] * MONTHS]
    year = by_month(exact(given["volume_per_year"]), peaks)
    promised = sum((year[int(month[5:]) - 1] for month in months), Fraction(0))
    return sum(months.values(), Fraction(0)), promised


def _shares(actual: Actual, given: Mapping[str, Any]) -> Pair:
    """The part of what came that robots finished, in months where both are known, and the promised one."""
    both = [month for month, came in actual.came.items() if month in actual.done and came]
    if len(both) < LEAST_MONTHS:
        return None, None
    came = sum((actual.came[month] for month in both), Fraction(0))
    done = sum((actual.done[month] for month in both), Fraction(0))
    return done / came, exact(given["automatable_share"]) * (1 - exact(given["robot_exception_share"]))
