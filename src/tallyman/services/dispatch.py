"""What a runner asks: connect, stay connected, take work, report, and hand in the outcome."""

from __future__ import annotations

import json
import secrets
import zlib
from datetime import datetime, timedelta
from typing import Any

from tallyman.core.exact import exact
from tallyman.core.runs import eligible
from tallyman.errors import Fault, InputFaults, NotFound, NotSignedIn
from tallyman.services.context import Ctx, audit, changed
from tallyman.services.people import token_digest
from tallyman.services.robots import robot_facts
from tallyman.services.routines import wanted_of
from tallyman.services.runs import check_outputs, finish
from tallyman.store import files
from tallyman.store.db import Row, Tx

PROTOCOL = 1
LOOKED_AT = 200
MOST_LINES = 1000
LONGEST_LINE = 4000
MOST_LINES_A_RUN = 100_000
MOST_COUNTS = 50


class _Taken(Exception):
    """Another one was faster; try the next."""


def connect(ctx: Ctx, code: str, protocol: int, account: str, facts: dict[str, Any]) -> dict[str, Any]:
    """Uses up a one-time code and gives the runner its token."""
    if protocol != PROTOCOL:
        raise InputFaults([Fault("protocol", protocol, f"this server speaks protocol {PROTOCOL}")])
    token = secrets.token_urlsafe(32)

    def work(tx: Tx) -> dict[str, Any]:
        digest = token_digest(code.strip().upper())
        host = tx.one("robots.host_by_code", code=digest, now=ctx.now)
        if host is None:
            raise NotSignedIn(
                "This code is not known, was used already, or has run out.",
                "Make a new code for the host under Robots.",
            )
        tx.write(
            "robots.connect_host",
            id=host["id"],
            token=token_digest(token),
            now=ctx.now,
            account=account[:80],
            facts=facts,
        )
        words = f"Runner connected {host['name']} under the account {account}"
        audit(tx, ctx, "host connected", f"host:{host['id']}", words, None, facts)
        changed(tx, ctx, "robots")
        changed(tx, ctx, "runs")
        return {"host": host["name"], "token": token}

    return ctx.db.transact(work)


def host_of(ctx: Ctx, token: str) -> Row:
    """The host a runner's token belongs to; NotSignedIn otherwise."""
    row = ctx.db.transact(lambda tx: tx.one("robots.host_by_token", token=token_digest(token)))
    if row is None:
        raise NotSignedIn("This runner's token is not known.", "Connect it again with a new code.")
    return row


def heartbeat(ctx: Ctx, host: Row, clock: datetime, runs: list[tuple[int, int]]) -> dict[str, Any]:
    """Renews the leases of what the runner still works on; says what to end."""

    def work(tx: Tx) -> dict[str, Any]:
        ahead = int((clock - ctx.now) / timedelta(milliseconds=1))
        ahead = max(-(10**12), min(10**12, ahead))
        tx.write("robots.heard", id=host["id"], now=ctx.now, ahead=ahead)
        if host["silent_told"] or host["heard_at"] is None:
            changed(tx, ctx, "robots")
            changed(tx, ctx, "runs")
        kept: list[dict[str, Any]] = []
        stop: list[int] = []
        for run_id, fence in runs:
            if tx.write("runs.renew", id=run_id, fence=fence, host=host["id"], now=ctx.now):
                kept.append({"run": run_id, "fence": fence})
            else:
                stop.append(run_id)
        cancel = []
        mine = {run_id for run_id, _ in runs}
        for row in tx.all("runs.of_host", host=host["id"]):
            if row["cancel_at"] is not None and row["id"] in mine:
                cancel.append(row["id"])
        return {"at": ctx.now, "kept": kept, "cancel": cancel, "stop": stop}

    return ctx.db.transact(work)


def take(ctx: Ctx, host: Row) -> dict[str, Any] | None:
    """The first waiting run that a free robot of this host may take, or None."""
    tried: set[int] = set()
    for _ in range(10):
        try:
            return ctx.db.transact(lambda tx: _claim(tx, ctx, host, tried))
        except _Taken:
            continue
    return None


def _claim(tx: Tx, ctx: Ctx, host: Row, tried: set[int]) -> dict[str, Any] | None:
    robots = [robot for robot in robot_facts(tx, host["id"]) if robot.busy_with is None]
    if not robots:
        return None
    for row in tx.all("runs.waiting_due", limit=LOOKED_AT):
        if row["id"] in tried:
            continue
        able = eligible(wanted_of(tx, row, row["due_at"]), robots, ctx.now)
        if able:
            tried.add(row["id"])
            return _give(tx, ctx, host, row, able[0].robot_id, able[0].name)
    return None


def _take_slot(tx: Tx, kind: str, owner: int, run_id: int) -> None:
    n = tx.value("robots.free_slot", kind=kind, owner=owner)
    if n is None or not tx.write("robots.take_slot", kind=kind, owner=owner, n=n, run=run_id):
        raise _Taken


