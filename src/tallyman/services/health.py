"""The health of the installation: processes, loops, effects, mails, runs, hosts, database."""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import datetime, timedelta
from typing import Any

from tallyman.core.runs import is_silent
from tallyman.errors import Fault, InputFaults, NotFound
from tallyman.services.context import Ctx, audit, changed
from tallyman.store.db import Row, Tx

MOST_APART_MS = 2000
SILENT_PROCESS = timedelta(seconds=15)
LATE = timedelta(seconds=30)


@dataclass
class Process:
    """A web or engine process as it describes itself."""

    id: str
    kind: str
    machine: str
    pid: int
    version: str
    started_at: datetime
    loops: dict[str, Any] = field(default_factory=dict)


def seen(ctx: Ctx, process: Process) -> int:
    """Says that a process lives; gives by how many milliseconds its clock is ahead of the database's."""

    def work(tx: Tx) -> int:
        theirs: datetime = tx.value("common.database_now")
        apart = int((ctx.now - theirs) / timedelta(milliseconds=1))
        tx.write(
            "health.seen",
            id=process.id,
            kind=process.kind,
            machine=process.machine[:120],
            pid=process.pid,
            version=process.version,
            started=process.started_at,
            now=ctx.now,
            apart=apart,
            loops=process.loops,
        )
        return apart

    return ctx.db.transact(work)


def gone(ctx: Ctx, process: Process) -> None:
    """Says that a process ended in order."""
    ctx.db.transact(lambda tx: tx.write("health.gone", id=process.id))


def _age(at: datetime | None, now: datetime) -> float | None:
    return None if at is None else max(0.0, (now - at).total_seconds())


def figures(ctx: Ctx) -> dict[str, Any]:
    """What the page and the metrics show, read in one transaction. Times in seconds."""

    def work(tx: Tx) -> dict[str, Any]:
        effects, mails = tx.one("health.open_effects"), tx.one("health.outbox")
        due, database = tx.one("health.overdue_triggers", now=ctx.now), tx.one("health.database")
        assert effects and mails and due and database
        since = ctx.now - timedelta(hours=1)
        runs = {row["state"]: row for row in tx.all("health.runs_by_state")}
        waiting = runs.get("waiting", {})
        return {
            "processes": [_process(row, ctx.now) for row in tx.all("health.processes")],
            "hosts": [_host(row, ctx.now) for row in tx.all("robots.hosts")],
            "effects": {
                "open": effects["open"],
                "failing": int(effects["failing"]),
                "oldest_seconds": _age(effects["oldest"], ctx.now),
            },
            "mails": {
                "open": mails["open"],
                "failing": int(mails["failing"]),
                "oldest_seconds": _age(mails["oldest"], ctx.now),
            },
            "triggers": {"due": due["due"], "oldest_seconds": _age(due["oldest"], ctx.now)},
            "runs": {state: row["runs"] for state, row in runs.items()},
            "oldest_waiting_seconds": _age(waiting.get("oldest"), ctx.now),
            "ended_lately": {row["state"]: row["runs"] for row in tx.all("health.ended_lately", since=since)},
            "database": {
                "version": database["version"],
                "uptime_seconds": int(database["uptime_seconds"] or 0),
                "connections": int(database["connections"] or 0),
                "most_connections": int(database["most_connections"] or 0),
                "nodes": int(database["cluster_size"] or 0),
                "bytes": int(tx.value("health.database_size")),
                "migration": tx.value("health.migrations"),
            },
            "now": ctx.now,
        }

    return ctx.db.transact(work)


def _process(row: Row, now: datetime) -> dict[str, Any]:
    silent = now - row["seen_at"] > SILENT_PROCESS
    apart = abs(row["apart_ms"]) > MOST_APART_MS
    faults = [f"{name}: {loop['fault']}" for name, loop in row["loops"].items() if loop.get("fault")]
    says = "; ".join(faults)
    if apart:
        says = (
            f"its clock is {row['apart_ms'] / 1000:+.1f} s from the database's, so it starts nothing; {says}"
        )
    return {**row, "silent": silent, "says": says.strip("; "), "well": not silent and not says}


def _host(row: Row, now: datetime) -> dict[str, Any]:
    return {
        "id": row["id"],
        "name": row["name"],
        "heard_at": row["heard_at"],
        "silent": bool(row["connected"]) and is_silent(row["heard_at"], now),
        "connected": bool(row["connected"]),
        "clock_ahead_ms": row["clock_ahead_ms"],
        "seats": row["seats"],
        "seats_used": row["seats_used"],
    }


