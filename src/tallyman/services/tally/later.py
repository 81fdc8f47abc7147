"""What ended is posted to the tally by the engine, soon after."""

from __future__ import annotations

from tallyman.services.context import Ctx, effect
from tallyman.store.db import Tx

# The kind of effect by which the entries of a run are posted.
POST = "tally"


def post_later(tx: Tx, ctx: Ctx, run_id: int) -> None:
    """Has the entries of an ended run posted, or posted anew."""
    effect(tx, ctx, POST, f"run:{run_id}", run=run_id)
