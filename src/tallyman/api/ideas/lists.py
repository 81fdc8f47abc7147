"""Lists of ideas: filters, order, export, the map by stage, one act on many, saved views."""

from __future__ import annotations

from datetime import date, datetime
from decimal import Decimal
from typing import Annotated, Any

from fastapi import APIRouter, Depends, Query, Response
from pydantic import Field

from tallyman.api.common import MOST, BySelf, Done, In, Made, Model, Number, SignedIn, Text
from tallyman.services.house import views
from tallyman.services.ideas import bulk, exports, page, thanks

router = APIRouter(tags=["ideas"])
XLSX = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"


class IdeaRow(Model):
    """An idea in a list."""

    id: int
    title: str
    stage: str
    building: str | None
    stage_since: datetime
    due_on: date | None
    days_late: int
    hours_low: Decimal | None
    hours_high: Decimal | None
    worth: Decimal | None
    effort_days: Decimal | None
    division: str | None
    proposer: str
    owner: str | None
    source: str
    route: str
    amends_id: int | None
    changed_at: datetime


class StageCount(Model):
    """How many ideas stand in a stage."""

    stage: str
    ideas: int


class IdeaPage(Model):
    """A page of ideas, the mark of the next, and how many stand in each stage."""

    rows: list[IdeaRow]
    next: str | None
    stages: list[StageCount]


class MyIdea(Model):
    """An idea of one's own: what it needs, where it stands, what happens next and by when."""

    id: int
    title: str
    stage: str
    building: str | None
    group: str
    words: str
    due_on: date | None
    stage_since: datetime


class StageOnMap(Model):
    """A stage of the way: how many ideas, how old, how many past the limit, what came and left."""

    stage: str
    ideas: int
    late: int
    asked: int
    median_age: int | None
    oldest_age: int | None
    oldest_id: int | None
    limit: int | None
    came: int
    left: int
    median_stay: int | None


class StageMap(Model):
    """The way of ideas by stage, over so many days, and where it is stuck in a sentence."""

    stages: list[StageOnMap]
    days: int
    words: str


class SystemRow(Model):
    """A system that ideas name."""

    name: str
    ideas: int


class ActIn(In):
    """One act on many ideas."""

    ids: Annotated[list[Number], Field(min_length=1, max_length=bulk.MOST)]
    act: Annotated[str, Field(max_length=20)]
    words: Text = ""
    reason: Annotated[str, Field(max_length=100)] = ""
    until: date | None = None
    area: Number | None = None


class NotDone(Model):
    """An idea with which an act could not be done, and why."""

    id: int
    ref: str
    why: str


class Acted(Model):
    """With which ideas an act was done, and with which not."""

    done: list[int]
    refused: list[NotDone]


class ViewIn(In):
    """A saved view: its name, the filters as in the address, and whether others see it."""

    name: Annotated[str, Field(max_length=200)]
    query: Annotated[str, Field(max_length=2000)]
    shared: bool = False
    list: Annotated[str, Field(max_length=20)] = "ideas"


class ViewOut(Model):
    """A saved view."""

    id: int
    name: str
    query: str
    shared: bool
    mine: bool
    person: str


Count = Annotated[int | None, Query(ge=0, le=MOST)]


def listed(
    stage: Annotated[str | None, Query(max_length=20)] = None,
    text: Annotated[str | None, Query(max_length=100)] = None,
    mine: bool = False,
    division: Annotated[int | None, Query(ge=1, le=MOST)] = None,
    owner: Annotated[int | None, Query(ge=1, le=MOST)] = None,
    route: Annotated[str | None, Query(max_length=30)] = None,
    source: Annotated[str | None, Query(max_length=20)] = None,
    system: Annotated[str | None, Query(max_length=80)] = None,
    reach_from: Count = None,
    reach_to: Count = None,
    worth_from: Count = None,
    worth_to: Count = None,
    older_than: Annotated[int | None, Query(ge=1, le=10_000, description="days in its stage")] = None,
    late: bool = False,
    asked: bool = False,
    amendments: bool = False,
    ids: Annotated[str | None, Query(max_length=2500, description="numbers, parted by commas")] = None,
) -> page.Wanted:
    """Which ideas are wanted."""
    numbers = tuple(int(one) for one in (ids or "").split(",") if one.isdigit() and len(one) < 10)
    return page.Wanted(
        stage, text, mine, division, owner, route, reach_from, late, asked, reach_to, worth_from, worth_to,
        source, system, older_than, amendments, numbers if ids is None else numbers or (0,),
    )  # fmt: skip


