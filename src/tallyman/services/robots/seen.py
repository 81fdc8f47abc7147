"""Which hosts and robots somebody may see, and which they may change."""

from __future__ import annotations

from collections.abc import Sequence

from tallyman.errors import NotFound
from tallyman.services.answers import AreaName
from tallyman.services.context import Ctx, unseen
from tallyman.services.house import areas_around, areas_seen
from tallyman.store.db import Tx
from tallyman.store.records.robots import (
    HostSeen,
    RobotRow,
    RobotSeen,
    RobotsLockHost,
    RobotsRobotAreas,
)


def areas_allowed(tx: Tx, robots: Sequence[RobotSeen | RobotRow]) -> dict[int, list[AreaName]]:
    """The areas each of some robots is allowed in."""
    known = {robot.id for robot in robots}
    found: dict[int, list[AreaName]] = {number: [] for number in known}
    for row in tx.all(RobotsRobotAreas, "robots.robot_areas"):
        if row.robot_id in known:
            found[row.robot_id].append(AreaName(row.area_id, row.name))
    return found


def robots_seen(tx: Tx, ctx: Ctx) -> list[RobotSeen]:
    """The robots that may work in an area whose robots the actor may see."""
    rows, shared = tx.all(RobotSeen, "robots.robots"), areas_around(tx, ctx, "robot.see")
    if shared is None:
        return rows
    allowed = areas_allowed(tx, rows)
    return [row for row in rows if any(area.id in shared for area in allowed[row.id])]


def sees_host(tx: Tx, ctx: Ctx, host_id: int) -> bool:
    """A host is seen by whoever sees one of its robots, or every robot."""
    everywhere = ctx.actor.areas("robot.see") is None
    return everywhere or any(row.host_id == host_id for row in robots_seen(tx, ctx))


def host_for(tx: Tx, ctx: Ctx, host_id: int, permission: str = "robot.change") -> RobotsLockHost:
    """A host's row, locked, for who holds a permission in every area that its robots work in."""
    host = tx.one(RobotsLockHost, "robots.lock_host", id=host_id)
    if host is None or not sees_host(tx, ctx, host_id):
        missing = NotFound("There is no such host.", "Load the page again.")
        raise unseen(ctx, "robot.see", host is not None, missing)
    robots = [row for row in tx.all(RobotSeen, "robots.robots") if row.host_id == host_id]
    areas = [area.id for rows in areas_allowed(tx, robots).values() for area in rows]
    may_allow(ctx, permission, areas or [None])
    return host


def robot_for(tx: Tx, ctx: Ctx, robot_id: int, permission: str = "robot.change") -> RobotRow:
    """A robot, for who holds a permission in every area that it works in."""
    robot = tx.one(RobotRow, "robots.robot", id=robot_id)
    seen = any(row.id == robot_id for row in robots_seen(tx, ctx))
    if robot is None or not seen:
        missing = NotFound("There is no such robot.", "Load the page again.")
        raise unseen(ctx, "robot.see", robot is not None, missing)
    may_allow(ctx, permission, [area.id for area in areas_allowed(tx, [robot])[robot_id]])
    return robot


def may_allow(ctx: Ctx, permission: str, area_ids: Sequence[int | None]) -> None:
    """Raises Forbidden unless a permission holds at each of some areas."""
    for area_id in area_ids:
        ctx.require_at(permission, area_id)


def may_at_all(ctx: Ctx, permission: str, areas: Sequence[Sequence[AreaName]]) -> bool:
    """Whether a permission holds in every area of some robots; for the whole company where there is none."""
    where = {area.id for rows in areas for area in rows}
    return all(ctx.actor.may_at(permission, area_id) for area_id in where or (None,))


def hosts_seen(tx: Tx, ctx: Ctx) -> list[HostSeen]:
    """The hosts that the actor may see, by way of their robots."""
    if ctx.actor.areas("robot.see") is None:
        return tx.all(HostSeen, "robots.hosts")
    seen = {robot.host_id for robot in robots_seen(tx, ctx)}
    return [row for row in tx.all(HostSeen, "robots.hosts") if row.id in seen]


def check_seen(ctx: Ctx, kind: str, number: int) -> None:
    """Raises Forbidden or NotFound unless the actor may see a host, robot or area."""
    ctx.require("area.see" if kind == "area" else "robot.see")

    def work(tx: Tx) -> bool:
        if kind == "area":
            return any(row.id == number for row in areas_seen(tx, ctx))
        rows = hosts_seen(tx, ctx) if kind == "host" else robots_seen(tx, ctx)
        return any(row.id == number for row in rows)

    if not ctx.db.transact(work):
        missing = NotFound(f"There is no such {kind}.", "Load the page again.")
        raise unseen(ctx, "area.see" if kind == "area" else "robot.see", False, missing)
