"""The health of the installation: processes, loops, effects, mails, runs, hosts, database."""

from __future__ import annotations

from dataclasses import dataclass, field, fields
from datetime import datetime, timedelta
from decimal import Decimal

from tallyman.core.runs import is_silent
from tallyman.errors import Fault, InputFaults, NotFound
from tallyman.services.context import Ctx, audit, changed, in_transaction
from tallyman.services.upkeep import answers, hitches
from tallyman.services.upkeep.answers import (
    DatabaseState,
    Disk,
    Due,
    Figures,
    Health,
    Hitch,
    HostState,
    LoopState,
    Open,
    Point,
    SetAside,
)
from tallyman.store.db import Tx
from tallyman.store.records.robots import HostSeen
from tallyman.store.records.upkeep import (
    HealthDatabase,
    HealthEndedLately,
    HealthOpenEffects,
    HealthOverdueTriggers,
    HealthProcesses,
    HealthRunsByState,
    HitchesFind,
    HitchesOpenByWork,
    HitchesSetAsideRows,
    OpenHitch,
)

MOST_APART_MS = 2000
SILENT_PROCESS = timedelta(seconds=15)
LATE = timedelta(seconds=30)
MAILS_LATE = timedelta(minutes=5)
MOST_SHOWN = 50


@dataclass
class Process:
    """A web or engine process as it describes itself."""

    id: str
    kind: str
    machine: str
    pid: int
    version: str
    started_at: datetime
    loops: dict[str, object] = field(default_factory=dict)


@in_transaction
def seen(tx: Tx, ctx: Ctx, process: Process) -> int:
    """Says that a process lives; gives by how many milliseconds its clock is ahead of the database's."""
    theirs = tx.value(datetime, "common.database_now") or ctx.now
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


def gone(ctx: Ctx, process: Process) -> None:
    """Says that a process ended in order."""
    ctx.db.transact(lambda tx: tx.write("health.gone", id=process.id))


def _age(at: datetime | None, now: datetime) -> float | None:
    return None if at is None else max(0.0, (now - at).total_seconds())


# These have lines of their own on the page.
LINES_OF_THEIR_OWN = ("effects", "mails")


@in_transaction
def figures(tx: Tx, ctx: Ctx) -> Figures:
    """What the page and the metrics show, read in one transaction."""
    effects = tx.one(HealthOpenEffects, "health.open_effects")
    mails = tx.one(HealthOpenEffects, "health.outbox")
    due = tx.one(HealthOverdueTriggers, "health.overdue_triggers", now=ctx.now)
    assert effects and mails and due
    failing = {row.work: row for row in tx.all(HitchesOpenByWork, "hitches.open_by_work")}
    runs = {row.state: row for row in tx.all(HealthRunsByState, "health.runs_by_state")}
    waiting = runs.get("waiting")
    ended = tx.all(HealthEndedLately, "health.ended_lately", since=ctx.now - timedelta(hours=1))
    return Figures(
        processes=[_process(row, ctx.now) for row in tx.all(HealthProcesses, "health.processes")],
        hosts=[_host(row, ctx.now) for row in tx.all(HostSeen, "robots.hosts")],
        effects=Open(effects.open, _failing(failing, "effects"), _age(effects.oldest, ctx.now)),
        mails=Open(mails.open, _failing(failing, "mails"), _age(mails.oldest, ctx.now)),
        triggers=Due(due.due, _age(due.oldest, ctx.now)),
        runs={state: row.runs for state, row in runs.items()},
        oldest_waiting_seconds=_age(waiting.oldest if waiting else None, ctx.now),
        ended_lately={row.state: row.runs for row in ended},
        failing={name: int(row.failing) for name, row in failing.items()},
        stuck={name: int(row.stuck) for name, row in failing.items()},
        database=_database(tx),
        now=ctx.now,
    )


