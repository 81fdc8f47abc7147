"""What pages are told: the answers of this room."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from decimal import Decimal

from tallyman.core.working import Working


@dataclass(frozen=True, slots=True)
class RankedIdea:
    """An idea in the portfolio."""

    id: int
    title: str
    stage: str
    sizing_state: str
    division: str | None
    worth: str | None
    effort_days: str | None
    band: str | None
    per_day: str | None
    hours_low: Decimal | None
    hours_high: Decimal | None
    working: Working
    may_back: bool
    # The day on which its worth was reckoned, and whether something moved it since.
    worth_on: date | None
    waits: bool
    building: str | None
    promised_worth: str | None
    promised_go_live: date | None
    # As now expected, and once it came.
    go_live: date | None
    live_on: date | None


@dataclass(frozen=True, slots=True)
class Portfolio:
    """The ranked ideas."""

    rows: list[RankedIdea]
    currency: str
