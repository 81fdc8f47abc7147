"""Hosts and robots that nobody needs any more: what hangs on them, and taking them out of work."""

from __future__ import annotations

from collections.abc import Sequence

from tallyman.core.runs import Asking, RobotFacts, can_take, read_asked, stranded
from tallyman.errors import Refused
from tallyman.services.answers import HangsOn, Retiring
from tallyman.services.context import WORK, Ctx, audit, changed, in_transaction
from tallyman.services.holding import paths
from tallyman.services.robots.robots import robot_facts
from tallyman.services.robots.seats import PLACES
from tallyman.services.robots.seen import host_for, robot_for
from tallyman.store.db import Tx
from tallyman.store.records.robots import RobotRow, RobotSeen, RobotsLockHost
from tallyman.store.records.workshop import RoutinesAsking

RETIRE = "robot.retire"


def asks_of(tx: Tx, rows: Sequence[RoutinesAsking]) -> list[Asking]:
    """What some routines ask of a robot and its host."""
    way = paths(tx, (row.area_id for row in rows))
    return [
        Asking(
            row.id,
            frozenset(way[row.area_id]),
            frozenset(row.tags) | frozenset(row.release_tags),
            read_asked(row.asked),
        )
        for row in rows
    ]


def takers_on(tx: Tx, host_id: int) -> dict[int, list[str]]:
    """By routine: the names of the robots of a host that may take it; without those that none may take."""
    robots = robot_facts(tx, host_id)
    asks = asks_of(tx, tx.all(RoutinesAsking, "routines.asking"))
    found = {ask.routine_id: [robot.name for robot in robots if can_take(robot, ask)] for ask in asks}
    return {routine: names for routine, names in found.items() if names}


def takers(
    tx: Tx,
    facts: Sequence[RobotFacts],
    robot_ids: frozenset[int] | None = None,
    routine_ids: frozenset[int] | None = None,
) -> list[tuple[int, int]]:
    """Which of some robots (None: all of which there are facts) may take which of some routines in use."""
    some = [one for one in facts if robot_ids is None or one.robot_id in robot_ids]
    rows = tx.all(RoutinesAsking, "routines.asking")
    asks = asks_of(tx, [row for row in rows if routine_ids is None or row.id in routine_ids])
    return [(robot.robot_id, ask.routine_id) for ask in asks for robot in some if can_take(robot, ask)]


def stranded_of(tx: Tx, facts: Sequence[RobotFacts], leaving: frozenset[int]) -> list[int]:
    """The routines that none of all robots could run once some are gone, and that one may run now."""
    return stranded(asks_of(tx, tx.all(RoutinesAsking, "routines.asking")), facts, leaving)


def stranded_without(
    tx: Tx,
    ctx: Ctx,
    leaving: frozenset[int],
    then: str = "no robot is left that may run it; its runs would wait",
) -> tuple[list[HangsOn], int]:
    """The routines that no robot could run once some are gone, what becomes of them, and how many of them the
    actor may not see."""
    rows = tx.all(RoutinesAsking, "routines.asking")
    asks = asks_of(tx, rows)
    lost = set(stranded(asks, robot_facts(tx), leaving))
    hit = [row for row in rows if row.id in lost]
    seen = [row for row in hit if ctx.actor.may_at("routine.see", row.area_id)]
    shown = [HangsOn("routine", row.name, f"/workshop/routines/{row.id}", then) for row in seen]
    return shown, len(hit) - len(seen)


def _busy(tx: Tx, robots: list[RobotSeen]) -> list[str]:
    return [
        f"{robot.name} works on R-{robot.busy_with}: let that run end, or cancel it"
        for robot in robots
        if robot.busy_with
    ]


def _trials(tx: Tx, robot: RobotRow | RobotSeen) -> list[str]:
    """Trial runs of a robot that wait for nobody else."""
    rows = tx.values(int, "trials.open_of", robot=robot.id)
    return [f"the trial run R-{number} of {robot.name} has not ended: cancel it" for number in rows]


