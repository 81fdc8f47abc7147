"""Areas as a tree: names, moves that show first who gains and loses, closed days."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from datetime import date

from tallyman.core import access
from tallyman.core.said import day_said
from tallyman.errors import Clash, Conflict, Fault, InputFaults, NotFound, Refused, TallymanError
from tallyman.services.context import WORK, Ctx, audit, changed, in_transaction, unseen
from tallyman.services.holding import path, permissions_of_role
from tallyman.services.house.answers import AreaOut, Change, MoveOut, Tree
from tallyman.services.naming import clean_name, named
from tallyman.store.db import Tx
from tallyman.store.records.common import ClosedDay
from tallyman.store.records.house import (
    Area,
    AreaBelow,
    AreasClosedDays,
    AreasHeldAbove,
    AreasLockAll,
    AreasOne,
    AreasRobotsAbove,
    AreasTree,
)

LONGEST_NAME = 80


def areas_around(tx: Tx, ctx: Ctx, permission: str) -> frozenset[int] | None:
    """The areas in which a robot must be allowed to be seen: those of the actor, below and above."""
    areas = ctx.actor.areas(permission)
    if areas is None:
        return None
    return areas | {above for area in areas for above in path(tx, area)}


def sees_area(tx: Tx, ctx: Ctx, area_id: int) -> bool:
    """Whether the actor may see an area: by area.see there or below, so that the way to it is known."""
    shared = areas_around(tx, ctx, "area.see")
    return shared is None or area_id in shared


def areas_seen(tx: Tx, ctx: Ctx) -> list[AreaBelow]:
    """The areas that the actor may see, with those above them."""
    shared = areas_around(tx, ctx, "area.see")
    return [row for row in tx.all(AreaBelow, "areas.all") if shared is None or row.id in shared]


@in_transaction
def add_area(tx: Tx, ctx: Ctx, name: str, parent_id: int | None) -> int:
    """A new area, below another or at the top."""
    ctx.require_at("area.make", parent_id)
    name = clean_name("name", name)
    if parent_id is not None and tx.one(Area, "areas.area", id=parent_id) is None:
        raise InputFaults([Fault("parent", parent_id, "there is no such area; choose one")])
    area_id = named(lambda: tx.insert("areas.add", name=name, parent=parent_id), "name", name)
    tx.write("areas.add_above", id=area_id, parent=parent_id)
    audit(tx, ctx, "area added", f"area:{area_id}", f"Added the area {name}")
    changed(tx, ctx, "robots")
    return int(area_id)


def _own_days(tx: Tx, area_id: int) -> list[ClosedDay]:
    return [ClosedDay(one.day, one.name) for one in tx.all(AreasClosedDays, "areas.closed_days", id=area_id)]


@in_transaction
def tree(tx: Tx, ctx: Ctx) -> Tree:
    """The areas that the actor may see, with what lives in each, and the company's closed days."""
    ctx.require("area.see")
    seen = {row.id for row in areas_seen(tx, ctx)}
    rows = [
        AreaOut(
            id=row.id,
            name=row.name,
            parent_id=row.parent_id,
            version=row.version,
            routines=row.routines,
            robots=row.robots,
            held=row.held,
            days=_own_days(tx, row.id) if row.closed_days else [],
            screens=row.screens,
            approving=row.approve_releases,
            may_change=ctx.actor.may_at("area.change", row.id),
        )
        for row in tx.all(AreasTree, "areas.tree")
        if row.id in seen
    ]
    return Tree(
        areas=rows,
        closed_days=tx.all(ClosedDay, "common.closed_days"),
        may_make=ctx.actor.may_at("area.make", None),
        may_close=ctx.actor.may("house.change"),
    )


def _find(tx: Tx, ctx: Ctx, area_id: int) -> AreasOne:
    """An area, locked, that the actor may change."""
    row = tx.one(AreasOne, "areas.one", id=area_id)
    if row is None or area_id not in {one.id for one in areas_seen(tx, ctx)}:
        missing = NotFound("There is no such area.", "Load the page again.")
        raise unseen(ctx, "area.see", row is not None, missing)
    ctx.require_at("area.change", area_id)
    return row


