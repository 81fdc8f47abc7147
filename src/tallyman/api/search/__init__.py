"""The routes about finding: search, and the pages that one may open."""

from __future__ import annotations

from typing import Annotated

from fastapi import Query

from tallyman.api.common import BySelf
from tallyman.api.routing import Routes
from tallyman.services.search import everything, places
from tallyman.services.search.answers import Hits, Places

router = Routes(tags=["search"])


@router.get("/search")
def find(
    ctx: BySelf,
    words: Annotated[str, Query(max_length=200)] = "",
    limit: Annotated[int, Query(ge=1, le=100)] = 12,
) -> Hits:
    """Whatever has a name or number, within what one may see; the nearest first."""
    return everything.find(ctx, words, limit)


@router.get("/places")
def mine(ctx: BySelf) -> Places:
    """The sections and house rules that one may open."""
    return places.mine(ctx)


__all__ = ["router"]
