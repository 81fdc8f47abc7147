"""Where something is, and moving it to another area: routines, robots, releases, by any part of their name.

Who sees a release is changed with its number and note, on its own page.
"""

from __future__ import annotations

from typing import Literal

from tallyman.errors import Fault, InputFaults, Refused
from tallyman.services import robots
from tallyman.services.context import Ctx, audit, changed, in_transaction
from tallyman.services.robots import areas_allowed, may_at_all, robots_seen
from tallyman.services.workshop import sight
from tallyman.services.workshop.answers import Found, Lying
from tallyman.services.workshop.routines import find_for, in_use
from tallyman.store.db import Tx
from tallyman.store.records.house import Area
from tallyman.store.records.workshop import ReleaseRow, RoutinesRoutines

What = Literal["routine", "robot"]
# As many as one looks through; who sees more types more of the name.
MOST = 12
NOWHERE = "no area yet"


def _area(tx: Tx, area_id: int) -> Area:
    area = tx.one(Area, "areas.area", id=area_id)
    if area is None:
        raise InputFaults([Fault("area", area_id, "there is no such area; choose one")])
    return area


@in_transaction
def find(tx: Tx, ctx: Ctx, area_id: int, text: str) -> Found:
    """Routines, robots and releases of that name, wherever they lie, as the actor sees them; twelve of them.

    `may_move`: whether they may be moved to this area by the actor.
    """
    ctx.require("area.see")
    here, part = _area(tx, area_id), text.strip().casefold()
    found = []
    if ctx.actor.may("routine.see"):
        for row in tx.all(RoutinesRoutines, "routines.routines", **ctx.scope("routine.see")):
            if part in row.name.casefold():
                may = row.area_id != area_id and all(
                    ctx.actor.may_at("routine.change", one) for one in (row.area_id, area_id)
                )
                found.append(Lying("routine", row.id, row.name, row.area, row.area_id == area_id, may))
    if ctx.actor.may("robot.see"):
        seen = [one for one in robots_seen(tx, ctx) if part in one.name.casefold()]
        allowed = areas_allowed(tx, seen)
        for one in seen:
            areas = allowed[one.id]
            lies = ", ".join(area.name for area in areas) or NOWHERE
            alone = [area.id for area in areas] == [here.id]
            may = may_at_all(ctx, "robot.change", [areas]) and ctx.actor.may_at("robot.change", area_id)
            found.append(Lying("robot", one.id, one.name, lies, alone, may and not alone))
    # Only who looks for one by its name means a release: it comes here on its own page.
    if part and ctx.actor.may(sight.SEE):
        for release in sight.seen(tx, ctx, tx.all(ReleaseRow, "packages.releases")):
            name = f"{release.package} {release.version}"
            if part in name.casefold():
                who = sight.said(release.seen_by, release.area, release.person)
                is_here = release.seen_by == "area" and release.area == here.name
                found.append(Lying("release", release.id, name, who, is_here, False))
    found.sort(key=lambda one: (one.is_here, one.name.casefold()))
    return Found(found[:MOST], len(found[MOST:]))


def move(ctx: Ctx, area_id: int, what: What, number: int) -> None:
    """Moves a routine or a robot to an area; a robot is allowed there alone from then on.

    Raises Refused where it lies there already, Forbidden where it may not be changed here or there.
    """
    if what == "routine":
        _move_routine(ctx, area_id, number)
    else:
        _move_robot(ctx, area_id, number)


@in_transaction
def _move_routine(tx: Tx, ctx: Ctx, area_id: int, number: int) -> None:
    ctx.require("routine.change")
    routine = in_use(find_for(tx, ctx, number, "routine.change"))
    ctx.require_at("routine.change", area_id)
    area = _area(tx, area_id)
    if wrong := sight.faults_of_use(tx, ctx, sight.find_whole(tx, routine.release_id), area_id):
        words = f"{wrong[0].value} {wrong[0].message}"
        raise Refused(f"{routine.name} cannot lie in {area.name}: {words}.", "Then move it.")
    if not tx.write("routines.move", id=number, area=area_id):
        raise Refused(f"{routine.name} lies in {area.name} already.", "Load the page again.")
    words = f"Moved {routine.name} from {routine.area} to {area.name}"
    audit(tx, ctx, "routine moved", f"routine:{number}", words, {"area": routine.area}, {"area": area.name})
    changed(tx, ctx, "routines", number)
    changed(tx, ctx, "areas")
    changed(tx, ctx, "runs")


@in_transaction
def _move_robot(tx: Tx, ctx: Ctx, area_id: int, number: int) -> None:
    robots.move_robot(tx, ctx, number, _area(tx, area_id).id)
