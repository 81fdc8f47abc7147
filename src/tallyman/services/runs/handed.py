"""Files that runs handed over, for whoever may see the run."""

from __future__ import annotations

from tallyman.errors import NotFound
from tallyman.services.context import Ctx, in_transaction
from tallyman.services.runs.life import find
from tallyman.store import files
from tallyman.store.db import Tx
from tallyman.store.records.runs import HandedFile


@in_transaction
def file(tx: Tx, ctx: Ctx, run_id: int, file_id: int) -> tuple[str, bytes]:
    """A file that a run handed over: its name and what is in it. Raises NotFound."""
    ctx.require("run.see")
    find(tx, ctx, run_id)
    return of_run(tx, run_id, file_id)


def of_run(tx: Tx, run_id: int, file_id: int) -> tuple[str, bytes]:
    """The same, for whoever was found to see the run."""
    row = tx.one(HandedFile, "handed.one", run=run_id, id=file_id)
    data = None if row is None else files.get(tx, row.digest)
    if row is None or data is None:
        raise NotFound("This run handed over no such file.", "Choose one on its page.")
    return row.name, data
