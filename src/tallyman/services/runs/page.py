"""Runs as pages show them: the list, one run, its log."""

from __future__ import annotations

import json
import statistics
import zlib
from datetime import datetime, timedelta
from decimal import Decimal
from typing import Literal

from tallyman.core.free import FreeObject
from tallyman.core.runs import is_silent
from tallyman.services import tally
from tallyman.services.context import Ctx, in_transaction
from tallyman.services.runs import stalling
from tallyman.services.runs.answers import (
    Fix,
    Late,
    Log,
    LogLine,
    RunEntry,
    RunFile,
    RunMay,
    RunPage,
    RunProgress,
    RunRow,
    RunWhole,
    ScreenShown,
    Segment,
    Stalled,
)
from tallyman.services.runs.life import OPEN, find, waiting_reasons
from tallyman.store import lists
from tallyman.store.db import Tx
from tallyman.store.records.runs import (
    Run,
    RunsCountsByState,
    RunScreen,
    RunsCurrentSteps,
    RunsReports,
    RunsSegments,
    Step,
)
from tallyman.store.records.starts import RunCallBack
from tallyman.store.records.tally import TallyEntriesOfRun, TallyFixOfRun


@in_transaction
def page_of_runs(
    tx: Tx,
    ctx: Ctx,
    *,
    state: str | None,
    routine: int | None,
    robot: int | None,
    after: str | None,
    limit: int,
) -> RunPage:
    """One page of runs, the newest first; waiting ones say for what."""
    ctx.require("run.see")
    areas = ctx.actor.areas("run.see")
    filters: dict[str, object] = {"routine": routine, "robot": robot}
    if areas is not None:
        filters["in_areas"] = tuple(areas) or (0,)
    if state == "open":
        filters["states"] = OPEN
    elif state == "ended badly":
        filters["states"] = ("failed", "lost", "lapsed")
    else:
        filters["state"] = state
    rows, following = lists.page(tx, lists.RUNS, filters, "newest", after, limit)
    waiting = [row.id for row in rows if row.state == "waiting"]
    reasons = waiting_reasons(tx, ctx, waiting)
    running = [row.id for row in rows if row.state == "running"]
    steps = {
        row.run_id: row for row in tx.all(RunsCurrentSteps, "runs.current_steps", ids=tuple(running) or (0,))
    }
    shown = []
    for row in rows:
        reason = row.reason
        if row.id in reasons:
            reason = reasons[row.id].first
        elif row.id in steps:
            reason = f"step {steps[row.id].n}: {steps[row.id].name}"
        shown.append(
            RunRow(
                id=row.id,
                routine_id=row.routine_id,
                routine=row.routine,
                area=row.area,
                state=row.state,
                outcome=row.outcome,
                reason=reason,
                trial=row.trial,
                started_words=row.started_words,
                due_at=row.due_at,
                made_at=row.made_at,
                started_at=row.started_at,
                ended_at=row.ended_at,
                robot=row.robot,
                cancel_at=row.cancel_at,
                again_of=row.again_of,
            )
        )
    counts: dict[str, int] = {
        row.state: row.runs
        for row in tx.all(RunsCountsByState, "runs.counts_by_state", **ctx.scope("run.see"))
    }
    return RunPage(rows=shown, next=following, open=counts, now=ctx.now)


def log_lines(tx: Tx, run_id: int, after: int, limit: int) -> tuple[list[FreeObject], int]:
    """The log lines of a run after a line number, and how many there are. Only their batches are unpacked."""
    lines: list[FreeObject] = []
    for row in tx.all(RunsReports, "runs.reports", run=run_id, after=after, upto=after + limit):
        batch = enumerate(json.loads(zlib.decompress(row.lines_packed)), int(row.lines_before or 0) + 1)
        lines += [{"n": n, **line} for n, line in batch if after < n <= after + limit]
    return lines, int(tx.value(Decimal, "runs.lines_so_far", run=run_id) or 0)


def usual_seconds(tx: Tx, routine_id: int) -> int | None:
    """How long a routine's runs usually take: the median of its last good ones; None for fewer than three."""
    rows = tx.values(int, "runs.usual_minutes", routine=routine_id)
    return int(statistics.median(row for row in rows)) if len(rows) >= 3 else None


