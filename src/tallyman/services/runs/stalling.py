"""Stalled runs: called so by what runners say with each heartbeat, told once, seen until they go on."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from datetime import timedelta

from tallyman.core.alerts import kinds
from tallyman.core.runs import stalling
from tallyman.core.said import minutes_said
from tallyman.services.alerts import tell
from tallyman.services.context import Ctx, audit, changed
from tallyman.store.db import Tx
from tallyman.store.records.runs import Run, RunsOfHost, StallingNow


def bound_of(tx: Tx, routine_id: int) -> stalling.Bound:
    """After how much silence runs of a routine count as stalled."""
    return stalling.bound(tx.values(int, "stalling.usual", routine=routine_id))


def heard(tx: Tx, ctx: Ctx, working: Iterable[RunsOfHost], quiet: Mapping[int, int]) -> None:
    """What a heartbeat says of the silence of the runs that its runner works on, in seconds for each."""
    for row in working:
        seconds = timedelta(seconds=quiet.get(row.id, 0))
        # Most runs are lively most of the time; that must cost nothing.
        if row.stalled_at is None and seconds < stalling.LEAST:
            continue
        bound = bound_of(tx, row.routine_id)
        if seconds < bound.after:
            _goes_on(tx, ctx, row)
        elif row.stalled_at is None:
            _stalls(tx, ctx, row, seconds, bound)


def _goes_on(tx: Tx, ctx: Ctx, row: RunsOfHost) -> None:
    if row.stalled_at is not None and tx.write("stalling.goes_on", id=row.id, now=ctx.now):
        audit(tx, ctx, "run goes on", f"run:{row.id}", "It gives signs again; it is not stalled any more")
        changed(tx, ctx, "runs", row.id)


def _stalls(tx: Tx, ctx: Ctx, row: RunsOfHost, seconds: timedelta, bound: stalling.Bound) -> None:
    if not tx.write("stalling.stalls", id=row.id, since=ctx.now - seconds, now=ctx.now):
        return
    run = tx.one(Run, "runs.one", id=row.id)
    assert run is not None
    quiet = minutes_said(seconds)
    audit(tx, ctx, "run stalled", f"run:{row.id}", f"It reports nothing and uses no processor for {quiet}")
    said = {"routine": run.routine, "quiet": quiet, "bound": minutes_said(bound.after)}
    tell(tx, ctx, kinds.RUN_STALLED, {"id": run.id, "area_id": run.area_id}, **said)
    changed(tx, ctx, "runs", row.id)


def stalled_now(tx: Tx, ctx: Ctx) -> list[StallingNow]:
    """The runs that are stalled now, as far as the actor may see them."""
    return tx.all(StallingNow, "stalling.now", **ctx.scope("run.see"))
