"""Runs as pages show them: the list, one run, its log."""

from __future__ import annotations

import json
import statistics
import zlib
from dataclasses import replace
from datetime import datetime, timedelta
from decimal import Decimal
from typing import Any

from tallyman.services import tally
from tallyman.services.context import Ctx
from tallyman.services.runs.life import OPEN, find, waiting_reasons
from tallyman.store import lists
from tallyman.store.db import Tx
from tallyman.store.records.runs import (
    Run,
    RunsCountsByState,
    RunsCurrentSteps,
    RunsReports,
    RunsSegments,
    RunsSteps,
)
from tallyman.store.records.tally import TallyEntriesOfRun, TallyFixOfRun


def page_of_runs(
    ctx: Ctx,
    *,
    state: str | None,
    routine: int | None,
    robot: int | None,
    after: str | None,
    limit: int,
) -> dict[str, Any]:
    """One page of runs, the newest first; waiting ones say for what."""
    ctx.require("run.see")

    def work(tx: Tx) -> dict[str, Any]:
        areas = ctx.actor.areas("run.see")
        filters: dict[str, Any] = {"routine": routine, "robot": robot}
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
            row.run_id: row
            for row in tx.all(RunsCurrentSteps, "runs.current_steps", ids=tuple(running) or (0,))
        }
        shown = []
        for row in rows:
            reason = row.reason
            if row.id in reasons:
                reason = reasons[row.id]["first"]
            elif row.id in steps:
                reason = f"step {steps[row.id].n}: {steps[row.id].name}"
            shown.append(replace(row, reason=reason))
        counts = {
            row.state: row.runs
            for row in tx.all(RunsCountsByState, "runs.counts_by_state", **ctx.scope("run.see"))
        }
        return {"rows": shown, "next": following, "open": counts, "now": ctx.now}

    return ctx.db.transact(work)


def log_lines(tx: Tx, run_id: int, after: int, limit: int) -> tuple[list[dict[str, Any]], int]:
    """The log lines of a run after a line number, and how many there are. Only their batches are unpacked."""
    lines: list[dict[str, Any]] = []
    for row in tx.all(RunsReports, "runs.reports", run=run_id, after=after, upto=after + limit):
        batch = enumerate(json.loads(zlib.decompress(row.lines_packed)), int(row.lines_before or 0) + 1)
        lines += [{"n": n, **line} for n, line in batch if after < n <= after + limit]
    return lines, int(tx.value(Decimal, "runs.lines_so_far", run=run_id) or 0)


def _usual_seconds(tx: Tx, routine_id: int) -> int | None:
    rows = tx.values(int, "runs.usual_minutes", routine=routine_id)
    return int(statistics.median(row for row in rows)) if len(rows) >= 3 else None


def one(ctx: Ctx, run_id: int) -> dict[str, Any]:
    """A run as its page shows it: state, needs, steps, inputs, outputs, entries."""
    ctx.require("run.see")

    def work(tx: Tx) -> dict[str, Any]:
        run = find(tx, ctx, run_id)
        reasons = {}
        if run.state == "waiting":
            reasons = waiting_reasons(tx, ctx, [run_id]).get(run_id, {})
        entries = tx.all(TallyEntriesOfRun, "tally.entries_of_run", run=run_id)
        idea_area = tx.value(int, "runs.idea_area", routine=run.routine_id)
        sees_value = ctx.actor.may_at("value.see", idea_area)
        return {
            **{key: getattr(run, key) for key in SHOWN},
            "trial": bool(run.trial),
            "waits_for": reasons.get("first", ""),
            "needs": reasons.get("needs", []),
            "steps": tx.all(RunsSteps, "runs.steps", run=run_id),
            "entries": entries if sees_value else [],
            "caution": tx.value(str, "tally.caution_of_run", run=run_id) if sees_value else None,
            "fix": tx.one(TallyFixOfRun, "tally.fix_of_run", run=run_id) if sees_value else None,
            "usual_seconds": _usual_seconds(tx, run.routine_id),
            "segments": tx.all(RunsSegments, "runs.segments", run=run_id),
            "late": run.late,
            "unusual": tally.unusual.of_run(tx, run_id) if sees_value else None,
            "may": _may(ctx, run, any(entry.idea_id for entry in entries), idea_area),
            "now": ctx.now,
        }

    return ctx.db.transact(work)


def log(ctx: Ctx, run_id: int, after: int) -> dict[str, Any]:
    """Log lines after a number, at most a thousand at once."""
    ctx.require("run.see")

    def work(tx: Tx) -> dict[str, Any]:
        find(tx, ctx, run_id)
        lines, total = log_lines(tx, run_id, after, 1000)
        return {"lines": lines, "total": total}

    return ctx.db.transact(work)


def since_yesterday(ctx: Ctx) -> datetime:
    """From when on something counts as recent."""
    return ctx.now - timedelta(hours=24)


SHOWN = (
    "id",
    "routine_id",
    "routine",
    "area",
    "package",
    "release_version",
    "state",
    "outcome",
    "reason",
    "robot",
    "host",
    "fence",
    "started_words",
    "due_at",
    "made_at",
    "started_at",
    "ended_at",
    "lease_until",
    "cancel_at",
    "canceller",
    "pause_at",
    "pauser",
    "held_at",
    "saved_at",
    "segment",
    "inputs",
    "outputs",
    "counts",
    "again_of",
    "attempt",
    "late_at",
    "tried_again_as",
    "limit_minutes",
    "nominal_at",
)


def _may(ctx: Ctx, run: Run, counted: bool, idea_area: int | None) -> dict[str, Any]:
    """What can be done with a run now; why it cannot be paused, if that is not plain."""
    allowed, state = ctx.actor.may_at("run.change", run.area_id), run.state
    why = ""
    if state == "running" and not run.checkpoints:
        why = f"{run.package} {run.release_version} has no checkpoints"
    elif state == "running" and run.cancel_at is not None:
        why = "it is being cancelled"
    return {
        "cancel": allowed and state in OPEN and run.cancel_at is None,
        "pause": allowed and state == "running" and not why and run.pause_at is None,
        "why_no_pause": why,
        "go_on": allowed and state == "held",
        "decide_late": allowed and state == "lost" and run.late is not None,
        "say_right": ctx.actor.may_at("value.change", idea_area),
        "correct": ctx.actor.may_at("value.change", idea_area) and bool(counted),
    }
