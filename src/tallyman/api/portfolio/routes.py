"""The decision: ideas ranked by worth and effort."""

from __future__ import annotations

from tallyman.api.common import SignedIn
from tallyman.api.routing import Routes
from tallyman.services.portfolio import ranking
from tallyman.services.portfolio.answers import Portfolio

router = Routes(tags=["ideas"])


@router.get("/portfolio")
def portfolio_view(ctx: SignedIn) -> Portfolio:
    """Ideas ranked by worth and effort."""
    return ranking.view(ctx)