Listed = Annotated[page.Wanted, Depends(listed)]
Sort = Annotated[str, Query(max_length=20)]


@router.get("/ideas")
def list_ideas(
    ctx: SignedIn,
    wanted: Listed,
    sort: Sort = "newest",
    after: Annotated[str | None, Query(max_length=400)] = None,
    limit: Annotated[int, Query(ge=1, le=200)] = 50,
) -> IdeaPage:
    """Ideas that the signed-in person may see."""
    return IdeaPage.model_validate(page.page_of_ideas(ctx, wanted, sort=sort, after=after, limit=limit))


@router.get("/ideas/export.csv", response_class=Response)
def export_csv(ctx: SignedIn, wanted: Listed, sort: Sort = "newest") -> Response:
    """The ideas that a list shows, as CSV."""
    heads = {"Content-Disposition": 'attachment; filename="ideas.csv"'}
    data = exports.as_csv(ctx, wanted, sort)
    return Response(data, media_type="text/csv; charset=utf-8", headers=heads)


@router.get("/ideas/export.xlsx", response_class=Response)
def export_xlsx(ctx: SignedIn, wanted: Listed, sort: Sort = "newest") -> Response:
    """The ideas that a list shows, as a spreadsheet."""
    heads = {"Content-Disposition": 'attachment; filename="ideas.xlsx"'}
    return Response(exports.as_xlsx(ctx, wanted, sort), media_type=XLSX, headers=heads)


@router.get("/ideas/mine")
def my_ideas(ctx: SignedIn) -> list[MyIdea]:
    """One's own ideas by what they need."""
    return [MyIdea.model_validate(row) for row in page.mine(ctx)]


@router.get("/ideas/map")
def stage_map(ctx: SignedIn) -> StageMap:
    """How ideas stand along their way, and where they get stuck."""
    return StageMap.model_validate(exports.stage_map(ctx))


@router.get("/ideas/systems")
def systems(ctx: SignedIn) -> list[SystemRow]:
    """The systems that ideas name."""
    return [SystemRow.model_validate(row) for row in page.systems(ctx)]


@router.post("/ideas/many")
def act_on_many(given: ActIn, ctx: SignedIn) -> Acted:
    """Does one thing with many ideas, each in a step of its own."""
    act = bulk.Act(given.act, given.words, given.reason, given.until, given.area)
    return Acted.model_validate(bulk.do(ctx, given.ids, act))


@router.get("/views/{of}")
def saved_views(of: Annotated[str, Field(max_length=20)], ctx: BySelf) -> list[ViewOut]:
    """Saved views of a list: one's own, and those that others share."""
    return [ViewOut.model_validate(row) for row in views.listed(ctx, of)]


@router.post("/views", status_code=201)
def save_view(given: ViewIn, ctx: BySelf) -> Made:
    """Saves a view."""
    return Made(id=views.add(ctx, given.list, given.name, given.query, given.shared))


@router.put("/views/{number}")
def change_view(number: Number, given: ViewIn, ctx: BySelf) -> Done:
    """Changes a view of one's own."""
    views.change(ctx, number, given.list, given.name, given.query, given.shared)
    return Done()


@router.delete("/views/{number}")
def drop_view(number: Number, ctx: BySelf) -> Done:
    """Takes a view of one's own away."""
    views.drop(ctx, number)
    return Done()


class NotchOut(Model):
    """How often somebody was thanked for something."""

    kind: str
    number: int
    first: bool


class ThankedOut(Model):
    """Somebody who was thanked."""

    name: str
    division: str
    notches: list[NotchOut]


class OwnNotch(Model):
    """A notch of one's own."""

    kind: str
    idea_id: int
    title: str
    first: bool
    at: datetime


class ThankedFor(Model):
    """Something thanks are given for."""

    value: str
    words: str


class ThanksOut(Model):
    """The thanks of a month, and one's own."""

    month: str
    oldest: str
    newest: str
    people: list[ThankedOut]
    kinds: list[ThankedFor]
    mine: list[OwnNotch]
    hidden: bool


class HiddenIn(In):
    """Whether one hides from the thanks page."""

    hidden: bool


@router.get("/thanks")
def thanks_page(ctx: BySelf, month: Annotated[str | None, Query(max_length=7)] = None) -> ThanksOut:
    """Thanks by month and division."""
    found: dict[str, Any] = thanks.page(ctx, month)
    return ThanksOut.model_validate(found)


@router.put("/profile/thanks")
def hide_from_thanks(given: HiddenIn, ctx: BySelf) -> Done:
    """Hides oneself from the thanks page, or shows oneself again."""
    thanks.hide(ctx, given.hidden)
    return Done()
