"""Giving roles to persons and groups, for the whole company or an area, and taking them away."""

from __future__ import annotations

from tallyman.core import access
from tallyman.core.alerts import kinds
from tallyman.errors import Clash, Fault, Forbidden, InputFaults, NotFound, Refused
from tallyman.services.access.answers import Given, HolderOut
from tallyman.services.access.roles import find_role
from tallyman.services.alerts import tell
from tallyman.services.context import Ctx, audit, changed, in_transaction
from tallyman.services.holding import held_of, permissions_of_role, roles_holding
from tallyman.store.db import Tx
from tallyman.store.records.access import AccessHeld, AccessHolders, Group
from tallyman.store.records.house import Area
from tallyman.store.records.people import Person

LAST = "Then nobody could give roles for the whole company any more."


def _where(row: AccessHeld | AccessHolders) -> str:
    return f"the area {row.area}" if row.area_id is not None else "the whole company"


def holders(ctx: Ctx) -> list[HolderOut]:
    """Who holds which role for what, as far as the actor sees roles."""
    ctx.require("role.see")
    areas = ctx.actor.areas("role.see")
    rows = ctx.db.transact(lambda tx: tx.all(AccessHolders, "access.holders"))
    return [
        HolderOut(
            id=row.id,
            role_id=row.role_id,
            role=row.role,
            person_id=row.person_id,
            person=row.person,
            group_id=row.group_id,
            grp=row.grp,
            area_id=row.area_id,
            at=row.at,
            given_by=row.given_by,
            where=_where(row),
            may_take=ctx.actor.may_at("role.decide", row.area_id),
        )
        for row in rows
        if areas is None or row.area_id in areas
    ]


def _holder(tx: Tx, person_id: int | None, group_id: int | None) -> tuple[str, str]:
    """How a holder is kept, and its name. Raises InputFaults for nobody."""
    if (person_id is None) == (group_id is None):
        raise InputFaults([Fault("person", person_id, "name one person or one group")])
    if person_id is not None:
        person = tx.one(Person, "people.by_id", id=person_id)
        if person is None or person.state not in ("active", "invited"):
            raise InputFaults([Fault("person", person_id, "there is no such person; choose one")])
        return f"person:{person_id}", str(person.name)
    group = tx.one(Group, "access.group", id=group_id)
    if group is None:
        raise InputFaults([Fault("group", group_id, "there is no such group; choose one")])
    return f"group:{group_id}", f"the group {group.name}"


def _no_more_than_own(ctx: Ctx, role: str, permissions: frozenset[str], area_id: int | None) -> None:
    """Who gives roles in an area gives nothing there that they do not hold there themselves."""
    if ctx.actor.may_at("role.decide", None):
        return
    more = sorted(one for one in permissions if access.by_area(one) and not ctx.actor.may_at(one, area_id))
    if more:
        raise Forbidden(
            f"The role {role} allows what you do not hold there yourself: {', '.join(more)}.",
            "Give a smaller role, or ask somebody who gives roles for the whole company.",
            permission="role.decide",
        )


def give_in(
    tx: Tx, ctx: Ctx, role_id: int, person_id: int | None, group_id: int | None, area_id: int | None
) -> int:
    """Gives a role within a transaction; the same once more is a fault of its field."""
    ctx.require_at("role.decide", area_id)
    role = find_role(tx, role_id)
    area = None
    if area_id is not None:
        area = tx.one(Area, "areas.area", id=area_id)
        if area is None:
            raise InputFaults([Fault("area", area_id, "there is no such area; choose one")])
        if not any(access.by_area(one) for one in permissions_of_role(role.name, role) - access.EVERYONE):
            message = "nothing that this role allows lies in an area; give it for the whole company"
            raise InputFaults([Fault("area", area.name, message)])
    holder, name = _holder(tx, person_id, group_id)
    _no_more_than_own(ctx, role.name, permissions_of_role(role.name, role), area_id)
    try:
        number = tx.insert(
            "access.give",
            role=role_id,
            person=person_id,
            group=group_id,
            area=area_id,
            holder=holder,
            by=ctx.actor.person_id,
            now=ctx.now,
        )
    except Clash:
        raise InputFaults([Fault("role", role.name, f"{name} holds it there already")]) from None
    where = f"the area {area.name}" if area else "the whole company"
    words = f"{name} holds the role {role.name} for {where}"
    audit(tx, ctx, "role given", holder, words, None, {"role": role.name, "for": where})
    if person_id is not None:
        tell(tx, ctx, kinds.ROLE_GIVEN, {"id": person_id}, [person_id], role=role.name, where=where)
    changed(tx, ctx, "access")
    return number


@in_transaction
def give(
    tx: Tx, ctx: Ctx, role_id: int, person_id: int | None, group_id: int | None, area_id: int | None
) -> Given:
    """Gives a role; says which separations of duty one person defeats by now, if any."""
    number = give_in(tx, ctx, role_id, person_id, group_id, area_id)
    return Given(id=number, breaches=breaches_of(tx, person_id) if person_id else [])


def breaches_of(tx: Tx, person_id: int) -> list[str]:
    """The separations of duty that one person's roles defeat together."""
    together = frozenset().union(*(one.permissions for one in held_of(tx, person_id)), frozenset())
    return [duty.words for duty in access.breaches(together)]


def keep_a_giver(tx: Tx, *, but: int = 0, but_person: int = 0) -> None:
    """Raises Refused when nobody would be left who gives roles for the whole company."""
    roles = tuple(row.id for row in roles_holding(tx, "role.decide")) or (0,)
    if not tx.count("access.others_deciding", roles=roles, but=but, but_person=but_person):
        raise Refused(LAST, "Give the role lead for the whole company to somebody else first.")


@in_transaction
def take_away(tx: Tx, ctx: Ctx, held_id: int) -> None:
    """Takes a role away; the last one who gives roles keeps theirs."""
    row = tx.one(AccessHeld, "access.held", id=held_id)
    if row is None:
        raise NotFound("This role is not held any more.", "Load the page again.")
    ctx.require_at("role.decide", row.area_id)
    role = find_role(tx, row.role_id)
    if row.area_id is None and "role.decide" in permissions_of_role(role.name, role):
        keep_a_giver(tx, but=held_id)
    tx.write("access.take_away", id=held_id)
    name = row.person or f"the group {row.grp}"
    holder = f"person:{row.person_id}" if row.person_id else f"group:{row.group_id}"
    words = f"{name} holds the role {row.role} for {_where(row)} no more"
    audit(tx, ctx, "role taken away", holder, words, {"role": row.role, "for": _where(row)})
    if row.person_id:
        held = {"role": row.role, "where": _where(row)}
        tell(tx, ctx, kinds.ROLE_TAKEN, {"id": row.person_id}, [row.person_id], **held)
    changed(tx, ctx, "access")
