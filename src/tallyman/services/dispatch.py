"""What a runner asks: connect, stay connected, take work, report, and hand in the outcome."""

from __future__ import annotations

import json
import random
import secrets
import zlib
from datetime import UTC, datetime, timedelta
from functools import partial
from typing import Any

from tallyman.core.exact import exact
from tallyman.core.runs import RobotFacts, eligible
from tallyman.errors import Clash, Fault, InputFaults, NotFound, NotSignedIn, Unavailable
from tallyman.formats.redact import Redactor
from tallyman.services import inputs, places, safe
from tallyman.services.context import Ctx, audit, changed
from tallyman.services.holding import path
from tallyman.services.people import token_digest
from tallyman.services.robots import robot_facts
from tallyman.services.routines import wanted_of
from tallyman.services.runs import check_outputs, finish
from tallyman.store import files
from tallyman.store.db import Row, Tx

PROTOCOL = 1
# The first due run fits nearly always; only when it does not are many read at once.
LOOKED_AT_FIRST = 3
LOOKED_AT = 100
MOST_TRIES = 12
# Well below the 30 s after which a host counts as silent.
NOTED_AFTER = timedelta(seconds=8)
NOTED_DRIFT_MS = 500
EARLIEST = datetime(1970, 1, 1, tzinfo=UTC)
# Until the routine's own lease is written in the same transaction.
LEASE_AT_FIRST = 1
MOST_LINES = 1000
LONGEST_LINE = 4000
MOST_LINES_A_RUN = 100_000
MOST_COUNTS = 50


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


def heartbeat(
    ctx: Ctx,
    host: Row,
    clock: datetime,
    runs: list[tuple[int, int]],
    accounts: dict[str, str] | None = None,
) -> dict[str, Any]:
    """Renews the leases of what the runner still works on; says what to pause, cancel or drop.

    `accounts` holds the run-as accounts that the runner looked at, each with why it cannot be used,
    or an empty text.
    """

    def work(tx: Tx) -> dict[str, Any]:
        ahead = int((clock - ctx.now) / timedelta(milliseconds=1))
        ahead = max(-(10**12), min(10**12, ahead))
        if _worth_noting(ctx, host, ahead):
            tx.write("robots.heard", id=host["id"], now=ctx.now, ahead=ahead)
        if accounts is not None and accounts != host["accounts"]:
            tx.write("robots.set_accounts", id=host["id"], accounts=accounts)
            changed(tx, ctx, "robots")
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
        mine = {one["run"] for one in kept}
        working = [row for row in tx.all("runs.of_host", host=host["id"]) if row["id"] in mine]
        return {
            "at": ctx.now,
            "kept": kept,
            "cancel": [row["id"] for row in working if row["cancel_at"] is not None],
            "pause": [row["id"] for row in working if row["pause_at"] is not None],
            "stop": stop,
            "accounts": [row["account"] for row in tx.all("robots.accounts_of_host", host=host["id"])],
        }

    return ctx.db.transact(work)


def _worth_noting(ctx: Ctx, host: Row, ahead: int) -> bool:
    """Whether a heartbeat is to be written: not each one, as 200 idle hosts would keep the disk busy."""
    if host["heard_at"] is None or host["silent_told"] or ctx.now < host["heard_at"]:
        return True
    drifted = abs(ahead - (host.get("clock_ahead_ms") or 0)) > NOTED_DRIFT_MS
    return drifted or ctx.now - host["heard_at"] > NOTED_AFTER


def who_may_take(ctx: Ctx, listening: set[int]) -> set[int]:
    """Which of the hosts that wait for work are worth waking: two for each run that could start now.

    Waking is no claim: a host that is woken in vain asks again, and one that is not is woken next time.
    """
    if not listening:
        return set()

    def work(tx: Tx) -> set[int]:
        due = {row["routine_id"]: row["runs"] for row in tx.all("runs.due_by_routine", now=ctx.now)}
        if not due:
            return set()
        robots = [one for one in robot_facts(tx) if one.host_id in listening and one.busy_with is None]
        found: set[int] = set()
        for row in tx.all("runs.waiting_routines"):
            able = {one.host_id for one in eligible(wanted_of(tx, row, ctx.now), robots, ctx.now)} - found
            most = 2 * min(due.get(row["routine_id"], 0), row["run_limit"] - row["active"])
            found |= set(random.sample(sorted(able), min(most, len(able))))
        return found

    return ctx.db.transact(work)


def asked(ctx: Ctx, host: Row, key: str | None) -> dict[str, Any] | None:
    """What this ask was given before, if its answer was lost on the way."""

    def work(tx: Tx) -> dict[str, Any] | None:
        row = None if key is None else tx.one("runs.asked", host=host["id"], key=key)
        if row is None:
            return None
        run = tx.one("runs.lock", id=row["run_id"])
        robot = next((one for one in robot_facts(tx, host["id"]) if one.robot_id == row["robot_id"]), None)
        return None if run is None or robot is None else _work_of(tx, run, robot)

    return ctx.db.transact(work)


