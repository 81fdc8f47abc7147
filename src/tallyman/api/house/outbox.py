"""The outbox."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated

from fastapi import APIRouter, Query

from tallyman.api.common import Model, SignedIn
from tallyman.services.house import outbox

router = APIRouter(prefix="/mails", tags=["mails"])


class MailRow(Model):
    """A mail: to whom, about what, when it left and what the mail server answered."""

    id: int
    to_address: str
    person: str | None
    subject: str
    kind: str
    made_at: datetime
    sent_at: datetime | None
    due_at: datetime
    tries: int
    answer: str | None


class MailPage(Model):
    """A page of the outbox."""

    rows: list[MailRow]
    next: str | None


@router.get("")
def page(
    ctx: SignedIn,
    text: Annotated[str | None, Query(max_length=100)] = None,
    waiting: bool = False,
    after: Annotated[str | None, Query(max_length=200)] = None,
    limit: Annotated[int, Query(ge=1, le=200)] = 50,
) -> MailPage:
    """What was sent to whom, the newest first."""
    return MailPage.model_validate(outbox.page(ctx, text, waiting, after, limit))
