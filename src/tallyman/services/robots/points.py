"""How far robots are from being able to work: the points of each, for a list or a page."""

from __future__ import annotations

from collections.abc import Sequence

from tallyman.core.runs import HostFacts, Need, RobotFacts, Setup, TrialFacts, points
from tallyman.services.answers import AreaName
from tallyman.services.context import Ctx
from tallyman.services.robots import passwords
from tallyman.services.robots.robots import facts_of
from tallyman.store.db import Tx
from tallyman.store.records.robots import (
    AccountKept,
    HostSeen,
    LastDone,
    LatestTrial,
    RobotSeen,
    RobotsOnHosts,
)


def _host(row: HostSeen, robots: int) -> HostFacts:
    return HostFacts(
        name=row.name,
        connected=row.connected,
        connected_at=row.connected_at,
        code_until=row.code_until,
        revoked_at=row.revoked_at,
        known=None if row.known is None else tuple(row.known),
        as_root=(row.facts or {}).get("root") == "yes",
        robots=robots,
    )


def _trial(row: LatestTrial | LastDone | None) -> TrialFacts | None:
    return None if row is None else TrialFacts(row.id, row.state, row.made_at, row.ended_at, row.reason)


def points_of(
    tx: Tx, ctx: Ctx, robots: Sequence[RobotSeen], areas: dict[int, list[AreaName]]
) -> dict[int, list[Need]]:
    """The points of some robots, by the robot; `areas` are those each is allowed in."""
    one = robots[0] if len(robots) == 1 else None
    hosts = {row.id: row for row in tx.all(HostSeen, "robots.hosts")}
    on = {row.host_id: row.robots for row in tx.all(RobotsOnHosts, "robots.on_hosts")}
    if one is not None:
        kept = tx.all(AccountKept, "accounts.of_host", host=one.host_id)
        trials = tx.all(LatestTrial, "trials.latest_of", robot=one.id)
        done = tx.all(LastDone, "trials.last_done_of", robot=one.id)
    else:
        kept = tx.all(AccountKept, "accounts.all")
        trials = tx.all(LatestTrial, "trials.latest")
        done = tx.all(LastDone, "trials.last_done")
    passes = {(row.host_id, row.account): row for row in kept}
    last = {row.robot_id: row for row in trials}
    worked = {row.robot_id: row for row in done}
    allowed = {number: [area.id for area in found] for number, found in areas.items()}
    known: dict[int, RobotFacts] = {fact.robot_id: fact for fact in facts_of(robots, allowed)}
    return {
        row.id: points(
            Setup(
                robot=known[row.id],
                host=_host(hosts[row.host_id], on.get(row.host_id, 0)),
                areas=tuple(area.name for area in areas.get(row.id, [])),
                changed_at=row.set_up_at,
                password=passwords.facts_of(tx, ctx, passes.get((row.host_id, row.account))),
                trial=_trial(last.get(row.id)),
                worked=_trial(worked.get(row.id)),
            ),
            ctx.here,
        )
        for row in robots
    }