def take(ctx: Ctx, host: Row, key: str | None = None) -> dict[str, Any] | None:
    """The first waiting run that a free robot of this host may take, or None.

    Looking and taking are two transactions: the second only writes, under conditions, so that it
    stands on nothing that another engine or web process may have changed since. The key is kept
    with the claim, so that `asked` finds it when the answer is lost.
    """
    tried: set[int] = set()
    for _ in range(MOST_TRIES):
        choice = ctx.db.transact(lambda tx: _choose(tx, ctx, host, tried))
        if choice is None:
            return None
        tried.add(choice[0])
        try:
            give = partial(_give, ctx=ctx, host=host, run_id=choice[0], robot=choice[1], key=key)
            return ctx.db.transact(give)
        except (places.Taken, Unavailable):
            continue
        except Clash:
            # The same ask was answered meanwhile by another process.
            return asked(ctx, host, key)
    return None


def _choose(tx: Tx, ctx: Ctx, host: Row, tried: set[int]) -> tuple[int, RobotFacts] | None:
    """The first run in the order of rules §7 that a free robot of this host may take now."""
    # Most hosts have nothing to do most of the time; that must cost next to nothing.
    if tx.value("runs.anything_for_host", host=host["id"]) is None:
        return None
    robots = [robot for robot in robot_facts(tx, host["id"]) if robot.busy_with is None]
    if not robots:
        return None
    able = {}
    for row in tx.all("runs.waiting_routines"):
        if eligible(wanted_of(tx, row, ctx.now), robots, ctx.now):
            able[row["routine_id"]] = row
    order, after, most = EARLIEST, 0, LOOKED_AT_FIRST
    while able:
        rows = tx.all(
            "runs.waiting_first",
            routines=tuple(able),
            now=ctx.now,
            order=order,
            after=after,
            limit=most,
        )
        for row in rows:
            found = eligible(
                wanted_of(tx, {**able[row["routine_id"]], **row}, row["due_at"]), robots, ctx.now
            )
            if found and row["id"] not in tried:
                return row["id"], found[0]
        if len(rows) < most:
            break
        order, after, most = rows[-1]["order_at"], rows[-1]["id"], LOOKED_AT
    return None


def _give(
    tx: Tx, ctx: Ctx, host: Row, run_id: int, robot: RobotFacts, key: str | None = None
) -> dict[str, Any]:
    """Takes the run and every place by conditional writes; any that is gone undoes all."""
    lease = ctx.now + timedelta(minutes=LEASE_AT_FIRST)
    if not tx.write("runs.claim", id=run_id, robot=robot.robot_id, host=host["id"], lease=lease, now=ctx.now):
        raise places.Taken
    run = tx.one("runs.lock", id=run_id)
    assert run is not None
    places.take_all(tx, run_id, robot.robot_id, host["id"], run["routine_id"])
    tx.write(
        "runs.begin_segment",
        run=run_id,
        n=run["segment"],
        fence=run["fence"],
        robot=robot.robot_id,
        host=host["id"],
        now=ctx.now,
        key=key,
    )
    tx.write("runs.renew", id=run_id, fence=run["fence"], host=host["id"], now=ctx.now)
    changed(tx, ctx, "runs", run_id)
    return _work_of(tx, run, robot)


def _work_of(tx: Tx, run: Row, robot: RobotFacts) -> dict[str, Any]:
    """What the runner is told of a run it took."""
    release = tx.one("packages.release", id=run["release_id"])
    routine = tx.one("routines.routine", id=run["routine_id"])
    assert release is not None and routine is not None
    worked = int(tx.value("runs.worked_seconds", run=run["id"]))
    return {
        "run": run["id"],
        "fence": run["fence"],
        "segment": run["segment"],
        "robot": robot.name,
        "account": robot.account,
        "package": release["package"],
        "version": release["version"],
        "entry": release["entry"],
        "digest": release["digest"],
        "wheels": release["wheels"] or [],
        "saved": run["saved_digest"],
        "inputs": run["inputs"],
        "input_schema": release["inputs"],
        "limit_seconds": max(1, routine["limit_minutes"] * 60 - worked),
        "lease_seconds": routine["lease_minutes"] * 60,
        "memory_mb": routine["memory_mb"],
        "secrets": release["secrets"] or [],
    }


def _allowed_files(tx: Tx, host: Row) -> set[str]:
    """The digests a host may fetch: those of the runs it works on, and nothing else."""
    allowed: set[str] = set()
    for row in tx.all("runs.files_of_host", host=host["id"]):
        allowed |= {row["digest"], row["saved_digest"] or ""}
        allowed |= {wheel["digest"] for wheel in row["wheels"] or []}
        for value in (row["inputs"] or {}).values():
            if isinstance(value, str) and value.startswith(inputs.PREFIX):
                allowed.add(value[len(inputs.PREFIX) :].partition("/")[0])
    return allowed


