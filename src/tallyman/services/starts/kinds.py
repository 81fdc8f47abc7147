"""The kinds of triggers there are."""

from __future__ import annotations

from tallyman.services.context import Ctx
from tallyman.services.starts import starting
from tallyman.services.starts.clock import CLOCK

KINDS = {one.name: one for one in (CLOCK,)}


def start_due(ctx: Ctx) -> int:
    """Starts what is due by any kind of trigger. Gives how many runs were made."""
    return starting.start_due(ctx, KINDS)