def _database(tx: Tx) -> DatabaseState:
    row = tx.one(HealthDatabase, "health.database")
    assert row is not None
    return DatabaseState(
        version=row.version,
        uptime_seconds=int(row.uptime_seconds or 0),
        connections=int(row.connections or 0),
        most_connections=int(row.most_connections or 0),
        nodes=int(row.cluster_size or 0),
        bytes=int(tx.value(Decimal, "health.database_size") or 0),
        migration=tx.value(str, "health.migrations"),
    )


def _failing(by_work: dict[str, HitchesOpenByWork], work: str) -> int:
    return int(by_work[work].failing) if work in by_work else 0


def _process(row: HealthProcesses, now: datetime) -> answers.Process:
    silent = now - row.seen_at > SILENT_PROCESS
    apart = abs(row.apart_ms) > MOST_APART_MS
    faults = [f"{name}: {loop['fault']}" for name, loop in row.loops.items() if loop.get("fault")]
    says = "; ".join(faults)
    if apart:
        says = f"its clock is {row.apart_ms / 1000:+.1f} s from the database's, so it starts nothing; {says}"
    return answers.Process(
        kind=row.kind,
        machine=row.machine,
        pid=row.pid,
        version=row.version,
        started_at=row.started_at,
        seen_at=row.seen_at,
        apart_ms=row.apart_ms,
        loops={name: LoopState(**loop) for name, loop in row.loops.items()},
        silent=silent,
        says=says.strip("; "),
        well=not silent and not says,
    )


def _host(row: HostSeen, now: datetime) -> HostState:
    return HostState(
        id=row.id,
        name=row.name,
        heard_at=row.heard_at,
        silent=bool(row.connected) and is_silent(row.heard_at, now),
        connected=bool(row.connected),
        clock_ahead_ms=row.clock_ahead_ms,
        seats=row.seats,
        seats_used=row.seats_used,
    )


def _points(found: Figures) -> list[Point]:
    """What is well and what is not, each with the fact and the mend; the bad ones first."""
    engines = [one for one in found.processes if one.kind == "engine" and one.well]
    ill = [one for one in found.processes if not one.well]
    silent = [one.name for one in found.hosts if one.silent]
    apart = [
        one.name for one in found.hosts if abs(one.clock_ahead_ms or 0) > MOST_APART_MS and not one.silent
    ]
    late = found.triggers.oldest_seconds or 0
    behind = found.effects.oldest_seconds or 0
    waits = found.mails.oldest_seconds or 0
    others = {name: rows for name, rows in found.failing.items() if name not in LINES_OF_THEIR_OWN}
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
            f"{found.triggers.due} due, the first for {late:.0f} s" if late else "nothing is overdue",
            "Look at the engine's clock loop below",
        ),
        (
            "Effects are carried out",
            behind < LATE.total_seconds() and not found.effects.failing,
            f"{found.effects.open} open, {found.effects.failing} failing",
            "See what failed below",
        ),
        (
            "Mails leave",
            waits < MAILS_LATE.total_seconds() and not found.mails.failing,
            f"{found.mails.open} open, {found.mails.failing} refused"
            + (f", the first waits for {waits / 60:.0f} min" if waits > MAILS_LATE.total_seconds() else ""),
            "See what failed below; look at the mail server",
        ),
        (
            "Nothing else fails",
            not others,
            _others(others, found.stuck),
            "See what failed below",
        ),
        ("Every host is heard from", not silent, ", ".join(silent) or "all of them", "Start its runner"),
        ("Clocks agree", not apart, ", ".join(apart) or "within 2 s", "Set the host's clock"),
    ]
    points = [Point(words, met, fact, "" if met else mend) for words, met, fact, mend in rows]
    return sorted(points, key=lambda one: one.met)


def _others(others: dict[str, int], stuck: dict[str, int]) -> str:
    if not others:
        return "every loop goes through its rows"
    said = []
    for name, rows in others.items():
        words = hitches.WORKS[name].words if name in hitches.WORKS else name
        said.append(f"{words}: {rows} failing, {stuck[name]} stuck")
    return "; ".join(said)