def body(ctx: Ctx, host: Row, digest: str) -> bytes:
    """A package, wheel, saved state or input file of a run that the host works on."""

    def work(tx: Tx) -> bytes | None:
        return files.get(tx, digest) if digest in _allowed_files(tx, host) else None

    data = ctx.db.transact(work)
    if data is None:
        raise NotFound("No run of this host needs such a file.", "Report the run as failed.")
    return data


def _mine(tx: Tx, host: Row, run_id: int, fence: int) -> Row:
    """The run, locked, if this host worked on it under that fencing number."""
    run = tx.one("runs.lock", id=run_id)
    worker = tx.value("runs.segment_of_fence", run=run_id, fence=fence)
    if run is None or (worker or run["host_id"]) != host["id"]:
        raise NotFound("This run is not this host's.", "Drop it.")
    return run


def secrets_of(ctx: Ctx, host: Row, run_id: int, fence: int) -> dict[str, str]:
    """The secrets that the package of a run declares, for the host that works on it; each use is noted."""

    def work(tx: Tx) -> dict[str, str]:
        run = _mine(tx, host, run_id, fence)
        if run["fence"] != fence or run["state"] != "running":
            raise NotFound("This run is not this host's any more.", "Drop it.")
        release = tx.one("packages.release", id=run["release_id"])
        routine = tx.one("routines.routine", id=run["routine_id"])
        assert release is not None and routine is not None
        area_path = frozenset(path(tx, routine["area_id"]))
        what = f"R-{run_id} of {routine['name']}"
        return safe.values_for_run(tx, ctx, release["secrets"] or [], area_path, what)

    return ctx.db.transact(work)


def _redactor(tx: Tx, run: Row) -> Redactor:
    """What takes a run's secrets out of what its runner sends, in case the runner did not."""
    row = tx.one("packages.secrets_of", id=run["release_id"])
    return safe.redactor(tx, (row["secrets"] if row else None) or [])


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
        run = _mine(tx, host, run_id, fence)
        current: bool = run["fence"] == fence and run["state"] == "running"
        clean = _redactor(tx, run)
        kept = [{**line, "text": clean.text(str(line["text"]))[:LONGEST_LINE]} for line in lines]
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
                tx.write("runs.put_step", run=run_id, **_step(clean.value(step)))
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
    saved: str | None = None,
) -> str:
    """Ends or holds a run by what the runner says. Asked again it changes nothing.

    `saved` is the digest of an uploaded state, for *held*. Gives the state kept.
    """
    clean = _counts(counts)

    def work(tx: Tx) -> str:
        run = _mine(tx, host, run_id, fence)
        shown = _redactor(tx, run)
        said, given = shown.text(reason), shown.value(outputs)
        if run["fence"] != fence:
            return str(run["state"])
        if run["state"] == "lost":
            later = tx.one("runs.later_attempt", id=run_id) is not None
            if later or state in ("cancelled", "held"):
                return "lost"
        release = tx.one("packages.release", id=run["release_id"])
        assert release is not None
        if state == "held":
            return _hold(tx, ctx, run, release, said, saved)
        end, why = state, said
        if state == "done":
            misfit = check_outputs(release["outputs"], given) if worked else ""
            if misfit:
                end, why = "failed", f"the outputs do not fit what the package declares: {misfit}"
            else:
                why = f"{why} {_too_late(run)}".strip()
        if run["state"] == "lost":
            why = f"{why} (its outcome came late, after it was given up as lost)".strip()
        kind = None if end != "done" else ("worked" if worked else "nothing")
        finish(tx, ctx, run, end, outcome=kind, reason=why, outputs=given, counts=clean)
        return end

    return ctx.db.transact(work)


def _too_late(run: Row) -> str:
    """What was asked of a run that finished first."""
    if run["cancel_at"] is not None:
        return "it finished before the cancel took effect"
    return "it finished before the pause took effect" if run["pause_at"] is not None else ""


def _hold(tx: Tx, ctx: Ctx, run: Row, release: Row, reason: str, saved: str | None) -> str:
    """A run saved its state and ended its process: it is held, and its places are free."""
    if run["state"] != "running":
        return str(run["state"])
    if not release["checkpoints"] or saved is None or tx.value("common.file_known", digest=saved) is None:
        finish(tx, ctx, run, "failed", reason="it stopped without a saved state to go on from")
        return "failed"
    words = reason or "paused; its state is saved"
    if tx.write("runs.hold", id=run["id"], fence=run["fence"], saved=saved, reason=words[:1000], now=ctx.now):
        tx.write("runs.end_segment", run=run["id"], fence=run["fence"], now=ctx.now, state="held")
        places.free(tx, ctx, run["id"])
        changed(tx, ctx, "runs", run["id"])
    return "held"


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
