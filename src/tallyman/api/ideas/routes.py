"""Ideas: interview, answers, review, helpers, and where each belongs."""

from __future__ import annotations

from typing import Annotated

from fastapi import Query
from pydantic import Field

from tallyman.api.common import MOST, Done, In, Made, Number, SignedIn, StartKey, Text
from tallyman.api.ideas.models import AnswerIn, Decline, HelperIn, JudgeAnswer, PlaceIn, Screen, SettleMatch
from tallyman.api.routing import Routes
from tallyman.services.ideas import drafts, helpers, owners, page, review
from tallyman.services.ideas.answers import Alike, IdeaWhole
from tallyman.services.ideas.answers_of_reviews import ReviewQueue

router = Routes(tags=["ideas"])


class BeginIn(In):
    """By which interview an idea begins, and which idea in service it wants changed."""

    interview: Annotated[str, Field(max_length=20)] = "full"
    amends: Number | None = None


@router.post("/ideas", status_code=201)
def begin_idea(ctx: SignedIn, key: StartKey, given: BeginIn | None = None) -> Made:
    """A new draft."""
    asked = given or BeginIn()
    return Made(id=drafts.start(ctx, key, asked.interview, asked.amends))


@router.get("/ideas/similar")
def similar_ideas(
    ctx: SignedIn,
    title: Annotated[str, Query(max_length=200)],
    what: Annotated[str, Query(max_length=4000)] = "",
    but: Annotated[int, Query(ge=0, le=MOST)] = 0,
) -> list[Alike]:
    """Ideas like the one being typed."""
    return review.similar(ctx, title, what, but)


@router.get("/ideas/{number}")
def idea(number: Number, ctx: SignedIn) -> IdeaWhole:
    """One idea."""
    return page.one(ctx, number)


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


class NotMine(In):
    """Who is to be asked instead, if that is known, and why."""

    person: Number | None = None
    why: Text


@router.post("/ideas/{number}/not-mine")
def not_mine(number: Number, given: NotMine, ctx: SignedIn) -> Done:
    """Whoever was named as work owner names another one."""
    owners.not_mine(ctx, number, given.person, given.why)
    return Done()


@router.post("/ideas/{number}/confirm")
def confirm(number: Number, ctx: SignedIn) -> Done:
    """The work owner confirms the answers."""
    owners.confirm(ctx, number)
    return Done()


@router.put("/ideas/{number}/matches/{other}")
def settle_match(number: Number, other: Number, given: SettleMatch, ctx: SignedIn) -> Done:
    """Settles a close match."""
    review.settle(ctx, number, other, given.verdict)
    return Done()


@router.post("/ideas/{number}/matches/others")
def settle_others(number: Number, ctx: SignedIn) -> Done:
    """Says of every close match that waits for a verdict that it is other work."""
    review.settle_others(ctx, number)
    return Done()


@router.put("/ideas/{number}/answers/{question}/judgement")
def judge_answer(number: Number, question: str, given: JudgeAnswer, ctx: SignedIn) -> Done:
    """Accepts an answer or sends it back."""
    review.judge_answer(ctx, number, question, given.accepted, given.note)
    return Done()


@router.get("/reviews")
def review_queue(ctx: SignedIn) -> ReviewQueue:
    """The ideas that wait for a review, the first due first."""
    return review.queue(ctx)


@router.post("/ideas/{number}/screen")
def screen(number: Number, given: Screen, ctx: SignedIn) -> Done:
    """Screens an idea."""
    review.screen(ctx, number, given.expert_id, given.others)
    return Done()


@router.post("/ideas/{number}/decline")
def decline(number: Number, given: Decline, ctx: SignedIn) -> Done:
    """Declines an idea."""
    review.decline(ctx, number, given.reason, given.words)
    return Done()


@router.post("/ideas/{number}/helpers", status_code=201)
def add_helper(number: Number, given: HelperIn, ctx: SignedIn) -> Done:
    """Asks somebody to help with an idea."""
    helpers.add_helper(ctx, number, given.person, given.task)
    return Done()


@router.delete("/ideas/{number}/helpers/{person}")
def drop_helper(number: Number, person: Number, ctx: SignedIn) -> Done:
    """Somebody helps no more."""
    helpers.drop_helper(ctx, number, person)
    return Done()


@router.put("/ideas/{number}/area")
def place(number: Number, given: PlaceIn, ctx: SignedIn) -> Done:
    """Says where an idea belongs."""
    helpers.set_area(ctx, number, given.area)
    return Done()
