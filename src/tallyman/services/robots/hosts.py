"""Areas, hosts, seats and robots."""

from __future__ import annotations

import re
import secrets
from collections.abc import Sequence
from datetime import timedelta
from decimal import Decimal

from tallyman.core.alerts import kinds
from tallyman.core.exact import text_of
from tallyman.core.runs import SILENT_AFTER, RobotFacts, is_silent, read_hours
from tallyman.core.starts import zone_fault
from tallyman.errors import Conflict, Fault, InputFaults, NotFound, Refused
from tallyman.services.alerts import tell
from tallyman.services.answers import AreaName
from tallyman.services.context import Ctx, audit, changed, company_of, in_transaction, unseen
from tallyman.services.house import areas_around, areas_seen, sees_area
from tallyman.services.naming import clean_name, named
from tallyman.services.people import token_digest
from tallyman.services.rates import rates
from tallyman.services.robots.answers import Code, Host, Robot, Robots, SeatsLook
from tallyman.services.upkeep import Work, each
from tallyman.store.db import Tx
from tallyman.store.records.house import AreaBelow
from tallyman.store.records.robots import (
    HostRow,
    HostSeen,
    RobotRow,
    RobotSeen,
    RobotsLockHost,
    RobotsRobotAreas,
    RobotsRobotAreasOfHost,
    RobotsSilentHosts,
)

SILENCE = Work("silence", "a host that fell silent")

CODE_LASTS = timedelta(minutes=30)
# No letters or digits that are mistaken for one another.
CODE_LETTERS = "ABCDEFGHJKLMNPQRSTUVWXYZ23456789"
ACCOUNT = re.compile(r"^[A-Za-z_][A-Za-z0-9._-]{0,31}$")
WALL = re.compile(r"^([01]\d|2[0-3]):[0-5]\d$")
TAG = re.compile(r"^[a-z0-9][a-z0-9 .-]{0,38}$")
MOST_SEATS = 50


def check_tags(tags: list[str]) -> list[str]:
    """Tags in small letters, each once. Raises InputFaults."""
    clean = sorted({tag.strip().lower() for tag in tags if tag.strip()})
    wrong = [tag for tag in clean if not TAG.match(tag)]
    if wrong:
        message = "small letters, digits, spaces, . and -; up to 39 characters"
        raise InputFaults([Fault("tags", tag, message) for tag in wrong])
    return clean


def _areas_of(tx: Tx, robots: Sequence[RobotSeen | RobotRow]) -> dict[int, list[AreaName]]:
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
    allowed = _areas_of(tx, rows)
    return [row for row in rows if any(area.id in shared for area in allowed[row.id])]


def _sees_host(tx: Tx, ctx: Ctx, host_id: int) -> bool:
    """A host is seen by whoever sees one of its robots, or every robot."""
    everywhere = ctx.actor.areas("robot.see") is None
    return everywhere or any(row.host_id == host_id for row in robots_seen(tx, ctx))


def _host(tx: Tx, ctx: Ctx, host_id: int) -> RobotsLockHost:
    """A host's row, locked; to be changed by who may change robots in every area its robots work in."""
    host = tx.one(RobotsLockHost, "robots.lock_host", id=host_id)
    if host is None or not _sees_host(tx, ctx, host_id):
        missing = NotFound("There is no such host.", "Load the page again.")
        raise unseen(ctx, "robot.see", host is not None, missing)
    robots = [row for row in tx.all(RobotSeen, "robots.robots") if row.host_id == host_id]
    areas = [area.id for rows in _areas_of(tx, robots).values() for area in rows]
    _may_allow(ctx, "robot.change", areas or [None])
    return host


def _robot(tx: Tx, ctx: Ctx, robot_id: int) -> RobotRow:
    """A robot, to be changed by who may change robots in every area it works in."""
    robot = tx.one(RobotRow, "robots.robot", id=robot_id)
    seen = any(row.id == robot_id for row in robots_seen(tx, ctx))
    if robot is None or not seen:
        missing = NotFound("There is no such robot.", "Load the page again.")
        raise unseen(ctx, "robot.see", robot is not None, missing)
    _may_allow(ctx, "robot.change", [area.id for area in _areas_of(tx, [robot])[robot_id]])
    return robot


