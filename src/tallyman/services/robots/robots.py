"""Robots: on which host, what each can do, where it may work, and what the rules are told of it."""

from __future__ import annotations

import re
from collections.abc import Collection, Iterable, Mapping
from dataclasses import dataclass, replace

from tallyman.core.runs import Abilities, Maintenance, RobotFacts, read_abilities, read_hours
from tallyman.errors import Conflict, Fault, InputFaults, Refused
from tallyman.services.context import Ctx, audit, changed, in_transaction
from tallyman.services.naming import clean_name, named
from tallyman.services.robots.seen import areas_allowed, may_allow, robot_for, sees_host
from tallyman.store.db import Tx
from tallyman.store.records.house import AreaBelow
from tallyman.store.records.robots import (
    HostRow,
    HostSeen,
    RobotRow,
    RobotSeen,
    RobotsRobotAreas,
    RobotsRobotAreasOfHost,
)

ACCOUNT = re.compile(r"^[A-Za-z_][A-Za-z0-9._-]{0,31}$")


TAG = re.compile(r"^[a-z0-9][a-z0-9 .-]{0,38}$")


def check_tags(tags: list[str]) -> list[str]:
    """Tags in small letters, each once. Raises InputFaults."""
    clean = sorted({tag.strip().lower() for tag in tags if tag.strip()})
    wrong = [tag for tag in clean if not TAG.match(tag)]
    if wrong:
        message = "small letters, digits, spaces, . and -; up to 39 characters"
        raise InputFaults([Fault("tags", tag, message) for tag in wrong])
    return clean


def _check_account(account: str) -> str:
    """An operating-system account's name, or none. Raises InputFaults."""
    if account.strip() and not ACCOUNT.match(account.strip()):
        message = "letters, digits, . _ and -, up to 32 characters, as the host knows it"
        raise InputFaults([Fault("account", account[:60], message)])
    return account.strip()


@dataclass(frozen=True)
class Given:
    """A robot as somebody sets it up: its host, what it can do, its account, and where it may work."""

    name: str
    host_id: int
    tags: list[str]
    area_ids: list[int]
    account: str = ""

    def checked(self) -> Given:
        """The same with clean names and tags. Raises InputFaults."""
        name, tags = clean_name("name", self.name), check_tags(self.tags)
        return replace(self, name=name, tags=tags, account=_check_account(self.account))


@in_transaction
def add_robot(tx: Tx, ctx: Ctx, given: Given) -> int:
    """A new robot on a host, with tags and account, allowed in some areas and those below them."""
    return add_robot_in(tx, ctx, given)


def add_robot_in(tx: Tx, ctx: Ctx, given: Given) -> int:
    """The same within a transaction."""
    ctx.require("robot.make")
    given = given.checked()
    may_allow(ctx, "robot.make", given.area_ids or [None])
    _check_host(tx, ctx, given.host_id)
    return insert_robot(tx, ctx, given)


def insert_robot(tx: Tx, ctx: Ctx, given: Given) -> int:
    """A new robot as it is given, checked already, for whoever may do so."""
    params = {"name": given.name, "host": given.host_id, "tags": given.tags, "account": given.account}
    robot_id = named(lambda: tx.insert("robots.add_robot", **params, now=ctx.now), "name", given.name)
    tx.write("robots.add_slot", kind="robot", owner=robot_id, n=0)
    _allow(tx, robot_id, given.area_ids)
    audit(tx, ctx, "robot added", f"robot:{robot_id}", f"Added the robot {given.name}")
    changed(tx, ctx, "robots")
    changed(tx, ctx, "runs")
    return int(robot_id)


def _allow(tx: Tx, robot_id: int, area_ids: list[int]) -> None:
    known = {row.id for row in tx.all(AreaBelow, "areas.all")}
    wrong = [area for area in area_ids if area not in known]
    if wrong:
        raise InputFaults([Fault("areas", area, "there is no such area") for area in wrong])
    tx.write("robots.disallow_all", robot=robot_id)
    for area_id in set(area_ids):
        tx.write("robots.allow", robot=robot_id, area=area_id)


@in_transaction
def change_robot(tx: Tx, ctx: Ctx, robot_id: int, given: Given, version: int) -> None:
    """Changes a robot, unless somebody else did meanwhile; to another host only while it is free."""
    ctx.require("robot.change")
    given = given.checked()
    robot = robot_for(tx, ctx, robot_id)
    may_allow(ctx, "robot.change", given.area_ids)
    if given.host_id != robot.host_id:
        _may_move(tx, ctx, robot, given.host_id)
    changes = {"name": given.name, "host": given.host_id, "tags": given.tags, "account": given.account}
    done = named(
        lambda: tx.write("robots.change_robot", id=robot_id, version=version, now=ctx.now, **changes),
        "name",
        given.name,
    )
    if not done:
        raise Conflict(
            f"Somebody changed {robot.name} meanwhile.",
            "Look at its tags and areas now, then save yours again.",
            theirs={"name": robot.name, "tags": robot.tags},
            yours={"name": given.name, "tags": given.tags},
            version=robot.version,
        )
    _allow(tx, robot_id, given.area_ids)
    before = {"name": robot.name, "host": robot.host_id, "tags": robot.tags}
    words = f"Changed {robot.name}"
    audit(tx, ctx, "robot changed", f"robot:{robot_id}", words, before, {**changes, "areas": given.area_ids})
    changed(tx, ctx, "robots")
    changed(tx, ctx, "runs")


