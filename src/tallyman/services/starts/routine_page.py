"""A routine's page: what it is made of, what it needs, and what starts it."""

from __future__ import annotations

from dataclasses import fields

from tallyman.services import selfservice
from tallyman.services.context import Ctx, in_transaction
from tallyman.services.starts import triggers
from tallyman.services.starts.answers import Routine
from tallyman.services.workshop import routines
from tallyman.store.db import Tx


@in_transaction
def one(tx: Tx, ctx: Ctx, routine_id: int) -> Routine:
    """A routine as its page shows it."""
    ctx.require("routine.see")
    row = routines.find_for(tx, ctx, routine_id)
    parts = routines.shown(tx, ctx, row)
    return Routine(
        **{one.name: getattr(parts, one.name) for one in fields(parts)},
        triggers=triggers.rows_of(tx, ctx, routine_id),
        ended=triggers.ended_of(tx, routine_id),
        published=selfservice.of_routine(tx, ctx, routine_id),
    )
