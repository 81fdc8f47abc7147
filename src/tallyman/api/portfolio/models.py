"""What the API gives about the portfolio."""

from __future__ import annotations

from decimal import Decimal

from tallyman.api.common import Model, WorkingOut


class RankedIdea(Model):
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
    working: WorkingOut
    may_back: bool


class Portfolio(Model):
    """The ranked ideas."""

    rows: list[RankedIdea]
    currency: str