def _look_at_robot(tx: Tx, ctx: Ctx, robot: RobotRow) -> Retiring:
    rows = [one for one in tx.all(RobotSeen, "robots.robots") if one.id == robot.id]
    hangs, unseen = stranded_without(tx, ctx, frozenset({robot.id}))
    return Retiring(
        name=robot.name,
        hangs=hangs,
        unseen=unseen,
        against=_busy(tx, rows) + _trials(tx, robot),
        stays="Its runs and what they posted stay. Its name is free for another robot.",
    )


def _look_at_host(tx: Tx, ctx: Ctx, host: RobotsLockHost) -> tuple[Retiring, list[RobotSeen]]:
    robots = [one for one in tx.all(RobotSeen, "robots.robots") if one.host_id == host.id]
    hangs = [HangsOn("robot", one.name, f"/robots/{one.id}", "is retired with it") for one in robots]
    if host.seats:
        seats = "1 seat is" if host.seats == 1 else f"{host.seats} seats are"
        hangs.append(HangsOn("seats", f"{seats} given back", "", "this month's end counts no costs of them"))
    lost, unseen = stranded_without(tx, ctx, frozenset(one.id for one in robots))
    look = Retiring(
        name=host.name,
        hangs=hangs + lost,
        unseen=unseen,
        against=_busy(tx, robots) + [words for one in robots for words in _trials(tx, one)],
        stays="Its runs and what they posted stay. Its runner is known no more, and takes no work.",
    )
    return look, robots


@in_transaction
def look_at_robot(tx: Tx, ctx: Ctx, robot_id: int) -> Retiring:
    """What hangs on a robot, before it is retired."""
    ctx.require(RETIRE)
    return _look_at_robot(tx, ctx, robot_for(tx, ctx, robot_id, RETIRE))


@in_transaction
def look_at_host(tx: Tx, ctx: Ctx, host_id: int) -> Retiring:
    """What hangs on a host, before it is retired."""
    ctx.require(RETIRE)
    return _look_at_host(tx, ctx, host_for(tx, ctx, host_id, RETIRE))[0]


def _out(tx: Tx, ctx: Ctx, robot_id: int, name: str) -> None:
    """Takes a free robot out of work. Raises Refused while a run has it."""
    tx.write("robots.drop_slots", kind="robot", owner=robot_id, n=0)
    if tx.count("robots.count_slots", kind="robot", owner=robot_id):
        raise Refused(f"{name} works on a run.", "Let that run end, or cancel it.")
    tx.write("robots.retire_robot", id=robot_id, now=ctx.now)
    tx.write("robots.retire_trials", robot=robot_id, now=ctx.now)
    audit(tx, ctx, "robot retired", f"robot:{robot_id}", f"Retired the robot {name}")


@in_transaction
def retire_robot(tx: Tx, ctx: Ctx, robot_id: int) -> None:
    """Takes a robot out of work; what it did stays on record. Raises Refused while it works."""
    ctx.require(RETIRE)
    robot = robot_for(tx, ctx, robot_id, RETIRE)
    look = _look_at_robot(tx, ctx, robot)
    if look.against:
        raise Refused(f"{robot.name} cannot be retired yet.", f"{'; '.join(look.against)}.")
    _out(tx, ctx, robot_id, robot.name)
    changed(tx, ctx, "robots")
    changed(tx, ctx, "runs")


@in_transaction
def retire_host(tx: Tx, ctx: Ctx, host_id: int) -> None:
    """Takes a host out of work with its robots and seats; its runner is known no more.

    Raises Refused while a robot of it works.
    """
    ctx.require(RETIRE)
    host = host_for(tx, ctx, host_id, RETIRE)
    look, robots = _look_at_host(tx, ctx, host)
    if look.against:
        raise Refused(f"{host.name} cannot be retired yet.", f"{'; '.join(look.against)}.")
    for one in robots:
        _out(tx, ctx, one.id, one.name)
    for place in PLACES.values():
        tx.write("robots.drop_slots", kind=place, owner=host_id, n=0)
        if tx.count("robots.count_slots", kind=place, owner=host_id):
            raise Refused(f"A seat of {host.name} is in use.", "Let its run end, or cancel it.")
    tx.write("robots.retire_host", id=host_id, now=ctx.now)
    audit(tx, ctx, "host retired", f"host:{host_id}", f"Retired the host {host.name}")
    changed(tx, ctx, "robots")
    changed(tx, ctx, "runs")
    changed(tx, ctx, WORK)
