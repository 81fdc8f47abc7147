"""What the API takes and gives about sizings, cases and what is chosen."""

from __future__ import annotations

from datetime import date, datetime
from typing import Annotated, Any

from pydantic import Field

from tallyman.api.common import FaultOut, In, Model, Text, WorkingOut


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
    computed_effort: str | None
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


class PointOut(Model):
    """A point of a sizing that was sent back, and how it was met."""

    id: int
    field: str
    label: str
    words: str
    person: str
    made_at: datetime
    met_by: str | None
    met_at: datetime | None
    answer: str


class AnsweredFact(Model):
    """A fact that an expert gave, and when."""

    field: str
    label: str
    at: datetime


class ExpertAsked(Model):
    """An expert who was asked, for what, and what came back."""

    id: int
    person: str
    asker: str
    words: str
    labels: list[str]
    state: str
    asked_at: datetime
    ends_at: datetime | None
    opened_at: datetime | None
    ended_at: datetime | None
    remark: str
    answered: list[AnsweredFact]


class CorrectionOut(Model):
    """What delivered ideas say of an estimate: the middle ratio, its ends, of how many ideas of whom."""

    what: str
    label: str
    field: str
    reason_field: str
    factor: str
    least: str
    most: str
    sample: int
    of: str
    ideas: list[int]
    now: str
    corrected: str


class SystemChoice(Model):
    """A system that can be chosen."""

    name: str
    access: str
    state: str


class Sizing(Model):
    """The sizing sheet."""

    points: list[PointOut]
    asked: list[ExpertAsked]
    corrections: list[CorrectionOut]
    systems: list[SystemChoice]
    roles: list[str]
    fields: list[FactRow]
    results: SizingResults
    ranges: RangesOut
    state: str
    sized_by: str | None
    sized_at: datetime | None
    agreed_by: str | None
    agreed_at: datetime | None
    note: str | None


class PointIn(In):
    """A fact that should be looked at again, and what about it."""

    field: Annotated[str, Field(max_length=40)]
    words: Text


class SettleSizing(In):
    """Agrees to a sizing or sends it back, with a reason or point by point."""

    agreed: bool
    note: Text = ""
    points: Annotated[list[PointIn], Field(max_length=100)] = []


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
    """One year of a case: what the work costs without and with robots, and what becomes of it."""

    before: str | None
    people: str | None
    after: str | None
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
    """A frozen promise; the first has number 1."""

    number: int
    reason: str
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


class LineOut(Model):
    """A line in money a year, as given and as reckoned."""

    name: str
    a_year: str | None
    how_reckoned: str
    amount: str | None = None
    per_robot: str | None = None
    share: str | None = None
    days: str | None = None
    day_cost: str | None = None
    currency: str = ""
    kind: str = ""
    how: str = ""


class TypicalMonth(Model):
    """Items of a month: all; and with robots, what they finish, hand back, and people keep."""

    before: str | None
    robots: str | None
    handed_back: str | None
    people: str | None


class DeliveredMonth(Model):
    """Items that came in a month, and what robots did of them."""

    month: str
    came: str | None
    source: str
    by: str
    version: int
    robots: str | None
    handed_back: str | None


class CaseMonths(Model):
    """A year of work by month, and what was delivered."""

    drawn: bool
    typical: list[TypicalMonth]
    delivered: list[DeliveredMonth]


class TableRow(Model):
    """A row of the cost tables that a case used, and today's where it is another."""

    kind: str
    name: str
    what: str
    value: str | None
    since: date | None
    by: str
    unit: str
    field: str
    typed: bool
    today: str | None
    today_since: date | None


class CaseTables(Model):
    """The cost tables as a case read them, and its figures with today's rows where they differ."""

    day: date
    why: str
    rows: list[TableRow]
    today: CaseFigures | None


class BesideRow(Model):
    """A figure promised, now expected and delivered."""

    name: str
    label: str
    unit: str
    promised: str | None
    expected: str | None
    delivered: str | None
    note: str


class SpentOut(Model):
    """Person-days that a phase took."""

    phase: str
    person_days: str
    ended_on: date | None
    version: int
    person: str


class CaseOut(Model):
    """The case sheet."""

    lines: list[LineOut]
    offers: list[dict[str, str]]
    benefits: list[LineOut]
    benefits_total: str | None
    months: CaseMonths | None
    tables: CaseTables
    former: list[PromiseOut]
    beside: list[BesideRow] | None
    spent: list[SpentOut]

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


class PreviewIn(In):
    """Facts as they stand in the fields."""

    values: dict[Annotated[str, Field(max_length=40)], Any]


class FiguresPreview(Model):
    """Sizing and case with what was typed; facts that cannot be kept are named and left out."""

    faults: list[FaultOut]
    results: SizingResults
    ranges: RangesOut
    figures: CaseFigures


class Back(In):
    """What the lead says when backing an idea."""

    words: Text = ""
