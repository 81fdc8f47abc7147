"""Lists of ideas: filters, order, export, the map by stage, one act on many, saved views."""

from __future__ import annotations

from datetime import date
from typing import Annotated

from fastapi import Depends, Query, Response
from pydantic import Field

from tallyman.api.common import MOST, BySelf, Done, In, Made, Number, SignedIn, Text
from tallyman.api.routing import Routes
from tallyman.services.house import ViewOut, views
from tallyman.services.ideas import bulk, exports, page, thanks
from tallyman.services.ideas.answers import Acted, IdeaPage, MyIdea, StageMap, SystemRow, ThanksOut

router = Routes(tags=["ideas"])
XLSX = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"


class ActIn(In):
    """One act on many ideas."""

    ids: Annotated[list[Number], Field(min_length=1, max_length=bulk.MOST)]
    act: Annotated[str, Field(max_length=20)]
    words: Text = ""
    reason: Annotated[str, Field(max_length=100)] = ""
    until: date | None = None
    area: Number | None = None


class ViewIn(In):
    """A saved view: its name, the filters as in the address, and whether others see it."""

    name: Annotated[str, Field(max_length=200)]
    query: Annotated[str, Field(max_length=2000)]
    shared: bool = False
    list: Annotated[str, Field(max_length=20)] = "ideas"


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
        stage=stage,
        text=text,
        mine=mine,
        division=division,
        owner=owner,
        route=route,
        reach_from=reach_from,
        late=late,
        asked=asked,
        reach_to=reach_to,
        worth_from=worth_from,
        worth_to=worth_to,
        source=source,
        system=system,
        older_than=older_than,
        amendments=amendments,
        ids=numbers if ids is None else numbers or (0,),
    )


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
    return page.page_of_ideas(ctx, wanted, sort=sort, after=after, limit=limit)


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
    return page.mine(ctx)


@router.get("/ideas/map")
def stage_map(ctx: SignedIn) -> StageMap:
    """How ideas stand along their way, and where they get stuck."""
    return exports.stage_map(ctx)


@router.get("/ideas/systems")
def systems(ctx: SignedIn) -> list[SystemRow]:
    """The systems that ideas name."""
    return page.systems(ctx)


@router.post("/ideas/many")
def act_on_many(given: ActIn, ctx: SignedIn) -> Acted:
    """Does one thing with many ideas, each in a step of its own."""
    act = bulk.Act(given.act, given.words, given.reason, given.until, given.area)
    return bulk.do(ctx, given.ids, act)


@router.get("/views/{of}")
def saved_views(of: Annotated[str, Field(max_length=20)], ctx: BySelf) -> list[ViewOut]:
    """Saved views of a list: one's own, and those that others share."""
    return views.listed(ctx, of)


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


class HiddenIn(In):
    """Whether one hides from the thanks page."""

    hidden: bool


@router.get("/thanks")
def thanks_page(ctx: BySelf, month: Annotated[str | None, Query(max_length=7)] = None) -> ThanksOut:
    """Thanks by month and division."""
    return thanks.page(ctx, month)


@router.put("/profile/thanks")
def hide_from_thanks(given: HiddenIn, ctx: BySelf) -> Done:
    """Hides oneself from the thanks page, or shows oneself again."""
    thanks.hide(ctx, given.hidden)
    return Done()
