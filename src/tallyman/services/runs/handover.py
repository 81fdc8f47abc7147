"""Between claim and begin: a run is handed to a runner, which says that it begins, or it is taken back.

A claim alone starts nothing: who asked may be dead by then. Until its runner begins it, a run still
waits; what is not begun within seconds waits again as if nothing had been, without an attempt used.
"""

from __future__ import annotations

from datetime import timedelta

import structlog

from tallyman.errors import NotFound
from tallyman.services.context import Ctx, changed, in_transaction
from tallyman.services.robots import slots
from tallyman.services.runs.life import lose
from tallyman.services.upkeep import Work, each
from tallyman.store.db import Tx
from tallyman.store.records.robots import HostByToken
from tallyman.store.records.runs import LockedRun, RunsHandedTooLong, RunsOfHost

HANDED = Work("handed", "taking back a run that no runner began")

log = structlog.get_logger()
BEGINS_WITHIN = timedelta(seconds=10)


def begin_in(tx: Tx, ctx: Ctx, host: HostByToken, run_id: int, fence: int) -> None:
    """The runner begins what it was handed; said again, it changes nothing.

    Raises NotFound when the run is not this claim's any more.
    """
    mine = {"id": run_id, "fence": fence, "host": host.id, "now": ctx.now}
    if tx.write("runs.begin", **mine):
        tx.write("runs.begin_segment", run=run_id, now=ctx.now)
        changed(tx, ctx, "runs", run_id)
        return
    run = tx.one(LockedRun, "runs.lock", id=run_id)
    known = run is not None and (run.fence, run.host_id, run.state) == (fence, host.id, "running")
    if not known:
        raise NotFound("This run was taken back, or is not this host's.", "Drop it, and ask for work.")


def begin(ctx: Ctx, host: HostByToken, run_id: int, fence: int) -> None:
    """As `begin_in`, in a transaction of its own."""
    ctx.db.transact(lambda tx: begin_in(tx, ctx, host, run_id, fence))


@in_transaction
def give_back(tx: Tx, ctx: Ctx, host: HostByToken, run_id: int, fence: int) -> None:
    """A runner that will not begin what it was handed gives it back at once."""
    run = tx.one(LockedRun, "runs.lock", id=run_id)
    if run is not None and run.host_id == host.id:
        take_back(tx, ctx, run_id, fence, "given back")


def take_back(tx: Tx, ctx: Ctx, run_id: int, fence: int, why: str) -> bool:
    """What was handed out and not begun waits again. Gives whether it did."""
    if not tx.write("runs.take_back", id=run_id, fence=fence, now=ctx.now):
        return False
    slots.free(tx, ctx, run_id)
    changed(tx, ctx, "runs", run_id)
    log.info("taken back", action="run.taken_back", run=run_id, fence=fence, why=why)
    return True


def take_back_late(ctx: Ctx) -> int:
    """Takes back what no runner began in time, each in a transaction of its own. Gives how many."""
    rows = ctx.db.transact(lambda tx: tx.all(RunsHandedTooLong, "runs.handed_too_long", now=ctx.now))
    return each(
        ctx,
        HANDED,
        rows,
        lambda tx, row: take_back(tx, ctx, row.id, row.fence, "not begun in time"),
        "run",
    )


def settle_with(tx: Tx, ctx: Ctx, host: HostByToken, held: set[tuple[int, int]], *, all_told: bool) -> None:
    """What a host was handed and does not know of is taken back.

    `all_told`: the runner has just started, so what it does not name as running is lost for good.
    """
    for row in tx.all(RunsHandedTooLong, "runs.handed_to", host=host.id):
        take_back(tx, ctx, row.id, row.fence, "its runner leaves, or knows nothing of it")
    if not all_told:
        return
    for run in tx.all(RunsOfHost, "runs.of_host", host=host.id):
        if (run.id, run.fence) not in held:
            over = ctx.now - timedelta(seconds=1)
            tx.write("runs.end_lease", id=run.id, fence=run.fence, over=over)
            words = f"the runner on {host.name} started again and knows nothing of it"
            lose(tx, ctx, run.id, words)
