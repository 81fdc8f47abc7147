"""Value: promised against delivered, entries, months, counts."""

from __future__ import annotations

from datetime import date, datetime
from typing import Annotated, Any

from fastapi import APIRouter, Path, Query
from pydantic import Field

from tallyman.api.common import MOST, Choice, Done, In, Model, Number, SignedIn, VersionSeen, WorkingOut
from tallyman.services import tally

router = APIRouter(tags=["value"])
Month = Annotated[str, Path(pattern=r"^20\d\d-(0[1-9]|1[0-2])$")]


class Sum(Model):
    """Promised against delivered."""

    promised: str
    saved: str
    difference: str
    robot_time: str
    costs: str
    net: str
    hours: str
    units: str


class IdeaSum(Sum):
    """An idea's promised against delivered to date."""

    idea_id: int
    title: str
    stage: str
    division: str | None
    live_on: date | None
    go_live_on: date
    working: WorkingOut


class CompanyMonth(Sum):
    """A month over all ideas."""

    month: str
    state: str
    closed_by: str | None


class Rest(Model):
    """What no idea bears, by its lines."""

    lines: str
    money: str
    working: WorkingOut


class Overview(Model):
    """All promised ideas and the company's months."""

    rows: list[IdeaSum]
    total: Sum
    working: dict[str, WorkingOut]
    rest: Rest | None
    months: list[CompanyMonth]
    currency: str
    as_of: datetime


class IdeaMonth(Sum):
    """A month of an idea."""

    month: str
    state: str
    entries: int
    working: WorkingOut


class Line(Model):
    """One line of the case, promised and delivered to date."""

    line: str
    promised: str
    delivered: str
    difference: str
    working: WorkingOut


class IdeaTally(Model):
    """An idea's months and lines."""

    lines: list[Line]

    months: list[IdeaMonth]
    total: Sum
    working: WorkingOut
    currency: str
    routine_id: int | None
    routine: str | None
    live_on: date | None
    promised_from: date | None


class EntryOut(Model):
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
    working: WorkingOut


class Entries(Model):
    """A page of entries; `next` is the number after which the next page begins."""

    rows: list[EntryOut]
    next: int | None


class Correction(In):
    """What a run is to be counted as, and why."""

    units: Any
    handed_back: Any = 0
    why: Annotated[str, Field(max_length=2000)]


@router.get("/value")
def overview(ctx: SignedIn) -> Overview:
    """Promised against delivered over all ideas."""
    return Overview.model_validate(tally.overview(ctx))


@router.get("/value/ideas/{number}")
def of_idea(number: Number, ctx: SignedIn) -> IdeaTally:
    """An idea's months."""
    return IdeaTally.model_validate(tally.of_idea(ctx, number))


@router.get("/value/ideas/{number}/{month}")
def entries(
    number: Number, month: Month, ctx: SignedIn, after: Annotated[int, Query(ge=0, le=MOST)] = 0
) -> Entries:
    """The entries of an idea in a month."""
    return Entries.model_validate(tally.entries(ctx, number, month, after))


@router.post("/value/months/{month}/close")
def close_month(month: Month, ctx: SignedIn) -> Done:
    """Closes a month by name."""
    tally.close_month(ctx, month)
    return Done()


class CountsOut(Model):
    """What becomes of counts far from a routine's usual."""

    unusual: str
    choices: list[Choice]
    version: int
    may_change: bool


class CountsIn(In):
    """What is to become of counts far from a routine's usual."""

    unusual: Annotated[str, Field(max_length=20)]


@router.get("/value/counts")
def counts(ctx: SignedIn) -> CountsOut:
    """What becomes of counts far from the usual."""
    return CountsOut.model_validate(tally.unusual.shown(ctx))


@router.put("/value/counts")
def choose_counts(given: CountsIn, version: VersionSeen, ctx: SignedIn) -> Done:
    """The house chooses what becomes of counts far from the usual."""
    tally.unusual.choose(ctx, given.unusual, version)
    return Done()


@router.post("/value/runs/{number}/right")
def say_right(number: Number, ctx: SignedIn) -> Done:
    """Says that a count far from the usual is right, so that it is posted."""
    tally.unusual.say_right(ctx, number)
    return Done()


@router.post("/value/runs/{number}/correct")
def correct_run(number: Number, given: Correction, ctx: SignedIn) -> Done:
    """Says what a run is to be counted as; its entries are reversed and posted anew."""
    tally.correct_run(ctx, number, given.units, given.handed_back, given.why)
    return Done()