def _may_allow(ctx: Ctx, permission: str, area_ids: Sequence[int | None]) -> None:
    """Raises Forbidden unless a permission holds at each of some areas."""
    for area_id in area_ids:
        ctx.require_at(permission, area_id)


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
        _set_seats(tx, host_id, seats)
        audit(tx, ctx, "host added", f"host:{host_id}", f"Added the host {name}, {seats} seats")
        changed(tx, ctx, "robots")
        return int(host_id)

    return Code(id=ctx.db.transact(work), code=code, until=ctx.now + CODE_LASTS)


def new_code(ctx: Ctx, host_id: int) -> Code:
    """A new one-time code for a host that lost its connection for good, or never had one."""
    ctx.require("robot.change")
    code = _code()

    def work(tx: Tx) -> None:
        host = _host(tx, ctx, host_id)
        tx.write("robots.new_code", id=host_id, code=token_digest(code), until=ctx.now + CODE_LASTS)
        audit(tx, ctx, "host code made", f"host:{host_id}", f"Made a new code for {host.name}")
        changed(tx, ctx, "robots")

    ctx.db.transact(work)
    return Code(id=host_id, code=code, until=ctx.now + CODE_LASTS)


def _set_seats(tx: Tx, host_id: int, seats: int) -> None:
    if not 0 <= seats <= MOST_SEATS:
        raise InputFaults([Fault("seats", seats, f"allowed: 0 to {MOST_SEATS}")])
    for n in range(seats):
        tx.write("robots.add_slot", kind="seat", owner=host_id, n=n)
    tx.write("robots.drop_slots", kind="seat", owner=host_id, n=seats)
    if tx.count("robots.count_slots", kind="seat", owner=host_id) > seats:
        raise Refused("A seat that would go is in use.", "Wait for its run to end, or take away fewer seats.")
    tx.write("robots.set_seats", id=host_id, seats=seats)


@in_transaction
def look_at_seats(tx: Tx, ctx: Ctx, host_id: int, seats: int) -> SeatsLook:
    """What another number of seats would do, before anything is changed."""
    ctx.require("robot.change")
    host = _host(tx, ctx, host_id)
    if not 0 <= seats <= MOST_SEATS:
        raise InputFaults([Fault("seats", seats, f"allowed: 0 to {MOST_SEATS}")])
    used = tx.count("robots.seats_taken", host=host_id)
    rate = rates.in_force(tx, "seat_year", ctx.today(company_of(tx).zone))
    there = int(tx.value(Decimal, "tally.seats") or 0)
    then = there - host.seats + seats
    against = ""
    if seats < used:
        against = f"{used} seats are in use by runs; take away fewer, or wait for their ends"
    cost = None if rate is None else rate.value
    return SeatsLook(
        now=host.seats,
        then=seats,
        used=used,
        seat_a_year=None if cost is None else text_of(cost, 2),
        all_now=None if cost is None else text_of(cost * there, 2),
        all_then=None if cost is None else text_of(cost * then, 2),
        against=against,
    )


@in_transaction
def set_seats(tx: Tx, ctx: Ctx, host_id: int, seats: int) -> None:
    """Gives a host more or fewer seats."""
    ctx.require("robot.change")
    host = _host(tx, ctx, host_id)
    _set_seats(tx, host_id, seats)
    words = f"{host.name}: {host.seats} → {seats} seats"
    before, after = {"seats": host.seats}, {"seats": seats}
    audit(tx, ctx, "seats changed", f"host:{host_id}", words, before, after)
    changed(tx, ctx, "robots")
    changed(tx, ctx, "runs")


def _check_account(account: str) -> str:
    """An operating-system account's name, or none. Raises InputFaults."""
    if account.strip() and not ACCOUNT.match(account.strip()):
        message = "letters, digits, . _ and -, up to 32 characters, as the host knows it"
        raise InputFaults([Fault("account", account[:60], message)])
    return account.strip()


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
    host = _host(tx, ctx, host_id)
    tx.write("robots.set_hours", id=host_id, start=start, end=end, zone=zone if start else None)
    words = f"{host.name} works {f'{start} to {end} ({zone})' if start else 'at any hour'}"
    audit(tx, ctx, "hours changed", f"host:{host_id}", words)
    changed(tx, ctx, "robots")
    changed(tx, ctx, "runs")