def _points(found: dict[str, Any]) -> list[dict[str, Any]]:
    """What is well and what is not, each with the fact and the mend; the bad ones first."""
    engines = [one for one in found["processes"] if one["kind"] == "engine" and one["well"]]
    ill = [one for one in found["processes"] if not one["well"]]
    silent = [one["name"] for one in found["hosts"] if one["silent"]]
    apart = [
        one["name"]
        for one in found["hosts"]
        if abs(one["clock_ahead_ms"] or 0) > MOST_APART_MS and not one["silent"]
    ]
    late = found["triggers"]["oldest_seconds"] or 0
    behind = found["effects"]["oldest_seconds"] or 0
    rows = [
        (
            "An engine works",
            bool(engines),
            f"{len(engines)} heard from" if engines else "none; nothing is started or tallied",
            "Start one: ./tallyman engine",
        ),
        ("Every process is well", not ill, _processes(ill), "Look at it below"),
        (
            "The clock starts in time",
            late < LATE.total_seconds(),
            f"{found['triggers']['due']} due, the first for {late:.0f} s" if late else "nothing is overdue",
            "Look at the engine's clock loop below",
        ),
        (
            "Effects are carried out",
            behind < LATE.total_seconds() and not found["effects"]["failing"],
            f"{found['effects']['open']} open, {found['effects']['failing']} failing",
            "See the stuck ones below",
        ),
        (
            "Mails leave",
            not found["mails"]["failing"],
            f"{found['mails']['open']} open, {found['mails']['failing']} refused",
            "See the stuck ones below; look at the mail server",
        ),
        ("Every host is heard from", not silent, ", ".join(silent) or "all of them", "Start its runner"),
        ("Clocks agree", not apart, ", ".join(apart) or "within 2 s", "Set the host's clock"),
    ]
    points = [
        {"words": w, "met": met, "fact": fact, "mend": "" if met else mend} for w, met, fact, mend in rows
    ]
    return sorted(points, key=lambda one: bool(one["met"]))


def _processes(ill: list[dict[str, Any]]) -> str:
    if not ill:
        return "all of them"
    return "; ".join(
        f"{one['kind']} {one['pid']}: {'silent' if one['silent'] else one['says']}" for one in ill
    )


def page(ctx: Ctx) -> dict[str, Any]:
    """The health page: points, processes, stuck effects and mails, database."""
    ctx.require("health.see")
    found = figures(ctx)

    def work(tx: Tx) -> dict[str, Any]:
        stuck = tx.all("health.stuck_effects")
        for row in stuck:
            row["behind"] = tx.value("health.behind", object=row["object"], id=row["id"])
        return {
            **found,
            "points": _points(found),
            "stuck_effects": stuck,
            "stuck_mails": tx.all("health.stuck_mails"),
            "set_aside": tx.all("health.set_aside_rows"),
            "may_mend": ctx.actor.may("health.change"),
        }

    return ctx.db.transact(work)


def _effect(tx: Tx, effect_id: int) -> Row:
    row = tx.one("health.effect", id=effect_id)
    if row is None:
        raise NotFound("This effect is done by now.", "Load the page again.")
    return row


def try_again(ctx: Ctx, effect_id: int) -> None:
    """Has a stuck effect tried again at once."""
    ctx.require("health.change")

    def work(tx: Tx) -> None:
        row = _effect(tx, effect_id)
        tx.write("health.try_now", id=effect_id, now=ctx.now)
        audit(tx, ctx, "effect tried again", row["object"], f"Had {row['kind']} tried again")
        changed(tx, ctx, "health")

    ctx.db.transact(work)


def set_aside(ctx: Ctx, effect_id: int, why: str) -> None:
    """Gives a stuck effect up for good, with the reason, so that what waits behind it goes on."""
    ctx.require("health.change")
    if not 3 <= len(why.strip()) <= 500:
        raise InputFaults([Fault("why", why[:60], "say why, in 3 to 500 characters")])

    def work(tx: Tx) -> None:
        row = _effect(tx, effect_id)
        tx.write("health.set_aside", id=effect_id, now=ctx.now, person=ctx.actor.person_id, why=why.strip())
        words = f"Set {row['kind']} aside: {why.strip()}"
        audit(tx, ctx, "effect set aside", row["object"], words, {"fault": row["fault"]})
        changed(tx, ctx, "health")

    ctx.db.transact(work)


def mail_again(ctx: Ctx, mail_id: int) -> None:
    """Has a stuck mail tried again at once."""
    ctx.require("health.change")

    def work(tx: Tx) -> None:
        if not tx.write("health.mail_now", id=mail_id, now=ctx.now):
            raise NotFound("This mail is sent by now.", "Load the page again.")
        audit(tx, ctx, "mail tried again", f"mail:{mail_id}", "Had it tried again")
        changed(tx, ctx, "health")

    ctx.db.transact(work)
