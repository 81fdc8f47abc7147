"""The inventory of systems: how a robot gets at each, who owns it, what breaks if it changes."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping
from dataclasses import dataclass

from tallyman.core.alerts import kinds
from tallyman.core.cases import ACCESS_DAYS
from tallyman.errors import Clash, Conflict, Fault, InputFaults, NotFound, Refused
from tallyman.formats.columns import read_lines
from tallyman.formats.csv_file import csv_file
from tallyman.services.alerts import tell
from tallyman.services.answers import Brought, ListLine
from tallyman.services.context import Ctx, audit, changed, in_transaction
from tallyman.services.house.answers import InventoryRow, SystemChoice, SystemOut
from tallyman.store.db import Tx, dump
from tallyman.store.lists import like
from tallyman.store.records.house import (
    System,
    SystemsByName,
    SystemsFacts,
    SystemsListed,
    SystemsUse,
    UsingIdea,
    UsingRoutine,
)
from tallyman.store.records.people import PeopleAnyByEmail, Person

TESTS = ("yes", "no", "not known")
LONGEST_NAME = 80
LONGEST_NOTE = 500
# How a column of a list may be headed; the first is what the export writes.
HEADS = {
    "name": ("system", "name", "application"),
    "access": ("access", "access kind"),
    "owner": ("owner", "owner's mail", "mail address"),
    "test": ("test system", "test"),
    "note": ("note", "remark"),
}
USED_WORDS = ("ideas", "routines")


@dataclass(frozen=True)
class Given:
    """A system as it is entered."""

    name: str
    access: str
    owner_id: int | None = None
    test_system: str = "not known"
    note: str = ""


def _obj(number: int) -> str:
    return f"system:{number}"


def check(given: Given) -> Given:
    """A system in its kept form. Raises InputFaults with every fault."""
    name, note = " ".join(given.name.split()), given.note.strip()
    faults = []
    if not 1 <= len(name) <= LONGEST_NAME:
        faults.append(Fault("name", name[:40], f"give a name of 1 to {LONGEST_NAME} characters"))
    if given.access not in ACCESS_DAYS:
        faults.append(Fault("access", given.access, f"allowed: {', '.join(ACCESS_DAYS)}"))
    if given.test_system not in TESTS:
        faults.append(Fault("test_system", given.test_system, f"allowed: {', '.join(TESTS)}"))
    if len(note) > LONGEST_NOTE:
        faults.append(Fault("note", note[:40] + "…", f"at most {LONGEST_NOTE} characters"))
    if faults:
        raise InputFaults(faults)
    return Given(name, given.access, given.owner_id, given.test_system, note)


def listed(ctx: Ctx, words: str = "", state: str | None = None) -> list[InventoryRow]:
    """The systems whose name, note or owner has the words, or in one state, with how much uses each."""
    return [
        InventoryRow(
            id=one.id,
            name=one.name,
            access=one.access,
            owner_id=one.owner_id,
            owner=one.owner,
            test_system=one.test_system,
            note=one.note,
            state=one.state,
            version=one.version,
            ideas=one.ideas,
            routines=one.routines,
        )
        for one in _found(ctx, words, state)
    ]


def _found(ctx: Ctx, words: str = "", state: str | None = None) -> list[SystemsListed]:
    ctx.require("system.see")
    pattern = like(words.strip()[:80])
    return ctx.db.transact(lambda tx: tx.all(SystemsListed, "systems.listed", words=pattern, state=state))


def names(ctx: Ctx) -> list[SystemChoice]:
    """Names and access kinds, for choosing one on a sizing."""
    ctx.require("idea.make")
    return ctx.db.transact(lambda tx: tx.all(SystemChoice, "systems.names"))


@in_transaction
def one(tx: Tx, ctx: Ctx, number: int) -> SystemOut:
    """A system with the ideas and routines that use it, as far as the reader may see them."""
    ctx.require("system.see")
    row = _find(tx, number)
    ideas, runs = ctx.scope("idea.see"), ctx.scope("routine.see")
    use = tx.one(SystemsUse, "systems.use", name=row.name)
    return SystemOut(
        id=row.id,
        name=row.name,
        access=row.access,
        owner_id=row.owner_id,
        owner=row.owner,
        test_system=row.test_system,
        note=row.note,
        state=row.state,
        version=row.version,
        made_by=row.made_by,
        made_at=row.made_at,
        changed_at=row.changed_at,
        all_ideas=(use.all_ideas if use else None) or 0,
        all_routines=(use.all_routines if use else None) or 0,
        ideas=tx.all(UsingIdea, "systems.ideas", name=row.name, **ideas),
        routines=tx.all(UsingRoutine, "systems.routines", name=row.name, **runs),
    )


def _find(tx: Tx, number: int) -> System:
    row = tx.one(System, "systems.one", id=number)
    if row is None:
        raise NotFound("There is no such system.", "Load the page again.")
    return row


def _owner(tx: Tx, owner_id: int | None) -> None:
    if owner_id is not None and tx.one(Person, "people.by_id", id=owner_id) is None:
        raise InputFaults([Fault("owner_id", owner_id, "there is no such person; choose one")])


@in_transaction
def add(tx: Tx, ctx: Ctx, given: Given) -> int:
    """Enters a system; gives its number. Raises InputFaults when there is one of this name."""
    ctx.require("system.change")
    clean = check(given)
    _owner(tx, clean.owner_id)
    try:
        return _add(tx, ctx, clean, "known")
    except Clash:
        message = "there is a system of this name already"
        raise InputFaults([Fault("name", clean.name, message)]) from None


def _add(tx: Tx, ctx: Ctx, given: Given, state: str) -> int:
    number = tx.insert("systems.add", **vars(given), state=state, person=ctx.actor.person_id, now=ctx.now)
    audit(tx, ctx, "system entered", _obj(number), f"{given.name}, {given.access}", None, vars(given))
    changed(tx, ctx, "systems", number)
    return number


def meet_system(tx: Tx, ctx: Ctx, name: str, access: str) -> None:
    """Enters a system that a sizing names and the inventory lacks, marked new until somebody looks at it."""
    if tx.one(SystemsByName, "systems.by_name", name=name) is not None:
        return
    try:
        number = _add(tx, ctx, Given(name, access), "new")
    except Clash:
        # Somebody else has just entered it.
        return
    tell(tx, ctx, kinds.SYSTEM_NAMED, {"id": number}, name=name)


@in_transaction
def change(tx: Tx, ctx: Ctx, number: int, given: Given, version: int) -> None:
    """Changes a system, which makes it known; another name goes along to the ideas that use it."""
    ctx.require("system.change")
    clean = check(given)
    old = _find(tx, number)
    _owner(tx, clean.owner_id)
    if old.version != version:
        raise Conflict(
            f"Somebody changed {old.name} meanwhile.",
            "Look at both, then save yours again or keep theirs.",
            theirs={key: getattr(old, key) for key in vars(clean)},
            yours=vars(clean),
            version=old.version,
        )
    try:
        tx.write("systems.change", id=number, **vars(clean), now=ctx.now)
    except Clash:
        message = "there is a system of this name already"
        raise InputFaults([Fault("name", clean.name, message)]) from None
    if clean.name != old.name:
        _rename(tx, old.name, clean.name)
    before = {key: getattr(old, key) for key in vars(clean)}
    audit(tx, ctx, "system changed", _obj(number), clean.name, before, vars(clean))
    changed(tx, ctx, "systems", number)


def _rename(tx: Tx, old: str, new: str) -> None:
    """Every sizing that names a system names it anew; promises stay as they were frozen."""
    for row in tx.all(SystemsFacts, "systems.facts", name=old):
        value = [{**one, "name": new if one["name"] == old else one["name"]} for one in row.value]
        tx.write("systems.rename_in_fact", idea=row.idea_id, value=dump(value))
    tx.write("systems.rename_in_ideas", old=old, new=new)


@in_transaction
def retire(tx: Tx, ctx: Ctx, number: int, retired: bool) -> None:
    """Takes a system out of what can be chosen, or back into it; what uses it keeps it."""
    ctx.require("system.change")
    row = _find(tx, number)
    state = "retired" if retired else "known"
    if not tx.write("systems.set_state", id=number, state=state, now=ctx.now):
        raise Refused(f"{row.name} is {state} already.", "Load the page again.")
    audit(tx, ctx, "system changed", _obj(number), f"{row.name} is {state}")
    changed(tx, ctx, "systems", number)


def as_csv(ctx: Ctx, words: str = "", state: str | None = None) -> bytes:
    """The systems that are listed, as a list that `bring` takes again."""
    head = [*(words[0] for words in HEADS.values()), "state", *USED_WORDS]
    rows = [
        (
            row.name,
            row.access,
            row.owner_mail or "",
            row.test_system,
            row.note,
            row.state,
            row.ideas,
            row.routines,
        )
        for row in _found(ctx, words, state)
    ]
    return csv_file(head, rows)


def look(ctx: Ctx, data: bytes) -> list[ListLine]:
    """What each line of a list would do: enter, change, leave as it is, or what is wrong with it."""
    ctx.require("system.change")
    lines = read_lines(data, HEADS, ("name", "access"))
    return [one.line for one in ctx.db.transact(lambda tx: _looked(tx, lines))]


@dataclass(frozen=True)
class _Line:
    """A line of a list that was looked at: what it would do, what it gives, and the system it is about."""

    line: ListLine
    given: Given
    system: int | None


def _looked(tx: Tx, lines: list[tuple[int, dict[str, str]]]) -> list[_Line]:
    known = {row.name.lower(): row for row in tx.all(SystemsListed, "systems.listed", words="%", state=None)}
    first: dict[str, int] = {}
    found = []
    for number, cells in lines:
        faults, given = _line(tx, cells)
        before = first.setdefault(cells["name"].lower(), number)
        if before != number:
            faults.append(f"system “{cells['name'][:60]}”: stands in line {before} already")
        old = known.get(cells["name"].lower())
        state = "not as it is" if faults else _state(old, given)
        line = ListLine(line=number, name=cells["name"][:90], state=state, faults=faults)
        found.append(_Line(line, given, old.id if old else None))
    return found


def _line(tx: Tx, cells: Mapping[str, str]) -> tuple[list[str], Given]:
    faults = []
    owner = None
    if cells["owner"]:
        person = tx.one(PeopleAnyByEmail, "people.any_by_email", email=cells["owner"].lower())
        if person is None:
            faults.append(f"owner “{cells['owner'][:60]}”: nobody here has this mail address")
        owner = person.id if person else None
    access = next((one for one in ACCESS_DAYS if one.lower() == cells["access"].lower()), cells["access"])
    test = cells["test"].lower() or "not known"
    given = Given(cells["name"], access, owner, test, cells["note"])
    try:
        given = check(given)
    except InputFaults as error:
        heads = {"name": "system", "test_system": "test system"}
        faults += [f"{heads.get(f.field, f.field)} “{f.value}”: {f.message}" for f in error.faults]
    return faults, given


def _state(old: SystemsListed | None, given: Given) -> str:
    if old is None:
        return "to be entered"
    same = all(getattr(old, key) == value for key, value in vars(given).items())
    return "here already" if same and old.state == "known" else "to be changed"


def bring(ctx: Ctx, data: bytes) -> Brought:
    """Enters and changes what a list says; lines with faults are left out. Gives how many of each.

    Sent again it changes nothing.
    """
    ctx.require("system.change")
    lines = read_lines(data, HEADS, ("name", "access"))

    def work(tx: Tx) -> Brought:
        counts: Counter[str] = Counter()
        for one in _looked(tx, lines):
            if one.line.state == "to be entered":
                _add(tx, ctx, one.given, "known")
                counts["entered"] += 1
            elif one.line.state == "to be changed" and one.system is not None:
                tx.write("systems.change", id=one.system, **vars(one.given), now=ctx.now)
                audit(tx, ctx, "system changed", _obj(one.system), f"{one.given.name}, by a list")
                counts["changed"] += 1
            else:
                counts["here" if not one.line.faults else "left_out"] += 1
        changed(tx, ctx, "systems")
        return Brought(counts["entered"], counts["changed"], counts["here"], counts["left_out"])

    return ctx.db.transact(work)
