"""Hosts: their names, codes and hours, how they are shown, and that one fell silent."""

from __future__ import annotations

import re
import secrets
from collections.abc import Sequence
from datetime import timedelta

from tallyman.core.alerts import kinds
from tallyman.core.runs import SILENT_AFTER, Maintenance, is_silent
from tallyman.core.starts import zone_fault
from tallyman.errors import Fault, InputFaults
from tallyman.services.alerts import tell
from tallyman.services.answers import AreaName
from tallyman.services.context import Ctx, audit, changed, in_transaction
from tallyman.services.house import areas_seen, sees_area
from tallyman.services.naming import clean_name, named
from tallyman.services.people import token_digest
from tallyman.services.robots.answers import Code, Host, Robot, Robots
from tallyman.services.robots.robots import account_fault_of, maintenance_of, works_as_runner
from tallyman.services.robots.seats import give_seats
from tallyman.services.robots.seen import areas_allowed, host_for, hosts_seen, robots_seen
from tallyman.services.upkeep import Work, each
from tallyman.store.db import Tx
from tallyman.store.records.robots import (
    HostSeen,
    RobotsSilentHosts,
)

SILENCE = Work("silence", "a host that fell silent")

CODE_LASTS = timedelta(minutes=30)
# No letters or digits that are mistaken for one another.
CODE_LETTERS = "ABCDEFGHJKLMNPQRSTUVWXYZ23456789"
WALL = re.compile(r"^([01]\d|2[0-3]):[0-5]\d$")


def _code() -> str:
    letters = "".join(secrets.choice(CODE_LETTERS) for _ in range(12))
    return "-".join(letters[i : i + 4] for i in (0, 4, 8))


def add_host(ctx: Ctx, name: str, seats: int) -> Code:
    """A new host with its seats; gives the one-time code, which is shown only now."""
    ctx.require_at("robot.make", None)
    name = clean_name("name", name)
    code = _code()

    def work(tx: Tx) -> int:
        host_id = named(
            lambda: tx.insert(
                "robots.add_host",
                name=name,
                code=token_digest(code),
                until=ctx.now + CODE_LASTS,
                now=ctx.now,
            ),
            "name",
            name,
        )
        give_seats(tx, host_id, seats)
        audit(tx, ctx, "host added", f"host:{host_id}", f"Added the host {name}, {seats} seats")
        changed(tx, ctx, "robots")
        return int(host_id)

    return Code(id=ctx.db.transact(work), code=code, until=ctx.now + CODE_LASTS)


def new_code(ctx: Ctx, host_id: int) -> Code:
    """A new one-time code for a host that lost its connection for good, or never had one."""
    ctx.require("robot.change")
    code = _code()

    def work(tx: Tx) -> None:
        host = host_for(tx, ctx, host_id)
        tx.write("robots.new_code", id=host_id, code=token_digest(code), until=ctx.now + CODE_LASTS)
        audit(tx, ctx, "host code made", f"host:{host_id}", f"Made a new code for {host.name}")
        changed(tx, ctx, "robots")

    ctx.db.transact(work)
    return Code(id=host_id, code=code, until=ctx.now + CODE_LASTS)


@in_transaction
def rename(tx: Tx, ctx: Ctx, host_id: int, name: str) -> None:
    """Another name for a host; its runner and its runs stay."""
    ctx.require("robot.change")
    name = clean_name("name", name)
    host = host_for(tx, ctx, host_id)
    named(lambda: tx.write("robots.rename_host", id=host_id, name=name), "name", name)
    audit(tx, ctx, "host renamed", f"host:{host_id}", f"{host.name} is called {name}")
    changed(tx, ctx, "robots")
    changed(tx, ctx, "runs")


@in_transaction
def set_hours(tx: Tx, ctx: Ctx, host_id: int, start: str | None, end: str | None, zone: str) -> None:
    """The hours within which a host works; none of both means always."""
    ctx.require("robot.change")
    faults = []
    if (start is None) != (end is None) or (start is not None and start == end):
        faults.append(Fault("hours", f"{start} to {end}", "give two different times such as 08:00, or none"))
    for field, value in (("from", start), ("to", end)):
        if value is not None and not WALL.match(value):
            faults.append(Fault(field, value, "give a wall time such as 08:30"))
    wrong_zone = zone_fault(zone, "zone")
    if faults or wrong_zone:
        raise InputFaults([*faults, *([wrong_zone] if wrong_zone else [])])
    host = host_for(tx, ctx, host_id)
    tx.write("robots.set_hours", id=host_id, start=start, end=end, zone=zone if start else None)
    words = f"{host.name} works {f'{start} to {end} ({zone})' if start else 'at any hour'}"
    audit(tx, ctx, "hours changed", f"host:{host_id}", words)
    changed(tx, ctx, "robots")
    changed(tx, ctx, "runs")


