"""What sign-ins leave behind, of no more use after a while."""

from __future__ import annotations

from collections.abc import Callable
from datetime import timedelta

from tallyman.services.context import Ctx
from tallyman.store.db import Tx

TRIES_KEPT = timedelta(days=1)
TIDIED: dict[str, Callable[[Tx, Ctx], object]] = {
    "sessions": lambda tx, ctx: tx.write("people.prune_sessions", now=ctx.now),
    "tries": lambda tx, ctx: tx.write("people.prune_tries", before=ctx.now - TRIES_KEPT),
    "sign-ins": lambda tx, ctx: tx.write("second_factor.prune_steps", now=ctx.now),
    "sign-ins outside": lambda tx, ctx: tx.write("single_sign_on.prune", now=ctx.now),
}
