"""What pages are told: the answers of this room."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime
from decimal import Decimal

from tallyman.core.working import Working
from tallyman.services.answers import Choice
from tallyman.services.house import VersionRow


@dataclass(frozen=True, slots=True)
class Sum:
    """Promised against delivered."""

    promised: str
    saved: str
    difference: str
    robot_time: str
    costs: str
    net: str
    hours: str
    units: str


@dataclass(frozen=True, slots=True)
class IdeaSum(Sum):
    """An idea's promised against delivered to date."""

    idea_id: int
    title: str
    stage: str
    division: str | None
    live_on: date | None
    go_live_on: date
    working: Working


@dataclass(frozen=True, slots=True)
class CompanyMonth(Sum):
    """A month over all ideas."""

    month: str
    state: str
    closed_by: str | None
    closed_at: datetime | None
    # What was open when it was closed, in words.
    open_then: list[str]


@dataclass(frozen=True, slots=True)
class Rest:
    """What no idea bears, by its lines."""

    lines: str
    money: str
    working: Working


@dataclass(frozen=True, slots=True)
class AttendedSum:
    """What runs on people's own computers saved, less the time that a person had to be there."""

    runs: int
    hours: str
    money: str
    hours_working: Working
    money_working: Working


@dataclass(frozen=True, slots=True)
class Overview:
    """All promised ideas and the company's months."""

    rows: list[IdeaSum]
    total: Sum
    # What rounding leaves beside the rows.
    rounding: Sum | None
    working: dict[str, Working]
    rest: Rest | None
    attended: AttendedSum | None
    months: list[CompanyMonth]
    # The month that the reader may close next.
    to_close: str | None
    currency: str
    as_of: datetime


@dataclass(frozen=True, slots=True)
class MonthLook:
    """A month before it is closed: what it holds, and what is open in it, in words."""

    month: str
    entries: int
    money: str
    open: list[str]


@dataclass(frozen=True, slots=True)
class IdeaMonth(Sum):
    """A month of an idea."""

    month: str
    state: str
    entries: int
    working: Working


@dataclass(frozen=True, slots=True)
class Line:
    """One line of the case, promised and delivered to date."""

    line: str
    promised: str
    delivered: str
    difference: str
    working: Working


@dataclass(frozen=True, slots=True)
class IdeaTally:
    """An idea's months and lines."""

    lines: list[Line]

    months: list[IdeaMonth]
    total: Sum
    rounding: Sum | None
    working: Working
    currency: str
    routine_id: int | None
    routine: str | None
    # The routine is retired, and counted until then.
    counted_until: datetime | None
    live_on: date | None
    promised_from: date | None


@dataclass(frozen=True, slots=True)
class HandCountOut:
    """Units of a span of days that no routine counted; `posted`: they stand in the tally."""

    id: int
    first: date
    last: date
    units: str
    evidence: str
    source: str
    person: str
    at: datetime
    taken_back: bool
    posted: bool


@dataclass(frozen=True, slots=True)
class HandCounts:
    """What was counted by hand of an idea; `counted_since`: the day from which a routine counts for it."""

    rows: list[HandCountOut]
    may_count: bool
    counted_since: date | None
    live_on: date | None


@dataclass(frozen=True, slots=True)
class CountLine:
    """A line of a list of counts, and what becomes of it: *comes in*, *is here already* or *stays out*."""

    line: int
    first: date | None
    last: date | None
    units: str
    state: str
    faults: list[str]


@dataclass(frozen=True, slots=True)
class EntryOut:
    """An entry of the ledger with its working."""

    id: int
    run_id: int | None
    routine_id: int | None
    routine: str | None
    kind: str
    why: str
    person: str | None
    line: str
    units: str
    hours: str
    money: str
    at: datetime
    belongs_to: str
    working: Working


@dataclass(frozen=True, slots=True)
class Entries:
    """A page of entries; `next` is the number after which the next page begins."""

    rows: list[EntryOut]
    next: int | None


@dataclass(frozen=True, slots=True)
class CountsOut:
    """What becomes of counts far from a routine's usual."""

    unusual: str
    choices: list[Choice]
    version: int
    may_change: bool


@dataclass(frozen=True, slots=True)
class Unusual:
    """A count far from the usual, which waits for somebody to say that it is right."""

    units: Decimal
    usual: Decimal
    noted_at: datetime


@dataclass(frozen=True, slots=True)
class BeforeRule:
    """What becomes of rates from a day that has begun."""

    version: int
    from_before: str
    choices: list[Choice]
    versions: list[VersionRow]
