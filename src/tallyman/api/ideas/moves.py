"""Ideas off their way (parked, merged, another route), and what is said about them: talk and voices."""

from __future__ import annotations

from datetime import date
from typing import Annotated

from pydantic import Field

from tallyman.api.common import Done, In, Made, Number, SignedIn, Text
from tallyman.api.routing import Routes
from tallyman.services.ideas import moves, talk

router = Routes(tags=["ideas"])


class WhyIn(In):
    """A reason in a sentence."""

    why: Text = ""


class ParkIn(In):
    """Until when an idea is put aside, and what it waits for."""

    until: date
    why: Text


class MergeIn(In):
    """Into which idea another goes, and why."""

    into: Number
    why: Text = ""


class RouteIn(In):
    """Another remedy than a robot: what is to be done, who sees to it, by when."""

    route: Annotated[str, Field(max_length=60)]
    measure: Text
    owner: Number
    due: date


class DoneIn(In):
    """What was done, and since when it is so; today where nothing is said."""

    words: Text
    since: date | None = None


class CommentIn(In):
    """A comment, and the people it asks."""

    text: Annotated[str, Field(max_length=20_000)]
    mentions: Annotated[list[Number], Field(max_length=100)] = []


class VolumeIn(In):
    """An amount in a rhythm."""

    amount: Annotated[str, Field(max_length=40)]
    rhythm: Annotated[str, Field(max_length=40)]


class JoinIn(In):
    """Joining an idea: with a volume of one's own by whoever does the work too; from a draft like it."""

    volume: VolumeIn | None = None
    note: Text = ""
    draft: Number | None = None


class FollowIn(In):
    """Whether one wants to hear of an idea."""

    on: bool


@router.post("/ideas/{number}/withdraw")
def withdraw(number: Number, ctx: SignedIn, given: WhyIn | None = None) -> Done:
    """Gives up an idea that one proposed."""
    moves.withdraw(ctx, number, given.why if given else "")
    return Done()


@router.post("/ideas/{number}/park")
def park(number: Number, given: ParkIn, ctx: SignedIn) -> Done:
    """Puts an idea aside until a day."""
    moves.park(ctx, number, given.until, given.why)
    return Done()


@router.post("/ideas/{number}/reopen")
def reopen(number: Number, given: WhyIn, ctx: SignedIn) -> Done:
    """Brings an idea back to where it stood."""
    moves.reopen(ctx, number, given.why)
    return Done()


@router.post("/ideas/{number}/merge")
def merge(number: Number, given: MergeIn, ctx: SignedIn) -> Done:
    """Lets an idea go on in another that is the same work."""
    moves.merge(ctx, number, given.into, given.why)
    return Done()


@router.post("/ideas/{number}/route")
def take_route(number: Number, given: RouteIn, ctx: SignedIn) -> Done:
    """Sends an idea another way than a robot."""
    moves.take_route(ctx, number, given.route, given.measure, given.owner, given.due)
    return Done()


@router.put("/ideas/{number}/stuck")
def set_stuck(number: Number, given: WhyIn, ctx: SignedIn) -> Done:
    """Says that a build or measure is stuck; without words it goes on."""
    moves.set_stuck(ctx, number, given.why)
    return Done()


@router.post("/ideas/{number}/measure-done")
def measure_done(number: Number, given: DoneIn, ctx: SignedIn) -> Done:
    """Another route's measure is carried out."""
    moves.measure_done(ctx, number, given.words, given.since)
    return Done()


@router.post("/ideas/{number}/retire")
def retire(number: Number, given: WhyIn, ctx: SignedIn) -> Done:
    """Takes an idea out of service, for good."""
    moves.retire(ctx, number, given.why)
    return Done()


@router.post("/ideas/{number}/comments", status_code=201)
def say(number: Number, given: CommentIn, ctx: SignedIn) -> Made:
    """Says something about an idea."""
    return Made(id=talk.say(ctx, number, given.text, given.mentions))


@router.put("/ideas/{number}/comments/{comment}")
def edit(number: Number, comment: Number, given: CommentIn, ctx: SignedIn) -> Done:
    """Another text for one's own comment."""
    talk.edit(ctx, number, comment, given.text, given.mentions)
    return Done()


@router.delete("/ideas/{number}/comments/{comment}")
def take_back(number: Number, comment: Number, ctx: SignedIn) -> Done:
    """Takes one's own comment back."""
    talk.take_back(ctx, number, comment)
    return Done()


@router.put("/ideas/{number}/voice")
def join(number: Number, given: JoinIn, ctx: SignedIn) -> Done:
    """Joins an idea instead of repeating it."""
    volume = given.volume.model_dump() if given.volume else None
    talk.join(ctx, number, volume, given.note, given.draft)
    return Done()


@router.delete("/ideas/{number}/voice")
def leave(number: Number, ctx: SignedIn) -> Done:
    """Takes one's voice back."""
    talk.leave(ctx, number)
    return Done()


@router.put("/ideas/{number}/follow")
def follow(number: Number, given: FollowIn, ctx: SignedIn) -> Done:
    """Hears of an idea, or no more."""
    talk.follow(ctx, number, given.on)
    return Done()
