"""What becomes of rates from a day that has begun."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from tallyman.api.common import In, Made, SignedIn, Text, VersionSeen
from tallyman.api.routing import Routes
from tallyman.services.tally import from_before
from tallyman.services.tally.answers import BeforeRule

router = Routes(prefix="/rules", tags=["rules"])


class BeforeIn(In):
    """A new version of what becomes of them."""

    from_before: Annotated[str, Field(max_length=20)]
    note: Text


@router.get("/rates")
def rule(ctx: SignedIn) -> BeforeRule:
    """What becomes of rates from before."""
    return from_before.view(ctx)


@router.put("/rates")
def keep(given: BeforeIn, ctx: SignedIn, version: VersionSeen) -> Made:
    """A new version of it."""
    return Made(id=from_before.keep(ctx, given.from_before, given.note, version))
