"""Groups of people, which hold roles together; some follow a claim of the identity provider."""

from __future__ import annotations

from tallyman.errors import Clash, Conflict, Fault, InputFaults, NotFound, Refused
from tallyman.services.access.answers import GroupOut, GroupPage
from tallyman.services.context import Ctx, audit, changed, in_transaction
from tallyman.store.db import Tx
from tallyman.store.records.access import AccessHolders, Group, Member
from tallyman.store.records.people import Person

LONGEST = 80


def groups(ctx: Ctx) -> list[GroupOut]:
    """Every group with how many are in it."""
    ctx.require("person.see")
    return ctx.db.transact(lambda tx: tx.all(GroupOut, "access.groups"))


def _find(tx: Tx, group_id: int) -> Group:
    row = tx.one(Group, "access.group", id=group_id)
    if row is None:
        raise NotFound("There is no such group.", "Load the page again.")
    return row


@in_transaction
def one_group(tx: Tx, ctx: Ctx, group_id: int) -> GroupPage:
    """A group with its members."""
    ctx.require("person.see")
    members = tx.all(Member, "access.members", group=group_id)
    return GroupPage(
        id=_find(tx, group_id).id,
        name=_find(tx, group_id).name,
        about=_find(tx, group_id).about,
        claim=_find(tx, group_id).claim,
        version=_find(tx, group_id).version,
        people=members,
    )


def _check(name: str, about: str, claim: str) -> dict[str, object]:
    faults = []
    if not 1 <= len(name.strip()) <= LONGEST:
        faults.append(Fault("name", name[:LONGEST], f"give a name of 1 to {LONGEST} characters"))
    if len(about) > 300:
        faults.append(Fault("about", about[:40] + "…", "at most 300 characters"))
    if len(claim) > 120:
        faults.append(Fault("claim", claim[:40] + "…", "at most 120 characters"))
    if faults:
        raise InputFaults(faults)
    return {"name": name.strip(), "about": about.strip(), "claim": claim.strip() or None}


def _members(tx: Tx, ctx: Ctx, group_id: int, people: list[int]) -> tuple[list[str], list[str]]:
    """Makes these people the members by hand; gives who came and who went."""
    now = {row.id: row for row in tx.all(Member, "access.members", group=group_id)}
    came, went = [], []
    for person_id in dict.fromkeys(people):
        if person_id in now:
            continue
        person = tx.one(Person, "people.by_id", id=person_id)
        if person is None or person.state not in ("active", "invited"):
            raise InputFaults([Fault("people", person_id, "there is no such person; choose one")])
        tx.write("access.join", group=group_id, person=person_id, by_claim=False, now=ctx.now)
        came.append(person.name)
    for person_id, row in now.items():
        if person_id not in people and not row.by_claim:
            tx.write("access.leave", group=group_id, person=person_id)
            went.append(row.name)
    return came, went


@in_transaction
def add_group(tx: Tx, ctx: Ctx, name: str, about: str, claim: str, people: list[int]) -> int:
    """A new group with its members."""
    ctx.require("person.change")
    kept = _check(name, about, claim)
    try:
        group_id = tx.insert("access.add_group", **kept, now=ctx.now)
    except Clash as error:
        raise InputFaults([Fault("name", name, error.message)]) from None
    came, _ = _members(tx, ctx, group_id, people)
    words = f"Made the group {kept['name']}"
    audit(tx, ctx, "group made", f"group:{group_id}", words, None, {"people": came})
    changed(tx, ctx, "access")
    return group_id


@in_transaction
def change_group(
    tx: Tx, ctx: Ctx, group_id: int, name: str, about: str, claim: str, people: list[int], version: int
) -> None:
    """Changes a group and who is in it, unless somebody else did meanwhile."""
    ctx.require("person.change")
    kept = _check(name, about, claim)
    old = _find(tx, group_id)
    try:
        done = tx.write("access.change_group", id=group_id, version=version, **kept)
    except Clash as error:
        raise InputFaults([Fault("name", name, error.message)]) from None
    if not done:
        raise Conflict(
            f"Somebody changed the group {old.name} meanwhile.",
            "Look at both, then save yours again.",
            theirs={"name": old.name, "about": old.about},
            yours={"name": name, "about": about},
            version=old.version,
        )
    came, went = _members(tx, ctx, group_id, people)
    words = f"Changed the group {kept['name']}: {len(came)} came, {len(went)} went"
    audit(tx, ctx, "group changed", f"group:{group_id}", words, {"went": went}, {"came": came})
    changed(tx, ctx, "access")


@in_transaction
def retire_group(tx: Tx, ctx: Ctx, group_id: int) -> None:
    """Takes a group out of use, once it holds no role."""
    ctx.require("person.change")
    group = _find(tx, group_id)
    held = [row.role for row in tx.all(AccessHolders, "access.holders") if row.group_id == group_id]
    if held:
        raise Refused(f"{group.name} holds {', '.join(held)}.", "Take the roles away first.")
    tx.write("access.retire_group", id=group_id, now=ctx.now)
    audit(tx, ctx, "group retired", f"group:{group_id}", f"Took the group {group.name} out of use")
    changed(tx, ctx, "access")