def _may(ctx: Ctx, permission: str, areas: Sequence[Sequence[AreaName]]) -> bool:
    """Whether a permission holds in every area of some robots; for the whole company where there is none."""
    where = {area.id for rows in areas for area in rows}
    return all(ctx.actor.may_at(permission, area_id) for area_id in where or (None,))


def _resting(ctx: Ctx, host: HostSeen) -> Maintenance | None:
    """The maintenance that a host is in now; what is over is none."""
    found = maintenance_of(host)
    return found if found is not None and found.holds(ctx.now) else None


@in_transaction
def view(tx: Tx, ctx: Ctx) -> Robots:
    """Areas, hosts and robots as the page shows them."""
    ctx.require("robot.see")
    robots = robots_seen(tx, ctx)
    areas = areas_allowed(tx, robots)
    hosts = hosts_seen(tx, ctx)
    on = {host.id: [areas[one.id] for one in robots if one.host_id == host.id] for host in hosts}
    shown = [
        Host(
            id=host.id,
            name=host.name,
            heard_at=host.heard_at,
            connected_at=host.connected_at,
            connected=host.connected,
            silent=host.connected and is_silent(host.heard_at, ctx.now),
            code_open=host.code_until is not None and host.code_until > ctx.now,
            account=host.account,
            facts=host.facts,
            clock_ahead_ms=host.clock_ahead_ms,
            hours_from=host.hours_from,
            hours_to=host.hours_to,
            hours_zone=host.hours_zone,
            seats=host.seats,
            seats_used=host.seats_used,
            leaving_at=host.leaving_at,
            maintenance_at=rest.since if (rest := _resting(ctx, host)) else None,
            maintenance_until=rest.until if rest else None,
            maintenance_why=rest.why if rest else "",
            used_at=host.used_at,
            used_from=host.used_from,
            token_at=host.token_at,
            bound=host.bound,
            may_change=_may(ctx, "robot.change", on[host.id]),
            may_retire=_may(ctx, "robot.retire", on[host.id]),
        )
        for host in hosts
    ]
    working = [
        Robot(
            id=robot.id,
            name=robot.name,
            host_id=robot.host_id,
            host=robot.host,
            runner_account=robot.runner_account,
            silent=is_silent(robot.heard_at, ctx.now),
            tags=robot.tags,
            areas=[area for area in areas[robot.id] if sees_area(tx, ctx, area.id)],
            busy_with=robot.busy_with,
            account=robot.account,
            account_fault=account_fault_of(robot),
            as_runner=works_as_runner(robot),
            version=robot.version,
            may_change=_may(ctx, "robot.change", [areas[robot.id]]),
            may_retire=_may(ctx, "robot.retire", [areas[robot.id]]),
        )
        for robot in robots
    ]
    return Robots(
        areas=areas_seen(tx, ctx),
        hosts=shown,
        robots=working,
        now=ctx.now,
    )


def tell_silent(ctx: Ctx) -> int:
    """Notes hosts that fell silent, once each, so that pages show it. Gives how many."""

    def work(tx: Tx, row: RobotsSilentHosts) -> bool:
        if not tx.write("robots.told_silent", id=row.id):
            return False
        words = f"{row.name} not heard from since {row.heard_at:%H:%M:%S} UTC"
        audit(tx, ctx, "host silent", f"host:{row.id}", words)
        tell(tx, ctx, kinds.HOST_SILENT, {"id": row.id}, name=row.name, since=f"{row.heard_at:%H:%M:%S}")
        changed(tx, ctx, "robots")
        changed(tx, ctx, "runs")
        return True

    before = ctx.now - SILENT_AFTER
    rows = ctx.db.transact(
        lambda tx: tx.all(RobotsSilentHosts, "robots.silent_hosts", before=before, now=ctx.now)
    )
    return each(ctx, SILENCE, rows, work, "host")
