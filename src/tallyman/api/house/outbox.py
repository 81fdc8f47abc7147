"""The outbox."""

from __future__ import annotations

from typing import Annotated

from fastapi import Query

from tallyman.api.common import SignedIn
from tallyman.api.routing import Routes
from tallyman.services.house import outbox
from tallyman.services.house.answers import MailPage

router = Routes(prefix="/mails", tags=["mails"])


@router.get("")
def page(
    ctx: SignedIn,
    text: Annotated[str | None, Query(max_length=100)] = None,
    waiting: bool = False,
    after: Annotated[str | None, Query(max_length=200)] = None,
    limit: Annotated[int, Query(ge=1, le=200)] = 50,
) -> MailPage:
    """What was sent to whom, the newest first."""
    return outbox.page(ctx, text, waiting, after, limit)
