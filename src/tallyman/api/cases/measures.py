"""Work before and after something was done about it, and what a measure is promised to bring."""

from __future__ import annotations

from datetime import date
from typing import Annotated, Literal

from pydantic import Field

from tallyman.api.common import Done, In, Number, SignedIn, Text
from tallyman.api.routing import Routes
from tallyman.services.cases import measures
from tallyman.services.cases.answers_of_measures import MeasureOut, PromiseLook

router = Routes(tags=["cases"])


class MeasuredIn(In):
    """What one took before or after, measured on how many, and how."""

    phase: Literal["before", "after"]
    minutes: object
    items: Annotated[int, Field(ge=1, le=1_000_000_000)] | None = None
    day: date
    evidence: Text


class MeasurePromise(In):
    """What a measure, or what ran already, is to bring; `seen`: the number of the promise that was shown."""

    volume_per_year: object
    minutes_before: object
    minutes_after: object
    once: object = "0"
    running: object = "0"
    go_live: date
    reason: Text = ""
    seen: Annotated[int, Field(ge=0, le=1000)] = 0

    def said(self) -> dict[str, object]:
        """The figures alone."""
        return self.model_dump(exclude={"go_live", "reason", "seen"})


@router.get("/ideas/{number}/measures")
def measured(number: Number, ctx: SignedIn) -> MeasureOut:
    """What was measured of an idea."""
    return measures.shown(ctx, number)


@router.post("/ideas/{number}/measures")
def measure(number: Number, given: MeasuredIn, ctx: SignedIn) -> Done:
    """Keeps what one took, before or after."""
    measures.note(ctx, number, given.phase, given.minutes, given.items, given.day, given.evidence)
    return Done()


@router.post("/ideas/{number}/measures/promise/look")
def look_at_promise(number: Number, given: MeasurePromise, ctx: SignedIn) -> PromiseLook:
    """What a promise of a measure would freeze."""
    return measures.look(ctx, number, given.said(), given.go_live)


@router.put("/ideas/{number}/measures/promise")
def promise_measure(number: Number, given: MeasurePromise, ctx: SignedIn) -> Done:
    """Freezes what a measure is to bring."""
    measures.promise(ctx, number, given.said(), given.go_live, given.reason, given.seen)
    return Done()
