"""Units that no routine counts: by hand, by a list, by a program."""

from __future__ import annotations

from datetime import date
from typing import Annotated

from pydantic import Field

from tallyman.api.common import Done, In, Made, Number, SignedIn, StartKey, Text
from tallyman.api.routing import Routes
from tallyman.services import tally
from tallyman.services.tally.answers import CountLine, HandCounts

router = Routes(tags=["value"])


class CountIn(In):
    """Units of a span of days within one month, and where they come from."""

    first: date
    last: date
    units: object
    evidence: Text


class CountChange(In):
    """What a count is by now, and why it changed."""

    units: object
    evidence: Text
    why: Text


class CountWhy(In):
    """Why a count was none."""

    why: Text


class CountList(In):
    """A list of counts as CSV: month, or from and to; units; evidence."""

    text: Annotated[str, Field(max_length=1_000_000)]


@router.get("/ideas/{number}/counts")
def counted_by_hand(number: Number, ctx: SignedIn) -> HandCounts:
    """What was counted by hand of an idea."""
    return tally.counts.shown(ctx, number)


@router.post("/ideas/{number}/counts", status_code=201)
def count_by_hand(number: Number, given: CountIn, ctx: SignedIn, key: StartKey) -> Made:
    """Gives units of a span of days that no routine counts."""
    count = tally.counts.Given(given.first, given.last, given.units, given.evidence)
    return Made(id=tally.counts.add(ctx, number, count, key))


@router.post("/ideas/{number}/counts/list/look")
def look_at_counts(number: Number, given: CountList, ctx: SignedIn) -> list[CountLine]:
    """What a list of counts would do, line by line; nothing is kept."""
    return tally.counts.bring(ctx, number, given.text.encode(), keep=False)


@router.post("/ideas/{number}/counts/list")
def bring_counts(number: Number, given: CountList, ctx: SignedIn) -> list[CountLine]:
    """Keeps the lines of a list of counts that fit; the same list again adds nothing."""
    return tally.counts.bring(ctx, number, given.text.encode(), keep=True)


@router.put("/counts/{number}")
def change_count(number: Number, given: CountChange, ctx: SignedIn) -> Done:
    """Says that a count was another."""
    tally.counts.change(ctx, number, given.units, given.evidence, given.why)
    return Done()


@router.post("/counts/{number}/take-back")
def take_count_back(number: Number, given: CountWhy, ctx: SignedIn) -> Done:
    """Says that a count was none."""
    tally.counts.take_back(ctx, number, given.why)
    return Done()
