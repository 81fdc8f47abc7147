"""What is of no more use goes, each kind by itself."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from datetime import timedelta
from functools import partial

from tallyman.services.context import Ctx
from tallyman.services.upkeep import errands, hitches
from tallyman.services.upkeep.hitches import Rows, Work
from tallyman.store.db import Tx

TIDY = Work("tidy", "throwing away what is of no more use")

FORGOTTEN_AFTER = timedelta(hours=1)
HINTS_KEPT = timedelta(minutes=15)
ThrowAway = Callable[[Tx, Ctx], object]

# What upkeep itself leaves behind.
TIDIED: dict[str, ThrowAway] = {
    "hints": lambda tx, ctx: tx.write("common.prune_changes", before=ctx.now - HINTS_KEPT),
    "marks": lambda tx, ctx: tx.write("common.prune_marks"),
    "processes": lambda tx, ctx: tx.write("health.forget", before=ctx.now - FORGOTTEN_AFTER),
    "hitches": hitches.tidy,
    "files of errands": errands.tidy,
}


def tidy(ctx: Ctx, tidied: Mapping[str, ThrowAway]) -> None:
    """Throws away what `tidied` names, one kind after the other."""
    turn = Rows(ctx, TIDY)
    for name, throw_away in tidied.items():
        turn.go(name, partial(_throw_away, ctx, throw_away), about=name)


def _throw_away(ctx: Ctx, throw_away: ThrowAway) -> None:
    ctx.db.transact(lambda tx: throw_away(tx, ctx))
