"""Areas, hosts and robots as pages show them: all of them, one robot, one host."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import timedelta

from tallyman.core.runs import Maintenance, Need, is_silent
from tallyman.errors import NotFound
from tallyman.services.answers import AreaName
from tallyman.services.context import Ctx, in_transaction, unseen
from tallyman.services.house import areas_seen, sees_area
from tallyman.services.robots import passwords
from tallyman.services.robots.answers import Host, HostPage, Robot, RobotPage, Robots
from tallyman.services.robots.points import points_of
from tallyman.services.robots.robots import abilities_of, account_fault_of, maintenance_of, works_as_runner
from tallyman.services.robots.seen import areas_allowed, hosts_seen, may_at_all, robots_seen
from tallyman.store.db import Tx
from tallyman.store.records.robots import HostSeen, ReadingRow, RobotSeen

# The runner that comes with this server says of itself that it is so new.
RUNNER = 4
HISTORY = timedelta(days=7)


def _resting(ctx: Ctx, host: HostSeen) -> Maintenance | None:
    """The maintenance that a host is in now; what is over is none."""
    found = maintenance_of(host)
    return found if found is not None and found.holds(ctx.now) else None


def _host(ctx: Ctx, host: HostSeen, areas: Sequence[Sequence[AreaName]]) -> Host:
    rest = _resting(ctx, host)
    return Host(
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
        trial_seats=host.trial_seats,
        trial_used=host.trial_used,
        leaving_at=host.leaving_at,
        maintenance_at=rest.since if rest else None,
        maintenance_until=rest.until if rest else None,
        maintenance_why=rest.why if rest else "",
        used_at=host.used_at,
        used_from=host.used_from,
        token_at=host.token_at,
        bound=host.bound,
        revoked_at=host.revoked_at,
        abilities=abilities_of(host).words,
        known=host.known,
        disk_free_mb=host.disk_free_mb,
        read_at=host.read_at,
        owner=host.owner,
        in_use_since=host.in_use_since,
        may_change=may_at_all(ctx, "robot.change", areas),
        may_retire=may_at_all(ctx, "robot.retire", areas),
    )


def _robot(tx: Tx, ctx: Ctx, robot: RobotSeen, areas: list[AreaName], needs: Sequence[Need]) -> Robot:
    return Robot(
        id=robot.id,
        name=robot.name,
        host_id=robot.host_id,
        host=robot.host,
        owner=robot.owner,
        runner_account=robot.runner_account,
        silent=is_silent(robot.heard_at, ctx.now),
        tags=robot.tags,
        areas=[area for area in areas if sees_area(tx, ctx, area.id)],
        busy_with=robot.busy_with,
        account=robot.account,
        account_fault=account_fault_of(robot),
        as_runner=works_as_runner(robot),
        version=robot.version,
        lacks=[f"{need.words} ({need.fact})" for need in needs if not need.met],
        may_change=may_at_all(ctx, "robot.change", [areas]),
        may_retire=may_at_all(ctx, "robot.retire", [areas]),
    )


@in_transaction
def view(tx: Tx, ctx: Ctx) -> Robots:
    """Areas, hosts and robots as the page shows them."""
    ctx.require("robot.see")
    robots = robots_seen(tx, ctx)
    areas = areas_allowed(tx, robots)
    found = points_of(tx, ctx, robots, areas)
    on: dict[int, list[list[AreaName]]] = {}
    for one in robots:
        on.setdefault(one.host_id, []).append(areas[one.id])
    return Robots(
        areas=areas_seen(tx, ctx),
        hosts=[_host(ctx, host, on.get(host.id, [])) for host in hosts_seen(tx, ctx)],
        robots=[_robot(tx, ctx, one, areas[one.id], found[one.id]) for one in robots],
        now=ctx.now,
    )


@in_transaction
def robot_page(tx: Tx, ctx: Ctx, robot_id: int) -> RobotPage:
    """A robot, point by point."""
    ctx.require("robot.see")
    robots = robots_seen(tx, ctx)
    row = next((one for one in robots if one.id == robot_id), None)
    if row is None:
        missing = NotFound("There is no such robot.", "Choose one under Robots.")
        raise unseen(ctx, "robot.see", False, missing)
    areas = areas_allowed(tx, robots)
    needs = points_of(tx, ctx, [row], areas)[row.id]
    shown = _robot(tx, ctx, row, areas[row.id], needs)
    hosts = [
        _host(ctx, host, [areas[one.id] for one in robots if one.host_id == host.id])
        for host in hosts_seen(tx, ctx)
    ]
    password = passwords.look_at(tx, ctx, row.host_id, row.account, {one.id for one in areas[row.id]})
    return RobotPage(
        robot=shown,
        host=next(host for host in hosts if host.id == row.host_id),
        points=needs,
        hosts=hosts,
        areas=areas_seen(tx, ctx),
        may_trial=shown.may_change and may_at_all(ctx, "run.make", [areas[row.id]]),
        password_kept=password.kept,
        may_password=shown.may_change and password.may_put,
    )


@in_transaction
def host_page(tx: Tx, ctx: Ctx, host_id: int) -> HostPage:
    """A host with its robots and its last week."""
    ctx.require("robot.see")
    row = next((one for one in hosts_seen(tx, ctx) if one.id == host_id), None)
    if row is None:
        missing = NotFound("There is no such host.", "Choose one under Robots.")
        raise unseen(ctx, "robot.see", False, missing)
    robots = [one for one in robots_seen(tx, ctx) if one.host_id == host_id]
    areas = areas_allowed(tx, robots)
    found = points_of(tx, ctx, robots, areas) if robots else {}
    since = ctx.now - HISTORY
    return HostPage(
        host=_host(ctx, row, [areas[one.id] for one in robots]),
        robots=[_robot(tx, ctx, one, areas[one.id], found[one.id]) for one in robots],
        readings=tx.all(ReadingRow, "readings.of_host", id=host_id, since=since),
        upgrade=_upgrade(row),
    )


def _upgrade(host: HostSeen) -> str:
    """What a newer runner would bring, if the host has one of a release before."""
    told = str((host.facts or {}).get("runner", ""))
    if not told.isdecimal() or int(told) >= RUNNER:
        return ""
    return (
        f"Its runner is of release {told}, this server brings {RUNNER}: it works, but tells neither memory, "
        "disk nor applications. Stop it, bring the new one, and start it again; it needs no new code."
    )
