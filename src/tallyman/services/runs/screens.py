"""Pictures of the screen when a run stalls: asked for where its area wants them, kept like its log."""

from __future__ import annotations

from collections.abc import Sequence

from tallyman.errors import Fault, InputFaults, NotFound
from tallyman.services.context import Ctx, audit, changed, in_transaction
from tallyman.services.robots import HostByToken
from tallyman.services.runs import uploads
from tallyman.services.runs.life import find
from tallyman.services.runs.reports import mine
from tallyman.store import files
from tallyman.store.db import Tx
from tallyman.store.records.runs import RunScreen, RunsOfHost

LARGEST = 5_000_000
PNG = b"\x89PNG\r\n\x1a\n"
NONE = NotFound("There is no picture of this run's screen.", "Look at its log.")


def wanted(tx: Tx, working: Sequence[RunsOfHost]) -> list[int]:
    """Of which runs of a host the runner is to take a picture now."""
    stalled = tuple(row.id for row in working if row.stalled_at is not None)
    # Hardly any run is stalled; a heartbeat asks nothing then.
    return tx.values(int, "screens.wanted", ids=stalled) if stalled else []


@in_transaction
def keep(tx: Tx, ctx: Ctx, host: HostByToken, run_id: int, fence: int, digest: str | None, said: str) -> None:
    """The picture that a runner took, sent before by its digest, or (None) why it could take none.

    What nobody asked for any more changes nothing. Raises InputFaults for what is no picture.
    """
    run, _ = mine(tx, host, run_id, fence)
    if run.fence != fence or not tx.values(int, "screens.wanted", ids=(run_id,)):
        return
    if digest is not None:
        _check(tx, host, digest)
    tx.write("screens.keep", run=run_id, digest=digest, said=said[:300], now=ctx.now)
    words = "Took a picture of its screen" if digest else f"No picture of its screen: {said[:200]}"
    audit(tx, ctx, "screen pictured", f"run:{run_id}", words)
    changed(tx, ctx, "runs", run_id)


def _check(tx: Tx, host: HostByToken, digest: str) -> None:
    size = uploads.sent_by(tx, host, digest)
    data = files.get(tx, digest) if size is not None and size <= LARGEST else None
    if data is None or not data.startswith(PNG):
        message = f"send a PNG of at most {LARGEST // 1_000_000} MB first, then say its digest"
        raise InputFaults([Fault("digest", digest, message)])


@in_transaction
def picture(tx: Tx, ctx: Ctx, run_id: int) -> bytes:
    """The picture of a run's screen as PNG, for whoever may read its log."""
    ctx.require("run.see")
    find(tx, ctx, run_id)
    row = tx.one(RunScreen, "screens.of_run", run=run_id)
    data = files.get(tx, row.digest) if row is not None and row.digest is not None else None
    if data is None:
        raise NONE
    return data
