"""Ideas: interview, review, sizing, case, decision."""

from __future__ import annotations

from typing import Annotated
from urllib.parse import quote

from fastapi import APIRouter, Depends, File, Form, Query, Response, UploadFile

from tallyman.api.common import MOST, Done, Made, Number, SignedIn, StartKey
from tallyman.api.ideas.models import (
    AnswerIn,
    Back,
    CaseOut,
    Decline,
    FactsIn,
    HelperIn,
    Idea,
    IdeaPage,
    JudgeAnswer,
    Match,
    MyIdea,
    PlaceIn,
    Portfolio,
    Screen,
    SettleMatch,
    SettleSizing,
    Sizing,
)
from tallyman.formats.uploads import LARGEST
from tallyman.services import portfolio
from tallyman.services.ideas import cases, drafts, helping, keep, page, review, sizing

router = APIRouter(tags=["ideas"])


def listed(
    stage: Annotated[str | None, Query(max_length=20)] = None,
    text: Annotated[str | None, Query(max_length=100)] = None,
    mine: bool = False,
    division: Annotated[int | None, Query(ge=1, le=MOST)] = None,
    owner: Annotated[int | None, Query(ge=1, le=MOST)] = None,
    route: Annotated[str | None, Query(max_length=30)] = None,
    reach_from: Annotated[int | None, Query(ge=0, le=MOST)] = None,
    late: bool = False,
    asked: bool = False,
) -> page.Wanted:
    """Which ideas are wanted."""
    return page.Wanted(stage, text, mine, division, owner, route, reach_from, late, asked)


Listed = Annotated[page.Wanted, Depends(listed)]


@router.get("/ideas")
def list_ideas(
    ctx: SignedIn,
    wanted: Listed,
    sort: Annotated[str, Query(max_length=20)] = "newest",
    after: Annotated[str | None, Query(max_length=200)] = None,
    limit: Annotated[int, Query(ge=1, le=200)] = 50,
) -> IdeaPage:
    """Ideas that the signed-in person may see."""
    return IdeaPage.model_validate(page.page_of_ideas(ctx, wanted, sort=sort, after=after, limit=limit))


@router.get("/ideas/export.csv", response_class=Response)
def export(ctx: SignedIn, wanted: Listed) -> Response:
    """The ideas that a list shows, as CSV."""
    heads = {"Content-Disposition": 'attachment; filename="ideas.csv"'}
    return Response(page.as_csv(ctx, wanted), media_type="text/csv; charset=utf-8", headers=heads)


@router.get("/ideas/mine")
def my_ideas(ctx: SignedIn) -> list[MyIdea]:
    """One's own ideas by what they need."""
    return [MyIdea.model_validate(row) for row in page.mine(ctx)]


@router.post("/ideas", status_code=201)
def begin_idea(ctx: SignedIn, key: StartKey) -> Made:
    """A new draft."""
    return Made(id=drafts.start(ctx, key))


@router.get("/ideas/similar")
def similar_ideas(
    ctx: SignedIn,
    title: Annotated[str, Query(max_length=200)],
    what: Annotated[str, Query(max_length=4000)] = "",
    but: Annotated[int, Query(ge=0, le=MOST)] = 0,
) -> list[Match]:
    """Ideas like the one being typed."""
    return [Match.model_validate(row) for row in review.similar(ctx, title, what, but)]


@router.get("/ideas/{number}")
def idea(number: Number, ctx: SignedIn) -> Idea:
    """One idea."""
    return Idea.model_validate(page.one(ctx, number))


@router.put("/ideas/{number}/answers/{question}")
def answer(number: Number, question: str, given: AnswerIn, ctx: SignedIn) -> Done:
    """Keeps one answer."""
    drafts.answer(ctx, number, question, given.value, given.remark)
    return Done()


@router.post("/ideas/{number}/hand-in")
def hand_in(number: Number, ctx: SignedIn) -> Done:
    """Hands a draft in."""
    drafts.hand_in(ctx, number)
    return Done()


@router.post("/ideas/{number}/confirm")
def confirm(number: Number, ctx: SignedIn) -> Done:
    """The work owner confirms the answers."""
    drafts.confirm(ctx, number)
    return Done()


