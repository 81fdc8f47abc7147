"""What runs leave behind, of no more use after a while; and what releases before left open."""

from __future__ import annotations

from collections.abc import Callable
from datetime import timedelta

from tallyman.services.context import Ctx
from tallyman.services.runs import uploads
from tallyman.store.db import Tx

ASKS_KEPT = timedelta(days=1)
TIDIED: dict[str, Callable[[Tx, Ctx], object]] = {
    "asks": lambda tx, ctx: tx.write("runs.prune_asks", before=ctx.now - ASKS_KEPT),
    "uploads": uploads.tidy,
}


def repair(ctx: Ctx) -> int:
    """Mends what processes of releases before left behind; gives how many rows. Asked when an engine starts,
    as engines are replaced last."""
    return ctx.db.transact(lambda tx: tx.write("runs.close_segments"))
