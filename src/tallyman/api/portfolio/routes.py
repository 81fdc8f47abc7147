"""The decision: ideas ranked by worth and effort."""

from __future__ import annotations

from fastapi import APIRouter

from tallyman.api.common import SignedIn
from tallyman.services.portfolio import ranking
from tallyman.services.portfolio.answers import Portfolio

router = APIRouter(tags=["ideas"])


@router.get("/portfolio")
def portfolio_view(ctx: SignedIn) -> Portfolio:
    """Ideas ranked by worth and effort."""
    return ranking.view(ctx)
