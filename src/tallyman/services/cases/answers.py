"""What pages are told: the answers of this room."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime

from tallyman.core.free import Free, FreeObject
from tallyman.core.working import Working
from tallyman.store.records.house import SystemChoice as SystemChoice


@dataclass(frozen=True, slots=True)
class FactRow:
    """A fact with its source."""

    field: str
    label: str
    value: Free
    source: str
    date: str
    own: bool
    version: int


@dataclass(frozen=True, slots=True)
class Lack:
    """A missing input, and where it is supplied."""

    field: str
    label: str
    sheet: str


@dataclass(frozen=True, slots=True)
class SizingResults:
    """What follows from the facts."""

    volume_per_year: str | None
    hours_per_year: str | None
    computed_share: str | None
    computed_effort: str | None
    automatable_share: str | None
    effort_days: str | None
    band: str | None
    missing: list[Lack]
    working: dict[str, Working]


@dataclass(frozen=True, slots=True)
class AskOut:
    """What a lead would ask back about a fact."""

    field: str
    words: str


@dataclass(frozen=True, slots=True)
class Bar:
    """A bar of how the draws spread."""

    start: str
    to: str
    share: str


@dataclass(frozen=True, slots=True)
class MovedOut:
    """How far a figure goes with one input."""

    name: str
    at_low: str
    at_high: str


@dataclass(frozen=True, slots=True)
class RangeOut:
    """A figure at the likely values, and sampled; null where too many draws have none."""

    likely: str | None
    p10: str | None
    p50: str | None
    p90: str | None


@dataclass(frozen=True, slots=True)
class SampledOut(RangeOut):
    """With how the draws spread, and what moves it most."""

    shape: list[Bar]
    moves: list[MovedOut]


@dataclass(frozen=True, slots=True)
class ChanceOut:
    """How likely it pays back within so many months."""

    months: int
    share: str


@dataclass(frozen=True, slots=True)
class PersonHours:
    """What a person works a year, since when."""

    value: str
    since: str


@dataclass(frozen=True, slots=True)
class RangesOut:
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


@dataclass(frozen=True, slots=True)
class PointOut:
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


@dataclass(frozen=True, slots=True)
class AnsweredFact:
    """A fact that an expert gave, and when."""

    field: str
    label: str
    at: datetime


@dataclass(frozen=True, slots=True)
class ExpertAsked:
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


@dataclass(frozen=True, slots=True)
class CorrectionOut:
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


@dataclass(frozen=True, slots=True)
class Sizing:
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


@dataclass(frozen=True, slots=True)
class CaseFigures:
    """The figures of a case; null where an input is missing."""

    cost_before: str | None
    cost_after_people: str | None
    saving_per_year: str | None
    robot_hours: str | None
    robots: int | None
    robot_share: str | None
    running_cost_per_year: str | None
    one_time_cost: str | None
    net: list[str | None] | None
    after_go_live: list[str | None] | None
    payback_months: str | None
    payback_said: str | None
    npv_3y: str | None
    return_3y: str | None


@dataclass(frozen=True, slots=True)
class CaseYear:
    """One year of a case: what the work costs without and with robots, and what becomes of it."""

    before: str | None
    people: str | None
    after: str | None
    saved: str | None
    to_run: str | None
    to_build: str | None
    net: str | None


@dataclass(frozen=True, slots=True)
class PlanPhase:
    """A placed phase."""

    name: str
    start: date
    end: date


@dataclass(frozen=True, slots=True)
class Plan:
    """Placed phases and the end of the last."""

    phases: list[PlanPhase]
    end: date


@dataclass(frozen=True, slots=True)
class PromiseOut:
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


@dataclass(frozen=True, slots=True)
class CaseHours:
    """Hours a year by who does the work."""

    handling: str | None
    rework: str | None
    kept: str | None
    returned: str | None
    robots: str | None


@dataclass(frozen=True, slots=True)
class LineOut:
    """A line in money a year, as given and as reckoned."""

    name: str
    a_year: str | None
    how_reckoned: str
    amount: str | None
    per_robot: str | None
    share: str | None
    days: str | None
    day_cost: str | None
    currency: str
    kind: str
    how: str


@dataclass(frozen=True, slots=True)
class TypicalMonth:
    """Items of a month: all; and with robots, what they finish, hand back, and people keep."""

    before: str | None
    robots: str | None
    handed_back: str | None
    people: str | None


@dataclass(frozen=True, slots=True)
class DeliveredMonth:
    """Items that came in a month, and what robots did of them."""

    month: str
    came: str | None
    source: str
    by: str
    version: int
    robots: str | None
    handed_back: str | None


@dataclass(frozen=True, slots=True)
class CaseMonths:
    """A year of work by month, and what was delivered."""

    drawn: bool
    typical: list[TypicalMonth]
    delivered: list[DeliveredMonth]


@dataclass(frozen=True, slots=True)
class TableRow:
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


@dataclass(frozen=True, slots=True)
class CaseTables:
    """The cost tables as a case read them, and its figures with today's rows where they differ."""

    day: date
    why: str
    rows: list[TableRow]
    today: CaseFigures | None


@dataclass(frozen=True, slots=True)
class BesideRow:
    """A figure promised, now expected and delivered; `promised_said`, `expected_said`: why there is none."""

    name: str
    label: str
    unit: str
    promised: str | None
    promised_said: str
    expected: str | None
    expected_said: str
    delivered: str | None
    note: str


@dataclass(frozen=True, slots=True)
class SpentOut:
    """Person-days that a phase took."""

    phase: str
    person_days: str
    ended_on: date | None
    version: int
    person: str


@dataclass(frozen=True, slots=True)
class CaseOut:
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
    working: dict[str, Working]
    plan: Plan | None
    start: date | None
    go_live: date | None
    rules_version: str
    promise: PromiseOut | None


@dataclass(frozen=True, slots=True)
class FaultFound:
    """A fact that cannot be kept as typed, and why."""

    field: str
    value: Free
    message: str


@dataclass(frozen=True, slots=True)
class FiguresPreview:
    """Sizing and case with what was typed; facts that cannot be kept are named and left out."""

    faults: list[FaultFound]
    results: SizingResults
    ranges: RangesOut
    figures: CaseFigures


@dataclass(frozen=True, slots=True)
class AskedResults:
    """What follows from the facts so far, as the expert sees it."""

    volume_per_year: str | None
    hours_per_year: str | None
    automatable_share: str | None
    effort_days: str | None
    band: str | None
    missing: list[Lack]


@dataclass(frozen=True, slots=True)
class AskedSizing:
    """The sheet that a link to an expert shows."""

    idea: int
    title: str
    what: str
    person: str
    asker: str
    words: str
    asked_at: datetime
    zone: str
    company: str
    open: bool
    wanted: list[str]
    fields: list[FactRow]
    results: AskedResults
    systems: list[SystemChoice]


@dataclass(frozen=True, slots=True)
class CaseJson:
    """A case taken out: `input` is what `calc business-case` reads."""

    idea: str
    title: str
    taken_out_at: datetime
    rules_version: str
    input: FreeObject
    sources: FreeObject
    result: FreeObject
    missing: list[Lack]
    benefit_lines: list[FreeObject]
    promise: FreeObject | None
    working: dict[str, Working]
