"""Today: what waits for me, what went wrong, what comes next."""

from __future__ import annotations

from tallyman.api.common import BySelf
from tallyman.api.routing import Routes
from tallyman.services.today import desk
from tallyman.services.today.answers import Today

router = Routes(tags=["today"])


@router.get("/today")
def view(ctx: BySelf) -> Today:
    """The start page of the signed-in person."""
    return desk.view(ctx)