@in_transaction
def add_robot(
    tx: Tx, ctx: Ctx, name: str, host_id: int, tags: list[str], area_ids: list[int], account: str = ""
) -> int:
    """A new robot on a host, with tags and account, allowed in some areas and those below them."""
    ctx.require("robot.make")
    name, tags, account = clean_name("name", name), check_tags(tags), _check_account(account)
    _may_allow(ctx, "robot.make", area_ids or [None])
    if tx.one(HostRow, "robots.host", id=host_id) is None or not _sees_host(tx, ctx, host_id):
        raise InputFaults([Fault("host", host_id, "there is no such host that you may see; choose one")])
    robot_id = named(
        lambda: tx.insert(
            "robots.add_robot", name=name, host=host_id, tags=tags, account=account, now=ctx.now
        ),
        "name",
        name,
    )
    tx.write("robots.add_slot", kind="robot", owner=robot_id, n=0)
    _allow(tx, robot_id, area_ids)
    audit(tx, ctx, "robot added", f"robot:{robot_id}", f"Added the robot {name}")
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
def change_robot(
    tx: Tx, ctx: Ctx, robot_id: int, tags: list[str], area_ids: list[int], version: int, account: str = ""
) -> None:
    """Changes tags, account and areas of a robot, unless somebody else did meanwhile."""
    ctx.require("robot.change")
    tags, account = check_tags(tags), _check_account(account)
    robot = _robot(tx, ctx, robot_id)
    _may_allow(ctx, "robot.change", area_ids)
    if not tx.write("robots.change_robot", id=robot_id, tags=tags, account=account, version=version):
        raise Conflict(
            f"Somebody changed {robot.name} meanwhile.",
            "Look at its tags and areas now, then save yours again.",
            theirs={"tags": robot.tags},
            yours={"tags": tags},
            version=robot.version,
        )
    _allow(tx, robot_id, area_ids)
    before, after = {"tags": robot.tags}, {"tags": tags, "areas": area_ids}
    audit(tx, ctx, "robot changed", f"robot:{robot_id}", f"Changed {robot.name}", before, after)
    changed(tx, ctx, "robots")
    changed(tx, ctx, "runs")


def _account_fault(row: RobotSeen) -> str:
    """Why packages of a robot cannot work under its account, or one made for it; empty if they can."""
    known = row.accounts or {}
    if not row.account:
        # Runners of the release before say nothing of that.
        return str(known.get("", ""))
    if row.account == row.runner_account and "" not in known:
        return ""
    return str(known.get(row.account, f"its runner has not looked at the account {row.account} yet"))


def _works_as_runner(row: RobotSeen) -> bool:
    """Whether packages of a robot work as the runner itself."""
    told = (row.facts or {}).get("as_runner") == "yes"
    return told and row.account in ("", row.runner_account)


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
    return [
        RobotFacts(
            row.id,
            row.name,
            row.host_id,
            row.host,
            row.heard_at,
            frozenset(areas.get(row.id, set())),
            frozenset(row.tags),
            row.busy_with,
            row.seats,
            row.seats_used,
            row.account,
            _account_fault(row),
            read_hours(row.hours_from, row.hours_to, row.hours_zone),
            row.leaving_at is not None,
            _works_as_runner(row),
        )
        for row in rows
    ]


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


def hosts_seen(tx: Tx, ctx: Ctx) -> list[HostSeen]:
    """The hosts that the actor may see, by way of their robots."""
    if ctx.actor.areas("robot.see") is None:
        return tx.all(HostSeen, "robots.hosts")
    seen = {robot.host_id for robot in robots_seen(tx, ctx)}
    return [row for row in tx.all(HostSeen, "robots.hosts") if row.id in seen]


@in_transaction
def view(tx: Tx, ctx: Ctx) -> Robots:
    """Areas, hosts and robots as the page shows them."""
    ctx.require("robot.see")
    robots = robots_seen(tx, ctx)
    areas = _areas_of(tx, robots)
    hosts = hosts_seen(tx, ctx)
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
            used_at=host.used_at,
            used_from=host.used_from,
            token_at=host.token_at,
            bound=host.bound,
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
            account_fault=_account_fault(robot),
            as_runner=_works_as_runner(robot),
            version=robot.version,
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
