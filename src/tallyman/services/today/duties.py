"""Whose duty it is what waits: one's own, or that of people who were given just that."""

from __future__ import annotations

from dataclasses import dataclass

from tallyman.core.access import ROLES
from tallyman.services.context import Ctx
from tallyman.store.db import Tx
from tallyman.store.records.access import AccessPeopleWith, AccessRoles

# The role that each of these is the duty of; what else waits is the decision of whoever may take it.
USUAL = {"review": "reviewer", "size": "analyst", "build": "builder", "late": "operator"}


@dataclass(frozen=True)
class Duty:
    """A duty of others: the role it comes with, and who holds that."""

    role: str
    people: tuple[str, ...]


def of_others(tx: Tx, ctx: Ctx, kinds: set[str]) -> dict[str, Duty]:
    """The kinds that wait for others first, though the actor may see to them as well.

    Whoever holds a wider role, and not the one a kind is the duty of, is asked once nobody holds that: so a
    lead sees their own decisions, and whoever was given just this sees it as their own.
    """
    areas = tuple(tx.values(int, "areas.ids")) or (0,)
    found = {}
    for kind in sorted(kinds & USUAL.keys()):
        usual = USUAL[kind]
        if usual in ctx.actor.roles or len(ctx.actor.permissions) <= len(ROLES[usual]):
            continue
        roles = tuple(row.id for row in tx.all(AccessRoles, "access.roles") if row.name == usual) or (0,)
        holders = tx.all(AccessPeopleWith, "access.people_with", roles=roles, areas=areas)
        people = tuple(row.name for row in holders if row.id != ctx.actor.person_id)
        if people:
            found[kind] = Duty(usual, people)
    return found
