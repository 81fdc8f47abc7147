"""Who helped most, and what the house counts for it."""

from __future__ import annotations

from typing import Annotated

from fastapi import Query
from pydantic import Field

from tallyman.api.common import BySelf, In, Made, SignedIn, Text, VersionSeen
from tallyman.api.routing import Routes
from tallyman.services.today import helped
from tallyman.services.today.answers_of_helped import HelpedOut, HelpedRuleOut

router = Routes(tags=["ideas"])
Month = Annotated[str | None, Query(max_length=7, description="such as 2026-11")]


class WeightsIn(In):
    """What one of each kind counts, and why that changes."""

    weights: Annotated[dict[str, str], Field(max_length=20)]
    note: Text


@router.get("/thanks/ranking")
def who_helped_most(
    ctx: BySelf,
    first: Month = None,
    last: Month = None,
    by: Annotated[str, Query(max_length=20, description="person, group or division")] = "person",
) -> HelpedOut:
    """Who helped most over some months."""
    return helped.ranking(ctx, first, last, by)


@router.get("/rules/helped")
def weights(ctx: SignedIn) -> HelpedRuleOut:
    """What the house counts for help."""
    return helped.rule(ctx)


@router.put("/rules/helped")
def keep_weights(given: WeightsIn, ctx: SignedIn, version: VersionSeen) -> Made:
    """A new version of what the house counts for help."""
    return Made(id=helped.keep_rule(ctx, given.weights, given.note, version))
