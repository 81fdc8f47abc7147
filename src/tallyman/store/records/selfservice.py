"""Records of the room `selfservice`, written out by `store/shapes.py`: change the statements instead."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from decimal import Decimal
from typing import Any, ClassVar

from tallyman.core.runs.words import Outcome, RunState
from tallyman.core.selfservice.words import PageState, WordKind
from tallyman.store.record import Record


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class PageGroup(Record):
    """The groups that a page is for, by name."""

    id: int
    name: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class ServicePage(Record):
    """A page with whoever looks after it, and whether it is for a person, in their favourites."""

    JSON: ClassVar[tuple[int, ...]] = (5,)
    BOOLS: ClassVar[tuple[int, ...]] = (7, 16, 21, 22)
    id: int
    routine_id: int
    title: str
    does: str
    needs: str
    asks: Any
    keeper_id: int
    for_all: bool
    state: PageState
    why: str
    state_at: datetime
    made_by: int
    made_at: datetime
    version: int
    keeper: str
    keeper_email: str
    keeper_here: bool
    routine: str
    area_id: int
    retired_at: datetime | None
    withdrawn_at: datetime | None
    reaches: bool | None
    favourite: bool


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class ServicePageLocked(Record):
    """The row of a routine's page, locked."""

    id: int
    state: PageState
    version: int


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class ServicePageRow(Record):
    """The pages that reach a person: for all, for a group of theirs, or looked after by them; and …"""

    BOOLS: ClassVar[tuple[int, ...]] = (9, 10)
    id: int
    title: str
    does: str
    state: PageState
    why: str
    routine_id: int
    area_id: int
    retired_at: datetime | None
    withdrawn_at: datetime | None
    reaches: bool | None
    favourite: bool


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class ManagedPage(Record):
    """The pages of routines in some areas, with what came of them."""

    BOOLS: ClassVar[tuple[int, ...]] = (4,)
    id: int
    title: str
    state: PageState
    why: str
    for_all: bool
    routine_id: int
    routine: str
    area: str
    keeper: str
    retired_at: datetime | None
    runs: int
    people: int
    marks: Decimal | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class ServiceRun(Record):
    """The runs that a person started on pages before one, the latest first; so many."""

    JSON: ClassVar[tuple[int, ...]] = (10, 11, 12, 15, 16, 17)
    id: int
    page_id: int
    title: str
    state: RunState
    outcome: Outcome | None
    reason: str
    made_at: datetime
    started_at: datetime | None
    ended_at: datetime | None
    due_at: datetime
    inputs: Any
    outputs: Any
    progress: Any
    cancel_at: datetime | None
    routine_id: int
    schema: Any
    outputs_schema: Any
    asks: Any
    keeper: str
    keeper_email: str
    files: int


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class ServiceRunOf(Record):
    """Who started a run on which page."""

    person_id: int
    page_id: int
    title: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class ServiceWord(Record):
    """What was said about a page, the latest first; the newest 100."""

    id: int
    kind: WordKind
    marks: int | None
    remark: str
    idea_id: int | None
    at: datetime
    person: str
    idea: str | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class ServiceSums(Record):
    """What was said about a page, in figures."""

    thanks: Decimal
    ratings: Decimal
    wishes: Decimal
    marks: Decimal | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class ServiceMine(Record):
    """The marks that a person gave a page, and whether they thanked."""

    kind: WordKind
    marks: int | None
    remark: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class ServiceRan(Record):
    """How often colleagues ran a page, and how many of them."""

    runs: int
    people: int


GIVES: dict[str, type[Record]] = {
    "service.groups_of": PageGroup,
    "service.groups": PageGroup,
    "service.one": ServicePage,
    "service.lock": ServicePageLocked,
    "service.reaching": ServicePageRow,
    "service.managed": ManagedPage,
    "service_runs.runs_of": ServiceRun,
    "service_runs.own_run": ServiceRun,
    "service_runs.who_asked": ServiceRunOf,
    "service_runs.said": ServiceWord,
    "service_runs.sums": ServiceSums,
    "service_runs.mine": ServiceMine,
    "service_runs.ran": ServiceRan,
}
