"""Telling of runs that came to no good end: at once, and for one routine no more than once an hour."""

from __future__ import annotations

from datetime import timedelta

from tallyman.core.alerts import kinds
from tallyman.services.alerts import tell
from tallyman.services.context import Ctx
from tallyman.store.db import Tx
from tallyman.store.records.runs import Run

# A routine that fails every minute is told of once; the rest is seen where the message leads.
QUIET = timedelta(hours=1)
TOLD = ("failed", "lost", "lapsed")
LONGEST_WHY = 240


def tell_of_end(tx: Tx, ctx: Ctx, run_id: int, state: str, reason: str) -> None:
    """Tells those who look after runs there that one failed, was lost or lapsed; trial runs are watched."""
    if state not in TOLD:
        return
    run = tx.one(Run, "runs.one", id=run_id)
    if run is None or run.trial:
        return
    told = {"object": f"routine:{run.routine_id}", "kind": kinds.RUN_ENDED_BADLY.key}
    if tx.value(int, "alerts.told_lately", **told, since=ctx.now - QUIET):
        return
    verb = {"failed": "failed", "lost": "was lost", "lapsed": "lapsed"}[state]
    why = reason if len(reason) <= LONGEST_WHY else reason[: LONGEST_WHY - 1] + "…"
    row = {"id": run.routine_id, "area_id": run.area_id}
    said = {"run": run_id, "routine": run.routine, "verb": verb, "why": why or "it gave no reason"}
    tell(tx, ctx, kinds.RUN_ENDED_BADLY, row, **said)