def move_robot(tx: Tx, ctx: Ctx, robot_id: int, area_id: int) -> None:
    """Allows a robot in one area alone. Raises Refused where that is so already."""
    ctx.require("robot.change")
    robot = robot_for(tx, ctx, robot_id)
    may_allow(ctx, "robot.change", [area_id])
    before = areas_allowed(tx, [robot])[robot_id]
    if [area.id for area in before] == [area_id]:
        raise Refused(f"{robot.name} is allowed there alone already.", "Load the page again.")
    _allow(tx, robot_id, [area_id])
    tx.write("robots.touch", id=robot_id)
    words = f"Moved {robot.name}: it works in one area from now on"
    was = {"areas": [area.id for area in before]}
    audit(tx, ctx, "robot changed", f"robot:{robot_id}", words, was, {"areas": [area_id]})
    changed(tx, ctx, "robots")
    changed(tx, ctx, "runs")


def _may_move(tx: Tx, ctx: Ctx, robot: RobotRow, host_id: int) -> None:
    """Raises InputFaults unless a robot is free to work on another host."""
    _check_host(tx, ctx, host_id)
    busy = tx.values(int, "robots.held_by_runs", kind="robot", owner=robot.id)
    if busy:
        message = f"{robot.name} works on R-{busy[0]}; move it when that run has ended"
        raise InputFaults([Fault("host", host_id, message)])


def _check_host(tx: Tx, ctx: Ctx, host_id: int) -> None:
    if tx.one(HostRow, "robots.host", id=host_id) is None or not sees_host(tx, ctx, host_id):
        raise InputFaults([Fault("host", host_id, "there is no such host that you may see; choose one")])


def account_fault_of(row: RobotSeen) -> str:
    """Why packages of a robot cannot work under its account, or one made for it; empty if they can."""
    known = row.accounts or {}
    if not row.account:
        # Runners of the release before say nothing of that.
        return str(known.get("", ""))
    if row.account == row.runner_account and "" not in known:
        return ""
    return str(known.get(row.account, f"its runner has not looked at the account {row.account} yet"))


def works_as_runner(row: RobotSeen) -> bool:
    """Whether packages of a robot work as the runner itself."""
    told = (row.facts or {}).get("as_runner") == "yes"
    return told and row.account in ("", row.runner_account)


def maintenance_of(row: RobotSeen | HostSeen) -> Maintenance | None:
    """The maintenance that a host is, or was, in."""
    if row.maintenance_at is None:
        return None
    return Maintenance(row.maintenance_at, row.maintenance_until, row.maintenance_why)


def abilities_of(row: RobotSeen | HostSeen) -> Abilities:
    """What a host can do, as its runner reports it."""
    return read_abilities(row.facts or {}, row.apps or [])


def robot_facts(tx: Tx, host_id: int | None = None) -> list[RobotFacts]:
    """The robots in work (of one host, or all) as the rules want them."""
    areas: dict[int, set[int]] = {}
    if host_id is None:
        rows = tx.all(RobotSeen, "robots.robots")
        for one in tx.all(RobotsRobotAreas, "robots.robot_areas"):
            areas.setdefault(one.robot_id, set()).add(one.area_id)
    else:
        rows = tx.all(RobotSeen, "robots.robots_of_host", host=host_id)
        for allowed in tx.all(RobotsRobotAreasOfHost, "robots.robot_areas_of_host", host=host_id):
            areas.setdefault(allowed.robot_id, set()).add(allowed.area_id)
    return facts_of(rows, areas)


def facts_of(rows: Iterable[RobotSeen], areas: Mapping[int, Collection[int]]) -> list[RobotFacts]:
    """Some robots as the rules want them; `areas`: the numbers of those each is allowed in."""
    return [
        RobotFacts(
            row.id,
            row.name,
            row.host_id,
            row.host,
            row.heard_at,
            frozenset(areas.get(row.id, ())),
            frozenset(row.tags),
            row.busy_with,
            row.seats,
            row.seats_used,
            row.account,
            account_fault_of(row),
            read_hours(row.hours_from, row.hours_to, row.hours_zone),
            row.leaving_at is not None,
            works_as_runner(row),
            maintenance_of(row),
            abilities_of(row),
            row.disk_free_mb,
            row.clock_ahead_ms or 0,
            row.trial_seats,
            row.trial_used,
            row.owner_id,
            row.owner or "",
            row.in_use_since,
            row.owner_seats,
            row.owner_seats_used,
        )
        for row in rows
    ]
