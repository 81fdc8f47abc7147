"""Importing people from a list: looked at first, line by line, then invited; sent again it adds nobody."""

from __future__ import annotations

from functools import partial
from typing import Any

from tallyman.errors import Fault, InputFaults, TallymanError
from tallyman.formats.people_file import Line, read_people
from tallyman.services.access.giving import give_in
from tallyman.services.context import Ctx, audit, changed
from tallyman.services.people.inviting import Invited, check_address, check_name, invite_in
from tallyman.store.db import Row, Tx

HERE = "here already"
NEW = "to be invited"
FAULT = "not as it is"
COMPANY = "the whole company"


class _Known:
    """What the lines of a list may name."""

    def __init__(self, tx: Tx) -> None:
        places = tx.all("people.divisions")
        # By its own name, where no other is called so, or with the names above it.
        self.divisions = {row["own"].lower(): row["id"] for row in places if _once(row, places)}
        self.divisions |= {row["name"].lower(): row["id"] for row in places}
        self.groups = {row["name"].lower(): row["id"] for row in tx.all("access.groups")}
        self.roles = {
            row["name"].lower(): row["id"] for row in tx.all("access.roles") if not row["retired_at"]
        }
        self.areas = {row["name"].lower(): row["id"] for row in tx.all("areas.tree")}


def _once(row: Row, places: list[Row]) -> bool:
    return bool(sum(other["own"].lower() == row["own"].lower() for other in places) == 1)


def _role(known: _Known, text: str) -> tuple[int, int | None] | str:
    """A role and its area as the export writes them, "operator for Laboratory"; or what is wrong."""
    name, _, area = text.partition(" for ")
    if name.lower() not in known.roles:
        return f"there is no role {name}"
    if not area or area.lower() == COMPANY:
        return known.roles[name.lower()], None
    if area.lower() not in known.areas:
        return f"there is no area {area}"
    return known.roles[name.lower()], known.areas[area.lower()]


def _faults(line: Line, known: _Known, before: dict[str, int]) -> list[str]:
    """What is wrong with a line, in words."""
    found = []
    for check, value in ((check_name, line.name), (check_address, line.email)):
        try:
            check(value)
        except InputFaults as error:
            found += [f"{fault.field} {value[:60]!r}: {fault.message}" for fault in error.faults]
    first = before.setdefault(line.email.lower(), line.number)
    if first != line.number:
        found.append(f"the same address stands in line {first}")
    if line.division and line.division.lower() not in known.divisions:
        found.append(f"there is no division {line.division}")
    found += [f"there is no group {one}" for one in line.groups if one.lower() not in known.groups]
    found += [said for one in line.roles if isinstance(said := _role(known, one), str)]
    return found


def look(ctx: Ctx, data: bytes) -> dict[str, Any]:
    """What an import of a list would do, line by line; nothing is changed."""
    _check(ctx)
    lines = read_people(data)

    def work(tx: Tx) -> dict[str, Any]:
        known = _Known(tx)
        before: dict[str, int] = {}
        rows = [_looked_at(tx, known, line, before) for line in lines]
        return {
            "rows": rows,
            **{key: sum(row["what"] == what for row in rows) for key, what in COUNTED.items()},
        }

    return ctx.db.transact(work)


COUNTED = {"new": NEW, "here": HERE, "faults": FAULT}


def _check(ctx: Ctx) -> None:
    for permission in ("person.make", "person.change"):
        ctx.require(permission)


def _looked_at(tx: Tx, known: _Known, line: Line, before: dict[str, int]) -> dict[str, Any]:
    faults = _faults(line, known, before)
    there = None if faults else tx.one("people.any_by_email", email=line.email.lower())
    what = FAULT if faults else (HERE if there else NEW)
    return {
        "line": line.number,
        "name": line.name[:120],
        "email": line.email[:190],
        "what": what,
        "faults": faults,
        "gets": [*line.roles, *(f"in {one}" for one in line.groups)],
    }


def bring_in(ctx: Ctx, data: bytes) -> dict[str, Any]:
    """Invites everybody of a list who is not here yet, each in a step of their own.

    Lines that are not right stay out, and are named; the same list can be sent again.
    """
    _check(ctx)
    lines = read_people(data)
    known: _Known = ctx.db.transact(_Known)
    before: dict[str, int] = {}
    counts = {"invited": 0, "here": 0}
    rows = []
    for line in lines:
        faults = _faults(line, known, before)
        if not faults:
            try:
                invited = ctx.db.transact(partial(_invite, ctx=ctx, known=known, line=line))
                counts["invited" if invited else "here"] += 1
                continue
            except InputFaults as error:
                faults = [f"{fault.field}: {fault.message}" for fault in error.faults]
            except TallymanError as error:
                faults = [error.message]
        rows.append({"line": line.number, "name": line.name[:120], "faults": faults})
    return {**counts, "left_out": rows}


def _invite(tx: Tx, ctx: Ctx, known: _Known, line: Line) -> bool:
    if tx.one("people.any_by_email", email=line.email.lower()) is not None:
        return False
    email, name = check_address(line.email), check_name(line.name)
    division = known.divisions.get(line.division.lower()) if line.division else None
    number = invite_in(tx, ctx, Invited(email, name, division), email, name)
    for text in line.roles:
        found = _role(known, text)
        if isinstance(found, str):
            raise InputFaults([Fault("roles", text, found)])
        give_in(tx, ctx, found[0], number, None, found[1])
    for group in line.groups:
        tx.write("access.join", group=known.groups[group.lower()], person=number, by_claim=False, now=ctx.now)
        audit(tx, ctx, "group joined", f"group:{known.groups[group.lower()]}", f"{name} is in {group}")
        changed(tx, ctx, "access")
    return True
