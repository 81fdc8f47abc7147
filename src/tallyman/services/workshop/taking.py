"""How many robots could take a routine, and what its start would need, told while its set-up is chosen."""

from __future__ import annotations

from dataclasses import dataclass, field, replace

from tallyman.core.runs import (
    NOTHING_ASKED,
    Asked,
    Asking,
    Attended,
    MeantFor,
    Need,
    RobotFacts,
    takers,
    working,
)
from tallyman.errors import Fault, InputFaults
from tallyman.services.context import Ctx, in_transaction
from tallyman.services.robots import readings, robot_facts, robots_seen
from tallyman.services.workshop import pre_check, sight
from tallyman.services.workshop.answers import Takers
from tallyman.services.workshop.wants import Ask, withdrawn
from tallyman.store.db import Tx
from tallyman.store.records.house import Area
from tallyman.store.records.workshop import ReleaseWhole, Routine


@dataclass(frozen=True)
class Chosen:
    """A set-up as far as it is chosen; `routine_id` is the routine that is being changed."""

    area_id: int
    release_id: int
    tags: list[str] = field(default_factory=list)
    asked: Asked = NOTHING_ASKED
    inputs: dict[str, object] = field(default_factory=dict)
    locks: tuple[str, ...] = ()
    run_limit: int = 1
    attended: Attended = ""
    routine_id: int | None = None


def _systems(robots: list[RobotFacts]) -> list[str]:
    """What may be asked for as a system: those that hosts report, with and without their number."""
    found = {one.abilities.system for one in robots if one.abilities.system}
    return sorted(found | {name.rpartition(" ")[0] or name for name in found})


def _found(tx: Tx, ctx: Ctx, chosen: Chosen) -> tuple[Area, ReleaseWhole]:
    area = tx.one(Area, "areas.area", id=chosen.area_id)
    release = tx.one(ReleaseWhole, "packages.release", id=chosen.release_id)
    faults = []
    if area is None:
        faults.append(Fault("area_id", chosen.area_id, "there is no such area; choose one"))
    had = None
    if chosen.routine_id is not None:
        had = tx.one(Routine, "routines.routine", id=chosen.routine_id)
    if release is None:
        faults.append(Fault("release_id", chosen.release_id, "there is no such release; choose one"))
    elif area is not None and (had is None or had.release_id != release.id):
        faults += sight.faults_of_use(tx, ctx, release, area.id)
    if faults or area is None or release is None:
        raise InputFaults(faults)
    return area, release


@in_transaction
def of(tx: Tx, ctx: Ctx, chosen: Chosen) -> Takers:
    """The robots that the reader may see, each with what it lacks to take such a routine, and the pre-check.

    Raises InputFaults for an area or release that is not there.
    """
    ctx.require("routine.see")
    area, release = _found(tx, ctx, chosen)
    wanted = frozenset(tag.strip().lower() for tag in chosen.tags if tag.strip()) | frozenset(release.tags)
    path = frozenset(tx.values(int, "robots.path", id=chosen.area_id))
    seen = {one.id for one in robots_seen(tx, ctx)} if ctx.actor.may("robot.see") else set()
    facts = robot_facts(tx)
    could = facts
    if chosen.attended:
        # On people's own computers, wherever the routine lies.
        could = [replace(one, area_ids=path) for one in facts if one.owner_id is not None]
    rows = takers(Asking(0, path, wanted, chosen.asked), area.name, could)
    shown = [row for row in rows if row.robot_id in seen]
    return Takers(
        able=sum(not row.lacks for row in rows),
        robots=len(rows),
        unseen=len(rows) - len(shown),
        working=working(shown).as_dict(),
        systems=_systems(facts),
        applications=sorted(readings.looked_for(tx), key=str.casefold),
        tags=sorted({tag for one in facts for tag in one.tags}),
        pre_check=_pre_check(tx, ctx, chosen, area, release, wanted),
    )


def _pre_check(
    tx: Tx, ctx: Ctx, chosen: Chosen, area: Area, release: ReleaseWhole, tags: frozenset[str]
) -> list[Need]:
    """What its start would need; nothing of an area that the reader may not see."""
    if not ctx.actor.may_at("routine.see", area.id):
        return []
    own = None if chosen.routine_id is None else tx.one(Routine, "routines.routine", id=chosen.routine_id)
    active = 0
    if own is not None and ctx.actor.may_at("routine.see", own.area_id):
        active = tx.count("routines.active", routine=own.id)
    ask = Ask(
        routine_id=0,
        area_id=area.id,
        area=area.name,
        tags=tags,
        run_limit=chosen.run_limit,
        active=active,
        asked=chosen.asked,
        withdrawn=withdrawn(release),
        unapproved=sight.unapproved_in(tx, release, area.id),
        meant_for=MeantFor(None, "") if chosen.attended else None,
    )
    return pre_check.of_proposal(tx, ctx, ask, release, chosen.inputs, chosen.locks)
