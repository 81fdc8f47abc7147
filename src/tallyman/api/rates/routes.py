"""Dated rates: listed, proposed, settled."""

from __future__ import annotations

from datetime import date
from typing import Annotated

from pydantic import Field

from tallyman.api.common import MOST, Done, In, Made, Number, SignedIn
from tallyman.api.routing import Routes
from tallyman.services.rates import rates
from tallyman.services.rates.answers import RateKind, RateRow

router = Routes(tags=["value"])


class NewRate(In):
    """A rate to propose."""

    kind: Annotated[str, Field(max_length=40)]
    value: object
    since: date
    source: Annotated[str, Field(max_length=300)]
    idea_id: Annotated[int, Field(ge=0, le=MOST)] = 0
    what: Annotated[str, Field(max_length=60)] = ""
    division_id: Annotated[int, Field(ge=0, le=MOST)] = 0


class SettleRate(In):
    """Approves or refuses a rate."""

    approved: bool


@router.get("/rates")
def listed(ctx: SignedIn) -> list[RateRow]:
    """All dated rates."""
    return rates.listed(ctx)


@router.get("/rates/kinds")
def rate_kinds(ctx: SignedIn) -> list[RateKind]:
    """The kinds of rates that the house sets."""
    return rates.kinds(ctx)


def _whom(given: NewRate) -> rates.Wanted:
    return rates.Wanted(given.idea_id, given.what, given.division_id)


@router.post("/rates", status_code=201)
def propose(given: NewRate, ctx: SignedIn) -> Made:
    """Proposes a rate."""
    rate = rates.propose(ctx, given.kind, given.value, given.since, given.source, _whom(given))
    return Made(id=rate)


@router.post("/rates/{number}/settle")
def settle(number: Number, given: SettleRate, ctx: SignedIn) -> Done:
    """Approves or refuses a rate."""
    rates.settle(ctx, number, given.approved)
    return Done()
