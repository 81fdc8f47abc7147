"""What the API takes and gives about sizings, cases and what is chosen."""

from __future__ import annotations

from datetime import date, datetime
from decimal import Decimal
from typing import Annotated, Any

from pydantic import Field

from tallyman.api.common import In, Model, Text, WorkingOut


class FactsIn(In):
    """Facts by field, the version of each that was seen, and where they come from."""

    values: dict[Annotated[str, Field(max_length=40)], Any]
    versions: dict[Annotated[str, Field(max_length=40)], int] = {}
    source: Annotated[str, Field(max_length=200)] = ""


class FactRow(Model):
    """A fact with its source."""

    field: str
    label: str
    value: Any = None
    source: str
    date: str
    own: bool
    version: int


class Lack(Model):
    """A missing input, and where it is supplied."""

    field: str
    label: str
    sheet: str = "sizing"


class SizingResults(Model):
    """What follows from the facts."""

    volume_per_year: str | None
    hours_per_year: str | None
    computed_share: str | None
    automatable_share: str | None
    effort_days: str | None
    band: str | None
    missing: list[Lack]
    working: dict[str, WorkingOut]


class AskOut(Model):
    """What a lead would ask back about a fact."""

    field: str
    words: str


class BarOut(Model):
    """A bar of how the draws spread."""

    start: str = Field(validation_alias="from")
    to: str
    share: str


class MovedOut(Model):
    """How far a figure goes with one input."""

    name: str
    at_low: str
    at_high: str


class RangeOut(Model):
    """A figure at the likely values, and sampled; null where too many draws have none."""

    likely: str | None
    p10: str | None
    p50: str | None
    p90: str | None


class SampledOut(RangeOut):
    """With how the draws spread, and what moves it most."""

    shape: list[BarOut]
    moves: list[MovedOut]


class ChanceOut(Model):
    """How likely it pays back within so many months."""

    months: int
    share: str


class PersonHours(Model):
    """What a person works a year, since when."""

    value: str
    since: str


class RangesOut(Model):
    """A sizing as ranges."""

    asks: list[AskOut]
    months: list[str] | None
    people_hours: PersonHours | None
    equivalents: str | None
    hours: SampledOut | None
    net: SampledOut | None
    payback: RangeOut | None
    chances: list[ChanceOut]
    case_missing: list[str]
    seed: int
    draws: int


class Sizing(Model):
    """The sizing sheet."""

    fields: list[FactRow]
    results: SizingResults
    ranges: RangesOut
    state: str
    sized_by: str | None
    sized_at: datetime | None
    agreed_by: str | None
    agreed_at: datetime | None
    note: str | None


class SettleSizing(In):
    """Agrees to a sizing or sends it back with a reason."""

    agreed: bool
    note: Text = ""


class CaseFigures(Model):
    """The figures of a case; null where an input is missing."""

    cost_before: str | None
    cost_after_people: str | None
    saving_per_year: str | None
    robot_hours: str | None
    robots: int | None
    running_cost_per_year: str | None
    one_time_cost: str | None
    net: list[str | None] | None
    after_go_live: list[str | None] | None
    payback_months: str | None
    npv_3y: str | None
    return_3y: str | None


class CaseYear(Model):
    """One year of a case."""

    saved: str | None
    to_run: str | None
    to_build: str | None
    net: str | None


class PlanPhase(Model):
    """A placed phase."""

    name: str
    start: date
    end: date


class Plan(Model):
    """Placed phases and the end of the last."""

    phases: list[PlanPhase]
    end: date


class PromiseOut(Model):
    """The frozen promise."""

    at: datetime
    by: str
    figures: CaseFigures
    plan: Plan
    rules_version: str
    start_on: date
    go_live_on: date


class CaseHours(Model):
    """Hours a year by who does the work."""

    handling: str | None
    rework: str | None
    kept: str | None
    returned: str | None
    robots: str | None


class CaseOut(Model):
    """The case sheet."""

    currency: str
    fields: list[FactRow]
    figures: CaseFigures
    yearly: list[CaseYear] | None
    hours: CaseHours
    missing: list[Lack]
    working: dict[str, WorkingOut]
    plan: Plan | None
    start: date | None
    go_live: date | None
    rules_version: str
    promise: PromiseOut | None


class Back(In):
    """What the lead says when backing an idea."""

    words: Text = ""


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
