"""How many robots could take a routine, told while its needs are chosen."""

from __future__ import annotations

from tallyman.core.runs import Asked, Asking, RobotFacts, takers, working
from tallyman.errors import Fault, InputFaults
from tallyman.services.context import Ctx, in_transaction
from tallyman.services.robots import readings, robot_facts, robots_seen
from tallyman.services.workshop.answers import Takers
from tallyman.store.db import Tx
from tallyman.store.records.house import Area
from tallyman.store.records.workshop import ReleaseWhole


def _systems(robots: list[RobotFacts]) -> list[str]:
    """What may be asked for as a system: those that hosts report, with and without their number."""
    found = {one.abilities.system for one in robots if one.abilities.system}
    return sorted(found | {name.rpartition(" ")[0] or name for name in found})


@in_transaction
def of(tx: Tx, ctx: Ctx, area_id: int, release_id: int, tags: list[str], asked: Asked) -> Takers:
    """The robots that the reader may see, each with what it lacks to take such a routine.

    Raises InputFaults for an area or release that is not there.
    """
    ctx.require("routine.see")
    area = tx.one(Area, "areas.area", id=area_id)
    release = tx.one(ReleaseWhole, "packages.release", id=release_id)
    faults = []
    if area is None:
        faults.append(Fault("area_id", area_id, "there is no such area; choose one"))
    if release is None:
        faults.append(Fault("release_id", release_id, "there is no such release; choose one"))
    if faults or area is None or release is None:
        raise InputFaults(faults)
    wanted = frozenset(tag.strip().lower() for tag in tags if tag.strip()) | frozenset(release.tags)
    path = frozenset(tx.values(int, "robots.path", id=area_id))
    seen = {one.id for one in robots_seen(tx, ctx)} if ctx.actor.may("robot.see") else set()
    facts = robot_facts(tx)
    rows = takers(Asking(0, path, wanted, asked), area.name, facts)
    shown = [row for row in rows if row.robot_id in seen]
    return Takers(
        able=sum(not row.lacks for row in rows),
        robots=len(rows),
        unseen=len(rows) - len(shown),
        working=working(shown).as_dict(),
        systems=_systems(facts),
        applications=sorted(readings.looked_for(tx), key=str.casefold),
        tags=sorted({tag for one in facts for tag in one.tags}),
    )