def _stale(row: AreasOne) -> TallymanError:
    return Conflict(
        f"Somebody changed the area {row.name} meanwhile.",
        "Look at it now, then try again.",
        theirs={"name": row.name, "parent": row.parent_id},
        yours={},
        version=row.version,
    )


@in_transaction
def rename(tx: Tx, ctx: Ctx, area_id: int, name: str, version: int) -> None:
    """Another name for an area."""
    name = name.strip()
    if not 1 <= len(name) <= LONGEST_NAME:
        raise InputFaults([Fault("name", name[:80], f"give a name of 1 to {LONGEST_NAME} characters")])
    row = _find(tx, ctx, area_id)
    try:
        done = tx.write("areas.rename", id=area_id, name=name, version=version)
    except Clash as error:
        raise InputFaults([Fault("name", name, error.message)]) from None
    if not done:
        raise _stale(row)
    words = f"{row.name} is called {name} now"
    audit(tx, ctx, "area renamed", f"area:{area_id}", words, {"name": row.name}, {"name": name})
    changed(tx, ctx, "robots")
    changed(tx, ctx, "routines")


@in_transaction
def set_screens(tx: Tx, ctx: Ctx, area_id: int, on: bool) -> None:
    """Whether a picture of the screen is taken when a run of an area, or of one below it, stalls."""
    row = _find(tx, ctx, area_id)
    if not tx.write("areas.set_screens", id=area_id, on=on):
        return
    what = "a picture of its screen is taken" if on else "no picture of its screen is taken"
    words = f"When a run in {row.name} stalls, {what} from now on"
    audit(tx, ctx, "area changed", f"area:{area_id}", words, {"screens": not on}, {"screens": on})
    changed(tx, ctx, "robots")


@in_transaction
def set_approving(tx: Tx, ctx: Ctx, area_id: int, on: bool) -> None:
    """Whether an area, and those below it, ask for a second person's yes to each release."""
    row = _find(tx, ctx, area_id)
    if not tx.write("areas.set_approving", id=area_id, on=on):
        return
    what = "starts once a second person said yes to it" if on else "needs no second yes"
    words = f"A release set up in {row.name} {what} from now on"
    audit(tx, ctx, "area changed", f"area:{area_id}", words, {"approving": not on}, {"approving": on})
    for subject in ("robots", "routines", "runs", WORK):
        changed(tx, ctx, subject)


def _check_move(tx: Tx, ctx: Ctx, area: AreasOne, parent_id: int | None) -> None:
    """Raises Forbidden, InputFaults or Refused unless the area may go there."""
    ctx.require_at("area.change", area.parent_id)
    ctx.require_at("area.change", parent_id)
    if parent_id == area.parent_id:
        where = "there" if parent_id is not None else "at the top"
        raise Refused(f"{area.name} is {where} already.", "Choose another place.")
    if parent_id is None:
        return
    if tx.one(Area, "areas.area", id=parent_id) is None:
        raise InputFaults([Fault("parent", parent_id, "there is no such area; choose one")])
    if area.id in path(tx, parent_id):
        raise InputFaults([Fault("parent", parent_id, "an area cannot lie below itself")])


def _effect(tx: Tx, area: AreasOne, parent_id: int | None) -> MoveOut:
    """Who and which robots gain and lose what in an area when it moves."""
    before = set(path(tx, area.parent_id))
    after = set(path(tx, parent_id))
    gain, robots = _reaching(tx, after - before)
    lose, robots_lost = _reaching(tx, before - after)
    return MoveOut(area=area.name, gain=gain, lose=lose, robots=robots, robots_lost=robots_lost, version=None)


