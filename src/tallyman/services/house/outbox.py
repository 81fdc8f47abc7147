"""The outbox: what was sent to whom, when, with what answer. Bodies are not shown: some are private."""

from __future__ import annotations

from tallyman.services.context import Ctx, in_transaction
from tallyman.services.house.answers import MailPage, MailRow
from tallyman.store import lists
from tallyman.store.db import Tx


@in_transaction
def page(tx: Tx, ctx: Ctx, text: str | None, waiting: bool, after: str | None, limit: int) -> MailPage:
    """One page of the outbox, the newest first."""
    ctx.require("mail.see")
    filters = {"text": lists.like(text) if text else None, "waiting": True if waiting else None}
    rows, following = lists.page(tx, lists.MAILS, filters, "newest", after, limit)
    return MailPage(rows=[MailRow(**row.as_dict()) for row in rows], next=following)
