"""What runners tell of their hosts beside being there: once a minute, kept whole, with a history of weeks."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from datetime import datetime, timedelta
from decimal import Decimal

from tallyman.core.runs import LEAST_DISK_MB
from tallyman.services.context import WORK, Ctx, changed
from tallyman.services.house import rule_sets
from tallyman.store.db import Tx
from tallyman.store.records.robots import HostByToken, HostRow

# The house rule that lists the applications which runners look for.
APPLICATIONS = "applications"
READ_AFTER = timedelta(seconds=60)
NOTED_AFTER = timedelta(minutes=5)
KEPT = timedelta(days=35)


@dataclass(frozen=True)
class Reading:
    """One reading of a host; None: the runner cannot tell.

    `facts` are texts by name, as at connecting; `applications` those found of the ones asked for; `accounts`
    the ones of people and robots that the host knows.
    """

    facts: dict[str, str]
    cpu_percent: Decimal | None = None
    memory_free_mb: int | None = None
    disk_free_mb: int | None = None
    applications: tuple[str, ...] = ()
    accounts: tuple[str, ...] | None = None
    screen: str = ""


def looked_for(tx: Tx) -> dict[str, list[str]]:
    """The applications that runners look for, each with what it is found by."""
    content, _ = rule_sets.newest(tx, APPLICATIONS)
    rows = content["applications"] if content else []
    return {one["name"]: one["found_by"] for one in rows}


def wanted(tx: Tx, ctx: Ctx, host: HostByToken) -> dict[str, list[str]] | None:
    """The applications to look for in the reading that a host is asked for; None if none is due."""
    if host.read_at is not None and ctx.now - host.read_at < READ_AFTER:
        return None
    return looked_for(tx)


def take(tx: Tx, ctx: Ctx, host: HostByToken, found: Reading, ahead_ms: int) -> None:
    """Keeps a reading; what changes for those who wait is said at once."""
    before = tx.one(HostRow, "robots.host", id=host.id)
    if before is None:
        return
    facts = {**(before.facts or {}), **found.facts}
    tx.write(
        "readings.keep",
        id=host.id,
        now=ctx.now,
        facts=facts,
        disk_free_mb=found.disk_free_mb,
        apps=list(found.applications),
        known=None if found.accounts is None else list(found.accounts),
    )
    last = tx.value(datetime, "readings.last_noted", id=host.id)
    if last is None or ctx.now - last >= NOTED_AFTER:
        tx.write(
            "readings.note",
            id=host.id,
            now=ctx.now,
            cpu_percent=found.cpu_percent,
            memory_free_mb=found.memory_free_mb,
            disk_free_mb=found.disk_free_mb,
            clock_ahead_ms=ahead_ms,
            screen=found.screen[:20],
        )
    full = [mb is not None and mb < LEAST_DISK_MB for mb in (before.disk_free_mb, found.disk_free_mb)]
    apps = sorted(before.apps or []) != sorted(found.applications)
    if host.read_at is None or apps or facts != before.facts or full[0] != full[1]:
        for subject in ("robots", "runs", WORK):
            changed(tx, ctx, subject)


TIDIED: dict[str, Callable[[Tx, Ctx], object]] = {
    "host readings": lambda tx, ctx: tx.write("readings.prune", before=ctx.now - KEPT)
}
