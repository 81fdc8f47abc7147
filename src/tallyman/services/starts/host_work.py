"""What a host did of late, and what starts within a day that its robots may take."""

from __future__ import annotations

from datetime import timedelta

from tallyman.services import robots
from tallyman.services.context import Ctx, in_transaction
from tallyman.services.starts.answers import HostComing, HostPast, HostWork
from tallyman.store.db import Tx
from tallyman.store.records.starts import ComingTrigger, HostRuns

AHEAD, BACK = timedelta(hours=24), timedelta(days=7)
SHOWN = 12


def view(ctx: Ctx, host_id: int) -> HostWork:
    """The latest runs on a host, and the coming starts. Raises NotFound for a host that is not there."""
    robots.check_seen(ctx, "host", host_id)
    return _view(ctx, host_id)


@in_transaction
def _view(tx: Tx, ctx: Ctx, host_id: int) -> HostWork:
    given = {"host": host_id, "since": ctx.now - BACK, "limit": SHOWN + 1, **ctx.scope("run.see")}
    past = tx.all(HostRuns, "triggers.runs_of_host", **given)
    takers = robots.takers_on(tx, host_id)
    within = tx.all(ComingTrigger, "triggers.within", until=ctx.now + AHEAD)
    coming = [row for row in within if row.routine_id in takers]
    seen = [row for row in coming if ctx.actor.may_at("routine.see", row.area_id)]
    shown = seen[:SHOWN]
    return HostWork(
        past=[
            HostPast(
                run_id=row.id,
                routine=row.routine,
                robot=row.robot,
                state=row.state,
                started_at=row.started_at,
                ended_at=row.ended_at,
            )
            for row in past[:SHOWN]
        ],
        past_more=len(past) > SHOWN,
        coming=[
            HostComing(one.routine_id, one.routine, one.next_at, takers[one.routine_id]) for one in shown
        ],
        more=len(seen) - len(shown),
        unseen=len(coming) - len(seen),
        now=ctx.now,
    )