def _processes(ill: list[answers.Process]) -> str:
    if not ill:
        return "all of them"
    return "; ".join(f"{one.kind} {one.pid}: {'silent' if one.silent else one.says}" for one in ill)


def page(ctx: Ctx, disk: Disk, version: str) -> Health:
    """The health page: points, processes, what failed, what was given up, database; on which disk, of which
    version."""
    ctx.require("health.see")
    found = figures(ctx)

    def work(tx: Tx) -> Health:
        rows = [_hitch(row) for row in tx.all(OpenHitch, "hitches.open", most=MOST_SHOWN)]
        return Health(
            **{one.name: getattr(found, one.name) for one in fields(found)},
            points=_points(found),
            hitches=rows,
            hitches_more=max(0, sum(found.failing.values()) - len(rows)),
            set_aside=[_aside(row) for row in tx.all(HitchesSetAsideRows, "hitches.set_aside_rows")],
            disk=disk,
            version=version,
            may_mend=ctx.actor.may("health.change"),
        )

    return ctx.db.transact(work)


def _words(work: str) -> str:
    known = hitches.WORKS.get(work)
    return known.words if known else work


def _hitch(row: OpenHitch) -> Hitch:
    return Hitch(
        id=row.id,
        work=row.work,
        words=_words(row.work),
        about=row.about,
        object=row.object,
        tries=row.tries,
        first_at=row.first_at,
        due_at=None if row.stuck else row.due_at,
        stuck=row.stuck,
        fault=row.fault,
        behind=max(0, (row.effects or 1) - 1),
    )


def _aside(row: HitchesSetAsideRows) -> SetAside:
    return SetAside(
        id=row.id,
        words=_words(row.work),
        about=row.about,
        object=row.object,
        fault=row.fault,
        aside_at=row.aside_at,
        aside_why=row.aside_why,
        person=row.person,
    )


def _find(tx: Tx, number: int) -> HitchesFind:
    row = tx.one(HitchesFind, "hitches.find", id=number)
    if row is None:
        raise NotFound("This is done by now, or given up.", "Load the page again.")
    return row


def _said(row: HitchesFind) -> tuple[str, str]:
    """A hitch as the audit trail names it: the object, and what it is."""
    what = _words(row.work) + (f" ({row.about})" if row.about else "")
    return row.object or f"hitch:{row.id}", what


@in_transaction
def try_again(tx: Tx, ctx: Ctx, number: int) -> None:
    """Has what failed tried again at once, with all its tries before it."""
    ctx.require("health.change")
    row = _find(tx, number)
    tx.write("hitches.try_now", id=number, now=ctx.now)
    obj, what = _said(row)
    audit(tx, ctx, "failed work tried again", obj, f"Had {what} tried again", {"fault": row.fault})
    changed(tx, ctx, "health")


@in_transaction
def set_aside(tx: Tx, ctx: Ctx, number: int, why: str) -> None:
    """Gives up for good what failed, with the reason, so that what waits behind it goes on."""
    ctx.require("health.change")
    if not 3 <= len(why.strip()) <= 400:
        raise InputFaults([Fault("why", why[:60], "say why, in 3 to 400 characters")])
    row = _find(tx, number)
    key = row.row_key
    kind = hitches.WORKS.get(row.work)
    if kind is not None and kind.drop is not None:
        kind.drop(tx, ctx, row, why.strip())
        # The next one of the same key is another one.
        key = f"{key[:140]} #{number}"
    given = {"now": ctx.now, "never": hitches.NEVER, "person": ctx.actor.person_id, "why": why.strip()}
    tx.write("hitches.set_aside", id=number, key=key, **given)
    obj, what = _said(row)
    words = f"Set {what} aside: {why.strip()}"
    audit(tx, ctx, "failed work set aside", obj, words, {"fault": row.fault})
    changed(tx, ctx, "health")
