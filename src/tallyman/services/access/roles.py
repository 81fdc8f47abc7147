"""Roles: the built-in ones, and own ones made by copying and ticking."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from tallyman.core import access
from tallyman.errors import Clash, Conflict, Fault, InputFaults, NotFound, Refused
from tallyman.services.access.answers import RoleOut
from tallyman.services.context import Ctx, audit, changed, in_transaction
from tallyman.services.holding import permissions_of_role
from tallyman.store.db import Tx
from tallyman.store.records.access import AccessHolders, AccessRoles, Role

LONGEST_NAME = 60
LONGEST_ABOUT = 300


@dataclass(frozen=True)
class RoleGiven:
    """A role as somebody sets it up: its name, what it is for, what it allows."""

    name: str
    about: str
    permissions: frozenset[str]
    second_factor: bool = False


def _check(given: RoleGiven) -> None:
    faults = []
    if not 1 <= len(given.name.strip()) <= LONGEST_NAME:
        faults.append(Fault("name", given.name[:80], f"give a name of 1 to {LONGEST_NAME} characters"))
    if len(given.about) > LONGEST_ABOUT:
        faults.append(Fault("about", given.about[:40] + "…", f"at most {LONGEST_ABOUT} characters"))
    unknown = sorted(given.permissions - access.PERMISSIONS.keys())
    faults += [Fault("permissions", one, "there is no such permission") for one in unknown]
    if faults:
        raise InputFaults(faults)


def _shown(row: AccessRoles) -> RoleOut:
    """A role with what it allows, in words, and the duties it defeats."""
    permissions = permissions_of_role(row.name, row)
    return RoleOut(
        id=row.id,
        name=row.name,
        about=access.ABOUT[row.name] if row.built_in else row.about,
        built_in=bool(row.built_in),
        second_factor=bool(row.second_factor),
        copied_from=row.copied_from,
        version=row.version,
        holders=row.holders,
        permissions=sorted(permissions),
        words=access.in_words(permissions),
        breaches=[duty.words for duty in access.breaches(permissions)],
        company_only=sorted(one for one in permissions if not access.by_area(one)),
    )


def listed(ctx: Ctx) -> list[RoleOut]:
    """Every role in use."""
    ctx.require("role.see")
    rows = ctx.db.transact(lambda tx: tx.all(AccessRoles, "access.roles"))
    return [_shown(row) for row in rows if row.retired_at is None]


def find_role(tx: Tx, role_id: int) -> Role:
    """A role in use, or NotFound."""
    row = tx.one(Role, "access.role", id=role_id)
    if row is None or row.retired_at is not None:
        raise NotFound("There is no such role.", "Load the page again.")
    return row


def _named(name: str, error: Clash) -> InputFaults:
    return InputFaults([Fault("name", name, error.message)])


def _no_more_than_own(ctx: Ctx, permissions: Iterable[str]) -> None:
    """Who does not give roles makes none that allows more than they hold for the company themselves."""
    if ctx.actor.may_at("role.decide", None):
        return
    more = sorted(one for one in permissions if not ctx.actor.may_at(one, None))
    if more:
        raise Refused(
            f"You do not hold {', '.join(more)} yourself for the whole company.",
            "Leave it out, or ask somebody who gives roles.",
        )


@in_transaction
def add_role(tx: Tx, ctx: Ctx, given: RoleGiven, copied_from: str = "") -> int:
    """A new role, made by copying another and ticking."""
    ctx.require_at("role.make", None)
    _check(given)
    _no_more_than_own(ctx, given.permissions)
    try:
        role_id = tx.insert(
            "access.add_role",
            name=given.name.strip(),
            about=given.about.strip(),
            permissions=sorted(given.permissions | access.EVERYONE),
            copied_from=copied_from[:LONGEST_NAME],
            second_factor=given.second_factor,
            person=ctx.actor.person_id,
            now=ctx.now,
        )
    except Clash as error:
        raise _named(given.name, error) from None
    after = {"permissions": sorted(given.permissions)}
    audit(tx, ctx, "role made", f"role:{role_id}", f"Made the role {given.name.strip()}", None, after)
    changed(tx, ctx, "access")
    return role_id


@in_transaction
def change_role(tx: Tx, ctx: Ctx, role_id: int, given: RoleGiven, version: int) -> None:
    """Changes a role, unless somebody else did meanwhile; of a built-in one only its second factor."""
    ctx.require_at("role.change", None)
    _check(given)
    _no_more_than_own(ctx, given.permissions)
    old = find_role(tx, role_id)
    before = permissions_of_role(old.name, old)
    wanted = frozenset(given.permissions | access.EVERYONE)
    if old.built_in and (wanted != before or given.name.strip() != old.name):
        raise Refused(
            f"{old.name} is built in; what it allows and its name stay.",
            "Copy it, and change the copy.",
        )
    try:
        done = tx.write(
            "access.change_role",
            id=role_id,
            version=version,
            name=given.name.strip(),
            about=given.about.strip(),
            permissions=sorted(wanted),
            second_factor=given.second_factor,
        )
    except Clash as error:
        raise _named(given.name, error) from None
    if not done:
        raise Conflict(
            f"Somebody changed the role {old.name} meanwhile.",
            "Look at both, then save yours again.",
            theirs={"name": old.name, "permissions": sorted(before)},
            yours={"name": given.name, "permissions": sorted(wanted)},
            version=old.version,
        )
    added, gone = sorted(wanted - before), sorted(before - wanted)
    words = f"Changed the role {given.name.strip()}: {len(added)} more, {len(gone)} fewer permissions"
    audit(tx, ctx, "role changed", f"role:{role_id}", words, {"without": gone}, {"with": added})
    changed(tx, ctx, "access")


@in_transaction
def retire_role(tx: Tx, ctx: Ctx, role_id: int) -> None:
    """Takes an own role out of use; nobody may hold it any more."""
    ctx.require_at("role.retire", None)
    role = find_role(tx, role_id)
    if role.built_in:
        raise Refused(f"{role.name} is built in and stays.", "Nobody has to hold it.")
    holding = [row for row in tx.all(AccessHolders, "access.holders") if row.role_id == role_id]
    if holding:
        names = ", ".join(str(row.person or row.grp) for row in holding[:5])
        raise Refused(f"{role.name} is held by {len(holding)}: {names}.", "Take it away from them first.")
    tx.write("access.retire_role", id=role_id, now=ctx.now)
    audit(tx, ctx, "role retired", f"role:{role_id}", f"Took the role {role.name} out of use")
    changed(tx, ctx, "access")