def _reaching(tx: Tx, areas: set[int]) -> tuple[list[Change], list[str]]:
    """Who reaches into some areas by which role, for what; and the robots allowed there."""
    if not areas:
        return [], []
    found = []
    for row in tx.all(AreasHeldAbove, "areas.held_above", areas=tuple(areas)):
        allowed = [one for one in permissions_of_role(row.role, row) - access.EVERYONE if access.by_area(one)]
        by = f"{row.role} for {row.area}" + (f", by the group {row.grp}" if row.grp else "")
        found.append(Change(person=row.person, by=by, what=access.in_words(allowed)))
    robots = tx.all(AreasRobotsAbove, "areas.robots_above", areas=tuple(areas))
    return found, [row.name for row in robots]


@in_transaction
def before_move(tx: Tx, ctx: Ctx, area_id: int, parent_id: int | None) -> MoveOut:
    """Who would gain and lose access, and which robots, if an area moved."""
    area = _find(tx, ctx, area_id)
    _check_move(tx, ctx, area, parent_id)
    return replace(_effect(tx, area, parent_id), version=area.version)


@in_transaction
def move(tx: Tx, ctx: Ctx, area_id: int, parent_id: int | None, version: int) -> MoveOut:
    """Moves an area with all below it; gives who gained and lost."""
    # All moves lock every area in the same order, so that two at once cannot make a circle.
    tx.all(AreasLockAll, "areas.lock_all")
    area = _find(tx, ctx, area_id)
    _check_move(tx, ctx, area, parent_id)
    found = _effect(tx, area, parent_id)
    if not tx.write("areas.set_parent", id=area_id, parent=parent_id, version=version):
        raise _stale(area)
    tx.write("areas.cut", id=area_id)
    if parent_id is not None:
        tx.write("areas.graft", id=area_id, parent=parent_id)
    above = tx.one(Area, "areas.area", id=parent_id) if parent_id is not None else None
    words = f"{area.name} lies {'below ' + above.name if above else 'at the top'} now"
    before, after = {"parent": area.parent_id}, {"parent": parent_id}
    audit(tx, ctx, "area moved", f"area:{area_id}", words, before, after)
    changed(tx, ctx, "robots")
    changed(tx, ctx, "access")
    changed(tx, ctx, WORK)
    return found


def _change_day(tx: Tx, area_id: int | None, day: date, name: str | None) -> None:
    if area_id is None and name is None:
        tx.write("areas.open_company_day", day=day)
    elif area_id is None:
        tx.write("common.add_closed_day", day=day, name=name)
    elif name is None:
        tx.write("areas.open_day", id=area_id, day=day)
    else:
        tx.write("areas.close_day", id=area_id, day=day, name=name)


def find_seen(tx: Tx, ctx: Ctx, area_id: int) -> Area:
    """The area, if the actor may see it. Raises NotFound."""
    row = tx.one(Area, "areas.area", id=area_id)
    if row is None or not ctx.actor.may_at("area.see", area_id):
        raise NotFound("There is no such area that you may see.", "Choose one of the list.")
    return row


def close_day(ctx: Ctx, area_id: int | None, day: date, name: str) -> None:
    """A day on which an area (or, None, the company) does not work."""
    if not 1 <= len(name.strip()) <= LONGEST_NAME:
        raise InputFaults(
            [Fault("name", name[:80], f"say what day it is, in 1 to {LONGEST_NAME} characters")]
        )
    change_days(ctx, area_id, [(day, name.strip())])


def open_day(ctx: Ctx, area_id: int | None, day: date) -> None:
    """An area, or the company, works on this day again."""
    change_days(ctx, area_id, [(day, None)])


@in_transaction
def change_days(tx: Tx, ctx: Ctx, area_id: int | None, days: Sequence[tuple[date, str | None]]) -> None:
    """Closes days by name, or opens them again (None), of an area or (None) the company, all at once."""
    if area_id is None:
        ctx.require("house.change")
        where, obj = "the company", "house:closed days"
    else:
        where, obj = _find(tx, ctx, area_id).name, f"area:{area_id}"
    for day, name in days:
        _change_day(tx, area_id, day, name)
        words = (
            f"{where} is closed on {day_said(day)}: {name}"
            if name
            else f"{where} works on {day_said(day)} again"
        )
        audit(tx, ctx, "closed day changed", obj, words)
    changed(tx, ctx, "routines")
    changed(tx, ctx, WORK)
