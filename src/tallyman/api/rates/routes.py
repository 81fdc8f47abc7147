"""Dated rates: listed, proposed, settled."""

from __future__ import annotations

from datetime import date, datetime
from decimal import Decimal
from typing import Annotated, Any

from fastapi import APIRouter
from pydantic import Field

from tallyman.api.common import MOST, Done, In, Made, Model, Number, SignedIn
from tallyman.services.rates import rates

router = APIRouter(tags=["value"])


class Rate(Model):
    """A dated rate."""

    id: int
    kind: str
    name: str
    unit: str
    idea_id: int
    idea: str | None
    group: str
    what: str
    division_id: int
    division: str | None
    value: Decimal
    since: date
    state: str
    source: str
    proposer: str
    approver: str | None
    approved_at: datetime | None
    may_approve: bool


class RateKind(Model):
    """A kind of rate that the house sets: its unit, what its rows may be for, whether cases need it."""

    kind: str
    name: str
    unit: str
    by: str
    needs_by: bool
    divided: bool
    needed: bool
    group: str


class NewRate(In):
    """A rate to propose."""

    kind: Annotated[str, Field(max_length=40)]
    value: Any
    since: date
    source: Annotated[str, Field(max_length=300)]
    idea_id: Annotated[int, Field(ge=0, le=MOST)] = 0
    what: Annotated[str, Field(max_length=60)] = ""
    division_id: Annotated[int, Field(ge=0, le=MOST)] = 0


class SettleRate(In):
    """Approves or refuses a rate."""

    approved: bool


@router.get("/rates")
def listed(ctx: SignedIn) -> list[Rate]:
    """All dated rates."""
    return [Rate.model_validate(row) for row in rates.listed(ctx)]


@router.get("/rates/kinds")
def rate_kinds(ctx: SignedIn) -> list[RateKind]:
    """The kinds of rates that the house sets."""
    return [RateKind.model_validate(row) for row in rates.kinds(ctx)]


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