def _give(tx: Tx, ctx: Ctx, host: Row, row: Row, robot_id: int, robot: str) -> dict[str, Any]:
    """Takes every place by conditional writes, then the run; any that is gone undoes all."""
    run_id = row["id"]
    _take_slot(tx, "robot", robot_id, run_id)
    _take_slot(tx, "seat", host["id"], run_id)
    _take_slot(tx, "limit", row["routine_id"], run_id)
    lease = ctx.now + timedelta(minutes=row["lease_minutes"])
    if not tx.write("runs.claim", id=run_id, robot=robot_id, host=host["id"], lease=lease, now=ctx.now):
        raise _Taken
    run = tx.one("runs.lock", id=run_id)
    assert run is not None
    release = tx.one("packages.release", id=run["release_id"])
    assert release is not None
    changed(tx, ctx, "runs", run_id)
    return {
        "run": run_id,
        "fence": run["fence"],
        "robot": robot,
        "package": release["package"],
        "version": release["version"],
        "entry": release["entry"],
        "digest": release["digest"],
        "inputs": run["inputs"],
        "input_schema": release["inputs"],
        "limit_seconds": row["limit_minutes"] * 60,
        "lease_seconds": row["lease_minutes"] * 60,
    }


def body(ctx: Ctx, digest: str) -> bytes:
    """A package, or a file given as an input, by its digest."""
    data = ctx.db.transact(lambda tx: files.get(tx, digest))
    if data is None:
        raise NotFound("There is no such file.", "Report the run as failed.")
    return data


def _mine(tx: Tx, host: Row, run_id: int) -> Row:
    run = tx.one("runs.lock", id=run_id)
    if run is None or run["host_id"] != host["id"]:
        raise NotFound("This run is not this host's.", "Drop it.")
    return run


def report(
    ctx: Ctx,
    host: Row,
    run_id: int,
    fence: int,
    seq: int,
    lines: list[dict[str, Any]],
    steps: list[dict[str, Any]],
) -> bool:
    """Keeps one numbered batch; a repeated one changes nothing. Gives whether the run is current."""
    if len(lines) > MOST_LINES:
        raise InputFaults([Fault("lines", len(lines), f"at most {MOST_LINES} a batch")])

    def work(tx: Tx) -> bool:
        run = _mine(tx, host, run_id)
        current: bool = run["fence"] == fence and run["state"] == "running"
        kept = [{**line, "text": str(line["text"])[:LONGEST_LINE]} for line in lines]
        if kept and tx.value("runs.lines_so_far", run=run_id) > MOST_LINES_A_RUN:
            kept = []
        packed = zlib.compress(json.dumps(kept).encode())
        new = tx.write(
            "runs.add_report",
            run=run_id,
            fence=fence,
            seq=seq,
            now=ctx.now,
            total=len(kept),
            packed=packed,
        )
        if new and run["fence"] == fence:
            for step in steps:
                tx.write("runs.put_step", run=run_id, **_step(step))
        if new:
            changed(tx, ctx, "runs", run_id)
        return current

    return ctx.db.transact(work)


def _step(step: dict[str, Any]) -> dict[str, Any]:
    def text(value: Any) -> str | None:
        return None if value is None else json.dumps(value)[:20_000] if _small(value) else '"…"'

    return {
        "n": step["n"],
        "name": str(step["name"])[:200],
        "started": step["started_at"],
        "ended": step.get("ended_at"),
        "fault": (step.get("fault") or None) and str(step["fault"])[:1000],
        "data_in": text(step.get("data_in")),
        "data_out": text(step.get("data_out")),
    }


def _small(value: Any) -> bool:
    return len(json.dumps(value)) <= 20_000


def outcome(
    ctx: Ctx,
    host: Row,
    run_id: int,
    fence: int,
    state: str,
    worked: bool,
    reason: str,
    outputs: dict[str, Any],
    counts: dict[str, str],
) -> str:
    """Ends a run by what the runner says. Asked again it changes nothing. Gives the state kept."""
    clean = _counts(counts)

    def work(tx: Tx) -> str:
        run = _mine(tx, host, run_id)
        if run["fence"] != fence:
            return str(run["state"])
        if run["state"] == "lost" and tx.one("runs.later_attempt", id=run_id) is not None:
            return "lost"
        if run["state"] == "lost" and state == "cancelled":
            return "lost"
        release = tx.one("packages.release", id=run["release_id"])
        assert release is not None
        end, why = state, reason
        if state == "done":
            misfit = check_outputs(release["outputs"], outputs) if worked else ""
            if misfit:
                end, why = "failed", f"the outputs do not fit what the package declares: {misfit}"
            elif run["cancel_at"] is not None:
                why = "it finished before the cancel took effect"
        if run["state"] == "lost":
            why = f"{why} (its outcome came late, after it was given up as lost)".strip()
        kind = None if end != "done" else ("worked" if worked else "nothing")
        finish(tx, ctx, run, end, outcome=kind, reason=why, outputs=outputs, counts=clean)
        return end

    return ctx.db.transact(work)


def _counts(counts: dict[str, str]) -> dict[str, str]:
    if len(counts) > MOST_COUNTS:
        raise InputFaults([Fault("counts", len(counts), f"at most {MOST_COUNTS}")])
    clean = {}
    for name, value in counts.items():
        try:
            number = exact(value)
        except ValueError as error:
            raise InputFaults([Fault(f"counts.{name}", value, str(error))]) from None
        if number < 0 or number > 10**9:
            raise InputFaults([Fault(f"counts.{name}", value, "allowed: 0 to 1,000,000,000")])
        clean[str(name)[:40]] = str(value)
    return clean
