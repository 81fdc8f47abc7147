"""What pages are told: the answers of this room."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime

from tallyman.core.free import Free
from tallyman.services.answers import Choice
from tallyman.store.records.common import ClosedDay as ClosedDay
from tallyman.store.records.house import SystemChoice as SystemChoice
from tallyman.store.records.house import UsingIdea as UsingIdea
from tallyman.store.records.house import UsingRoutine as UsingRoutine


@dataclass(frozen=True, slots=True)
class VersionRow:
    """A version of what was set: when, by whom, why."""

    version: int
    note: str
    made_at: datetime
    person: str


@dataclass(frozen=True, slots=True)
class AreaOut:
    """An area with the one above and what lives in it."""

    id: int
    name: str
    parent_id: int | None
    version: int
    routines: int
    robots: int
    held: int
    days: list[ClosedDay]
    # A picture of the screen is taken when a run of it, or of an area below it, stalls.
    screens: bool
    approving: bool
    may_change: bool


@dataclass(frozen=True, slots=True)
class Tree:
    """The areas one may see, and the company's closed days."""

    areas: list[AreaOut]
    closed_days: list[ClosedDay]
    may_make: bool
    may_close: bool


@dataclass(frozen=True, slots=True)
class Change:
    """Somebody who gains or loses, by which role, and what."""

    person: str
    by: str
    what: list[str]


@dataclass(frozen=True, slots=True)
class MoveOut:
    """Who and which robots gain and lose what."""

    area: str
    gain: list[Change]
    lose: list[Change]
    robots: list[str]
    robots_lost: list[str]
    version: int | None


@dataclass(frozen=True, slots=True)
class ClosedOut:
    """A closed day; `own`: of the calendar that is shown, not of one above it."""

    day: date
    name: str
    own: bool
    of: str


@dataclass(frozen=True, slots=True)
class HostHoursOut:
    """A host with its seats and the hours a day that it works."""

    name: str
    seats: int
    hours: str


@dataclass(frozen=True, slots=True)
class YearOut:
    """A year of a calendar, and what a robot can work by it."""

    year: int
    area: str | None
    days: list[ClosedOut]
    months: list[int]
    working_days: int
    weekend: list[int]
    hours_a_day: str | None
    hours_how: str
    hosts: list[HostHoursOut]
    may_change: bool
    years: list[int]
    today: date


@dataclass(frozen=True, slots=True)
class CountryOut:
    """A country whose public holidays are known."""

    code: str
    name: str
    regions: list[str]


@dataclass(frozen=True, slots=True)
class HolidayOut:
    """A day that could be closed."""

    day: date
    name: str
    weekend: bool


@dataclass(frozen=True, slots=True)
class Closed:
    """How many days were closed."""

    closed: int


@dataclass(frozen=True, slots=True)
class MailRow:
    """A mail: to whom, about what, when it left and what the mail server answered."""

    id: int
    to_address: str
    person: str | None
    subject: str
    kind: str
    made_at: datetime
    sent_at: datetime | None
    due_at: datetime
    tries: int
    answer: str | None


@dataclass(frozen=True, slots=True)
class MailPage:
    """A page of the outbox."""

    rows: list[MailRow]
    next: str | None


@dataclass(frozen=True, slots=True)
class DivisionOut:
    """A division in the tree: its own name, the names above it in `name`, and how much belongs to it."""

    id: int
    name: str
    own: str
    parent_id: int | None
    depth: int
    ideas: int
    people: int


@dataclass(frozen=True, slots=True)
class CompanyOut:
    """Whose installation this is."""

    name: str
    zone: str
    currency: str
    divisions: list[DivisionOut]


@dataclass(frozen=True, slots=True)
class MailSettings:
    """The mail server, without its password."""

    host: str
    port: int
    security: str
    user: str
    sender: str
    has_password: bool
    securities: list[Choice]
    version: int
    may_change: bool


@dataclass(frozen=True, slots=True)
class Tested:
    """What the mail server answered."""

    answer: str


@dataclass(frozen=True, slots=True)
class InventoryRow:
    """A system, and how much uses it."""

    id: int
    name: str
    access: str
    owner_id: int | None
    owner: str | None
    test_system: str
    note: str
    state: str
    version: int
    ideas: int
    routines: int


@dataclass(frozen=True, slots=True)
class SystemOut:
    """A system with what uses it; `all_ideas` and `all_routines` count also what the reader may not see."""

    id: int
    name: str
    access: str
    owner_id: int | None
    owner: str | None
    test_system: str
    note: str
    state: str
    version: int
    made_by: str
    made_at: datetime
    changed_at: datetime
    ideas: list[UsingIdea]
    routines: list[UsingRoutine]
    all_ideas: int
    all_routines: int


@dataclass(frozen=True, slots=True)
class Entry:
    """One line of the trail, with what was before and after."""

    id: int
    at: datetime
    who: str
    address: str
    action: str
    object: str
    words: str
    before: Free
    after: Free
    erased_at: datetime | None
    sealed: bool


@dataclass(frozen=True, slots=True)
class Sealed:
    """How much of the trail is sealed, and by when."""

    seals: int
    entries: int
    last_id: int | None
    at: datetime | None


@dataclass(frozen=True, slots=True)
class TrailPage:
    """A page of the trail."""

    rows: list[Entry]
    next: str | None
    summary: Sealed
    actions: list[str]


@dataclass(frozen=True, slots=True)
class Checked:
    """What of the chain does not hold."""

    faults: list[str]
    seals: int
    entries: int


@dataclass(frozen=True, slots=True)
class SealOut:
    """A seal, to be kept elsewhere."""

    seal: str
    previous: str
    first: int
    last: int
    entries: int
    root: str
    at: datetime


@dataclass(frozen=True, slots=True)
class ViewOut:
    """A saved view."""

    id: int
    name: str
    query: str
    shared: bool
    mine: bool
    person: str
