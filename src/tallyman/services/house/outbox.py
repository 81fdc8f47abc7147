"""The outbox: what was sent to whom, when, with what answer. Bodies are not shown: some are private."""

from __future__ import annotations

from typing import Any

from tallyman.services.context import Ctx
from tallyman.store import lists
from tallyman.store.db import Tx


def page(ctx: Ctx, text: str | None, waiting: bool, after: str | None, limit: int) -> dict[str, Any]:
    """One page of the outbox, the newest first."""
    ctx.require("mail.see")

    def work(tx: Tx) -> dict[str, Any]:
        filters = {"text": lists.like(text) if text else None, "waiting": True if waiting else None}
        rows, following = lists.page(tx, lists.MAILS, filters, "newest", after, limit)
        return {"rows": rows, "next": following}

    return ctx.db.transact(work)
