"""A host in maintenance: what runs on it goes on to its end, and it takes nothing new."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta
from zoneinfo import ZoneInfo

from tallyman.core.runs import Maintenance
from tallyman.errors import Fault, InputFaults, Refused
from tallyman.services.answers import HangsOn
from tallyman.services.context import WORK, Ctx, audit, changed, in_transaction
from tallyman.services.robots.answers import MaintenanceLook
from tallyman.services.robots.retiring import stranded_without
from tallyman.services.robots.seen import host_for
from tallyman.store.db import Tx
from tallyman.store.records.robots import RobotSeen, RobotsLockHost

CHANGE = "robot.change"
LONGEST = timedelta(days=366)
LONGEST_WHY = 200


def _robots(tx: Tx, host: RobotsLockHost) -> list[RobotSeen]:
    return [one for one in tx.all(RobotSeen, "robots.robots") if one.host_id == host.id]


@in_transaction
def look(tx: Tx, ctx: Ctx, host_id: int) -> MaintenanceLook:
    """What maintenance of a host would mean: the runs that go on, and the routines that would wait."""
    ctx.require(CHANGE)
    host = host_for(tx, ctx, host_id)
    robots = _robots(tx, host)
    then = "no other robot may run it; its runs would wait until the maintenance is over"
    waits, unseen = stranded_without(tx, ctx, frozenset(one.id for one in robots), then)
    goes_on = [
        HangsOn("run", f"R-{one.busy_with}", f"/runs/{one.busy_with}", f"goes on to its end on {one.name}")
        for one in robots
        if one.busy_with
    ]
    return MaintenanceLook(hangs=goes_on + waits, unseen=unseen)


def _faults(ctx: Ctx, until: datetime | None, why: str) -> list[Fault]:
    faults = []
    if not 3 <= len(why) <= LONGEST_WHY:
        message = f"say what is done to it, in 3 to {LONGEST_WHY} characters; whoever waits for it reads that"
        faults.append(Fault("why", why[:40], message))
    if until is not None and not ctx.now < until <= ctx.now + LONGEST:
        faults.append(Fault("until", until.isoformat(), "give a time ahead, within a year, or none"))
    return faults


@in_transaction
def begin(tx: Tx, ctx: Ctx, host_id: int, until: datetime | None, why: str) -> None:
    """From now on a host takes nothing new, until a time or until it is ended; said again, it is changed.

    A time without a zone is one on the wall of whoever says it. Raises InputFaults.
    """
    ctx.require(CHANGE)
    why = " ".join(why.split())
    if until is not None and until.tzinfo is None:
        until = until.replace(tzinfo=ZoneInfo(ctx.actor.zone))
    until = until and until.astimezone(UTC)
    faults = _faults(ctx, until, why)
    if faults:
        raise InputFaults(faults)
    host = host_for(tx, ctx, host_id)
    tx.write("robots.set_maintenance", id=host_id, at=ctx.now, until=until, why=why)
    said = f"{host.name} is {Maintenance(ctx.now, until, why).words(ctx.now)}"
    audit(tx, ctx, "maintenance begun", f"host:{host_id}", said)
    _told(tx, ctx)


@in_transaction
def end(tx: Tx, ctx: Ctx, host_id: int) -> None:
    """A host takes work again. Raises Refused where it is in no maintenance."""
    ctx.require(CHANGE)
    host = host_for(tx, ctx, host_id)
    if host.maintenance_at is None:
        raise Refused(f"{host.name} is in no maintenance.", "Load the page again.")
    tx.write("robots.set_maintenance", id=host_id, at=None, until=None, why="")
    audit(tx, ctx, "maintenance ended", f"host:{host_id}", f"{host.name} takes work again")
    _told(tx, ctx)


def _told(tx: Tx, ctx: Ctx) -> None:
    for subject in ("robots", "runs", WORK):
        changed(tx, ctx, subject)
