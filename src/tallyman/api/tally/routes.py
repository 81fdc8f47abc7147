"""Value: promised against delivered, entries, months, counts."""

from __future__ import annotations

from typing import Annotated

from fastapi import Path, Query
from pydantic import Field

from tallyman.api.common import MOST, Done, In, Number, SignedIn, VersionSeen
from tallyman.api.routing import Routes
from tallyman.services import tally
from tallyman.services.tally.answers import (
    CountsOut,
    Entries,
    IdeaTally,
    MonthLook,
    Overview,
)

router = Routes(tags=["value"])
Month = Annotated[str, Path(pattern=r"^20\d\d-(0[1-9]|1[0-2])$")]


class Correction(In):
    """What a run is to be counted as, and why."""

    units: object
    handed_back: object = 0
    why: Annotated[str, Field(max_length=2000)]


@router.get("/value")
def overview(ctx: SignedIn) -> Overview:
    """Promised against delivered over all ideas."""
    return tally.overview(ctx)


@router.get("/value/ideas/{number}")
def of_idea(number: Number, ctx: SignedIn) -> IdeaTally:
    """An idea's months."""
    return tally.of_idea(ctx, number)


@router.get("/value/ideas/{number}/{month}")
def entries(
    number: Number, month: Month, ctx: SignedIn, after: Annotated[int, Query(ge=0, le=MOST)] = 0
) -> Entries:
    """The entries of an idea in a month."""
    return tally.entries(ctx, number, month, after)


@router.get("/value/months/{month}")
def month_before_closing(month: Month, ctx: SignedIn) -> MonthLook:
    """A month as it would be signed."""
    return tally.closing.look(ctx, month)


@router.post("/value/months/{month}/close")
def close_month(month: Month, ctx: SignedIn) -> Done:
    """Closes a month by name."""
    tally.close_month(ctx, month)
    return Done()


class CountsIn(In):
    """What is to become of counts far from a routine's usual."""

    unusual: Annotated[str, Field(max_length=20)]


@router.get("/value/counts")
def counts(ctx: SignedIn) -> CountsOut:
    """What becomes of counts far from the usual."""
    return tally.unusual.shown(ctx)


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