@in_transaction
def one(tx: Tx, ctx: Ctx, run_id: int) -> RunWhole:
    """A run as its page shows it: state, needs, steps, inputs, outputs, entries."""
    ctx.require("run.see")
    run = find(tx, ctx, run_id)
    waits = waiting_reasons(tx, ctx, [run_id]).get(run_id) if run.state == "waiting" else None
    entries = [
        RunEntry(
            id=one.id,
            idea_id=one.idea_id,
            line=one.line,
            month=one.month,
            units=one.units,
            hours=one.hours,
            money=one.money,
            kind=one.kind,
            why=one.why,
        )
        for one in tx.all(TallyEntriesOfRun, "tally.entries_of_run", run=run_id)
    ]
    idea_area = tx.value(int, "runs.idea_area", routine=run.routine_id)
    sees_value = ctx.actor.may_at("value.see", idea_area)
    of, of_link = _whose(run)
    return RunWhole(
        id=run.id,
        routine_id=run.routine_id,
        routine=run.routine,
        area=run.area,
        package=run.package,
        release_version=run.release_version,
        state=run.state,
        outcome=run.outcome,
        reason=run.reason,
        robot=run.robot,
        host=run.host,
        fence=run.fence,
        started_words=run.started_words,
        of=of,
        of_link=of_link,
        progress=RunProgress(**run.progress) if run.progress else None,
        call_back=tx.one(RunCallBack, "called.call_back_of", run=run_id),
        files=tx.all(RunFile, "handed.of_run", run=run_id),
        meant_for=run.meant_for,
        due_at=run.due_at,
        made_at=run.made_at,
        started_at=run.started_at,
        ended_at=run.ended_at,
        lease_until=run.lease_until,
        cancel_at=run.cancel_at,
        canceller=run.canceller,
        pause_at=run.pause_at,
        pauser=run.pauser,
        held_at=run.held_at,
        saved_at=run.saved_at,
        segment=run.segment,
        inputs=run.inputs,
        outputs=run.outputs,
        counts=run.counts,
        again_of=run.again_of,
        group_id=run.group_id,
        attempt=run.attempt,
        late_at=run.late_at,
        tried_again_as=run.tried_again_as,
        limit_minutes=run.limit_minutes,
        trial=bool(run.trial),
        waits_for=waits.first if waits else "",
        needs=waits.needs if waits else [],
        steps=tx.all(Step, "runs.steps", run=run_id),
        entries=entries if sees_value else [],
        caution=tx.value(str, "tally.caution_of_run", run=run_id) if sees_value else None,
        fix=_fix(tx, run_id) if sees_value else None,
        usual_seconds=usual_seconds(tx, run.routine_id),
        segments=[
            Segment(
                n=one.n,
                robot=one.robot,
                host=one.host,
                started_at=one.started_at,
                ended_at=one.ended_at,
                ended_as=one.ended_as,
            )
            for one in tx.all(RunsSegments, "runs.segments", run=run_id)
        ],
        stalled=_stalled(tx, run),
        screen=_screen(tx, run_id),
        silent_since=run.heard_at if run.state == "running" and is_silent(run.heard_at, ctx.now) else None,
        late=_late(run.late),
        unusual=tally.unusual.of_run(tx, run_id) if sees_value else None,
        may=_may(ctx, run, any(entry.idea_id for entry in entries), idea_area),
        now=ctx.now,
    )


def _whose(run: Run) -> tuple[Literal["routine", "robot", "release"], str]:
    """What a run is of, and its page: a trial run is its robot's, a try-out its release's."""
    if run.trial_of is not None:
        return "robot", f"/robots/{run.trial_of}"
    if run.tryout_of is not None:
        return "release", f"/workshop/releases/{run.tryout_of}"
    return "routine", f"/workshop/routines/{run.routine_id}"


def _stalled(tx: Tx, run: Run) -> Stalled | None:
    """Since when a run that works gives no sign, and what its routine may have of silence."""
    if run.state != "running" or run.stalled_at is None:
        return None
    bound = stalling.bound_of(tx, run.routine_id)
    return Stalled(run.stalled_at, int(bound.after.total_seconds()), bound.working())


def _screen(tx: Tx, run_id: int) -> ScreenShown | None:
    row = tx.one(RunScreen, "screens.of_run", run=run_id)
    return None if row is None else ScreenShown(row.at, row.digest is not None, row.said)


def _fix(tx: Tx, run_id: int) -> Fix | None:
    row = tx.one(TallyFixOfRun, "tally.fix_of_run", run=run_id)
    return None if row is None else Fix(**row.as_dict())


def _late(kept: FreeObject | None) -> Late | None:
    """A late outcome as the page shows it, without what it would give back."""
    if kept is None:
        return None
    return Late(kept["state"], kept["reason"], kept.get("outcome"), kept.get("counts") or {})


@in_transaction
def log(tx: Tx, ctx: Ctx, run_id: int, after: int) -> Log:
    """Log lines after a number, at most a thousand at once."""
    ctx.require("run.see")
    find(tx, ctx, run_id)
    lines, total = log_lines(tx, run_id, after, 1000)
    return Log(
        lines=[LogLine(**one | {"at": datetime.fromisoformat(one["at"])}) for one in lines], total=total
    )


def since_yesterday(ctx: Ctx) -> datetime:
    """From when on something counts as recent."""
    return ctx.now - timedelta(hours=24)


def _may(ctx: Ctx, run: Run, counted: bool, idea_area: int | None) -> RunMay:
    """What can be done with a run now; why it cannot be paused, if that is not plain."""
    allowed, state = ctx.actor.may_at("run.change", run.area_id), run.state
    why = ""
    if state == "running" and not run.checkpoints:
        why = f"{run.package} {run.release_version} has no checkpoints"
    elif state == "running" and run.cancel_at is not None:
        why = "it is being cancelled"
    return RunMay(
        cancel=allowed and state in OPEN and run.cancel_at is None,
        pause=allowed and state == "running" and not why and run.pause_at is None,
        why_no_pause=why,
        go_on=allowed and state == "held",
        start_again=state not in OPEN
        and _whose(run)[0] == "routine"
        and run.tried_again_as is None
        and ctx.actor.may_at("run.make", run.area_id),
        decide_late=allowed and state == "lost" and run.late is not None,
        say_right=ctx.actor.may_at("value.change", idea_area),
        correct=ctx.actor.may_at("value.change", idea_area) and bool(counted),
    )
