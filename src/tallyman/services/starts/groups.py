"""Runs that were started together, as one page: how they stand, and taking back what waits."""

from __future__ import annotations

from collections import Counter

from tallyman.errors import NotFound, Refused
from tallyman.services import runs
from tallyman.services.context import Ctx, audit, in_transaction, unseen
from tallyman.services.starts.answers import GroupView
from tallyman.services.starts.by_hand import refused_of
from tallyman.store.db import Tx
from tallyman.store.records.runs import LockedRun
from tallyman.store.records.starts import GroupRun, RunGroup

MISSING = NotFound("There are no such runs.", "Look at the runs of the routine.")


def _find(tx: Tx, ctx: Ctx, group_id: int) -> RunGroup:
    ctx.require("run.see")
    row = tx.one(RunGroup, "groups.one", id=group_id)
    if row is None or not ctx.actor.may_at("run.see", row.area_id):
        raise unseen(ctx, "run.see", row is not None, MISSING)
    return row


@in_transaction
def view(tx: Tx, ctx: Ctx, group_id: int) -> GroupView:
    """A group of runs as its page shows it."""
    row = _find(tx, ctx, group_id)
    found = tx.all(GroupRun, "groups.runs", id=row.id)
    waiting = len(tx.values(int, "groups.waiting", id=row.id))
    return GroupView(
        id=row.id,
        routine_id=row.routine_id,
        routine=row.routine,
        area=row.area,
        words=row.words,
        made_at=row.made_at,
        person=row.person,
        runs=found,
        counts=dict(Counter(one.state for one in found)),
        refused=refused_of(row.refused),
        waiting=waiting,
        may_cancel=waiting > 0 and ctx.actor.may_at("run.change", row.area_id),
        now=ctx.now,
    )


@in_transaction
def cancel(tx: Tx, ctx: Ctx, group_id: int) -> int:
    """Cancels the runs of a group that nothing began yet; gives how many. Raises Refused where none waits."""
    row = _find(tx, ctx, group_id)
    ctx.require_at("run.change", row.area_id)
    done = 0
    for run_id in tx.values(int, "groups.waiting", id=row.id):
        run = tx.one(LockedRun, "runs.lock", id=run_id)
        # Another one may have begun it since it was looked for.
        if run is not None and run.state == "waiting" and run.started_at is None:
            runs.cancel_locked(tx, ctx, run)
            done += 1
    if not done:
        raise Refused("None of these runs waits any more.", "Look at them one by one.")
    words = f"Cancelled {done} runs that waited, of those started together"
    audit(tx, ctx, "runs cancelled", f"routine:{row.routine_id}", words, None, {"group": row.id})
    return done
