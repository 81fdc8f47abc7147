"""Records of the room `common`, written out by `store/shapes.py`: change the statements instead."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime
from decimal import Decimal
from typing import Any, ClassVar

from tallyman.core.runs.words import Outcome, RunState
from tallyman.core.workshop.words import Basis
from tallyman.store.record import Record


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class CommonHistory(Record):
    """What happened to one object, latest first."""

    JSON: ClassVar[tuple[int, ...]] = (5, 6)
    id: int
    at: datetime
    who: str
    action: str
    words: str
    before: Any
    after: Any


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class ChangeNote(Record):
    """Hints after a number; numbers may commit out of order, so the reader asks with an overlap; 500 …"""

    id: int
    subject: str
    object_id: int | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class Company(Record):
    """Whose installation this is, its zone and currency."""

    name: str
    zone: str
    currency: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class ClosedDay(Record):
    """The company's closed days."""

    day: date
    name: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class CommonClosedDaysOf(Record):
    """The closed days of an area and of all above it, beside the company's."""

    day: date
    name: str
    area_id: int


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class CommonClosedDaysOfMany(Record):
    """The closed days of some areas, each with those of all above it, beside the company's."""

    area_id: int
    day: date


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class DemoRobotsFor(Record):
    """Robots that may work for a routine, with the seats of their hosts."""

    id: int
    host_id: int
    seats: int


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class DemoToPost(Record):
    """Ended runs of a routine with what is reckoned."""

    JSON: ClassVar[tuple[int, ...]] = (5, 12)
    BOOLS: ClassVar[tuple[int, ...]] = (4,)
    id: int
    routine_id: int
    state: RunState
    outcome: Outcome | None
    trial: bool
    counts: Any
    started_at: datetime | None
    ended_at: datetime | None
    area_id: int
    idea_id: int
    basis: Basis
    count_name: str
    input: Any


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class DemoIdeasAt(Record):
    """Ideas at a stage and, if given, a state of their sizing, the latest first."""

    id: int
    worth: Decimal | None


GIVES: dict[str, type[Record]] = {
    "common.history": CommonHistory,
    "common.changes_since": ChangeNote,
    "common.company": Company,
    "common.closed_days": ClosedDay,
    "common.closed_days_of": CommonClosedDaysOf,
    "common.closed_days_of_many": CommonClosedDaysOfMany,
    "demo.robots_for": DemoRobotsFor,
    "demo.to_post": DemoToPost,
    "demo.ideas_at": DemoIdeasAt,
}
