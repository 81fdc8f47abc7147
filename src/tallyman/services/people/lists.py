"""Importing people from a list: looked at first, line by line, then invited; sent again it adds nobody."""

from __future__ import annotations

from collections import Counter
from dataclasses import asdict
from functools import partial

from tallyman.core.free import FreeObject
from tallyman.errors import Away, Fault, InputFaults, NotFound, TallymanError
from tallyman.formats.people_file import Line, read_people
from tallyman.services.access import give_in
from tallyman.services.context import Ctx, audit, changed
from tallyman.services.people.answers import Imported, ImportLook, LineLeftOut, LookedAt
from tallyman.services.people.invitations import Invited, check_address, check_name, invite_in
from tallyman.services.upkeep import Piece, Rows, Work, errands
from tallyman.store.db import Tx
from tallyman.store.records.access import AccessRoles, GroupOut
from tallyman.store.records.house import AreasTree
from tallyman.store.records.people import PeopleAnyByEmail, PeopleDivisions
from tallyman.store.records.upkeep import Errand

PEOPLE_LINES = Work("people lines", "a line of a list of people", most_tries=1)

ERRAND = "list of people"
LINES_A_PIECE = 20
HERE = "here already"
NEW = "to be invited"
FAULT = "not as it is"
COMPANY = "the whole company"


class _Known:
    """What the lines of a list may name."""

    def __init__(self, tx: Tx) -> None:
        places = tx.all(PeopleDivisions, "people.divisions")
        # By its own name, where no other is called so, or with the names above it.
        own = Counter(row.own.lower() for row in places)
        self.divisions = {row.own.lower(): row.id for row in places if own[row.own.lower()] == 1}
        self.divisions |= {row.name.lower(): row.id for row in places}
        self.groups = {row.name.lower(): row.id for row in tx.all(GroupOut, "access.groups")}
        self.roles = {
            row.name.lower(): row.id for row in tx.all(AccessRoles, "access.roles") if not row.retired_at
        }
        self.areas = {row.name.lower(): row.id for row in tx.all(AreasTree, "areas.tree")}


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


def look(ctx: Ctx, data: bytes) -> ImportLook:
    """What an import of a list would do, line by line; nothing is changed."""
    _check(ctx)
    lines = read_people(data)

    def work(tx: Tx) -> ImportLook:
        known = _Known(tx)
        before: dict[str, int] = {}
        asked = tuple({line.email.lower() for line in lines}) or ("",)
        here = {row.lower() for row in tx.values(str, "people.here_by_email", emails=asked)}
        rows = [_looked_at(known, line, before, here) for line in lines]
        return ImportLook(
            rows=rows, **{key: sum(row.what == what for row in rows) for key, what in COUNTED.items()}
        )

    return ctx.db.transact(work)


COUNTED = {"new": NEW, "here": HERE, "faults": FAULT}


def _check(ctx: Ctx) -> None:
    for permission in ("person.make", "person.change"):
        ctx.require(permission)


def _looked_at(known: _Known, line: Line, before: dict[str, int], here: set[str]) -> LookedAt:
    faults = _faults(line, known, before)
    what = FAULT if faults else (HERE if line.email.lower() in here else NEW)
    return LookedAt(
        line=line.number,
        name=line.name[:120],
        email=line.email[:190],
        what=what,
        faults=faults,
        gets=[*line.roles, *(f"in {one}" for one in line.groups)],
    )


def begin(ctx: Ctx, data: bytes) -> int:
    """Begins to invite everybody of a list who is not here yet; gives the errand.

    Lines that are not right stay out, and are named; the same list can be sent again.
    """
    _check(ctx)
    lines = [asdict(line) for line in read_people(data)]
    return ctx.db.transact(lambda tx: errands.add(tx, ctx, ERRAND, len(lines), {"lines": lines}))


def carry_on(ctx: Ctx, errand: Errand) -> Piece:
    """Invites the people of the next lines, each in a step of their own."""
    _check(ctx)
    lines = [Line(**one) for one in errand.input["lines"]]
    known: _Known = ctx.db.transact(_Known)
    result = errand.result or {"invited": 0, "here": 0, "left_out": []}
    begun, done = errand.done, min(errand.done + LINES_A_PIECE, len(lines))
    before: dict[str, int] = {}
    for line in lines[:begun]:
        before.setdefault(line.email.lower(), line.number)
    turn = Rows(ctx, PEOPLE_LINES)
    for line in lines[begun:done]:
        faults = _faults(line, known, before) or _brought_in(ctx, turn, errand.id, known, line, result)
        if faults:
            result["left_out"].append({"line": line.number, "name": line.name[:120], "faults": faults})
    words = f"{result['invited']:,} invited, {result['here']:,} were here already"
    if result["left_out"]:
        words += f", {len(result['left_out']):,} left out"
    return Piece(done, words, done == len(lines), result)


def _brought_in(
    ctx: Ctx, turn: Rows, errand: int, known: _Known, line: Line, result: FreeObject
) -> list[str]:
    """Invites the person of a line, or says why not."""
    refused: list[str] = []

    def act() -> int:
        try:
            return int(ctx.db.transact(partial(_invite, ctx=ctx, known=known, line=line)))
        except InputFaults as error:
            refused.extend(f"{fault.field}: {fault.message}" for fault in error.faults)
        except Away:
            raise
        except TallymanError as error:
            refused.append(error.message)
        return 0

    tried = turn.go(f"{errand}:{line.number}", act, about=f"line {line.number}, {line.name[:100]}")
    if tried.failed:
        return [f"Tallyman failed at this line ({tried.why}); send the list again, or invite them by hand"]
    if not refused:
        result["invited" if tried.done else "here"] += 1
    return refused


def outcome(ctx: Ctx, number: int) -> Imported:
    """How a list that the actor sent stands, and what became of its lines so far. Raises NotFound."""
    row = errands.one(ctx, number)
    if row.kind != ERRAND:
        raise NotFound("There is no such list of yours.", "Load the page again.")
    result = row.result or {"invited": 0, "here": 0, "left_out": []}
    return Imported(
        id=row.id,
        state=row.state,
        done=row.done,
        total=row.total,
        words=row.words or "",
        invited=result["invited"],
        here=result["here"],
        left_out=[LineLeftOut(**one) for one in result["left_out"]],
    )


def _invite(tx: Tx, ctx: Ctx, known: _Known, line: Line) -> bool:
    if tx.one(PeopleAnyByEmail, "people.any_by_email", email=line.email.lower()) is not None:
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
