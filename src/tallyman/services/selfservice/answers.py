"""What self-service answers."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from decimal import Decimal

from tallyman.core.free import FreeObject
from tallyman.core.selfservice.words import PageState, Readiness, WordKind
from tallyman.services.runs import RunFile, RunProgress, ValueSaid
from tallyman.store.records.selfservice import ManagedPage as ManagedPage
from tallyman.store.records.selfservice import PageGroup as PageGroup


@dataclass(frozen=True, slots=True)
class PageCard:
    """A page in the list: how it stands this moment, and when it last worked."""

    id: int
    title: str
    does: str
    word: Readiness
    why: str
    favourite: bool
    last_worked: datetime | None
    usual_seconds: int | None


@dataclass(frozen=True, slots=True)
class MyServiceRun:
    """A run that the signed-in person started on a page, said for somebody who knows nothing of robots."""

    id: int
    page_id: int
    title: str
    state: str
    said: str
    made_at: datetime
    started_at: datetime | None
    ended_at: datetime | None
    stopping: bool
    may_stop: bool
    progress: RunProgress | None
    files: int


@dataclass(frozen=True, slots=True)
class MyServiceRunWhole:
    """The same with what it was given, what came of it, and the files that it handed over."""

    run: MyServiceRun
    inputs: list[ValueSaid]
    outputs: list[ValueSaid]
    files: list[RunFile]
    usual_seconds: int | None
    keeper: str
    keeper_email: str


@dataclass(frozen=True, slots=True)
class ServiceList:
    """What is published to the signed-in person, their newest runs, and what they may do with pages."""

    pages: list[PageCard]
    runs: list[MyServiceRun]
    may_publish: bool
    now: datetime


@dataclass(frozen=True, slots=True)
class PageWord:
    """What somebody said about a page; a wish may have become an idea."""

    id: int
    kind: WordKind
    marks: int | None
    remark: str
    person: str
    at: datetime
    idea_id: int | None
    idea: str | None


@dataclass(frozen=True, slots=True)
class PageSums:
    """What was said about a page, in figures; the marks are the mean of everybody's latest."""

    thanks: int
    ratings: int
    wishes: int
    marks: Decimal | None
    runs: int
    people: int


@dataclass(frozen=True, slots=True)
class ServicePageView:
    """A page as a colleague sees it; what others said, in words, is for those who look after it."""

    id: int
    title: str
    does: str
    needs: str
    keeper: str
    keeper_email: str
    keeper_here: bool
    attended: bool
    word: Readiness
    why: str
    state: PageState
    input_schema: FreeObject
    inputs: FreeObject
    favourite: bool
    last_worked: datetime | None
    usual_seconds: int | None
    sums: PageSums
    my_marks: int | None
    my_remark: str
    thanked: bool
    idea_id: int | None
    said: list[PageWord] | None
    routine_id: int | None
    version: int
    now: datetime


@dataclass(frozen=True, slots=True)
class PageInput:
    """An input of the release: whether it is asked for on the page, must be given, or is set already."""

    name: str
    title: str
    needed: bool
    set: bool


@dataclass(frozen=True, slots=True)
class PageSetup:
    """A routine's page as whoever publishes it sees it, or what stands against having one."""

    routine_id: int
    routine: str
    id: int | None
    title: str
    does: str
    needs: str
    asks: list[str]
    keeper_id: int | None
    keeper: str
    for_all: bool
    groups: list[int]
    state: PageState | None
    why: str
    version: int
    inputs: list[PageInput]
    all_groups: list[PageGroup]
    against: list[str]
    on_trial: bool
    may: bool
    sums: PageSums | None
    said: list[PageWord]


@dataclass(frozen=True, slots=True)
class Wished:
    """What became of a wish: the idea it is now, or None where there is none to change."""

    idea_id: int | None
    stage: str