@router.post("/ideas/{number}/files", status_code=201)
def attach(
    number: Number,
    ctx: SignedIn,
    file: Annotated[UploadFile, File()],
    kind: Annotated[str, Form(max_length=30)] = "something else",
) -> Made:
    """Attaches a file."""
    data = file.file.read(LARGEST + 1)
    return Made(id=drafts.attach(ctx, number, file.filename or "file", kind, data))


@router.delete("/ideas/{number}/files/{file_id}")
def detach(number: Number, file_id: Number, ctx: SignedIn) -> Done:
    """Takes a file off."""
    drafts.detach(ctx, number, file_id)
    return Done()


@router.get("/ideas/{number}/files/{file_id}", response_class=Response)
def download(number: Number, file_id: Number, ctx: SignedIn) -> Response:
    """A file, always as a download."""
    name, data = drafts.download(ctx, number, file_id)
    heads = {"Content-Disposition": f"attachment; filename*=UTF-8''{quote(name)}"}
    return Response(data, media_type="application/octet-stream", headers=heads)


@router.put("/ideas/{number}/matches/{other}")
def settle_match(number: Number, other: Number, given: SettleMatch, ctx: SignedIn) -> Done:
    """Settles a close match."""
    review.settle(ctx, number, other, given.verdict)
    return Done()


@router.put("/ideas/{number}/answers/{question}/judgement")
def judge_answer(number: Number, question: str, given: JudgeAnswer, ctx: SignedIn) -> Done:
    """Accepts an answer or sends it back."""
    review.judge_answer(ctx, number, question, given.accepted, given.note)
    return Done()


@router.post("/ideas/{number}/screen")
def screen(number: Number, given: Screen, ctx: SignedIn) -> Done:
    """Screens an idea."""
    review.screen(ctx, number, given.expert_id)
    return Done()


@router.post("/ideas/{number}/decline")
def decline(number: Number, given: Decline, ctx: SignedIn) -> Done:
    """Declines an idea."""
    review.decline(ctx, number, given.reason, given.words)
    return Done()


@router.get("/ideas/{number}/sizing")
def sizing_sheet(number: Number, ctx: SignedIn) -> Sizing:
    """The sizing sheet."""
    return Sizing.model_validate(sizing.view(ctx, number))


@router.put("/ideas/{number}/facts")
def keep_facts(number: Number, given: FactsIn, ctx: SignedIn) -> Done:
    """Keeps facts of sizing and case."""
    keep.keep(ctx, number, given.values, given.versions, given.source)
    return Done()


@router.post("/ideas/{number}/sizing/offer")
def offer_sizing(number: Number, ctx: SignedIn) -> Done:
    """Asks for agreement to the sizing."""
    sizing.offer(ctx, number)
    return Done()


@router.post("/ideas/{number}/sizing/settle")
def settle_sizing(number: Number, given: SettleSizing, ctx: SignedIn) -> Done:
    """Agrees to the sizing or sends it back."""
    sizing.settle(ctx, number, given.agreed, given.note)
    return Done()


@router.get("/ideas/{number}/case")
def case_sheet(number: Number, ctx: SignedIn) -> CaseOut:
    """The case sheet."""
    return CaseOut.model_validate(cases.view(ctx, number))


@router.post("/ideas/{number}/back")
def back(number: Number, given: Back, ctx: SignedIn) -> Done:
    """Backs an idea: freezes the promise."""
    cases.back(ctx, number, given.words)
    return Done()


@router.post("/ideas/{number}/take-up")
def take_up(number: Number, ctx: SignedIn) -> Done:
    """A builder takes a backed idea up."""
    cases.take_up(ctx, number)
    return Done()


@router.get("/portfolio")
def portfolio_view(ctx: SignedIn) -> Portfolio:
    """Ideas ranked by worth and effort."""
    return Portfolio.model_validate(portfolio.view(ctx))


@router.post("/ideas/{number}/helpers", status_code=201)
def add_helper(number: Number, given: HelperIn, ctx: SignedIn) -> Done:
    """Asks somebody to help with an idea."""
    helping.add_helper(ctx, number, given.person, given.task)
    return Done()


@router.delete("/ideas/{number}/helpers/{person}")
def drop_helper(number: Number, person: Number, ctx: SignedIn) -> Done:
    """Somebody helps no more."""
    helping.drop_helper(ctx, number, person)
    return Done()


@router.put("/ideas/{number}/area")
def place(number: Number, given: PlaceIn, ctx: SignedIn) -> Done:
    """Says where an idea belongs."""
    helping.set_area(ctx, number, given.area)
    return Done()
