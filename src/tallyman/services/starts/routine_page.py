"""A routine's page: what it is made of, what it needs, and what starts it."""

from __future__ import annotations

from typing import Any

from tallyman.services.context import Ctx
from tallyman.services.starts import triggers
from tallyman.services.workshop import routines
from tallyman.store.db import Tx


def one(ctx: Ctx, routine_id: int) -> dict[str, Any]:
    """A routine as its page shows it."""
    ctx.require("routine.see")

    def work(tx: Tx) -> dict[str, Any]:
        row = routines.find_for(tx, ctx, routine_id)
        return {**routines.shown(tx, ctx, row), "triggers": triggers.rows_of(tx, ctx, routine_id)}

    return ctx.db.transact(work)
