"""Many robots at once, from a pasted table or a CSV file: looked at line by line first, then added."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Mapping
from dataclasses import dataclass

from tallyman.errors import InputFaults
from tallyman.formats.columns import read_lines
from tallyman.services.answers import Brought, ListLine
from tallyman.services.context import Ctx
from tallyman.services.house import areas_seen
from tallyman.services.robots.robots import Given, add_robot_in
from tallyman.services.robots.seen import hosts_seen
from tallyman.store.db import Tx
from tallyman.store.records.robots import RobotSeen

# How a column may be headed; the first is what the page shows.
HEADS = {
    "name": ("robot", "name"),
    "host": ("host", "on host"),
    "areas": ("areas", "allowed in", "area"),
    "tags": ("tags", "tag"),
    "account": ("account", "run-as account"),
}
NEEDED = ("name", "host")
# Areas and tags of a cell are parted by either.
PARTED = re.compile(r"[;,]")
TO_ADD, HERE, WRONG = "to be added", "here already", "not as it is"
# What a fault is about, as the column is headed.
FIELDS = {"name": "robot", "areas": "areas", "tags": "tags", "account": "account", "host": "host"}


@dataclass(frozen=True)
class _Known:
    """What lines name: hosts and areas that the reader sees, by their names in small letters, and robots."""

    hosts: Mapping[str, int]
    areas: Mapping[str, int]
    robots: Mapping[str, RobotSeen]


@dataclass(frozen=True)
class _Line:
    line: ListLine
    given: Given


def _known(tx: Tx, ctx: Ctx) -> _Known:
    return _Known(
        {host.name.lower(): host.id for host in hosts_seen(tx, ctx)},
        {area.name.lower(): area.id for area in areas_seen(tx, ctx)},
        {robot.name.lower(): robot for robot in tx.all(RobotSeen, "robots.robots")},
    )


def _parts(cell: str) -> list[str]:
    return [part.strip() for part in PARTED.split(cell) if part.strip()]


def _fault(field: str, value: object, message: str) -> str:
    return f"{FIELDS.get(field, field)} “{str(value)[:60]}”: {message}"


def _areas(known: _Known, cell: str) -> tuple[list[int], list[str]]:
    found, faults = [], []
    for name in _parts(cell):
        if name.lower() in known.areas:
            found.append(known.areas[name.lower()])
        else:
            faults.append(_fault("areas", name, "there is no such area that you may see"))
    return found, faults


def _line(ctx: Ctx, known: _Known, cells: Mapping[str, str]) -> tuple[Given, list[str]]:
    """A robot as a line gives it, and what is wrong with it."""
    areas, faults = _areas(known, cells["areas"])
    host = known.hosts.get(cells["host"].lower(), 0)
    if not host:
        faults.append(_fault("host", cells["host"], "there is no such host that you may see"))
    given = Given(cells["name"], host, _parts(cells["tags"]), areas, cells["account"])
    try:
        given = given.checked()
    except InputFaults as error:
        faults += [_fault(one.field, one.value, one.message) for one in error.faults]
    where: list[int | None] = [*areas] or [None]
    if not faults and not all(ctx.actor.may_at("robot.make", area) for area in where):
        faults.append("areas: you may not add a robot in all of these; name only areas of yours")
    return given, faults


def _looked(tx: Tx, ctx: Ctx, lines: list[tuple[int, dict[str, str]]]) -> list[_Line]:
    known = _known(tx, ctx)
    first: dict[str, int] = {}
    found = []
    for number, cells in lines:
        given, faults = _line(ctx, known, cells)
        name = cells["name"].lower()
        before = first.setdefault(name, number)
        if before != number:
            faults.append(_fault("name", cells["name"], f"stands in line {before} already"))
        here = name in known.robots
        state = WRONG if faults else HERE if here else TO_ADD
        found.append(_Line(ListLine(number, cells["name"][:90], state, faults), given))
    return found


def look(ctx: Ctx, data: bytes) -> list[ListLine]:
    """What each line would do: add a robot, leave one that is here, or what is wrong with it."""
    ctx.require("robot.make")
    lines = read_lines(data, HEADS, NEEDED)
    return [one.line for one in ctx.db.transact(lambda tx: _looked(tx, ctx, lines))]


def bring(ctx: Ctx, data: bytes) -> Brought:
    """Adds the robots of a table; lines with faults are left out. Gives how many of each.

    Sent again it changes nothing: a robot that is here stays as it is.
    """
    ctx.require("robot.make")
    lines = read_lines(data, HEADS, NEEDED)

    def work(tx: Tx) -> Brought:
        counts: Counter[str] = Counter()
        for one in _looked(tx, ctx, lines):
            if one.line.state == TO_ADD:
                add_robot_in(tx, ctx, one.given)
            counts[one.line.state] += 1
        return Brought(counts[TO_ADD], 0, counts[HERE], counts[WRONG])

    return ctx.db.transact(work)
