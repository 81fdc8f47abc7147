"""What pages are told: the answers of this room."""

from __future__ import annotations

from dataclasses import dataclass
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


@dataclass(frozen=True, slots=True)
class Portfolio:
    """The ranked ideas."""

    rows: list[RankedIdea]
    currency: str
