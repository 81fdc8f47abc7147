"""The robots of an area among which whoever starts something there may choose one."""

from __future__ import annotations

from tallyman.errors import Fault
from tallyman.services.context import Ctx
from tallyman.services.robots import areas_allowed, robots_seen
from tallyman.services.starts.answers import RobotThere
from tallyman.store.db import Tx


def robots_there(tx: Tx, ctx: Ctx, area_id: int) -> list[RobotThere]:
    """The robots that may work in an area, as far as the actor sees them."""
    seen = robots_seen(tx, ctx) if ctx.actor.may("robot.see") else []
    above = set(tx.values(int, "robots.path", id=area_id))
    allowed = areas_allowed(tx, seen)
    fitting = [one for one in seen if above & {area.id for area in allowed[one.id]}]
    return [RobotThere(one.id, one.name, one.host) for one in fitting]


def faults_of_choice(tx: Tx, ctx: Ctx, area_id: int, robot_id: int | None) -> list[Fault]:
    """What is wrong with a robot that was chosen for an area; nothing where none was."""
    if robot_id is None or robot_id in {one.id for one in robots_there(tx, ctx, area_id)}:
        return []
    return [
        Fault("robot_id", robot_id, "there is no such robot that may work in this area; choose one, or any")
    ]
