"""Outcomes that come after a run was given up as lost: for a while they count, then a person decides."""

from __future__ import annotations

from datetime import timedelta

from tallyman.core.alerts import kinds
from tallyman.errors import Refused
from tallyman.services.alerts import tell
from tallyman.services.context import Ctx, audit, changed, in_transaction
from tallyman.services.runs.life import find, finish, ref
from tallyman.store.db import Tx
from tallyman.store.records.runs import LockedRun, Run, RunsLate

COUNTS_FOR = timedelta(minutes=30)
CAME_LATE = "(its outcome came late, after it was given up as lost)"


def is_too_late(ctx: Ctx, run: LockedRun) -> bool:
    """Whether so much time went by since a run was lost that a person must say whether its outcome counts."""
    return run.ended_at is not None and ctx.now - run.ended_at > COUNTS_FOR


def keep(tx: Tx, ctx: Ctx, run: LockedRun, outcome: dict[str, object]) -> None:
    """Keeps an outcome that came too late, once, and asks those who look after runs there."""
    if not tx.write("runs.keep_late", id=run.id, fence=run.fence, late=outcome, now=ctx.now):
        return
    whole = tx.one(Run, "runs.one", id=run.id)
    assert whole is not None
    tell(tx, ctx, kinds.LATE_OUTCOME, whole, routine=whole.routine)
    changed(tx, ctx, "runs", run.id)


@in_transaction
def decide(tx: Tx, ctx: Ctx, run_id: int, counts: bool) -> str:
    """Says whether a late outcome counts; gives the run's state now. Raises Refused if none waits."""
    ctx.require("run.change")
    find(tx, ctx, run_id, "run.change")
    run = tx.one(RunsLate, "runs.late", id=run_id)
    if run is None or run.late is None or run.state != "lost":
        raise Refused(f"No late outcome of {ref(run_id)} waits for a decision.", "Load the page again.")
    if counts and tx.value(int, "runs.later_attempt", id=run_id) is not None:
        raise Refused("A later attempt was made, which counts instead.", "Leave this one out.")
    kept, by = run.late, ctx.actor.name
    words = f"{by} let its late outcome {'count' if counts else 'not count'}"
    if counts:
        finish(
            tx,
            ctx,
            run,
            kept["state"],
            outcome=kept["outcome"],
            reason=f"{kept['reason']} {CAME_LATE}; {words}".strip(),
            outputs=kept["outputs"],
            counts=kept["counts"],
        )
    else:
        tx.write("runs.drop_late", id=run_id, reason=f"lost; {words}", now=ctx.now)
        changed(tx, ctx, "runs", run_id)
    audit(tx, ctx, "late outcome decided", f"run:{run_id}", words, None, kept)
    return str(kept["state"]) if counts else "lost"
