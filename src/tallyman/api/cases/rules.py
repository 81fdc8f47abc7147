"""What the lead sets for cases: how seats are counted; and what other factors would do to sizings."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from tallyman.api.common import In, Made, Number, SignedIn, Text, VersionSeen
from tallyman.api.routing import Routes
from tallyman.services.cases import house_rule, other_factors
from tallyman.services.cases.answers_of_rules import CaseRuleOut, MovedSizings

router = Routes(prefix="/rules", tags=["rules"])
Rows = Annotated[dict[str, str | float], Field(max_length=40)]


class OtherFactors(In):
    """Other factors, to see what they would do to sizings."""

    content: Annotated[dict[str, Rows], Field(max_length=20)]


class CaseRuleSet(In):
    """A new version of how cases are reckoned."""

    seats: Annotated[str, Field(max_length=20)]
    note: Text


@router.post("/factors/preview/sizings", status_code=201)
def preview_sizings(given: OtherFactors, ctx: SignedIn) -> Made:
    """Begins to reckon what other factors would do to today's sizings; gives the errand."""
    return Made(id=other_factors.begin(ctx, given.content))


@router.get("/factors/preview/sizings/{number}")
def previewed_sizings(number: Number, ctx: SignedIn) -> MovedSizings:
    """What such an errand found so far."""
    return other_factors.found(ctx, number)


@router.get("/cases")
def case_rule(ctx: SignedIn) -> CaseRuleOut:
    """How cases are reckoned."""
    return house_rule.view(ctx)


@router.put("/cases")
def keep_case_rule(given: CaseRuleSet, ctx: SignedIn, version: VersionSeen) -> Made:
    """A new version of how cases are reckoned."""
    return Made(id=house_rule.keep(ctx, {"seats": given.seats}, given.note, version))
