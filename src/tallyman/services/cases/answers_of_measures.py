"""Answers about work before and after something was done about it."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

from tallyman.core.working import Working


@dataclass(frozen=True, slots=True)
class Measured:
    """What one took before or after something was done about it, and how that was measured."""

    id: int
    phase: str
    minutes: str
    items: int | None
    day: date
    evidence: str
    person: str


@dataclass(frozen=True, slots=True)
class MeasureSuggested:
    """What a promise would say by what is known: items a year, minutes each, cost once and a year."""

    volume_per_year: str | None
    minutes_before: str | None
    minutes_after: str | None
    once: str
    running: str
    go_live: date | None


@dataclass(frozen=True, slots=True)
class MeasureOut:
    """Work before and after: `saved` minutes each, `rate` the newest that is approved or waits to be."""

    fits: bool
    before: Measured | None
    after: Measured | None
    former: list[Measured]
    saved: str | None
    rate: str | None
    rate_state: str | None
    rate_since: date | None
    promise_number: int
    promised_by_case: bool
    suggested: MeasureSuggested
    may_measure: bool
    may_promise: bool


@dataclass(frozen=True, slots=True)
class PromiseLook:
    """What a promise of a measure would freeze: hours and money saved a year, cost once and a year, what the
    first year from go-live brings, months to payback, or why there are none; `working` is of the saving."""

    hours: str
    saving: str
    once: str
    running: str
    first_year: str
    payback_months: str | None
    payback_said: str
    currency: str
    working: Working
